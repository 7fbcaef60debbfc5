"""What the panels of all steps share: what stands now, a scrolling body, and the actions at the foot."""

from collections.abc import Callable
from typing import Literal

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QBoxLayout, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...core.document.channel import AnyChannel, ContinuousChannel
from ...core.document.output import OutputChannel
from ...core.job.channels import change_channel
from ...core.state.progress import StepName
from ...core.words.errors import NotApplicable, YardstickError
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from .fields import Complaint, TextField
from .lead_box import Act, Headline, LeadBox
from .tab_order import tab_on

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
        self.setAccessibleName(self.title)
        self.lead_box = LeadBox(theme)
        head = QVBoxLayout()
        head.setContentsMargins(12, 12, 12, 2)
        head.addWidget(self.lead_box)
        column.addLayout(head)
        column.addWidget(area, 1)
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
        """A button at the foot; the one that leads stands at the head."""
        if primary:
            return self.lead_box.add_button(text, act)
        button = QPushButton(text)
        button.clicked.connect(lambda: act())
        self.actions_row.addWidget(button, 1)
        self._foot.show()
        return button

    @property
    def channel(self) -> ContinuousChannel:
        """The channel looked at. Raises: NotApplicable if it has no curve."""
        channel = self.bench.continuous
        if channel is None:
            raise NotApplicable("This step needs a channel with a pin.")
        return channel

    @property
    def output(self) -> OutputChannel:
        """The output looked at. Raises: NotApplicable with another channel."""
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            raise NotApplicable("This panel needs an output.")
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
            self.show_lead()
        except YardstickError as error:
            self._cannot.setText(f"Not all of this can be shown: {error}")
        else:
            self._cannot.setText("")

    def lead(self) -> Headline | None:
        """What stands now, and what to do next; None without anything to look at."""
        return None

    def show_lead(self) -> None:
        """Show what stands now."""
        lead = self.lead()
        self.lead_box.setVisible(lead is not None)
        if lead is not None:
            self.lead_box.show_lead(lead, self.theme)

    def onward(self, step: StepName) -> Act:
        """Going on to another step."""
        return Act(f"Go on to {step.capitalize()}", lambda: self.bench.go(step))

    def goes_to(self, words: str, widget: QWidget) -> Act:
        """Going to a place in the panel: it is scrolled into view and gets the focus."""

        def show() -> None:
            QApplication.processEvents()  # so that what was folded out has its place
            self._area.ensureWidgetVisible(widget, 0, 40)
            widget.setFocus(Qt.FocusReason.TabFocusReason)

        return Act(words, show)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab goes down the panel, and back up."""
        parts = (self.lead_box, self._area, self._foot)
        return tab_on(self, parts, self.window().focusWidget(), forward) or super().focusNextPrevChild(forward)

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
