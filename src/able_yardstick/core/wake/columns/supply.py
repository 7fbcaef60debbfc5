"""The volts at the supply terminal; wiring without a supply has none to measure."""

from ..case import Case
from ..wiring import SUPPLIED
from .cell import Cell

_PRESENT_SHARE = 0.5  # of what is wanted


def _present(case: Case) -> bool | None:
    volts = case.evidence.supply_v
    if volts is None or case.wiring not in SUPPLIED:
        return None
    return volts > _PRESENT_SHARE * case.supply_wanted_v


PRESENT = Cell("present", lambda case: _present(case) is not False)
ABSENT = Cell("absent", lambda case: _present(case) is not True)
