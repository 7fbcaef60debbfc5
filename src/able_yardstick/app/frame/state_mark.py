"""The mark of a state: a shape and a colour."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from .theme import Theme

STATE_COLORS = {"ok": "green", "look": "amber", "fault": "red", "open": "muted"}


def draw_state(painter: QPainter, theme: Theme, level: str, centre: QPointF, size: float = 4.5) -> None:
    """A state as shape and colour: disc in order, diamond to look at, square at fault, ring in work."""
    color = theme.color(STATE_COLORS[level])
    painter.setPen(QPen(color, 1.6) if level == "open" else Qt.PenStyle.NoPen)
    painter.setBrush(Qt.BrushStyle.NoBrush if level == "open" else color)
    if level == "fault":
        painter.drawRect(QRectF(centre.x() - size, centre.y() - size, 2 * size, 2 * size))
    elif level == "look":
        reach = size + 1.5
        corners = [QPointF(0, -reach), QPointF(reach, 0), QPointF(0, reach), QPointF(-reach, 0)]
        painter.drawPolygon(QPolygonF([centre + corner for corner in corners]))
    else:
        painter.drawEllipse(centre, size, size)


class StateMark(QWidget):
    """A state's mark by itself, as high as a line."""

    def __init__(self, level: str, theme: Theme) -> None:
        super().__init__()
        self._level, self._theme = level, theme
        self.setFixedSize(QSize(18, 20))

    def show_state(self, level: str, theme: Theme) -> None:
        """Show another state."""
        self._level, self._theme = level, theme
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw_state(painter, self._theme, self._level, QPointF(8, 10), 5)
        painter.end()
