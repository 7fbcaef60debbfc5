"""How the signal of a channel comes to its pin, as far as breaks go."""

from typing import Literal

from ..document.channel import TwoStateChannel, WiredChannel
from ..stages import Amplifier, PullUp, Shunt

Wiring = Literal["voltage", "loop", "pull-up", "ohms", "millivolts", "bridge", "pulses", "contact", "other"]
SUPPLIED: tuple[Wiring, ...] = ("voltage", "loop", "pull-up", "bridge", "pulses", "contact")


def wiring_of(channel: WiredChannel) -> Wiring:
    """The kind of a channel's wiring."""
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
