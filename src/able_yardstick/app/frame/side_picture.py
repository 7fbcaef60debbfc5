"""What the middle of the window shows beside the steps: a drawing that scrolls, drawn anew while it is seen."""

from abc import abstractmethod

from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from .theme import Theme


class SideDrawing(QWidget):
    """Draws what it read last."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    @abstractmethod
    def show_now(self) -> None:
        """Read everything anew, and draw it."""


class SidePicture(QScrollArea):
    """Holds a drawing; one that is not seen is not kept up."""

    def __init__(self, drawing: SideDrawing, name: str) -> None:
        super().__init__()
        self._drawing = drawing
        self.setWidgetResizable(True)
        self.setWidget(drawing)
        self.setAccessibleName(name)

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._drawing.theme = theme
        self._drawing.update()

    def show_now(self) -> None:
        """Draw how things are by now."""
        if self.isVisible():
            self._drawing.show_now()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._drawing.show_now()
