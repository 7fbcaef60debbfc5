"""Signing every channel of the job that is ready, one after the other, the window alive and the run stopped at will."""

from collections.abc import Callable

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from ....core.document.channel import SignableChannel
from ....core.words.errors import YardstickError
from ....core.words.numerals import counted
from ...frame.workbench import Workbench
from ...panel.fields import Complaint, label

_Sign = Callable[[SignableChannel], object]


class AllBox(QWidget):
    """How many are ready, the button that signs them, and how far it has come."""

    def __init__(self, bench: Workbench, sign: _Sign, is_ready: Callable[[SignableChannel], bool]) -> None:
        super().__init__()
        self._bench, self._sign, self._is_ready = bench, sign, is_ready
        self._left: list[str] = []
        self._done = 0
        self._timer = QTimer(self, interval=0)
        self._timer.timeout.connect(self._next)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.says = label("", "muted", 12)
        self.button = QPushButton()
        self.button.clicked.connect(self._press)
        self.complaint = Complaint()
        for widget in (self.says, self.button, self.complaint):
            column.addWidget(widget)

    @property
    def is_running(self) -> bool:
        """Whether some are still to be signed."""
        return self._timer.isActive()

    @property
    def summary(self) -> str:
        """How it stands, in a few words."""
        return f"{self._done} signed" if self.is_running else ""

    def refresh(self) -> None:
        """Show how many are ready."""
        if self.is_running:
            self.says.setText(f"{self._done} signed, {len(self._left)} to go.")
            self.button.setText("Stop")
            self.button.setEnabled(True)
            return
        ready = self._ready()
        known = sum(isinstance(one, SignableChannel) for one in self._bench.job.channels)
        self.says.setText(f"{len(ready)} of {counted(known, 'channel')} can be signed without another word.")
        self.button.setText(f"Sign {len(ready)}" if ready else "None is ready")
        self.button.setEnabled(bool(ready))

    def _ready(self) -> list[str]:
        channels = [one for one in self._bench.job.channels if isinstance(one, SignableChannel)]
        return [one.id for one in channels if self._is_ready(one)]

    def _press(self) -> None:
        if self.is_running:
            self._timer.stop()
            self.refresh()
            return
        self._left, self._done = self._ready(), 0
        self.complaint.setText("")
        self._timer.start()

    def _next(self) -> None:
        if not self._left:
            self._timer.stop()
            self.refresh()
            return
        channel = self._bench.job.signable(self._left.pop(0))
        try:
            self._sign(channel)
            self._done += 1
        except YardstickError as error:
            self._timer.stop()
            self.complaint.setText(f"{channel.tag}: {error}")
        self.refresh()
