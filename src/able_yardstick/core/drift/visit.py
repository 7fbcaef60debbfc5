"""A visit to a unit: the errors that it was found with and left with, out of a signed record."""

from collections.abc import Mapping
from datetime import date
from typing import Any, NamedTuple

from ..sign.kinds.registry import kind_of_record
from ..sign.stops import by_stop, mean_of
from ..words.errors import NotApplicable

_DAYS_A_YEAR = 365.25


class StopError(NamedTuple):
    """An error at a value, both in the unit's own unit, with its standard uncertainty (NaN where it is not known)."""

    value: float
    error: float
    standard: float


class Visit(NamedTuple):
    """The errors found and left on a day, by value; several of one stop are taken together.

    `common` is the standard uncertainty that all of the visit's errors share, its reference's; `allowed` the error
    allowed by value; `outcome` what the errors found came to, in a word. A contact has no errors: `seen`
    tells each step that was rehearsed, and whether it was as expected (None: not tried).
    """

    day: date
    unit: str
    found: tuple[StopError, ...]
    left: tuple[StopError, ...]
    common: float
    allowed: tuple[tuple[float, float], ...]
    outcome: str = "not known"
    sha256: str = ""
    seen: tuple[tuple[str, bool | None], ...] | None = None

    @property
    def has_errors(self) -> bool:
        """Whether errors are what is looked at, which may drift."""
        return self.seen is None

    @property
    def years(self) -> float:
        """The day as a number of years, of which only differences mean something."""
        return self.day.toordinal() / _DAYS_A_YEAR


def refuse_without_errors(visits: tuple[Visit, ...]) -> None:
    """Nothing follows for what has no errors. Raises: NotApplicable."""
    if visits and not visits[-1].has_errors:
        raise NotApplicable(
            "A contact has no errors along a range: it works or not, and does not drift. Give an interval of your own, "
            "with its reason."
        )


def visit_of(record: Mapping[str, Any], sha256: str = "") -> Visit:
    """The visit that a signed record is of."""
    unit = record["channel"]["unit"]
    found, left = _stops(record, "as found"), _stops(record, "proof")
    seen = _seen(record)
    passed = (record.get("as found" if seen is None else "proof") or {}).get("passed")
    return Visit(
        date.fromisoformat(record["signed"][:10]), unit, found, left, _common(record),
        tuple((row["value"], row["allowed"]) for row in record["allowed"]),
        "not known" if passed is None else "pass" if passed else "fail", sha256,
        seen,
    )  # fmt: skip


def _seen(record: Mapping[str, Any]) -> tuple[tuple[str, bool | None], ...] | None:
    rows = (record.get("proof") or {}).get("rehearsed")
    return None if rows is None else tuple((row["step"], row["as expected"]) for row in rows)


def _stops(record: Mapping[str, Any], part: str) -> tuple[StopError, ...]:
    """The errors of each stop taken together: their mean, with the uncertainty of one, which a reference rules."""
    checks, ends = (record.get(part) or {}).get("checks", ()), kind_of_record(record).ends(record)
    return () if ends is None else tuple(_mean(stop) for stop in by_stop(checks, ends))


def _mean(stop: list[Mapping[str, Any]]) -> StopError:
    doubts = [float(check["doubt"]["standard"]) for check in stop if check.get("doubt")]
    standard = max(doubts) if len(doubts) == len(stop) else float("nan")
    return StopError(mean_of(stop, "reference"), mean_of(stop, "error"), standard)


def _common(record: Mapping[str, Any]) -> float:
    """The standard uncertainty of the visit's reference, in the channel's unit; 0 where none is stated.

    An instrument of another quantity (ohms put in for a temperature) shares nothing that can be told in that unit.
    """
    known = [one for one in record["references"] if one["expanded_uncertainty"] is not None]
    roads = [(one, kind_of_record(record).read_off(record["channel"], one)) for one in known]
    stated = [float(one["expanded_uncertainty"]) / 2 * abs(road.gain) for one, road in roads if road is not None]
    return max(stated, default=0.0)
