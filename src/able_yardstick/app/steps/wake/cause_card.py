"""What can be wrong, drawn in the centre: each cause with what speaks for it and against it, and what is next."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame

from ....core.wake.cause_table import CauseLine, CauseTable, cause_table, untried
from ....core.wake.evidence import TestName
from ....core.wake.inputs import look_inputs
from ....core.wake.standing import Look
from ....core.words.errors import YardstickError
from ...frame.painting import CENTRE, write
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from .session import WakeSession

_HEAD, _ROW, _LEFT, _NAMES, _PILL = 50.0, 25.0, 14.0, 170.0, 76.0
_TITLES: dict[Look | TestName, str] = {
    "noise": "noise", "level": "level", "nudge": "nudge", "shown": "shown", "meter": "at the pin",
    "supply": "supply", "resistance": "leads", "other state": "2nd state", "faster sampling": "fast capture",
}  # fmt: skip
_TALLEST_BESIDE_PLOTS = 172  # pixels


class CauseCard(QFrame):
    """Belongs to Wake; follows its session."""

    def __init__(self, bench: Workbench, session: WakeSession, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench, self._session, self._theme = bench, session, theme
        self._table: CauseTable | None = None
        self._says = ""
        session.changed.connect(self.follow)

    @property
    def table(self) -> CauseTable | None:
        """What is drawn."""
        return self._table

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self.update()

    def show_beside(self, has_plots: bool) -> None:
        """All of the room, or what is left by live plots, once there is something to tell."""
        self.setMaximumHeight(_TALLEST_BESIDE_PLOTS if has_plots else 16_777_215)
        self.setMinimumHeight(_TALLEST_BESIDE_PLOTS if has_plots else 0)
        self.follow()
        self.setVisible(not has_plots or self._session.evidence is not None)

    def follow(self) -> None:
        """Hold every cause against what was seen by now."""
        channel, session = self._session.channel, self._session
        self._says = "a value typed or looked at is held against each of them"
        if channel is None:
            self._table = None
        elif session.evidence is None or session.verdict is None:
            self._table = untried(channel)
        else:
            try:
                self._table = cause_table(look_inputs(self._bench.job, channel), session.evidence, session.verdict)
                left = self._table.left
                self._says = f"{left} left, {len(self._table.lines) - left} ruled out"
            except YardstickError as error:
                self._table, self._says = None, str(error)
        self.setAccessibleName(f"What can be wrong: {self._says}")
        self.setAccessibleDescription("; ".join(_in_words(line) for line in self._table.lines) if self._table else "")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        write(painter, self._theme, QRectF(_LEFT, 8, 300, 20), "What can be wrong", "ink", heavy=True)
        write(painter, self._theme, QRectF(_LEFT, 28, self.width() - 2 * _LEFT, 18), self._says, "muted")
        if self._table is not None:
            self._paint_table(painter, self._table)
        painter.end()

    def _paint_table(self, painter: QPainter, table: CauseTable) -> None:
        tried = any(cell is not None for line in table.lines for cell in line.cells)
        columns = table.columns if tried else ()
        wide = min((self.width() - 2 * _LEFT - _NAMES) / (len(columns) + 1.6), 110.0)
        for place, column in enumerate(columns):
            at = QRectF(_LEFT + _NAMES + place * wide, 8, wide, 20)
            write(painter, self._theme, at, _TITLES[column], "muted", CENTRE)
        foretold = QRectF(_LEFT + _NAMES + len(columns) * wide + 12, 8, 200, 20)
        if table.next_test is not None:
            write(painter, self._theme, foretold, f"next, {_TITLES[table.next_test]}", "accent", heavy=True)
        room = int((self.height() - _HEAD - 6) // _ROW)
        lines = table.lines if len(table.lines) <= room else table.lines[: max(room - 1, 1)]
        for n, line in enumerate(lines):
            self._paint_line(painter, line, _HEAD + n * _ROW, wide if tried else 0.0, len(columns))
        if len(lines) < len(table.lines):
            more = QRectF(_LEFT + 14, _HEAD + len(lines) * _ROW, 300, _ROW)
            write(painter, self._theme, more, f"and {len(table.lines) - len(lines)} more, ruled out", "muted")

    def _paint_line(self, painter: QPainter, line: CauseLine, top: float, wide: float, columns: int) -> None:
        painter.setPen(QPen(self._theme.color("faint"), 1))
        painter.drawLine(int(_LEFT), int(top), int(self.width() - _LEFT), int(top))
        if line.is_left and wide:
            painter.fillRect(QRectF(1, top + 1, 4, _ROW - 1), self._theme.color("amber"))
        ink = "ink" if line.is_left else "muted"
        name = line.cause.capitalize() if line.is_left else f"×  {line.cause}"
        write(painter, self._theme, QRectF(_LEFT, top, _NAMES, _ROW), name, ink, heavy=line.is_left and bool(wide))
        for place, cell in enumerate(line.cells[:columns]):
            middle = _LEFT + _NAMES + (place + 0.5) * wide
            pill = QRectF(middle - min(_PILL, wide - 8) / 2, top + 5, min(_PILL, wide - 8), _ROW - 10)
            self._paint_cell(painter, pill, cell, line.is_left)
        if line.is_left and line.foretold:
            at = QRectF(_LEFT + _NAMES + columns * wide + 12, top, self.width(), _ROW)
            write(painter, self._theme, at, "either" if line.foretold == "any" else line.foretold, "ink")

    def _paint_cell(self, painter: QPainter, pill: QRectF, cell: bool | None, is_left: bool) -> None:
        """For: filled where the cause is left; against: crossed out, in red; not tried: a dash."""
        if cell is None:
            write(painter, self._theme, pill, "—", "muted", CENTRE)
            return
        colour = "red" if not cell else ("amber" if is_left else "line")
        painter.setPen(QPen(self._theme.color(colour), 1))
        painter.setBrush(self._theme.color("accent_fill") if cell and is_left else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(pill, 2, 2)
        word = "for" if cell else "× against"
        write(painter, self._theme, pill, word, "red" if not cell else ("ink" if is_left else "muted"), CENTRE)


def _in_words(line: CauseLine) -> str:
    against = sum(cell is False for cell in line.cells)
    return f"{line.cause}: {'left' if line.is_left else f'ruled out by {against}'}"
