"""The lane under the Rule: what each break would read like, on the same axis."""

from typing import NamedTuple

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QHelpEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QToolTip, QWidget

from ....core.wire.breaks import Break
from ...centre.rule.layout import GUTTER, RIGHT, TITLE_X, ends_of
from ...centre.sight import Sight
from ...frame.plain_text import tip
from ...frame.state_mark import draw_state
from ...frame.theme import Theme, bold, font

ROW = 18
_TOLD = {"seen": ("ok", "green"), "not seen": ("look", "accent"), "over-voltage": ("fault", "red"),
         "not known": ("look", "accent")}  # fmt: skip


class LaneRow(NamedTuple):
    """Breaks that read the same: one cannot be told from another by the signal."""

    names: tuple[str, ...]
    pin: float | None
    told: str
    says: str
    tip: str


def lane_rows(breaks: tuple[Break, ...]) -> tuple[LaneRow, ...]:
    """The breaks, those that read alike in one row."""
    groups: dict[object, list[Break]] = {}
    for one in breaks:
        key = (one.counts, one.told) if one.told != "over-voltage" and one.pin is not None else one.name
        groups.setdefault(key, []).append(one)
    found = []
    for group in groups.values():
        first = group[0]
        tip = "\n".join(f"{one.name}: {one.says}" + (f". {one.harm}" if one.harm else "") for one in group)
        if len(group) > 1:
            tip += "\nThe signal alone cannot tell these apart."
        names = tuple(one.name for one in group)
        found.append(LaneRow(names, first.pin, first.told, first.says, tip))
    return tuple(found)


class BreakLane(QWidget):
    """One row for each break, or for each set that reads alike."""

    def __init__(self, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self._sight, self._theme = sight, theme
        self._rows: tuple[LaneRow, ...] = ()
        self._unit = ""
        self.setAccessibleName("If it breaks")
        sight.ranged.connect(self.update)

    @property
    def rows(self) -> tuple[LaneRow, ...]:
        """What is shown."""
        return self._rows

    def show_breaks(self, breaks: tuple[Break, ...], unit: str, theme: Theme) -> None:
        """Show what the breaks of a channel would read like."""
        self._rows, self._unit, self._theme = lane_rows(breaks), unit, theme
        self.setFixedHeight(ROW * (1 + max(len(self._rows), 1)) + 4)
        told = "; ".join(f"{', '.join(row.names)}: {row.says}, {row.told}" for row in self._rows)
        self.setAccessibleDescription(told)
        self.update()

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            at = event.pos().y() // ROW - 1
            if 0 <= at < len(self._rows):
                QToolTip.showText(event.globalPos(), tip(self._rows[at].tip), self)
                return True
        return super().event(event)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self._theme
        painter.fillRect(self.rect(), theme.color("paper"))
        painter.fillRect(0, 0, GUTTER, self.height(), theme.color("gutter"))
        painter.setPen(theme.color("ink"))
        painter.setFont(bold(12))
        painter.drawText(QRectF(TITLE_X, 2, GUTTER, ROW), Qt.AlignmentFlag.AlignVCenter, "If it breaks")
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        words = "the pin gets" if self._rows else "no break of this kind of signal is known"
        painter.drawText(QRectF(GUTTER + 8, 2, 400, ROW), Qt.AlignmentFlag.AlignVCenter, words)
        for n, row in enumerate(self._rows):
            self._paint_row(painter, 2 + (n + 1) * ROW, row)
        painter.setPen(theme.color("line"))
        painter.drawLine(GUTTER, 0, GUTTER, self.height())
        painter.end()

    def _paint_row(self, painter: QPainter, top: int, row: LaneRow) -> None:
        theme = self._theme
        level, color = _TOLD[row.told]
        if row.told == "over-voltage":
            wash = theme.color("red", 38)
            painter.fillRect(QRectF(0, top, self.width(), ROW - 1), wash)
            painter.fillRect(QRectF(0, top, 3, ROW - 1), theme.color("red"))
        painter.setFont(font(12))
        painter.setPen(theme.color("red" if level == "fault" else "ink"))
        names = painter.fontMetrics().elidedText(
            ", ".join(row.names), Qt.TextElideMode.ElideRight, GUTTER - TITLE_X - 6
        )
        painter.drawText(QRectF(TITLE_X, top, GUTTER, ROW), Qt.AlignmentFlag.AlignVCenter, names)
        x = self._mark(painter, top + ROW / 2, row, level)
        self._paint_words(painter, top, row, color, x)

    def _mark(self, painter: QPainter, y: float, row: LaneRow, level: str) -> float:
        """The sign at the pin's value, an arrow where that is beyond the view; gives where it stands."""
        right = self.width() - RIGHT
        if row.pin is None:
            brush = QBrush(self._theme.color("muted"), Qt.BrushStyle.BDiagPattern)
            painter.fillRect(QRectF(GUTTER + 6, y - 3, right - GUTTER - 12, 6), brush)
            return GUTTER + 6.0
        x = float(ends_of(self, self._sight).x(row.pin))
        if GUTTER + 4 <= x <= right + 6:
            draw_state(painter, self._theme, level, QPointF(x, y), 3.8)
            return x
        color = self._theme.color("red" if level == "fault" else "accent")
        sign = 1 if x > right else -1
        tip = right + 8 if sign > 0 else GUTTER + 6
        painter.setPen(QPen(color, 1.6))
        painter.drawLine(QPointF(tip - sign * 22, y), QPointF(tip - sign * 4, y))
        painter.setBrush(color)
        painter.setPen(Qt.PenStyle.NoPen)
        points = [QPointF(tip, y), QPointF(tip - sign * 7, y - 4), QPointF(tip - sign * 7, y + 4)]
        painter.drawPolygon(QPolygonF(points))
        return tip - sign * 22.0

    def _paint_words(self, painter: QPainter, top: int, row: LaneRow, color: str, x: float) -> None:
        """What the pin gets and whether it is told, on the side of the mark where there is more room."""
        metrics = painter.fontMetrics()
        told = metrics.horizontalAdvance(row.told) + 8
        right = self.width() - 6
        on_right = right - x >= x - GUTTER
        room = int((right - x if on_right else x - GUTTER) - told - 22)
        words = metrics.elidedText(row.says, Qt.TextElideMode.ElideRight, room)
        wide = metrics.horizontalAdvance(words)
        start = x + 10 if on_right else x - 12 - told - wide
        back = self._theme.color("paper")
        if row.pin is None:
            painter.fillRect(QRectF(start, top + 1, wide + told + 4, ROW - 3), back)
        painter.setPen(self._theme.color("ink"))
        painter.drawText(QRectF(start, top, wide + 4, ROW), Qt.AlignmentFlag.AlignVCenter, words)
        painter.setPen(self._theme.color(color))
        painter.setFont(bold(11))
        painter.drawText(QRectF(start + wide + 8, top, told + 20, ROW), Qt.AlignmentFlag.AlignVCenter, row.told)
        painter.setFont(font(12))
