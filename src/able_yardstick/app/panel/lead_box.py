"""The head of every panel, always in the same place: what stands now, in a sentence, and the next thing to do."""

from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton

from ...core.state.progress import Level
from ..frame.state_mark import STATE_COLORS, StateMark
from ..frame.theme import Theme, bold, font
from .fields import label

_STRIPE = 4.0
_STATE_WORDS: dict[Level, str] = {"ok": "in order", "look": "to look at", "fault": "fault", "open": "open"}


class Act(NamedTuple):
    """Something that can be done next: the button's words, and what it does."""

    words: str
    do: Callable[[], None]


class Headline(NamedTuple):
    """What stands now, as a state and a sentence; what more there is to say of it; what can be done next."""

    level: Level
    says: str
    more: str = ""
    acts: tuple[Act, ...] = ()


class LeadBox(QFrame):
    """One sentence with its state, one or two more, and up to a few buttons, the next one first."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("lead")
        self.theme = theme
        self.level: Level = "open"
        self._acts: tuple[Act, ...] = ()
        grid = QGridLayout(self)
        grid.setContentsMargins(13, 9, 11, 10)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self._mark = StateMark(self.level, theme)
        self.says, self.more = label("", "", 15), label("", "", 12)
        self.says.setFont(bold(15))
        self.more.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        grid.addWidget(self._mark, 0, 0, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(self.says, 0, 1)
        grid.addWidget(self.more, 1, 0, 1, 2)
        self._row = QHBoxLayout()
        self._row.setSpacing(6)
        self._row.setContentsMargins(0, 4, 0, 0)
        grid.addLayout(self._row, 2, 0, 1, 2)
        grid.setColumnStretch(1, 1)
        self._standing: list[QPushButton] = []
        self._own: list[QPushButton] = []
        self._passing: list[QPushButton] = []

    def add_button(self, words: str, act: Callable[[], None]) -> QPushButton:
        """A button that always stands here, before those of the moment."""
        button = QPushButton(words)
        button.setObjectName("primary")
        button.setFont(bold(13))
        button.clicked.connect(lambda: act())
        self.adopt(button)
        self._own.append(button)
        return button

    def adopt(self, button: QPushButton) -> None:
        """Have a button of the panel's stand here always, before those of the moment."""
        self._row.insertWidget(len(self._standing), button, 2)
        self._standing.append(button)

    def show_lead(self, lead: Headline, theme: Theme) -> None:
        """Show how things stand."""
        self.theme, self.level = theme, lead.level
        self.says.setText(lead.says)
        self.says.setAccessibleDescription(_STATE_WORDS[lead.level])
        self.more.setText(lead.more)
        self.more.setVisible(bool(lead.more))
        self._acts = lead.acts
        while len(self._passing) < len(lead.acts):
            self._add_passing(len(self._passing))
        for button in self._own:  # what stands already need not be offered beside what is next
            button.setVisible(button.isEnabled() or not lead.acts)
        leads = not any(button.isEnabled() and button.isVisibleTo(self) for button in self._standing)
        for place, button in enumerate(self._passing):
            button.setVisible(place < len(lead.acts))
            if place < len(lead.acts):
                button.setText(lead.acts[place].words)
                _dress(button, leads and place == 0)
        self.update()
        self._mark.show_state(lead.level, theme)

    def _add_passing(self, place: int) -> None:
        button = QPushButton()
        button.clicked.connect(lambda: self._acts[place].do())
        self._row.addWidget(button, 1)
        self._passing.append(button)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.fillRect(QRectF(0, 0, _STRIPE, self.height()), self.theme.color(STATE_COLORS[self.level]))
        painter.end()


def _dress(button: QPushButton, primary: bool) -> None:
    """Make a button the one that leads, or one beside it."""
    name = "primary" if primary else ""
    if button.objectName() != name:
        button.setObjectName(name)
        button.style().unpolish(button)
        button.style().polish(button)
        button.setFont(bold(13) if primary else font(13))
