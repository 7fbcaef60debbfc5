"""What an output gives, as a table: wanted, signal, count, and the meter's last word; and what a dead input does."""

from typing import NamedTuple

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QGridLayout, QLabel, QVBoxLayout

from ...core.document.output import OutputChannel
from ...core.job.job import Job
from ...core.outputs.dead_input import dead_rows
from ...core.outputs.giving import given, plan_of
from ...core.outputs.proving import OutputCheck, output_checks
from ...core.outputs.writers import condition_words, followed
from ...core.words.errors import YardstickError
from ...core.words.numerals import decimals_for, fixed, signed, significant
from ..frame.theme import Theme
from ..frame.widgets import discard
from ..panel.fields import heading, label

_HEADINGS = ("wanted", "signal", "count", "gives", "meter", "error")


class _Row(NamedTuple):
    """One line of the table, in words, and how the last of them is dressed."""

    cells: tuple[str, ...]
    role: str


class OutputCard(QFrame):
    """The plan's values and those that were checked, as far as they were; below it who writes the output."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("card")
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 14, 22, 14)
        column.setSpacing(8)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(18)
        self._grid.setVerticalSpacing(4)
        self._cells: list[QLabel] = []
        self.writers, self.dead = label("", "", 13), label("", "", 13)
        self._dead_title = heading("While its input is dead")
        column.addWidget(heading("From what is wanted to what the terminal gives"))
        column.addLayout(self._grid)
        column.addSpacing(6)
        column.addWidget(heading("What writes it"))
        column.addWidget(self.writers)
        column.addWidget(self._dead_title)
        column.addWidget(self.dead)
        column.addStretch(1)
        for words in (self.writers, self.dead):
            words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)

    def show_channel(self, job: Job, channel: OutputChannel, theme: Theme) -> None:
        """Show an output as it now is."""
        rows = _rows(channel, [one for one in output_checks(job, channel) if not one.stale])
        for cell in self._cells:
            discard(cell)
        self._cells = []
        units = (channel.unit, channel.driver.unit, "", channel.driver.unit, channel.driver.unit, channel.unit)
        for at, (title, unit) in enumerate(zip(_HEADINGS, units, strict=True)):
            self._put(0, at, f"{title}, {unit}" if unit else title, "muted")
        for n, row in enumerate(rows, 1):
            for at, text in enumerate(row.cells):
                self._put(n, at, text, row.role if at == len(row.cells) - 1 else "")
        self.writers.setText(_writers(job, channel))
        dead = _dead(job, channel)
        self.dead.setText(dead)
        for part in (self.dead, self._dead_title):
            part.setVisible(bool(dead))

    def _put(self, row: int, at: int, text: str, role: str) -> None:
        made = label(text, role, 13)
        made.setWordWrap(False)
        made.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._grid.addWidget(made, row, at)
        self._cells.append(made)

    @property
    def texts(self) -> list[str]:
        """What stands in the table, cell by cell."""
        return [cell.text() for cell in self._cells]


def _rows(channel: OutputChannel, checks: list[OutputCheck]) -> list[_Row]:
    """The plan's values and those checked beside them, rising in the signal."""
    last = {check.wanted: check for check in checks}
    wanted = sorted({*plan_of(channel), *last}, key=lambda value: value * channel.gain)
    found = given(channel, np.array(wanted))
    fine = decimals_for(channel.driver.per_count)
    coarse = decimals_for(abs(channel.driver.per_count / channel.gain))
    rows = []
    for at, value in enumerate(wanted):
        check = last.get(value)
        error = None if check is None else check.value - check.wanted
        passed = error is None or abs(error) <= channel.allowed_error(value)
        cells = (
            significant(value, 6), fixed(float(found.signals[at]), fine), str(found.counts[at]),
            fixed(float(found.delivered[at]), fine), "—" if check is None else fixed(check.signal, fine),
            "—" if error is None else signed(error, coarse),
        )  # fmt: skip
        role = "muted" if error is None or not channel.tolerance.is_stated else "good" if passed else "error"
        rows.append(_Row(cells, role))
    return rows


def _writers(job: Job, channel: OutputChannel) -> str:
    """Who writes it, in the order in which they are asked where that is stated."""
    source = followed(job, channel)
    lines = [
        f"{significant(one.value, 6)} {channel.unit} while {condition_words(job, one)}" for one in channel.conditions
    ]
    lines.append(f"{'else ' if lines else ''}what {source.tag} is" if source is not None else "else by hand")
    if not channel.conditions and source is None:
        return "Set by hand: nothing writes it by itself."
    order = "The first that holds:" if channel.first_holds and channel.conditions else ""
    return "\n".join(part for part in (order, *(f"· {line}" for line in lines)) if part)


def _dead(job: Job, channel: OutputChannel) -> str:
    """What each break of the input does to it; why nothing can be said, where that is so."""
    source = followed(job, channel)
    if source is None:
        return ""
    try:
        return "\n".join(f"· {source.tag}, {row.name}: {row.says}" for row in dead_rows(job, channel))
    except YardstickError as error:
        return str(error)
