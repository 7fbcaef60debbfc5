"""The plant's knobs as a person has them: true values, faults, where the meter is held. One line of JSON each way."""

import time
from typing import Any, NamedTuple, Protocol

from ...core.document.alarm import Alarm, FaultRule
from ...core.document.channel import ContinuousChannel
from ...core.words.errors import NoSuchThing, NotApplicable
from .faults import fault_named
from .plant import Plant

_LONGEST_SILENCE_S = 60.0


class Knobbed(Protocol):
    """What has knobs: a plant, and how the wires to it behave."""

    plant: Plant
    silent_until: float
    logger_baud: int


class KnobRow(NamedTuple):
    """One channel's knobs as they stand."""

    tag: str
    name: str
    unit: str
    low: float
    high: float
    target: float
    plant: float
    fault: str
    faults: tuple[str, ...]


def obeyed(rig: Knobbed, wanted: dict[str, Any]) -> dict[str, Any]:
    """What was asked for is done, and the plant's state given. Raises: NoSuchThing, NotApplicable."""
    plant = rig.plant
    what = wanted.get("do", "state")
    if what == "move":
        plant.move(str(wanted["tag"]), float(wanted["value"]))
    elif what == "fault":
        plant.tagged(str(wanted["tag"])).break_by(fault_named(str(wanted["fault"])))
    elif what == "inject":
        signal = wanted.get("signal")
        plant.tagged(str(wanted["tag"])).injected = None if signal is None else float(signal)
    elif what == "alarms":
        alarms = [Alarm(**row) for row in wanted["alarms"]]
        plant.alarms[plant.tagged(str(wanted["tag"])).channel.tag].enter(alarms, FaultRule(**wanted["rule"]))
    elif what == "probe":
        tag, point = _probed(plant, str(wanted["tag"])), wanted["point"]
        if point not in ("signal", "supply", "leads", "nowhere"):
            raise NotApplicable("The meter can be held to signal, supply, leads or nowhere.")
        plant.probe = None if point == "nowhere" else (tag, point)
    elif what == "log":
        plant.logged = plant.tagged(str(wanted["tag"])).channel.tag
    elif what == "silence":
        rig.silent_until = time.monotonic() + min(float(wanted["seconds"]), _LONGEST_SILENCE_S)
    elif what == "speed":
        rig.logger_baud = int(wanted["baud"])
    elif what != "state":
        raise NoSuchThing(f"The rig has no knob “{what}”.")
    return _state(rig)


def _probed(plant: Plant, wanted: str) -> str:
    """The tag that a meter is held to, of an output or another channel. Raises: NoSuchThing."""
    output = next((tag for tag in plant.outputs if tag.casefold() == wanted.casefold()), None)
    return plant.tagged(wanted).channel.tag if output is None else output


def _state(rig: Knobbed) -> dict[str, Any]:
    rows = []
    for tag, one in rig.plant.channels.items():
        unit = one.channel.unit if isinstance(one.channel, ContinuousChannel) else "0 closed, 1 open"
        low, high = one.ends
        rows.append(
            KnobRow(
                tag, one.channel.name, unit, low, high, one.target, one.plant, one.fault.cause, one.causes
            )._asdict()
        )  # fmt: skip
    probe = rig.plant.probe
    outputs = [[tag, one.channel.name, one.written] for tag, one in rig.plant.outputs.items()]
    return {"rows": rows, "outputs": outputs, "probe": list(probe) if probe else None, "logged": rig.plant.logged}
