"""The ohms across the leads, taken off the terminal."""

from ...document.channel import TwoStateChannel
from ..case import Case
from .cell import Cell

OPEN_OHM = 5e6
_SHORT_OHM = 20.0


def _ohms(case: Case) -> float:
    assert case.evidence.leads_ohm is not None  # asked for where it was measured
    return case.evidence.leads_ohm


def _is_a_circuit(case: Case) -> bool:
    """Closed, and not short where that is not what it is like."""
    may_be_short = isinstance(case.channel, TwoStateChannel) or case.wiring == "millivolts"
    return _ohms(case) <= OPEN_OHM and (may_be_short or _ohms(case) >= _SHORT_OHM)


OPEN = Cell("open", lambda case: _ohms(case) > OPEN_OHM)
SHORT = Cell("short", lambda case: _ohms(case) < _SHORT_OHM)
A_CIRCUIT = Cell("as usual", _is_a_circuit)
EITHER = Cell("as usual", lambda _case: True)  # as a rule: it comes and goes
