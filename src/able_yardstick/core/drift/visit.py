"""A visit to a unit: the errors that it was found with and left with, out of a signed record."""

from collections.abc import Mapping
from datetime import date
from typing import Any, NamedTuple

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
    low, high = record["channel"]["transducer"]["range_low"], record["channel"]["transducer"]["range_high"]
    near = _NEAR * abs(high - low)
    unit = record["channel"]["unit"]
    found, left = (_stops(record.get(part), near) for part in ("as found", "proof"))
    passed = (record.get("as found") or {}).get("passed")
    return Visit(
        date.fromisoformat(record["signed"][:10]), unit, found, left, _common(record, unit),
        tuple((row["value"], row["allowed"]) for row in record["allowed"]),
        "not known" if passed is None else "pass" if passed else "fail", sha256,
    )  # fmt: skip


_NEAR = 0.02  # of the range: errors of one stop


def _stops(proof: Mapping[str, Any] | None, near: float) -> tuple[StopError, ...]:
    """The errors of each stop taken together: their mean, with the uncertainty of one, which a reference rules."""
    checks = sorted((proof or {}).get("checks", ()), key=lambda check: float(check["reference"]))
    stops: list[list[Mapping[str, Any]]] = []
    for check in checks:
        if stops and check["reference"] - stops[-1][0]["reference"] <= near:
            stops[-1].append(check)
        else:
            stops.append([check])
    return tuple(_mean(stop) for stop in stops)


def _mean(stop: list[Mapping[str, Any]]) -> StopError:
    doubts = [float(check["doubt"]["standard"]) for check in stop if check.get("doubt")]
    return StopError(
        sum(float(check["reference"]) for check in stop) / len(stop),
        sum(float(check["error"]) for check in stop) / len(stop),
        max(doubts) if len(doubts) == len(stop) else float("nan"),
    )


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
