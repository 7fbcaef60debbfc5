"""What the panels of all steps share: a title, a scrolling body, and the actions at the foot."""

from collections.abc import Callable
from typing import Literal

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QBoxLayout, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...core.document.channel import AnyChannel, ContinuousChannel
from ...core.job.channels import change_channel
from ...core.words.errors import NotApplicable, YardstickError
from ..frame.plain_text import PlainLabel
from ..frame.theme import Theme, bold
from ..frame.workbench import Workbench
from .fields import Complaint, TextField, label

PanelKey = Literal["take", "repeat", "previous", "next"]


class StepPanel(QWidget):
    """The panel of one step. `refresh` shows the channel looked at, as it now is."""

    title = ""

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__()
        self.bench, self.theme = bench, theme
        self._seen = ""
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        area = self._area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        self.body = QVBoxLayout(inside)
        self.body.setContentsMargins(16, 12, 14, 12)
        self.body.setSpacing(7)
        area.setWidget(inside)
        column.addWidget(area, 1)
        self.heading = PlainLabel(self.title)
        self.heading.setFont(bold(16))
        self.body.addWidget(self.heading)
        self.intro = label("")
        self.body.addWidget(self.intro)
        self._cannot = Complaint()
        self.body.addWidget(self._cannot)
        foot = QWidget()
        foot.setObjectName("actions")
        foot.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.actions_row: QBoxLayout = QHBoxLayout(foot)
        self.actions_row.setContentsMargins(16, 10, 14, 10)
        self._foot = foot
        column.addWidget(foot)
        foot.hide()

    def action(self, text: str, act: Callable[[], None], *, primary: bool = False) -> QPushButton:
        """A button at the foot."""
        button = QPushButton(text)
        if primary:
            button.setObjectName("primary")
            button.setFont(bold(13))
        button.clicked.connect(lambda: act())
        self.actions_row.addWidget(button, 2 if primary else 1)
        self._foot.show()
        return button

    @property
    def channel(self) -> ContinuousChannel:
        """The channel looked at. Raises: NotApplicable if it has no curve."""
        channel = self.bench.continuous
        if channel is None:
            raise NotApplicable("This step needs a channel with a pin.")
        return channel

    def change(self, text: str, channel: AnyChannel) -> None:
        """Send back the channel with something changed. Raises: what the edit refuses."""
        self.bench.edit(text, lambda job: change_channel(job, channel))

    def scroll_to(self, share: float) -> None:
        """Scroll so far down, from 0 to 1."""
        bar = self._area.verticalScrollBar()
        bar.setValue(round(share * bar.maximum()))

    def show_now(self) -> None:
        """Show the channel looked at; what was typed half-way for another one is dropped."""
        channel = self.bench.channel
        seen = channel.id if channel else ""
        if seen != self._seen:
            self._seen = seen
            self._area.verticalScrollBar().setValue(0)
            self.forget()
        try:
            self.refresh()
        except YardstickError as error:
            self._cannot.setText(f"Not all of this can be shown: {error}")
        else:
            self._cannot.setText("")

    def begin(self) -> None:
        """Put the focus where a new channel is begun."""

    def forget(self) -> None:
        """Drop what was typed and not taken."""
        for field in self.findChildren(TextField):
            field.drop()

    def take_key(self, _key: PanelKey) -> bool:
        """Do what a key of the bench does here; whether it does something here."""
        return False

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        raise NotImplementedError
