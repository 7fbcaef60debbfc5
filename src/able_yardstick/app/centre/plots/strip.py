"""The axis strip under the plots: the pin's graduations, with the hairline's value in a box."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QWidget

from ....core.state.scales import Scale
from ...frame.theme import Theme, bold, font
from ..rule.graduations import Mark, graduate
from ..rule.layout import GUTTER, TITLE_X, ends_of
from ..sight import Sight


class AxisStrip(QWidget):
    """Graduations of the signal at the pin."""

    def __init__(self, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self._sight = sight
        self._theme = theme
        self._scale: Scale | None = None
        self.setFixedHeight(26)
        self._marks: tuple[Mark, ...] = ()
        sight.moved.connect(self.update)
        sight.ranged.connect(self._graduate)

    def show_scale(self, scale: Scale, theme: Theme) -> None:
        """Take the pin's scale of a channel."""
        self._scale, self._theme = scale, theme
        self._graduate()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._graduate()

    def _graduate(self) -> None:
        if self._scale is not None:
            width_of = QFontMetricsF(font(12)).horizontalAdvance
            self._marks = graduate(self._scale, ends_of(self, self._sight), width_of).major
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._scale is None:
            return
        painter = QPainter(self)
        painter.setFont(font(12))
        painter.setPen(self._theme.color("muted"))
        painter.drawText(QRectF(TITLE_X, 5, GUTTER, 18), 0, f"{self._scale.title}, {self._scale.unit}")
        ends = ends_of(self, self._sight)
        box = self._box(float(ends.x(self._sight.pin)))
        for mark in self._marks:
            label = QRectF(mark.x - 40, 5, 80, 18)
            if mark.text and not box.intersects(QRectF(mark.x - 18, 4, 36, 18)):
                painter.drawText(label, Qt.AlignmentFlag.AlignHCenter, mark.text)
            painter.drawLine(QPointF(mark.x, 0), QPointF(mark.x, 4))
        self._paint_box(painter, box)
        painter.end()

    def _box(self, x: float) -> QRectF:
        assert self._scale is not None
        width = QFontMetricsF(bold(12)).horizontalAdvance(self._scale.text(self._sight.pin)) + 16
        return QRectF(x - width / 2, 3, width, 20)

    def _paint_box(self, painter: QPainter, box: QRectF) -> None:
        assert self._scale is not None
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self._theme.color("accent"), 1.4))
        painter.setBrush(self._theme.color("paper"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(self._theme.color("teal"))
        painter.setFont(bold(12))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self._scale.text(self._sight.pin))
