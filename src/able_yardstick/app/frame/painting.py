"""Words painted into a place: one line, shortened where it does not fit."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter

from .theme import Theme, bold, font

LEFT, CENTRE, RIGHT = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignRight


def write(
    painter: QPainter, theme: Theme, place: QRectF, text: str, colour: str, side: Qt.AlignmentFlag = LEFT,
    *, heavy: bool = False, size: int = 12,
) -> None:  # fmt: skip
    """Write a line of text in a colour of the theme, at a side of its place."""
    face = bold(size) if heavy else font(size)
    painter.setFont(face)
    painter.setPen(theme.color(colour))
    shown = QFontMetricsF(face).elidedText(text, Qt.TextElideMode.ElideRight, place.width())
    painter.drawText(place, int(side | Qt.AlignmentFlag.AlignVCenter), shown)
