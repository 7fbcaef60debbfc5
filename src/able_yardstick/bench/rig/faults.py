"""What can go wrong with a simulated channel: the rig's own list, from how the channel is wired.

Written apart from what Wake looks for, so that the one is a test of the other.
"""

from typing import Literal, get_args

from ...core.document.channel import TwoStateChannel, WiredChannel
from ...core.stages import Amplifier, PullUp, PulsePullUp, Shunt
from ...core.words.errors import NoSuchThing

Fault = Literal[
    "healthy", "open lead", "no supply", "short", "swapped leads", "missing pull-up", "not configured", "stuck",
    "clipped", "chassis-ground offset", "wrong shunt", "hum", "floating", "intermittent", "drifting", "slow",
    "wrong unit or scale", "wrong link settings",
]  # fmt: skip
FAULTS: tuple[Fault, ...] = get_args(Fault)
Front = Literal["voltage", "loop", "pull-up", "ohms", "millivolts", "bridge", "pulses", "contact", "other"]


def front_of(channel: WiredChannel) -> Front:
    """What the signal meets on its way to the pin."""
    if isinstance(channel, TwoStateChannel):
        return "contact"
    parts = {type(stage) for stage in channel.path.stages}
    fronts: dict[str, Front] = {
        "V": "voltage",
        "mA": "loop" if Shunt in parts else "other",
        "Ω": "pull-up" if PullUp in parts else "ohms",
        "mV": "millivolts",
        "mV/V": "bridge" if Amplifier in parts else "other",
        "Hz": "pulses",
    }
    return fronts.get(channel.path.source, "other")


def faults_for(channel: WiredChannel) -> tuple[Fault, ...]:
    """The faults that a channel can be given, healthy first."""
    front = front_of(channel)
    can: set[Fault] = {
        "healthy", "open lead", "short", "not configured", "stuck", "intermittent", "wrong link settings",
    }  # fmt: skip
    if front in ("voltage", "loop", "pull-up", "bridge", "pulses", "contact"):
        can.add("no supply")
    if front in ("loop", "millivolts", "bridge"):
        can.add("swapped leads")
    if front == "pull-up" or any(isinstance(stage, PulsePullUp) for stage in channel.path.stages):
        can.add("missing pull-up")
    if front == "loop":
        can.add("wrong shunt")
    if front == "voltage":
        can.add("floating")
    if front != "contact":
        can |= {"clipped", "drifting", "slow", "wrong unit or scale"}
        if channel.path.pin_unit == "V":
            can |= {"chassis-ground offset", "hum"}
    return tuple(fault for fault in FAULTS if fault in can)


def fault_named(text: str) -> Fault:
    """A fault by its name or a short form of it. Raises: NoSuchThing that lists them."""
    wanted = text.strip().casefold().replace("-", " ").replace("_", " ")
    plain = {fault.replace("-", " "): fault for fault in FAULTS}
    for name, fault in plain.items():
        if name == wanted or (wanted and name.startswith(wanted)):
            return fault
    raise NoSuchThing(f"There is no fault “{text}”. The faults are {', '.join(FAULTS[1:])}.")
