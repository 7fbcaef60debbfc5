"""The causes that nothing seen contradicts."""

from typing import Literal

from .case import Case
from .causes import ROWS, Cause, causes_for
from .evidence import TESTS, TestName
from .figures import may_be

Look = Literal["noise", "level"]


def agreements(case: Case, cause: Cause) -> dict[Look | TestName, bool]:
    """Whether a cause agrees with each look and test that was made; a signal that was typed has no noise."""
    row, seen = ROWS[cause], case.evidence
    found: dict[Look | TestName, bool] = {} if seen.signal.texture == "unseen" else {
        "noise": may_be(seen.signal.texture, row.textures)
    }  # fmt: skip
    found["level"] = row.level(case, case.level, seen.expected)
    return found | {test: row.cell(test, case).fits(case) for test in TESTS if seen.has(test)}


def standing_of(case: Case) -> list[Cause]:
    """Every cause whose row agrees with what was seen, the likelier first."""
    return [cause for cause in causes_for(case.channel) if all(agreements(case, cause).values())]


def without_coincidence(case: Case, standing: list[Cause]) -> list[Cause]:
    """Drop a sensor that stuck at just the level of a break that stands too, where no test would tell.

    A contact has only two levels, so there it is no coincidence.
    """
    is_off = case.evidence.signal.level_count < 1  # the count of an input that is off
    broken = [cause for cause in standing if ROWS[cause].is_a_break or (is_off and cause == "not configured")]
    if case.wiring == "contact" or not broken:
        return standing
    return [cause for cause in standing if cause not in ("stuck", "clipped")]
