"""The test that is foretold to leave the fewest causes together."""

from ..document.channel import ContinuousChannel
from .case import SUPPLIED, Case
from .causes import Cause
from .evidence import TESTS, TestName


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
            outcome = _foretold(case, cause, test)
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


def _foretold(case: Case, cause: Cause, test: TestName) -> str:
    """One word for what a cause would make a test show."""
    if test == "nudge":
        outcomes = case.nudges(cause)
        return "any" if len(outcomes) > 2 else outcomes[0]
    if test == "shown":
        return "differs" if cause == "wrong unit or scale" else "agrees"
    if test == "supply":
        return "absent" if cause == "no supply" else "present"
    if test == "resistance":
        return {"open lead": "open", "short": "short"}.get(cause, "as usual")
    if test == "other state":
        return {"stuck": "same", "not configured": "same", "chassis-ground offset": "offset", "wrong shunt": "factor",
                "clipped": "as expected", "healthy": "as expected", "slow": "as expected",
                "wrong unit or scale": "as expected", "hum": "any", "floating": "any", "drifting": "any",
                "intermittent": "any", "wrong link settings": "any"}.get(cause, "same")  # fmt: skip
    if test == "faster sampling":
        return "mains" if cause == "hum" else "no line"
    return _meter_foretold(case, cause)


def _meter_foretold(case: Case, cause: Cause) -> str:
    if case.wiring == "pulses":
        return {"open lead": "high", "no supply": "high", "short": "low", "missing pull-up": "low"}.get(
            cause, "between"
        )
    if cause in ("chassis-ground offset", "not configured"):
        return "differs"
    if cause == "floating":
        return "dead"
    return "negative" if cause == "swapped leads" and case.wiring == "bridge" else "agrees"
