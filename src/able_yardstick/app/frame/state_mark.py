"""The mark of a state: a shape and a colour."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

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
