"""The flag of an alarm: on the Rule, in the plots and on a channel's card."""

from typing import NamedTuple

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from .theme import Theme

_POLE, _CLOTH, _APART = 21.0, 9.0, 5.5


class AlarmFlag(NamedTuple):
    """An alarm on the scale: the signal at the pin where it comes, its side, and whether it is the second one."""

    pin: float
    is_upwards: bool
    is_second: bool


def draw_flag(painter: QPainter, theme: Theme, x: float, top: float, flag: AlarmFlag, pole: float = _POLE) -> None:
    """A pole where an alarm comes, its cloth on the side where it stands; two cloths for the second one."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    color = theme.color("red" if flag.is_second else "accent")
    painter.setPen(QPen(color, 1.4))
    painter.drawLine(QPointF(x, top + 1), QPointF(x, top + 1 + pole))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(color)
    turn = 1 if flag.is_upwards else -1
    for first in (1.0, 1.0 + _APART) if flag.is_second else (1.0,):
        tip = QPointF(x + _CLOTH * turn, top + first + 2.5)
        painter.drawPolygon(QPolygonF([QPointF(x, top + first), tip, QPointF(x, top + first + 5)]))
