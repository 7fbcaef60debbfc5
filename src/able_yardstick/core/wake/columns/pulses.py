"""The mean volts of a pulse line: high at rest, low when nothing pulls it up, in between while it runs."""

from ..case import Case
from .cell import Cell

_HIGH, _LOW = 0.8, 0.2  # of what it rests at
_RUNS = 0.15  # of it, from either end
_TURNING = 0.01  # of the pin's span


def _is_between(case: Case) -> bool:
    return _RUNS * case.pulses_high_v < case.meter < (1 - _RUNS) * case.pulses_high_v


def _as_its_level(case: Case) -> bool:
    return _is_between(case) == (case.level > _TURNING * case.span)


HIGH = Cell("high", lambda case: case.meter > _HIGH * case.pulses_high_v)
LOW = Cell("low", lambda case: case.meter < _LOW * case.pulses_high_v)
BETWEEN = Cell("between", _is_between)
AS_SEEN = Cell("between", _as_its_level)  # a stuck wheel rests, a stuck reading runs on
EITHER = Cell("between", lambda _case: True)
