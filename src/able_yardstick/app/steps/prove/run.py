"""A proof run: which stop is next, what reference and controller say there, and the check taken by one key."""

import time

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ....bench.gatherer import instrument_of, pair_of, shown_over, slowest
from ....bench.hub import Live
from ....core.document.channel import ContinuousChannel
from ....core.document.stop_plan import is_at
from ....core.gather.gathering import Circumstances, Watched, reading_of, watch
from ....core.gather.guard import refusals
from ....core.gather.steady import rate_of, rule_for
from ....core.journal.reading import Reading
from ....core.prove.run_plan import RunProgress, run_progress
from ....core.units.conversion import affine_gain
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import decimals_for, fixed, parse_number, significant
from ...frame.live import LiveBench
from ...frame.theme import bold
from ...frame.workbench import Workbench, new_id, now
from ...panel.fields import Complaint, TextField, label, restyle

_FINE = 200  # parts of the span that stand for an error allowed where none is stated
_ARROWS = {"up": "going up ↑", "down": "coming down ↓", "not stated": ""}


class ProofRun(QObject):
    """Takes checks along the plan, from live sources, over the same steady window of both sides."""

    changed = Signal()
    refused = Signal(str)

    def __init__(self, bench: Workbench, live: LiveBench, parent: QObject) -> None:
        super().__init__(parent)
        self._bench, self.live = bench, live
        self.watched: Watched | None = None
        self.frozen: Reading | None = None  # taken by the key, until what a display without a link showed is typed
        live.slow_ticked.connect(self._tick)

    @property
    def channel(self) -> ContinuousChannel | None:
        """The channel looked at, if it has a curve."""
        return self._bench.continuous

    @property
    def progress(self) -> RunProgress | None:
        """How far the run has come; None without numbers to prove."""
        channel = self.channel
        if channel is None or self._bench.job.pack_of(channel.id) is None:
            return None
        return run_progress(self._bench.job, channel)

    @property
    def is_live(self) -> bool:
        """Whether raw signal and reference come from sources."""
        return None not in (self.live.raw(self.channel), self.live.reference(self.channel))

    def shown(self) -> Live | None:
        """The feed of what is shown; None where it is read off a display without a link."""
        channel = self.channel
        return None if channel is None or channel.display.name else self.live.shown(channel)

    def _tick(self) -> None:
        channel = self.channel
        if self._bench.step != "prove" or channel is None or not self.is_live:
            self.watched = None
            return
        try:
            self.watched = self._watch(channel)
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self.changed.emit()

    def _watch(self, channel: ContinuousChannel) -> Watched:
        raw, reference = self.live.raw(channel), self.live.reference(channel)
        assert raw is not None  # it is live
        rule = rule_for(channel, slowest(raw, reference))
        pair = pair_of(raw, reference, 2 * rule.window_s)
        return watch(channel, pair, instrument_of(self._bench.job, reference), rule, time.monotonic())

    def can_set(self) -> bool:
        """Whether the reference can move the stimulus by itself."""
        reference = self.live.reference(self.channel)
        return reference is not None and bool(getattr(reference.feed, "set_command", ""))

    def set_stop(self) -> None:
        """Have the reference move the stimulus to the next stop; harm is refused."""
        channel, progress, reference = self.channel, self.progress, self.live.reference(self.channel)
        if channel is None or progress is None or progress.stop is None or reference is None:
            return
        instrument = instrument_of(self._bench.job, reference)
        harm = next((one for one in refusals(channel, progress.stop.value, instrument) if one.is_harm), None)
        if harm is not None:
            self.refused.emit(f"{harm.says}: it is not set.")
            return
        try:
            reference.link.command(reference.feed.name, progress.stop.value)
            self.refused.emit("")
        except YardstickError as error:
            self.refused.emit(str(error))

    def take(self) -> None:
        """Take both sides over the last steady window as a check; at another place than the stop it is kept as such."""
        channel, progress = self.channel, self.progress
        if channel is None or progress is None:
            self.refused.emit("Keep a packing first: a check belongs to the numbers in the controller.")
            return
        try:
            reading = self._reading(channel)
            if self.shown() is None:
                self.frozen = reading
                self.refused.emit("")
                self.changed.emit()
                return
            self._keep(channel, reading)
        except YardstickError as error:
            self.refused.emit(str(error))

    def showed(self, value: float) -> None:
        """What the display showed as the key was pressed, in its unit: the check is kept. Raises: what is refused."""
        channel, reading = self.channel, self.frozen
        if channel is not None and reading is not None:
            shown = {"shown": value, "shown_unit": channel.shown_in, "shown_by": channel.display.name}
            self._keep(channel, reading.with_(**shown))
            self.drop()

    def drop(self) -> None:
        """Forget what was frozen."""
        self.frozen = None
        self.changed.emit()

    def _keep(self, channel: ContinuousChannel, reading: Reading) -> None:
        """Capture a check; at the run's stop it is of that stop, elsewhere it is kept as what it is."""
        progress = self.progress
        stop = None if progress is None else progress.stop
        if stop is not None:
            value = channel.in_unit(reading.reference, reading.reference_unit)[0]
            if is_at(stop, value, channel.span):
                reading = reading.with_(direction=stop.direction, set_value=stop.value)
        self._bench.capture([reading])
        self.refused.emit("")

    def _reading(self, channel: ContinuousChannel) -> Reading:
        """Raises: NotApplicable while nothing is live or steady."""
        raw, reference, shown = self.live.raw(channel), self.live.reference(channel), self.shown()
        if raw is None or reference is None:
            raise NotApplicable("A check by key needs signal and reference among the sources (F4); else type it.")
        watched = self._watch(channel)
        if not watched.is_steady:
            raise NotApplicable(f"Not steady yet: {watched.reason}. The check is not taken; wait, and press again.")
        record = self._bench.job.pack_of(channel.id)
        assert record is not None  # there is a run
        rule, end = rule_for(channel, slowest(raw, reference)), time.monotonic()
        value = shown_over(shown, end - rule.window_s, end)
        if value is None and shown is not None:
            raise NotApplicable("The controller showed nothing over this window. Wait until it answers.")
        about = Circumstances(
            id=new_id(), captured=now(), source=f"live, {raw.link.spec.name}", shown=value,
            shown_unit="" if shown is None else shown.feed.unit,
        )  # fmt: skip
        pair = pair_of(raw, reference, 2 * rule.window_s)
        instrument = instrument_of(self._bench.job, reference)
        taken = reading_of(channel, pair, instrument, (end - rule.window_s, end), about)
        rate = None if pair.reference is None else rate_of(pair.reference.since(end - rule.window_s))
        unit = pair.reference_unit or taken.reference_unit
        moving = None if rate is None else float(rate * affine_gain(unit, taken.reference_unit))
        return taken.with_(purpose="prove", basis=record.revision, reference_rate=moving)


