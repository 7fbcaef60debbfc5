"""How a record's reference instrument stands to its channel: what was read off it, and which way that counts."""

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from ..units.conversion import affine_gain, dimension

CheckData = Mapping[str, Any]


class ReadOff(NamedTuple):
    """One instrument in one record.

    `gain` is how many of the channel's units one of the instrument's is; `reading` what it read at a check, in its own
    unit; `sign` which way an error moves when the reading does: a reference that was higher makes an error less, a
    meter at an output's terminal makes it more.
    """

    gain: float
    sign: int
    reading: Callable[[CheckData], float]


def read_off(record: Mapping[str, Any], reference: Mapping[str, Any]) -> ReadOff | None:
    """How a record's checks were read off one of its references; None where it measures another quantity."""
    channel = record["channel"]
    if channel["kind"] == "output":
        return _at_terminal(channel, reference)
    unit = reference["unit"] or channel["unit"]
    if dimension(unit) != dimension(channel["unit"]):
        return None
    gain = affine_gain(unit, channel["unit"])
    return ReadOff(gain, -1, lambda check: float(check["reference"]) / gain)


def _at_terminal(channel: Mapping[str, Any], reference: Mapping[str, Any]) -> ReadOff | None:
    """A meter that reads the signal of an output: what was given follows from it."""
    unit = channel["driver"]["unit"]
    own = reference["unit"] or unit
    if dimension(own) != dimension(unit):
        return None
    per_signal = (channel["value_high"] - channel["value_low"]) / (channel["signal_high"] - channel["signal_low"])
    step = affine_gain(own, unit)

    def reading(check: CheckData) -> float:
        given = float(check["reference"]) + float(check["error"])
        return float((channel["signal_low"] + (given - channel["value_low"]) / per_signal) / step)

    return ReadOff(step * per_signal, 1, reading)
