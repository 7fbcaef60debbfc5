"""Fast capture: a burst without smoothing about a trigger, beside what a slow reader would have seen."""

import time
from pathlib import Path

import numpy as np
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ....bench.hub import Live
from ....core.document.channel import WiredChannel
from ....core.job.pins import pins_of
from ....core.journal.sample import Series
from ....core.wake.burst import Burst, Edge, burst_about, crossing, smoothed
from ....core.words.errors import YardstickError
from ....core.words.numerals import parse_number, significant
from ...centre.live_plot import LivePlot
from ...frame.theme import Theme
from ...panel.fields import Complaint, Entry, label
from .session import WakeSession

MOST_SAMPLES = 120_000
_SMOOTH_S = 0.1
_TRIGGERS = (
    ("key", "by the key"),
    ("rising", "when the signal rises through"),
    ("falling", "when it falls through"),
)


class BurstDialog(QDialog):
    """Waits for a level to be crossed, or for the key; then takes so many samples, some of them from before."""

    def __init__(self, session: WakeSession, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._theme = session, theme
        self.burst: Burst | None = None
        self._series: Series | None = None
        self._armed_s: float | None = None
        self._trigger_s: float | None = None
        channel = session.channel
        self.setWindowTitle(f"Fast capture of {channel.tag if channel else ''}")
        self.resize(820, 560)
        column = QVBoxLayout(self)
        column.addLayout(self._build_form(channel))
        self.words = label("", "", 12)
        column.addWidget(self.words)
        self.complaint = Complaint()
        column.addWidget(self.complaint)
        self.plot = LivePlot("Unsmoothed", theme, "seconds from the trigger")
        column.addWidget(self.plot, 1)
        column.addLayout(self._buttons())
        session.live.slow_ticked.connect(self._tick)
        if not self._feeds:
            self.complaint.setText("No live source gives this channel's raw signal: connect one in the sources (F4).")
            self.start.setEnabled(False)

    def _build_form(self, channel: WiredChannel | None) -> QFormLayout:
        """Which feed, how many samples, how many of them from before, and the trigger."""
        form = QFormLayout()
        self.feed = QComboBox()
        self.feed.setAccessibleName("From")
        self._feeds: list[Live] = []
        live_bench = self._session.live
        if channel is not None and live_bench.is_on:
            self._feeds = sorted(live_bench.hub.others_of(channel.id, "raw"), key=lambda live: live.is_stale)
        for live in self._feeds:
            rate = (
                "nothing of this channel now" if live.is_stale else f"{live.link.status.rate_hz:.0f} samples a second"
            )
            self.feed.addItem(f"{live.link.spec.name}: {rate}")
        form.addRow("From", self.feed)
        self.count, self.before, self.level = Entry(), Entry(), Entry()
        self.count.setText("2000")
        self.before.setText("20")
        self.edge = QComboBox()
        self.edge.setAccessibleName("Trigger")
        for key, words in _TRIGGERS:
            self.edge.addItem(words, key)
        unit = channel.path.pin_unit if channel else ""
        for words, entry in (
            ("Samples, up to 120 000", self.count),
            ("Before the trigger, %", self.before),
        ):
            entry.setAccessibleName(words)
            form.addRow(words, entry)
        form.addRow("Trigger", self.edge)
        self.level.setAccessibleName(f"Level, {unit}")
        form.addRow(f"Level, {unit}", self.level)
        return form

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.start = QPushButton("Arm")
        self.start.setObjectName("primary")
        self.start.clicked.connect(self.arm)
        self.key = QPushButton("Trigger now")
        self.key.clicked.connect(self.trigger)
        self.key.setEnabled(False)
        self.save = QPushButton("Save as CSV …")
        self.save.clicked.connect(self.ask_save)
        self.use = QPushButton("Use it at Wake")
        self.use.setToolTip("Take this burst as the faster sampling that the verdict asks for")
        self.use.clicked.connect(self.use_it)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        for button in (self.start, self.key, self.save, self.use, close):
            row.addWidget(button)
        for button in (self.save, self.use):
            button.setEnabled(False)
        return row

    # -- taking -----------------------------------------------------------------------------------------------------

    @property
    def _live(self) -> Live:
        return self._feeds[self.feed.currentIndex()]

    def _wanted(self) -> tuple[int, int]:
        """How many samples, and how many of them from before. Raises: BadTable."""
        count = int(min(max(parse_number(self.count.text()), 2), MOST_SAMPLES))
        share = min(max(parse_number(self.before.text()), 0.0), 100.0) / 100
        return count, int(share * count)

    def arm(self) -> None:
        """Begin to wait for the trigger."""
        try:
            self._wanted()
            if self.edge.currentData() != "key":
                parse_number(self.level.text())
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self._armed_s, self._trigger_s, self.burst = time.monotonic(), None, None
        self.key.setEnabled(True)
        self.words.setText("Armed: waits for the trigger.")
        for button in (self.save, self.use):
            button.setEnabled(False)

    def trigger(self) -> None:
        """The key: now."""
        if self._armed_s is not None:
            self._trigger_s = time.monotonic()
            self.words.setText("Triggered: takes the rest.")

    def _pins(self) -> Series:
        channel, live = self._session.channel, self._live
        assert channel is not None  # there is a feed
        return pins_of(channel, live.stream.window(newest=MOST_SAMPLES * 2))

    def _tick(self) -> None:
        if self._armed_s is None or not self._feeds:
            return
        try:
            count, before = self._wanted()
            series = self._pins()
            at = self._place(series)
            if at is not None and len(series) - at >= count - before:
                self._finish(series, at, before, count)
        except YardstickError as error:
            self.complaint.setText(str(error))
            self._armed_s = None

    def _place(self, series: Series) -> int | None:
        """Where the trigger fell; None while it has not."""
        assert self._armed_s is not None  # armed
        if self._trigger_s is not None:
            return min(int(np.searchsorted(series.times_s, self._trigger_s)), len(series) - 1)
        edge = self.edge.currentData()
        if edge == "key":
            return None
        start = int(np.searchsorted(series.times_s, self._armed_s))
        wanted: Edge = "rising" if edge == "rising" else "falling"
        found = crossing(series.values[start:], parse_number(self.level.text()), wanted)
        return None if found is None else start + found

    def _finish(self, series: Series, at: int, before: int, count: int) -> None:
        channel = self._session.channel
        assert channel is not None  # there is a feed
        converter = channel.path.converter
        ends = (converter.start + converter.per_count / 2, converter.end - converter.per_count / 2)
        burst = self.burst = burst_about(series, at, before, count, ends)
        start = max(at - before, 0)
        self._series = series.where(np.isin(np.arange(len(series)), np.arange(start, start + count)))
        self._armed_s = None
        self.key.setEnabled(False)
        for button in (self.save, self.use):
            button.setEnabled(True)
        rate = (len(burst.times_s) - 1) / max(float(burst.times_s[-1] - burst.times_s[0]), 1e-9)
        over = max(int(_SMOOTH_S * rate), 1)
        self.words.setText(
            f"{burst.words} {rate:.0f} samples a second; the second line is smoothed over {over} of them."
        )
        self.plot.show_words(f"Unsmoothed, {channel.path.pin_unit}", "teal: as it came; amber: smoothed over 0.1 s")
        self.plot.show_curve(burst.times_s, burst.values)
        self.plot.show_beside(burst.times_s, smoothed(burst.values, over))

    # -- keeping ----------------------------------------------------------------------------------------------------

    def ask_save(self) -> None:
        """Ask for a file and write the burst."""
        name, _ = QFileDialog.getSaveFileName(self, "Save the burst", "burst.csv", "CSV (*.csv)")
        if name:
            self.save_as(Path(name))

    def save_as(self, path: Path) -> None:
        """Write the burst as CSV."""
        from ....files.exports import save_burst

        channel = self._session.channel
        if self.burst is None or channel is None:
            return
        try:
            save_burst(path, channel.tag, self.burst, channel.path.pin_unit)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.words.setText(f"{significant(len(self.burst.values))} samples written to {path}.")

    def use_it(self) -> None:
        """Hand the burst to the verdict."""
        channel = self._session.channel
        if self._series is None or channel is None:
            return
        try:
            self._session.took_burst(self._series)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.accept()
