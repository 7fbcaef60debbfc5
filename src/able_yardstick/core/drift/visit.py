"""A visit to a unit: the errors that it was found with and left with, out of a signed record."""

from collections.abc import Mapping
from datetime import date
from typing import Any, NamedTuple

from ..sign.stops import by_stop, mean_of
from ..units.conversion import affine_gain, dimension

_DAYS_A_YEAR = 365.25


class StopError(NamedTuple):
    """An error at a value, both in the unit's own unit, with its standard uncertainty (NaN where it is not known)."""

    value: float
    error: float
    standard: float


class Visit(NamedTuple):
    """The errors found and left on a day, by value; several of one stop are taken together.

    `common` is the standard uncertainty that all of the visit's errors share, its reference's; `allowed` the error
    allowed by value; `outcome` what the errors found came to, in a word.
    """

    day: date
    unit: str
    found: tuple[StopError, ...]
    left: tuple[StopError, ...]
    common: float
    allowed: tuple[tuple[float, float], ...]
    outcome: str = "not known"
    sha256: str = ""

    @property
    def years(self) -> float:
        """The day as a number of years, of which only differences mean something."""
        return self.day.toordinal() / _DAYS_A_YEAR


def visit_of(record: Mapping[str, Any], sha256: str = "") -> Visit:
    """The visit that a signed record is of."""
    unit = record["channel"]["unit"]
    found, left = _stops(record, "as found"), _stops(record, "proof")
    passed = (record.get("as found") or {}).get("passed")
    return Visit(
        date.fromisoformat(record["signed"][:10]), unit, found, left, _common(record, unit),
        tuple((row["value"], row["allowed"]) for row in record["allowed"]),
        "not known" if passed is None else "pass" if passed else "fail", sha256,
    )  # fmt: skip


def _stops(record: Mapping[str, Any], part: str) -> tuple[StopError, ...]:
    """The errors of each stop taken together: their mean, with the uncertainty of one, which a reference rules."""
    return tuple(_mean(stop) for stop in by_stop((record.get(part) or {}).get("checks", ()), record))


def _mean(stop: list[Mapping[str, Any]]) -> StopError:
    doubts = [float(check["doubt"]["standard"]) for check in stop if check.get("doubt")]
    standard = max(doubts) if len(doubts) == len(stop) else float("nan")
    return StopError(mean_of(stop, "reference"), mean_of(stop, "error"), standard)


def _common(record: Mapping[str, Any], unit: str) -> float:
    """The standard uncertainty of the visit's reference, in the channel's unit; 0 where none is stated.

    An instrument of another quantity (ohms put in for a temperature) shares nothing that can be told in that unit.
    """
    stated = [
        float(one["expanded_uncertainty"]) / 2 * affine_gain(one["unit"] or unit, unit)
        for one in record["references"]
        if one["expanded_uncertainty"] is not None and dimension(one["unit"] or unit) == dimension(unit)
    ]
    return max(stated, default=0.0)
