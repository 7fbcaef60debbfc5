"""What was seen of a channel's raw signal since the last start: evidence that grows test by test, and its verdict."""

import time

from PySide6.QtCore import QObject, QTimer, Signal

from ....bench.gatherer import state_by_reference
from ....core.document.channel import ContinuousChannel, PlantState, TwoStateChannel, WiredChannel
from ....core.job.entries import keep_look
from ....core.journal.reading import Raw
from ....core.journal.records import WakeRecord
from ....core.journal.sample import Series
from ....core.results.basis import look_basis
from ....core.wake.evidence import Evidence
from ....core.wake.expected import Expected, expected_at
from ....core.wake.figures import LEAST_SAMPLES, Figures, figures_by_hand, figures_of
from ....core.wake.inputs import look_inputs
from ....core.wake.meter import MeterPair
from ....core.wake.nudge import nudge_by_hand, nudge_of, nudge_seconds, samples_s, signal_rises
from ....core.wake.reckoned import reckoned_value
from ....core.wake.verdict import Verdict, diagnose
from ....core.words.errors import NotApplicable, YardstickError
from ...frame.live import LiveBench
from ...frame.workbench import Change, Workbench, now

LOOK_S = 6.0
_BEFORE_S = 3.0
_ROOMY = 1.15  # times the least samples


