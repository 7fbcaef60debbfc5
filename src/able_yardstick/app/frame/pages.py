"""The middle of the window: the channel looked at, or the picture of a view beside the steps."""

from collections.abc import Callable
from typing import Literal

from PySide6.QtGui import QContextMenuEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from .picture_menu import picture_menu
from .plain_text import PlainLabel
from .side_picture import SidePicture
from .theme import Theme, bold
from .workbench import Say

SideName = Literal["lookout", "glance", "chart", "sources", "references", "register"]


_ABOUT: dict[SideName, tuple[str, str]] = {
    "lookout": ("Lookout", "every channel at once"),
    "glance": ("At a glance", "pinned rows, else all; space holds them still, F11 fills the screen"),
    "chart": ("Chart", "courses over time, live or of a log"),
    "sources": ("Sources", "what gives live values to this job"),
    "references": ("References", "what the readings are compared with"),
    "register": ("Register", "every unit over its visits, what is due, what rests on an instrument"),
}


class _Page(QWidget):
    """A picture under its title, and the way back."""

    def __init__(self, side: SideName, picture: QWidget, leave: Callable[[], None]) -> None:
        super().__init__()
        self.setObjectName("desk")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 12, 0)
        title, about = (PlainLabel(text) for text in _ABOUT[side])
        title.setFont(bold(15))
        about.setProperty("role", "muted")
        back = QPushButton("Back to the steps  (Esc)")
        back.clicked.connect(lambda: leave())
        row.addWidget(title)
        row.addWidget(about, 1)
        row.addWidget(back)
        column.addLayout(row)
        column.addWidget(picture, 1)


class Pages(QStackedWidget):
    """The centre belongs to the view: links and instruments have a picture of their own, made when first seen."""

    def __init__(
        self, centre: QWidget, make: Callable[[SideName], SidePicture], leave: Callable[[], None],
        say: Say,
    ) -> None:  # fmt: skip
        super().__init__()
        self._centre, self._make, self._leave, self._say = centre, make, leave, say
        self._pictures: dict[SideName, SidePicture] = {}
        self._pages: dict[SideName, _Page] = {}
        self.addWidget(centre)

    def show_side(self, side: SideName | None) -> None:
        """Show the picture of a view beside the steps, or the channel looked at."""
        if side is None:
            self.setCurrentWidget(self._centre)
            return
        if side not in self._pictures:
            self._pictures[side] = self._make(side)
            self._pages[side] = _Page(side, self._pictures[side], self._leave)
            self.addWidget(self._pages[side])
        self.setCurrentWidget(self._pages[side])
        self._pictures[side].show_now()

    def take_keys(self) -> None:
        """Give the keys to a picture that has use for them."""
        shown = next((side for side, page in self._pages.items() if page is self.currentWidget()), None)
        if shown is not None and self._pictures[shown].focusProxy() is not None:
            self._pictures[shown].setFocus()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """A picture of the links or of the instruments; the channel looked at has a menu of its own."""
        shown = next((side for side, page in self._pages.items() if page is self.currentWidget()), None)
        if shown is not None:
            picture_menu(self._pictures[shown], shown.capitalize(), self._say).popup(event.globalPos())

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        for picture in self._pictures.values():
            picture.dress(theme)
