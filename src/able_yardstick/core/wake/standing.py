"""The causes that nothing seen contradicts."""

from .case import Case
from .causes import ROWS, Cause, causes_for
from .evidence import TESTS
from .figures import may_be


def standing_of(case: Case) -> list[Cause]:
    """Every cause whose row agrees with what was seen, the likelier first."""
    return [cause for cause in causes_for(case.channel) if _stands(case, cause)]


def _stands(case: Case, cause: Cause) -> bool:
    row, seen = ROWS[cause], case.evidence
    if not may_be(seen.signal.texture, row.textures) or not row.level(case, case.level, seen.expected):
        return False
    return all(row.cell(test, case).fits(case) for test in TESTS if seen.has(test))


def without_coincidence(case: Case, standing: list[Cause]) -> list[Cause]:
    """Drop a sensor that stuck at just the level of a break that stands too, where no test would tell.

    A contact has only two levels, so there it is no coincidence.
    """
    is_off = case.evidence.signal.level_count < 1  # the count of an input that is off
    broken = [cause for cause in standing if ROWS[cause].is_a_break or (is_off and cause == "not configured")]
    if case.wiring == "contact" or not broken:
        return standing
    return [cause for cause in standing if cause not in ("stuck", "clipped")]
