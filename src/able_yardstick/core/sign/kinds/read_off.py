"""How a record's reference instrument stands to its channel: what was read off it, and which way that counts."""

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from ...units.conversion import affine_gain, dimension

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


def off_the_reference(channel: Mapping[str, Any], reference: Mapping[str, Any]) -> ReadOff | None:
    """An instrument that reads what the sensor measures; None where it measures another quantity."""
    unit = reference["unit"] or channel["unit"]
    if dimension(unit) != dimension(channel["unit"]):
        return None
    gain = affine_gain(unit, channel["unit"])
    return ReadOff(gain, -1, lambda check: float(check["reference"]) / gain)


def off_the_terminal(channel: Mapping[str, Any], reference: Mapping[str, Any]) -> ReadOff | None:
    """A meter that reads the signal of an output, from which follows what was given; None with another quantity."""
    unit = channel["driver"]["unit"]
    own = reference["unit"] or unit
    if dimension(own) != dimension(unit):
        return None
    per_signal = (channel["value_high"] - channel["value_low"]) / (channel["signal_high"] - channel["signal_low"])
    step = affine_gain(own, unit)

    def reading(check: CheckData) -> float:
        signal = channel["signal_low"] + (float(check["shown"]) - channel["value_low"]) / per_signal
        return float(signal / step)

    return ReadOff(step * per_signal, 1, reading)


def off_nothing(_channel: Mapping[str, Any], _reference: Mapping[str, Any]) -> None:
    """What has no errors moves with no instrument."""
