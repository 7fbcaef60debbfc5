"""The nudge: whether the signal moves when the sensor is disturbed."""

from collections.abc import Callable

from ..case import Case
from ..nudge import NudgeOutcome

NudgeCell = Callable[[Case], tuple[NudgeOutcome, ...]]
_ALIVE: tuple[NudgeOutcome, ...] = ("moved",)
_DEAD: tuple[NudgeOutcome, ...] = ("did not move",)
_ANY: tuple[NudgeOutcome, ...] = ("moved", "moved the wrong way", "moved slowly", "did not move")
_AT_TOP = 0.002  # of the pin's span


def alive(_case: Case) -> tuple[NudgeOutcome, ...]:
    """It moves."""
    return _ALIVE


def dead(_case: Case) -> tuple[NudgeOutcome, ...]:
    """It does not."""
    return _DEAD


def slowly(_case: Case) -> tuple[NudgeOutcome, ...]:
    """It moves after a while."""
    return ("moved slowly",)


def any_way(_case: Case) -> tuple[NudgeOutcome, ...]:
    """Nothing is foretold."""
    return _ANY


def turned_round(case: Case) -> tuple[NudgeOutcome, ...]:
    """Of swapped leads: it moves the wrong way, or is held at the end."""
    is_seen = case.wiring == "millivolts" and case.swapped_level(case.evidence.expected) > case.converter.start
    return ("moved the wrong way",) if is_seen else (*_DEAD, "moved the wrong way")


def unless_at_top(case: Case) -> tuple[NudgeOutcome, ...]:
    """Of too large a shunt: it moves, unless it drives the pin to its top."""
    return (*_ALIVE, *_DEAD) if case.is_at_end(case.level, _AT_TOP) else _ALIVE


def held_from_above(case: Case) -> tuple[NudgeOutcome, ...]:
    """Of a clipped signal: it does not move upwards, where that is the way."""
    return _ANY if case.evidence.expected is None or case.falls else _DEAD
