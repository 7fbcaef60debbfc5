"""What can be wrong with a signal, and which of it a channel's kind of wiring can have."""

from typing import Literal, get_args

from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..stages import Amplifier, PullUp, PulsePullUp, Shunt

Cause = Literal[
    "healthy", "open lead", "no supply", "short", "swapped leads", "missing pull-up", "not configured", "stuck",
    "clipped", "chassis-ground offset", "wrong shunt", "hum", "floating", "intermittent", "drifting", "slow",
    "wrong unit or scale", "wrong link settings",
]  # fmt: skip
CAUSES: tuple[Cause, ...] = get_args(Cause)  # the likelier first
Wiring = Literal["voltage", "loop", "pull-up", "ohms", "millivolts", "bridge", "pulses", "contact", "other"]
_ALWAYS: tuple[Cause, ...] = (
    "healthy", "open lead", "short", "not configured", "stuck", "intermittent", "wrong link settings",
)  # fmt: skip
_CURVED: tuple[Cause, ...] = ("clipped", "drifting", "slow", "wrong unit or scale")
_OF_VOLTS: tuple[Cause, ...] = ("chassis-ground offset", "hum")
_MORE: dict[Wiring, tuple[Cause, ...]] = {
    "voltage": ("no supply", "floating"),
    "loop": ("no supply", "swapped leads", "wrong shunt"),
    "pull-up": ("no supply", "missing pull-up"),
    "ohms": (),
    "millivolts": ("swapped leads",),
    "bridge": ("no supply", "swapped leads"),
    "pulses": ("no supply", "missing pull-up"),
    "contact": ("no supply",),
    "other": (),
}


def wiring_of(channel: WiredChannel) -> Wiring:
    """How the signal of a channel comes to its pin, as far as breaks go."""
    if isinstance(channel, TwoStateChannel):
        return "contact"
    stages, source = channel.path.stages, channel.path.source
    if source == "V":
        return "voltage"
    if source == "mA":
        return "loop" if any(isinstance(stage, Shunt) for stage in stages) else "other"
    if source == "Ω":
        return "pull-up" if any(isinstance(stage, PullUp) for stage in stages) else "ohms"
    if source == "mV":
        return "millivolts"
    if source == "mV/V":
        return "bridge" if any(isinstance(stage, Amplifier) for stage in stages) else "other"
    return "pulses" if source == "Hz" else "other"


def causes_for(channel: WiredChannel) -> tuple[Cause, ...]:
    """What a channel can suffer from, the likelier first; healthy leads."""
    wiring = wiring_of(channel)
    found = {*_ALWAYS, *_MORE[wiring]}
    if isinstance(channel, ContinuousChannel):
        found |= set(_CURVED)
        if channel.path.pin_unit == "V":
            found |= set(_OF_VOLTS)
        if wiring == "pulses" and not any(isinstance(stage, PulsePullUp) for stage in channel.path.stages):
            found.discard("missing pull-up")
    return tuple(cause for cause in CAUSES if cause in found)
