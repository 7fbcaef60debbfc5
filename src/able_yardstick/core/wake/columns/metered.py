"""The volts at the signal terminal, against what the controller sees there."""

from ..case import Case
from .cell import Cell

_DEAD_SHARE = 0.02  # of the pin's span
_LEVEL_SHARE = 0.02
_BELOW = 0.006


def _is_unread(case: Case) -> bool:
    expected = case.evidence.expected
    return expected is None or expected.holds(case.meter) or not case.meter_agrees


AGREES = Cell("agrees", lambda case: case.meter_agrees)
DIFFERS = Cell("differs", lambda case: not case.meter_agrees)
SOUND_THERE = Cell("differs", _is_unread)  # the signal is there, and is not read
DEAD = Cell("dead", lambda case: abs(case.meter) <= _DEAD_SHARE * case.span)
EITHER = Cell("agrees", lambda _case: True)  # as a rule: the signal has moved on since
ABOUT = Cell("agrees", lambda case: abs(case.held(case.meter) - case.level) <= _LEVEL_SHARE * case.span)
CLOSE = Cell("agrees", lambda case: case.meter_agrees and abs(case.meter - case.level) <= _LEVEL_SHARE * case.span)
# of a bridge, whose amplifier can put out less than nothing
NEGATIVE = Cell("negative", lambda case: case.meter < -_BELOW * case.span)
NOT_NEGATIVE = Cell("agrees", lambda case: case.meter >= -_DEAD_SHARE * case.span and case.meter_agrees)
