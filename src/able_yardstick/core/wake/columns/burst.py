"""A burst of fast samples: whether there is a line at the mains' frequency or twice that."""

from ..case import Case
from .cell import Cell

_MAINS_HZ = ((48.0, 52.0), (58.0, 62.0), (98.0, 104.0), (118.0, 124.0))
_RESTLESS = ("wander", "noisy", "ramp")


def _is_of_mains(case: Case) -> bool:
    burst = case.evidence.burst
    if burst is None or burst.line is None or burst.texture != "line":
        return False
    return any(low <= burst.line.frequency_hz <= high for low, high in _MAINS_HZ)


def _is_of_a_loose_lead(case: Case) -> bool:
    burst, expected = case.evidence.burst, case.evidence.expected
    assert burst is not None  # asked for where one was taken
    is_in_place = expected is not None and expected.holds(burst.level)
    return burst.texture in _RESTLESS or (_is_of_mains(case) and not is_in_place)


MAINS = Cell("mains", _is_of_mains)
NO_LINE = Cell("no line", lambda case: not _is_of_mains(case))
RESTLESS = Cell("no line", _is_of_a_loose_lead)