class RunBox(QWidget):
    """The next stop, and by a live bench what both sides say there."""

    def __init__(self, run: ProofRun) -> None:
        super().__init__()
        self.run = run
        self.where, self.go_to = label("", "muted", 12), label("", "", 15)
        self.go_to.setFont(bold(15))
        self.seen, self.steady = label("", "", 13), label("", "muted", 12)
        self.take = QPushButton("Take the check  (F8)")
        self.take.setObjectName("primary")
        self.take.setFont(bold(13))
        self.set_it = QPushButton("Set it")
        self.set_it.setToolTip("Have the reference move the stimulus to this stop")
        self.take.clicked.connect(run.take)
        self.set_it.clicked.connect(run.set_stop)
        self.showed = TextField("It showed", self._showed, hint="as the key was pressed")
        self._complaint = Complaint()
        keys = QHBoxLayout()
        keys.addWidget(self.take, 1)
        keys.addWidget(self.set_it)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self.where, self.go_to, self.seen, self.steady):
            column.addWidget(widget)
        column.addLayout(keys)
        column.addWidget(self.showed)
        column.addWidget(self._complaint)
        run.changed.connect(self.refresh)
        run.refused.connect(self._complaint.setText)

    def _showed(self, text: str) -> None:
        self.run.showed(parse_number(text))

    def refresh(self) -> None:
        """Show the run as it stands."""
        channel, progress = self.run.channel, self.run.progress
        self.setVisible(channel is not None and progress is not None)
        if channel is None or progress is None:
            return
        stop, count = progress.stop, len(progress.stops)
        done = sum(progress.taken)
        self.where.setText(f"Proof run: {done} of {count} stops taken")
        words = "All stops are taken" if stop is None else f"{significant(stop.value, 6)} {channel.unit}"
        self.go_to.setText(f"Go to {words} {_ARROWS[stop.direction]}".strip() if stop is not None else words)
        live = self.run.is_live
        for widget in (self.seen, self.steady, self.take):
            widget.setVisible(live)
        frozen = self.run.frozen
        if frozen is not None and frozen.channel != channel.id:
            self.run.frozen = frozen = None
        self.showed.setVisible(frozen is not None)
        if frozen is None:
            self.showed.show_values("", suffix=channel.shown_in)
        self.set_it.setVisible(live and self.run.can_set() and stop is not None)
        if live:
            self._show_sides(channel)

    def _show_sides(self, channel: ContinuousChannel) -> None:
        watched, shown = self.run.watched, self.run.shown()
        value = None if shown is None else shown.latest()
        decimals = decimals_for((channel.allowed_error() or channel.span / _FINE) / 50)
        reference = "—" if watched is None or watched.reference is None else fixed(watched.reference.mean, decimals)
        says = "—" if value is None else fixed(value, decimals)
        other = f"{channel.display.name or 'the display'}: type it after the key"
        side = f"shows {says} {channel.shown_in}" if shown is not None else other
        self.seen.setText(f"Reference {reference} {channel.unit}   {side}")
        if self.run.frozen is not None:
            kept = fixed(self.run.frozen.reference, decimals)
            self.seen.setText(f"Frozen: reference {kept} {self.run.frozen.reference_unit}. What did it show then?")
        steady = watched is not None and watched.is_steady
        self.steady.setText("Steady." if steady else f"Not yet: {watched.reason}." if watched is not None else "")
        restyle(self.steady, "role", "good" if steady else "look")
