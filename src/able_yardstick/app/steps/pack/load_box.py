"""The part of Pack that writes the numbers into the controller, reads them back and lists what is left to do."""

import time
from collections.abc import Callable

from PySide6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ....core.document.channel import ContinuousChannel
from ....core.job.entries import tick_off
from ....core.pack.agreement import Agreement, agreement_of
from ....core.results.loading import image_to_write, standing, target_of, things_left, warning_before
from ....core.words.errors import YardstickError
from ....core.words.numerals import significant
from ...frame.beside import Beside, Talk
from ...frame.live import LiveBench
from ...frame.theme import bold
from ...frame.workbench import Workbench
from ...panel.fields import Complaint, heading, label, restyle

_LONGEST_S = 120.0  # how far back the controller's shown values are compared
_SETTLE_S = 0.5  # after a write: what is shown until then may still be of the old table
_DIGITS = 6


class LoadBox(QWidget):
    """Write, read back, put back; each says what came of it in place.

    While the bench is connected, what the controller shows is compared with what the kept numbers make of its counts.
    """

    def __init__(self, bench: Workbench, live: LiveBench) -> None:
        super().__init__()
        self._bench, self._live = bench, live
        self._written_s: dict[str, float] = {}  # when each channel's numbers were last written from here
        self._channel: ContinuousChannel | None = None
        self._warned = ""
        self._beside = Beside(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("In the controller"))
        self.status = label("", "muted", 12)
        column.addWidget(self._card(self.status))
        self.watched = label("", "muted", 12)
        column.addWidget(self.watched)
        self._complaint = Complaint()
        column.addWidget(self._complaint)  # where the button was pressed, which may be the last that is seen
        row = QHBoxLayout()
        self.write = self._button("Write to the controller", self._write)
        self.write.setFont(bold(13))
        self.read = self._button("Read back", self._read)
        self.back = self._button("Put back what was there", self._put_back)
        column.addWidget(self.write)
        for button in (self.read, self.back):
            row.addWidget(button)
        column.addLayout(row)
        self._list = label("Before the numbers are in use:", "muted", 12)
        column.addWidget(self._list)
        self._ticks = QVBoxLayout()
        column.addLayout(self._ticks)
        live.slow_ticked.connect(self._watch)
        live.connected.connect(lambda _on: self._watch())

    @staticmethod
    def _card(inner: QWidget) -> QFrame:
        card = QFrame()
        card.setObjectName("note")
        column = QVBoxLayout(card)
        column.setContentsMargins(10, 6, 10, 6)
        column.addWidget(inner)
        return card

    @staticmethod
    def _button(text: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda: act())
        return button

    def show_channel(self, channel: ContinuousChannel) -> None:
        """Show how things stand for a channel."""
        if self._channel is None or self._channel.id != channel.id:
            self._warned = ""
            self._complaint.setText("")
        self._channel = channel
        job = self._bench.job
        record = job.write_of(channel.id)
        why_not = self._why_not(channel)
        if record is not None:
            text, role = standing(job, channel, record), "look" if record.differences or not record.finished else "good"
        else:
            text, role = why_not or "Not written yet.", "muted"
        is_talking = self._beside.is_running
        if is_talking:
            text, role = "Talking to the controller …", "muted"
        self.status.setText(text)
        self.status.setProperty("role", role)
        self.status.style().polish(self.status)
        self.write.setEnabled(not why_not and not is_talking)
        self.read.setEnabled((not why_not or record is not None) and not is_talking)
        self.back.setEnabled(record is not None and not is_talking)
        self.write.setText("Write all the same" if self._warned else "Write to the controller")
        self._show_ticks(things_left(job, channel))
        self._watch()

    def _why_not(self, channel: ContinuousChannel) -> str:
        try:
            target_of(self._bench.job, channel)
            image_to_write(self._bench.job, channel)
        except YardstickError as error:
            return str(error)
        return ""

    def _show_ticks(self, things: list[tuple[str, bool]]) -> None:
        self._list.setVisible(bool(things))
        while self._ticks.count() > len(things):
            item = self._ticks.takeAt(self._ticks.count() - 1)
            if item is not None and (widget := item.widget()) is not None:
                widget.deleteLater()
        while self._ticks.count() < len(things):
            box = QCheckBox()
            box.clicked.connect(lambda on, box=box: self._tick(box.property("thing"), on))
            self._ticks.addWidget(box)
        for n, (thing, done) in enumerate(things):
            item = self._ticks.itemAt(n)
            found = item.widget() if item is not None else None
            assert isinstance(found, QCheckBox)
            found.setText(_wrapped(thing))
            found.setProperty("thing", thing)
            found.setChecked(done)

    def _tick(self, thing: str, on: bool) -> None:
        channel = self._channel
        if channel is not None:
            self._bench.record(lambda job: tick_off(job, channel.id, thing, on))

    def _watch(self) -> None:
        """Say whether the controller shows what the kept numbers make."""
        if self._live.is_on and not self.isVisible():
            return  # nobody looks: the next tick says it
        found = self.agreement() if self._live.is_on and self._channel is not None else None
        self.watched.setVisible(found is not None)
        if found is None:
            return
        self.watched.setText(_words_of(found))
        restyle(self.watched, "role", "good" if found.is_full else "look")

    def agreement(self) -> Agreement | None:
        """How what the controller shows agrees with what the kept numbers make; None without anything to compare."""
        channel = self._channel
        raw, shown = self._live.raw(channel), self._live.shown(channel)
        if channel is None or raw is None or shown is None or raw.feed.node != "counts":
            return None
        try:
            table = image_to_write(self._bench.job, channel)
        except YardstickError:
            return None  # why there is nothing to compare with is said by the status
        seconds = min(time.monotonic() - self._written_s.get(channel.id, 0.0), _LONGEST_S)
        converter = channel.path.converter.nominal
        return agreement_of(table, converter, self._live.window(raw, seconds), self._live.window(shown, seconds))

    # -- acting -----------------------------------------------------------------------------------------------------

    def _write(self) -> None:
        channel = self._channel
        if channel is None:
            return
        warning = warning_before(self._bench.job, channel)
        if warning and not self._warned:
            self._warned = warning
            self._complaint.setText(warning)
            self.show_channel(channel)
            return
        self._warned = ""
        from .loader import write

        self._do(lambda: write(self._bench, channel), "Written and read back")

    def _put_back(self) -> None:
        channel = self._channel
        if channel is not None:
            from .loader import put_back

            self._do(lambda: put_back(self._bench, channel), "What was there is back")

    def _read(self) -> None:
        channel = self._channel
        if channel is not None:
            from .loader import compare

            self._do(lambda: compare(self._bench, channel), "Read back, and all equal")

    def _do(self, begin: Callable[[], Talk], said: str) -> None:
        """Talk to the controller beside the window; what came of it is told when it is over."""
        channel = self._channel
        if channel is None or self._beside.is_running:
            return
        self._complaint.setText("")
        try:
            self._beside.run(begin(), lambda found: self._told(channel, found, said), self._refused)
        except YardstickError as error:
            self._complaint.setText(str(error))
        self._show_again()

    def _refused(self, why: str) -> None:
        self._complaint.setText(why)
        self._show_again()

    def _told(self, channel: ContinuousChannel, differences: tuple[str, ...], said: str) -> None:
        self._written_s[channel.id] = time.monotonic() + _SETTLE_S
        listed = "; ".join(differences[:6]) + (" …" if len(differences) > 6 else "")
        self._complaint.setText(f"The controller holds something else: {listed}." if differences else "")
        self._bench.said.emit(f"{channel.tag}: {said}." if not differences else f"{listed}.", bool(differences))
        self._show_again()

    def _show_again(self) -> None:
        channel = self._bench.continuous
        if channel is not None:
            self.show_channel(channel)


def _words_of(found: Agreement) -> str:
    low, high = significant(found.low, _DIGITS), significant(found.high, _DIGITS)
    if found.is_full:
        return (
            f"The controller showed {found.compared} values, from {low} to {high}: all are what these numbers make of "
            "its counts, to the last digit."
        )
    return (
        f"The controller showed {found.compared - found.equal} of {found.compared} values that are not what these "
        f"numbers make: {significant(found.shown, _DIGITS)} where they make {significant(found.made, _DIGITS)}. "
        "It has other numbers in force."
    )


def _wrapped(text: str, width: int = 46) -> str:
    """Words in lines: a tick's text does not wrap by itself."""
    import textwrap

    return "\n".join(textwrap.wrap(text, width))
