"""The level: where a signal stands, in the pin's unit, in a state of the plant that may be known."""

from collections.abc import Callable

from ..case import Case
from ..expected import Expected

LevelCell = Callable[[Case, float, Expected | None], bool]
_GROUND_SHARE = 0.15  # of the pin's span: the largest offset that a ground makes
_SHUNT_FACTORS = (
    0.1,
    0.93,
    1.07,
)  # what a wrong shunt leaves of a signal lies between the first two, or above the third
_AT_START = 0.005  # of the pin's span


def broken(*names: str, lowest: float | None = None) -> LevelCell:
    """One of the levels that breaks of some names make; `lowest` where the wiring has none of them."""

    def fits(case: Case, level: float, _expected: Expected | None) -> bool:
        pins = case.break_levels(names)
        return any(case.near(level, pin) for pin in pins or ([] if lowest is None else [lowest]))

    return fits


def swapped(case: Case, level: float, expected: Expected | None) -> bool:
    """What the swapped leads make of the signal."""
    return case.near(level, case.swapped_level(expected))


def anywhere(_case: Case, _level: float, _expected: Expected | None) -> bool:
    """Any level."""
    return True


def wrong_words(case: Case, level: float, expected: Expected | None) -> bool:
    """Counts that cannot be, or such as are right with their bytes swapped."""
    seen = case.evidence.signal
    if seen.texture == "impossible counts":
        return True
    return expected is not None and not expected.holds(level) and expected.holds(seen.swapped_level)


def as_expected(case: Case, level: float, expected: Expected | None) -> bool:
    """The level expected; without a known state any within the working range."""
    if expected is None:
        return case.is_in_range(level)
    return _off(case, level, expected) <= expected.allowed


def creeping(case: Case, level: float, expected: Expected | None) -> bool:
    """The level expected, or one that still goes towards it."""
    seen = case.evidence.signal
    if expected is None or seen.texture != "ramp":
        return as_expected(case, level, expected)
    return (level - case.held(expected.pin)) * seen.drift_per_minute < 0


def offset(case: Case, level: float, expected: Expected | None) -> bool:
    """Off what is expected by more than it may be, and by no more than a ground makes."""
    if expected is None:
        return False  # an offset cannot be seen
    most = max(_GROUND_SHARE * case.span, expected.allowed)
    return expected.allowed / 3 < _off(case, level, expected) <= most


def other_factor(_case: Case, level: float, expected: Expected | None) -> bool:
    """Another share of what is expected."""
    if expected is None:
        return False
    ratio = level / expected.pin if expected.pin else 0.0
    low, high, above = _SHUNT_FACTORS
    return low < ratio < high or ratio > above


def stopped_short(case: Case, level: float, expected: Expected | None) -> bool:
    """Below what is expected, though not at the lowest there is."""
    if expected is None:
        return False
    return level - case.held(expected.pin) < -expected.allowed / 2 and not case.is_at_start(level, _AT_START)


def _off(case: Case, level: float, expected: Expected) -> float:
    return abs(level - case.held(expected.pin))