class WakeSession(QObject):
    """Belongs to the channel looked at; turning to another one starts anew."""

    changed = Signal()
    refused = Signal(str)

    def __init__(self, bench: Workbench, live: LiveBench, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench, self.live = bench, live
        self._channel_id = bench.channel.id if bench.channel else ""
        self.state: PlantState | None = None
        self.by_reference = False
        self._reckoned: tuple[WiredChannel, PlantState, Expected] | None = None
        self.evidence: Evidence | None = None
        self.verdict: Verdict | None = None
        self.meter_pairs: tuple[MeterPair, ...] = ()
        self._nudge_began: float | None = None
        self._rises = True
        self._nudge_timer = QTimer(self)
        self._nudge_timer.setSingleShot(True)
        self._nudge_timer.timeout.connect(self._end_nudge)
        bench.changed.connect(self._follow)

    @property
    def channel(self) -> WiredChannel | None:
        """The channel looked at, if it has a pin."""
        channel = self._bench.channel
        return channel if isinstance(channel, ContinuousChannel | TwoStateChannel) else None

    def _follow(self, change: Change) -> None:
        channel = self.channel
        now_id = channel.id if channel else ""
        if now_id != self._channel_id:
            self._channel_id = now_id
            self.state, self.by_reference = None, False
            self.start_again()
        elif change.job and channel is not None and not self.by_reference and self.state not in (
            None, *channel.plant_states
        ):  # fmt: skip
            self.state = None
            self.start_again()

    def start_again(self) -> None:
        """Forget the evidence."""
        self.evidence = self.verdict = None
        self.meter_pairs = ()
        self._nudge_began = None
        self._nudge_timer.stop()
        self.changed.emit()

    def choose_state(self, state: PlantState | None) -> None:
        """Say which known state the plant is in now."""
        self.state, self.by_reference = state, False
        self.changed.emit()

    def choose_reference(self) -> None:
        """Let the reference beside the channel say where the plant is."""
        self.by_reference = True
        self._read_reference()
        self.changed.emit()

    def _read_reference(self) -> None:
        channel = self.channel
        if self.by_reference and channel is not None:
            self.state = state_by_reference(self._bench.job, channel, self.live.reference(channel))

    @property
    def expected(self) -> Expected | None:
        """What the present state should make at the pin, reckoned once for each channel record and state.

        Raises: what `expected_at` refuses.
        """
        channel, state = self.channel, self.state
        if channel is None or state is None:
            return None
        if self._reckoned is None or self._reckoned[0] is not channel or self._reckoned[1] is not state:
            self._reckoned = (channel, state, expected_at(channel, state))
        return self._reckoned[2]

    # -- looking ----------------------------------------------------------------------------------------------------

    @property
    def _rate_hz(self) -> float:
        """How many values come in a second; 0 where that is not known."""
        live = self.live.raw(self.channel)
        return 0.0 if live is None else live.rate_hz

    def counts(self, seconds: float = LOOK_S) -> Series:
        """Raw samples of the last seconds, of more where they come slowly."""
        rate = self._rate_hz
        filled = _ROOMY * LEAST_SAMPLES / rate if rate else 0.0
        return self.live.window(self.live.raw(self.channel), max(seconds, filled))

    def figures(self) -> Figures | None:
        """The figures of the last seconds; None while there is too little."""
        channel = self.channel
        if channel is None:
            return None
        try:
            return figures_of(channel, self.counts())
        except YardstickError:
            return None

    def look(self) -> None:
        """Take the last seconds as evidence; in a second known state they stand beside the first."""
        channel = self.channel
        if channel is None:
            return
        self._read_reference()
        try:
            self._take(figures_of(channel, self.counts()))
        except YardstickError as error:
            self.refused.emit(str(error))

    def look_by_hand(self, raw: Raw) -> None:
        """Take what was typed as evidence. Raises: what its unit or the state refuses."""
        channel = self.channel
        if channel is not None:
            self._take(figures_by_hand(channel, raw))

    def nudged_by_hand(self, raw: Raw, value_rises: bool) -> None:
        """Add what was typed after the sensor was disturbed.

        Raises: NotApplicable before the first look, UnitMismatch.
        """
        channel, evidence = self.channel, self._looked_at()
        if channel is not None:
            rises = signal_rises(channel) == value_rises
            found = nudge_by_hand(channel, evidence.signal, figures_by_hand(channel, raw), rises)
            self._put(evidence._replace(nudge=found))

    def _take(self, figures: Figures) -> None:
        expected, before = self.expected, self.evidence
        if before is not None and before.expected is not None and expected is not None and (
            (before.expected.name, before.expected.value) != (expected.name, expected.value)
            and abs(before.expected.pin - expected.pin) > before.expected.allowed + expected.allowed
        ):  # fmt: skip
            self._put(before._replace(other=(expected, figures)))
            return
        kept = before or Evidence(figures)
        self._put(self._with_shown(kept._replace(signal=figures, expected=expected)))

    def _with_shown(self, evidence: Evidence) -> Evidence:
        channel, shown = self.channel, self.live.shown(self.channel)
        if shown is None or not isinstance(channel, ContinuousChannel):
            return evidence
        return evidence._replace(
            shown=shown.latest(), reckoned=reckoned_value(channel, evidence.signal.level)
        )  # fmt: skip

    def measured(
        self, meter_v: float | None = None, supply_v: float | None = None, leads_ohm: float | None = None
    ) -> None:
        """Add what a meter said, in V and Ω. Raises: NotApplicable before the first look."""
        evidence = self._looked_at()
        if meter_v is not None:
            looked_at = evidence.signal if evidence.other is None else evidence.other[1]
            self.meter_pairs = (*self.meter_pairs, MeterPair(looked_at.level, meter_v))
            evidence = evidence if evidence.other is not None else evidence._replace(meter_v=meter_v)
        if supply_v is not None:
            evidence = evidence._replace(supply_v=supply_v)
        if leads_ohm is not None:
            evidence = evidence._replace(leads_ohm=leads_ohm)
        self._put(evidence)

    def took_burst(self, burst: Series) -> None:
        """Add a fast capture. Raises: NotApplicable before the first look, TooFewReadings."""
        channel = self.channel
        assert channel is not None  # looked at
        self._put(self._looked_at()._replace(burst=figures_of(channel, burst)))

    def _looked_at(self) -> Evidence:
        if self.evidence is None:
            raise NotApplicable("Look at the signal at rest first: press Look (F8).")
        return self.evidence

    # -- the nudge --------------------------------------------------------------------------------------------------

    @property
    def nudge_left_s(self) -> float | None:
        """How long the nudge still runs; None while there is none."""
        if self._nudge_began is None or self.channel is None:
            return None
        return max(nudge_seconds(self.channel, self._rate_hz) - (time.monotonic() - self._nudge_began), 0.0)

    def start_nudge(self, value_rises: bool) -> None:
        """From now on the person disturbs the sensor, its value going up or down."""
        channel = self.channel
        if channel is None:
            return
        try:
            self._looked_at()
        except NotApplicable as error:
            self.refused.emit(str(error))
            return
        self._rises = signal_rises(channel) == value_rises
        self._nudge_began = time.monotonic()
        self._nudge_timer.start(int(1000 * nudge_seconds(channel, self._rate_hz)))
        self.changed.emit()

    def _end_nudge(self) -> None:
        channel, began = self.channel, self._nudge_began
        self._nudge_began = None
        if channel is None or began is None or self.evidence is None:
            return
        before_s = max(_BEFORE_S, samples_s(self._rate_hz))
        window = self.counts(nudge_seconds(channel, self._rate_hz) + before_s + 1)
        found = nudge_of(channel, window.since(began - before_s, began), window.since(began), self._rises)
        if found is None:
            self.refused.emit("Too few samples came during the nudge. See whether the source answers, and try again.")
            self.changed.emit()
            return
        self._put(self.evidence._replace(nudge=found))

    # -- the verdict ------------------------------------------------------------------------------------------------

    def _put(self, evidence: Evidence) -> None:
        channel = self.channel
        assert channel is not None  # evidence is of a channel
        self.evidence = evidence
        verdict = self.verdict = diagnose(look_inputs(self._bench.job, channel), evidence)
        record = WakeRecord(
            channel=channel.id,
            made=now(),
            state="" if evidence.expected is None else evidence.expected.name,
            causes=verdict.names,
            says=verdict.says,
            nudged=evidence.nudge is not None,
            level=evidence.signal.level,
            noise=evidence.signal.noise,
            basis=look_basis(self._bench.job, channel),
        )
        try:
            self._bench.record(lambda job: keep_look(job, record))
        except YardstickError as error:
            self.refused.emit(str(error))
        self.changed.emit()
