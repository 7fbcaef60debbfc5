"""The visits that stand in a unit's records, and when the next one is planned."""

from collections.abc import Sequence
from typing import Any, NamedTuple

from ...core.drift.interval import METHODS, interval_before
from ...core.drift.visit import Visit, visit_of
from ...core.words.errors import BadTable


def visits_in(records: Sequence[dict[str, Any]]) -> tuple[Visit, ...]:
    """The visits of sealed records, in the order of their days.

    A record that was corrected since is none of them, nor one in another unit than the last.
    """
    corrected = {one["record"]["corrects"] for one in records}
    found = [visit_of(one["record"], one["sha256"]) for one in records if one["sha256"] not in corrected]
    found.sort(key=lambda visit: visit.day)
    return tuple(one for one in found if one.unit == found[-1].unit)


class Planned(NamedTuple):
    """An interval in months, by which rule, and why."""

    months: int
    rule: str
    why: str


def planned(visits: tuple[Visit, ...], method: str, months: int = 0, reason: str = "") -> Planned:
    """The interval that a method advises, or another one that a person gives with a reason.

    Raises: BadTable for a method that is none, another interval without a reason, or no visit; what a method refuses.
    """
    if not visits:
        raise BadTable("No visit of this unit is in the register: nothing follows for the next.")
    if months:
        if not reason.strip():
            raise BadTable("An interval that nobody advised needs a reason.")
        return Planned(months, "a person", reason.strip())
    if method not in METHODS:
        raise BadTable(f"Expected {' or '.join(METHODS)} as the method, found “{method}”.")
    found = METHODS[method].advise(visits, interval_before(visits))
    return Planned(found.months, method, found.why)
