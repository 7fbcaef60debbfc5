"""The jaws of one check, as a cell of a table."""

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.prove.proof import CheckResult
from ...centre.plots.jaws import FULL_TOLERANCE, Jaws, draw_jaws
from ...frame.theme import Theme

_CELL, _JAW = 62, 9  # pixels


class JawsCell(QWidget):
    """The jaws of one check."""

    def __init__(self, theme: Theme, check: CheckResult) -> None:
        super().__init__()
        self._theme = theme
        share = check.error / check.allowed if check.allowed else 0.0
        most = (_CELL / 2 - _JAW) / FULL_TOLERANCE  # what the cell has room for; the figure stands beside it
        self._share, self._passed = max(min(share, most), -most), check.passed
        self.setFixedSize(QSize(_CELL, 22))

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw_jaws(painter, self._theme, Jaws(self.width() / 2, self._share, self._passed), 6, True)
        painter.end()
