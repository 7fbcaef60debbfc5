"""The test that is foretold to leave the fewest causes together."""

from ..document.channel import ContinuousChannel
from .case import Case
from .causes import ROWS, Cause
from .evidence import TESTS, TestName
from .wiring import SUPPLIED


def next_test(case: Case, standing: list[Cause]) -> TestName | None:
    """The test not made yet that is foretold to leave the fewest causes together; None where none divides them."""
    if len(standing) < 2:
        return None
    best: tuple[int, int] | None = None
    chosen: TestName | None = None
    for order, test in enumerate(TESTS):
        if case.evidence.has(test) or not _possible(case, test):
            continue
        groups: dict[str, int] = {}
        for cause in standing:
            outcome = ROWS[cause].cell(test, case).word
            groups[outcome] = groups.get(outcome, 0) + 1
        if len(groups) > 1 and (best is None or (max(groups.values()), order) < best):
            best, chosen = (max(groups.values()), order), test
    return chosen


def _possible(case: Case, test: TestName) -> bool:
    """Whether a test can be made on a channel's kind of wiring."""
    if test == "meter":
        return case.channel.path.pin_unit == "V" or case.wiring == "pulses"
    if test == "supply":
        return case.wiring in SUPPLIED
    if test == "shown":
        return isinstance(case.channel, ContinuousChannel)
    return True
