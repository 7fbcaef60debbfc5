"""Wake without a link: what a display or a meter reads is typed, at rest and after a nudge."""

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from ....core.document.channel import WiredChannel
from ....core.gather.raw_nodes import NodeChoice, node_choices
from ....core.journal.reading import Raw
from ....core.words.errors import YardstickError
from ...panel.fields import ChoiceField, Complaint, Entry, label
from .session import WakeSession


class HandLook(QWidget):
    """One line for the signal at rest, one for what it was after the sensor was disturbed."""

    def __init__(self, session: WakeSession, value_rises: Callable[[], bool]) -> None:
        super().__init__()
        self._session, self._value_rises = session, value_rises
        self._choices: list[NodeChoice] = []
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self.at_rest, self.after = Entry(), Entry()
        self.node = ChoiceField("", (), lambda _key: None)
        self.node.box.setAccessibleName("Where the values were read")
        nudged = QPushButton("Take")
        nudged.setAccessibleName("Take what it read after the nudge")
        nudged.clicked.connect(self.nudge)
        self._complaint = Complaint()
        for row, (entry, title, act) in enumerate(
            ((self.at_rest, "It reads", self.look), (self.after, "After a nudge", self.nudge))
        ):
            entry.setPlaceholderText("2048; 2050")
            entry.setAccessibleName(title)
            entry.setToolTip("One value, or several in a row with semicolons: they tell how far it spreads")
            entry.returnPressed.connect(act)
            grid.addWidget(label(title, "muted", 12), row, 0)
            grid.addWidget(entry, row, 1)
        grid.addWidget(self.node, 0, 2)
        grid.addWidget(nudged, 1, 2)
        grid.addWidget(self._complaint, 2, 0, 1, 3)
        grid.setColumnStretch(1, 1)

    def show_channel(self, channel: WiredChannel) -> None:
        """Offer where a channel's signal can be read: the count on a display first, then the pin."""
        self._choices = sorted(node_choices(channel), key=lambda choice: choice.node != "counts")
        self.node.offer([(choice.key, choice.words) for choice in self._choices])

    def look(self) -> None:
        """Take the values at rest."""
        self._taken(self.at_rest, self._session.look_by_hand)

    def nudge(self) -> None:
        """Take the values after the nudge."""
        self._taken(self.after, lambda raw: self._session.nudged_by_hand(raw, self._value_rises()))

    def forget(self) -> None:
        """Drop what was typed."""
        for entry in (self.at_rest, self.after):
            entry.clear()
        self._complaint.setText("")

    def _taken(self, entry: Entry, take: Callable[[Raw], None]) -> None:
        try:
            chosen = next(choice for choice in self._choices if choice.key == self.node.box.currentData())
            take(chosen.typed(entry.text()))
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        self._complaint.setText("")
