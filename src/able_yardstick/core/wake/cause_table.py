"""Every cause that a channel's wiring can have, held against everything seen of it: for, against, or not tried."""

from typing import NamedTuple

from ..document.channel import WiredChannel
from .case import Case
from .causes import ROWS, Cause, causes_for
from .evidence import TESTS, Evidence, TestName
from .inputs import LookInputs
from .standing import Look, agreements
from .verdict import Verdict


class CauseLine(NamedTuple):
    """A cause, whether it is left, what speaks for it (true) or against it (false), and what the next test would show.

    `cells` go by the table's columns; None where nothing was tried.
    """

    cause: Cause
    is_left: bool
    cells: tuple[bool | None, ...]
    foretold: str


class CauseTable(NamedTuple):
    """The causes, those left first, under the looks and tests made; and the test to make next."""

    columns: tuple[Look | TestName, ...]
    lines: tuple[CauseLine, ...]
    next_test: TestName | None

    @property
    def left(self) -> int:
        """How many causes nothing speaks against."""
        return sum(line.is_left for line in self.lines)


def cause_table(inputs: LookInputs, evidence: Evidence, verdict: Verdict) -> CauseTable:
    """What was seen of a channel, cause by cause."""
    case = Case(inputs, evidence)
    noise: tuple[Look, ...] = () if evidence.signal.texture == "unseen" else ("noise",)
    columns: tuple[Look | TestName, ...] = (*noise, "level", *(test for test in TESTS if evidence.has(test)))
    lines = []
    for cause in causes_for(inputs.channel):
        found = agreements(case, cause)
        foretold = ROWS[cause].cell(verdict.next_test, case).word if verdict.next_test is not None else ""
        lines.append(CauseLine(cause, cause in verdict.names, tuple(found.get(one) for one in columns), foretold))
    lines.sort(key=lambda line: (not line.is_left, sum(cell is False for cell in line.cells)))
    return CauseTable(columns, tuple(lines), verdict.next_test)


def untried(channel: WiredChannel) -> CauseTable:
    """The causes that there can be before anything was looked at."""
    lines = tuple(CauseLine(cause, True, (None,), "") for cause in causes_for(channel))
    return CauseTable(("level",), lines, None)
