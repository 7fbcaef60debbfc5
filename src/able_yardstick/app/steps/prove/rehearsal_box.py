"""The rehearsal of alarms, step by step: which signal to put on, what must be seen, and whether it was."""

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ....core.alarms.rehearsal import RehearsalStep, Rehearsed, rehearsal_summary
from ....core.document.channel import WiredChannel
from ....core.words.errors import YardstickError
from ....core.words.numerals import parse_number, significant
from ...frame.live import LiveBench
from ...frame.widgets import discard
from ...panel.fields import Complaint, Entry, heading, label
from .rehearsing import Rehearsing

Rehearse = Callable[[RehearsalStep, bool, float | None], None]
KnobsPort = Callable[[], int | None]


class RehearsalBox(QWidget):
    """The next step that was not tried yet, with its two answers; `put` enters what was seen."""

    def __init__(self, put: Rehearse) -> None:
        super().__init__()
        self._put = put
        self._next: RehearsalStep | None = None
        self._channel: WiredChannel | None = None
        self._steps: tuple[RehearsalStep, ...] = ()
        self._live: LiveBench | None = None
        self._knobs_port: KnobsPort = lambda: None
        self._running: Rehearsing | None = None
        self.summary, self.step = label("", "muted", 12), label("", "", 13)
        self.delay = Entry()
        self.delay.setPlaceholderText("s until it came")
        self.delay.setAccessibleName("Seconds until it came")
        self.came, self.failed = QPushButton("Seen so"), QPushButton("Not so")
        self.came.clicked.connect(lambda: self._answer(True))
        self.failed.clicked.connect(lambda: self._answer(False))
        self.by_itself = QPushButton("Run it by injection")
        self.by_itself.setToolTip("Each signal is put on the simulated terminal, and the alarms are watched")
        self.by_itself.clicked.connect(self._run_or_stop)
        self._complaint = Complaint()
        row = QHBoxLayout()
        for widget in (self.delay, self.came, self.failed):
            row.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        for words in (heading("Rehearsal"), self.summary):
            column.addWidget(words)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(2)
        self._grid.setColumnStretch(1, 1)
        column.addLayout(self._grid)
        column.addWidget(self.step)
        column.addLayout(row)
        column.addWidget(self.by_itself)
        column.addWidget(self._complaint)

    def follow(self, live: LiveBench, knobs_port: KnobsPort) -> None:
        """Offer the injection wherever a simulated plant has knobs and tells its alarms."""
        self._live, self._knobs_port = live, knobs_port
        live.connected.connect(lambda _on: self._offer())

    def show_rows(self, rows: tuple[Rehearsed, ...], channel: WiredChannel) -> None:
        """Show how far the rehearsal has come, and what is next."""
        if self._running is not None and (self._channel is None or self._channel.id != channel.id):
            self._running.stop()
        self._channel, self._steps = channel, tuple(row.step for row in rows)
        self.setVisible(bool(rows))
        if not rows:
            return
        self.summary.setText(rehearsal_summary(rows))
        self._show_list(rows)
        self._next = next((row.step for row in rows if row.record is None), None)
        for widget in (self.step, self.delay, self.came, self.failed):
            widget.setVisible(self._next is not None)
        if self._next is not None:
            self.step.setText(_step_words(self._next, channel))
        self._offer()

    def _show_list(self, rows: tuple[Rehearsed, ...]) -> None:
        """Every step with what must be seen, and what was."""
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                discard(widget)
        for at, row in enumerate(rows):
            seen, role = _seen_words(row)
            for column, (text, look) in enumerate(((row.step.name, "muted"), (row.step.expects, ""), (seen, role))):
                self._grid.addWidget(label(text, look, 12), at, column)

    def _offer(self) -> None:
        told = self._live.alarms(self._channel) if self._live is not None else None
        self.by_itself.setVisible(told is not None and self._knobs_port() is not None)
        self.by_itself.setText("Stop" if self._running is not None else "Run it by injection")

    def _run_or_stop(self) -> None:
        if self._running is not None:
            self._running.stop()
            return
        port, channel, live = self._knobs_port(), self._channel, self._live
        if port is None or channel is None or live is None:
            return
        self._complaint.setText("")
        running = self._running = Rehearsing(channel, live, port, self)
        running.tried.connect(self._tried)
        running.ended.connect(self._ended)
        running.start(self._steps)
        self._offer()

    def _tried(self, step: RehearsalStep, as_expected: bool, came_s: float) -> None:
        self._enter(step, as_expected, None if came_s < 0 else round(came_s, 1))

    def _ended(self, why: str) -> None:
        if self._running is not None:
            self._running.deleteLater()
        self._running = None
        self._complaint.setText(why)
        self._offer()

    def _answer(self, as_expected: bool) -> None:
        if self._next is None:
            return
        text = self.delay.text().strip()
        try:
            delay_s = parse_number(text) if text else None
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        if self._enter(self._next, as_expected, delay_s):
            self.delay.clear()

    def _enter(self, step: RehearsalStep, as_expected: bool, delay_s: float | None) -> bool:
        """Keep what was seen; whether it was taken."""
        try:
            self._put(step, as_expected, delay_s)
        except YardstickError as error:
            self._complaint.setText(str(error))
            return False
        self._complaint.setText("")
        return True


def _seen_words(row: Rehearsed) -> tuple[str, str]:
    """What was seen of a step, with its look."""
    record = row.record
    if record is None:
        return ("floats" if row.step.signal is None else "not tried"), "muted"
    after = "" if record.delay_s is None else f", {record.delay_s:.1f} s"
    return (f"seen{after}", "good") if record.as_expected else ("NOT SO", "error")


def _step_words(step: RehearsalStep, channel: WiredChannel) -> str:
    """What to do, and what must be seen."""
    unit = channel.path.pin_unit
    how = "Take the lead off" if step.signal is None else f"Put {significant(step.signal, 5)} {unit} on the input"
    return f"{how} ({step.name}): {step.expects}."
