"""What is missing or weak, a row each, with the button that goes where it is mended."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from ....core.sign.kinds.signed_kind import OpenPoint
from ...frame.state_mark import StateMark
from ...frame.theme import Theme
from ...frame.widgets import discard
from ...frame.workbench import Workbench
from ...panel.fields import label


class PointsBox(QWidget):
    """The open points of a channel."""

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__()
        self._bench, self._theme = bench, theme
        self._shown: tuple[OpenPoint, ...] | None = None
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setColumnStretch(1, 1)

    def show_points(self, points: tuple[OpenPoint, ...], theme: Theme) -> None:
        """Show them; the rows are made anew only where they are others."""
        if points == self._shown and theme is self._theme:
            return
        self._shown, self._theme = points, theme
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                discard(widget)
        for row, point in enumerate(points):
            self._show_row(row, point)

    def _show_row(self, row: int, point: OpenPoint) -> None:
        mark = StateMark("fault" if point.must else "look", self._theme)
        button = QPushButton(point.step.capitalize())
        button.setAccessibleName(f"Go to {point.step.capitalize()}: {point.says}")
        button.clicked.connect(lambda: self._bench.go(point.step))
        step, _, told = point.says.partition(": ")
        says = told[:1].upper() + told[1:]
        self._grid.addWidget(mark, row, 0, Qt.AlignmentFlag.AlignTop)
        self._grid.addWidget(label(f"{says or step}.", "", 12), row, 1)
        self._grid.addWidget(button, row, 2, Qt.AlignmentFlag.AlignTop)
