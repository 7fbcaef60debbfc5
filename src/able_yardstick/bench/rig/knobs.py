"""The plant's knobs as a person has them: true values, faults, where the meter is held. One line of JSON each way."""

import json
import socket
import time
from typing import TYPE_CHECKING, Any, NamedTuple

from ...core.channel import ContinuousChannel
from ...core.errors import NoSuchThing, NotApplicable
from ..errors import NoLink
from .layout import HOST
from .plant import fault_named

if TYPE_CHECKING:
    from .server import Rig

_TIMEOUT_S = 2.0
_LONGEST_SILENCE_S = 60.0


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


def obeyed(rig: "Rig", wanted: dict[str, Any]) -> dict[str, Any]:
    """What was asked for is done, and the plant's state given. Raises: NoSuchThing, NotApplicable."""
    plant = rig.plant
    what = wanted.get("do", "state")
    if what == "move":
        plant.move(str(wanted["tag"]), float(wanted["value"]))
    elif what == "fault":
        plant.tagged(str(wanted["tag"])).break_by(fault_named(str(wanted["fault"])))
    elif what == "probe":
        tag, point = plant.tagged(str(wanted["tag"])).channel.tag, wanted["point"]
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


def _state(rig: "Rig") -> dict[str, Any]:
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
    return {"rows": rows, "probe": list(probe) if probe else None, "logged": rig.plant.logged}


class Knobs:
    """The other end: a person's hands on the plant. Short calls on loopback; safe to use from the window's thread."""

    def __init__(self, port: int) -> None:
        self._port = port

    def turn(self, **wanted: Any) -> dict[str, Any]:
        """Do one thing and get the plant's state. Raises: NoLink, NotApplicable with the rig's own words."""
        try:
            with socket.create_connection((HOST, self._port), _TIMEOUT_S) as link:
                link.settimeout(_TIMEOUT_S)
                link.sendall(json.dumps(wanted).encode() + b"\n")
                data = b""
                while not data.endswith(b"\n"):
                    part = link.recv(1 << 16)
                    if not part:
                        break
                    data += part
        except OSError as error:
            raise NoLink("The rig does not answer: it may have been stopped. Start it again.") from error
        found: dict[str, Any] = json.loads(data or b"{}")
        if "error" in found:
            raise NotApplicable(str(found["error"]))
        return found

    def rows(self) -> tuple[KnobRow, ...]:
        """All knobs as they stand. Raises: NoLink."""
        return tuple(KnobRow(**{**row, "faults": tuple(row["faults"])}) for row in self.turn(do="state")["rows"])
