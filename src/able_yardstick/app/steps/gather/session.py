"""Where a live collection stands: the stop gone to, how steady both are, and the taking of a reading."""

import time

from PySide6.QtCore import QObject, Signal

from ....bench.gatherer import instrument_of, pair_of, shown_over, slowest
from ....bench.hub import Live
from ....core.document.channel import ContinuousChannel
from ....core.document.reference import Reference
from ....core.document.sources import ManualSource
from ....core.document.stop_plan import Refusal, Stop, is_at
from ....core.gather.gathering import Circumstances, Watched, off_plan, reading_of, watch
from ....core.gather.guard import refusals
from ....core.gather.steady import SteadyRule, rule_for
from ....core.job.channels import change_channel
from ....core.job.entries import exclude
from ....core.journal.reading import Reading, Stimulated
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import significant
from ...frame.live import LiveBench
from ...frame.workbench import Change, Workbench, new_id, now


class GatherSession(QObject):
    """Belongs to the channel looked at; turning to another one begins its own plan."""

    changed = Signal()
    refused = Signal(str)
    taken = Signal(object)  # Reading

    def __init__(self, bench: Workbench, live: LiveBench, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench, self.live = bench, live
        self._channel_id = bench.channel.id if bench.channel else ""
        self._at: dict[str, int] = {}
        self.by_itself = False
        self.with_mates = False
        self.stimulated: Stimulated = "whole loop"
        self.orientation = ""
        self.typed_reference: float | None = None
        self.instrument_id = ""
        self.watched: Watched | None = None
        self._arrived_s = time.monotonic()
        self._told = ""
        bench.changed.connect(self._follow)
        live.slow_ticked.connect(self._tick)

    def _follow(self, change: Change) -> None:
        channel = self.channel
        if channel is not None and channel.id != self._channel_id:
            self._channel_id = channel.id
            self.watched, self.typed_reference, self.by_itself = None, None, False
            self.instrument_id = ""
            self.orientation = f"axis {channel.axis} loaded" if channel.axis else ""
            self._arrived_s = time.monotonic()
            self.changed.emit()
        elif change.job:
            self.changed.emit()

    # -- what there is ----------------------------------------------------------------------------------------------

    @property
    def channel(self) -> ContinuousChannel | None:
        """The channel looked at, if it has a curve."""
        return self._bench.continuous

    @property
    def raw(self) -> Live | None:
        """The feed of the sensor."""
        return self.live.raw(self.channel)

    @property
    def reference(self) -> Live | None:
        """The feed of the reference; none while its value is typed, here or into a source of typed values."""
        live = self.live.reference(self.channel)
        if live is None or self.typed_reference is not None or isinstance(live.link.spec, ManualSource):
            return None
        return live

    @property
    def typed_instrument(self) -> Reference | None:
        """The instrument that typed values are read from."""
        return next((one for one in self._bench.job.references if one.id == self.instrument_id), None)

    @property
    def instrument(self) -> Reference | None:
        """The reference instrument behind the feed; of typed values the one that was named."""
        behind = instrument_of(self._bench.job, self.live.reference(self.channel))
        return (self.typed_instrument or behind) if self.typed_reference is not None else behind

    def _typed_for(self, channel: ContinuousChannel) -> float | None:
        """What was typed of the reference: here, or into a source of typed values since this stop was gone to."""
        if self.typed_reference is not None:
            return self.typed_reference
        live = self.live.reference(channel)
        if live is None or not isinstance(live.link.spec, ManualSource):
            return None
        since = live.stream.after(self._arrived_s).good.values
        if not len(since):
            raise NotApplicable(f"Type what the reference reads at this stop into {live.link.spec.name} (F4) first.")
        return float(since[-1])

    @property
    def rule(self) -> SteadyRule | None:
        """The rule of steadiness for the channel."""
        if self.channel is None:
            return None
        return rule_for(self.channel, slowest(self.raw, self.reference))

    def mates(self) -> list[ContinuousChannel]:
        """Other channels of the same quantity whose reference measures the same stimulus."""
        channel = self.channel
        reference = self.live.reference(channel)
        if channel is None or reference is None:
            return []
        found = []
        for other in self._bench.job.channels:
            if not isinstance(other, ContinuousChannel) or other.id == channel.id:
                continue
            feed = self.live.reference(other)
            same = other.transducer.quantity == channel.transducer.quantity
            if (
                same
                and feed is not None
                and feed.feed.reference == reference.feed.reference
                and other.range == channel.range
            ):
                found.append(other)
        return found

    # -- the plan ---------------------------------------------------------------------------------------------------

    @property
    def stops(self) -> tuple[Stop, ...]:
        """All stops in their order."""
        channel = self.channel
        return () if channel is None else channel.stop_plan.stops(*channel.range)

    @property
    def at(self) -> int:
        """Which stop is gone to, from 0; as many as there are once all are done."""
        return min(self._at.get(self._channel_id, 0), len(self.stops))

    @property
    def stop(self) -> Stop | None:
        """The stop gone to; None once all are done."""
        return self.stops[self.at] if self.at < len(self.stops) else None

    def go(self, at: int) -> None:
        """Turn to a stop of the plan."""
        self._at[self._channel_id] = min(max(at, 0), len(self.stops))
        self._arrived_s = time.monotonic()
        self.changed.emit()

    def next(self) -> None:
        """On to the next stop without taking this one."""
        self.go(self.at + 1)

    def previous(self) -> None:
        """Back to the stop before."""
        self.go(self.at - 1)

    def refusals(self) -> tuple[Refusal, ...]:
        """What speaks against going to the stop."""
        channel, stop = self.channel, self.stop
        if channel is None or stop is None:
            return ()
        return refusals(channel, stop.value, self.instrument)

    def can_set(self) -> bool:
        """Whether the reference can move the stimulus by itself."""
        reference = self.live.reference(self.channel)
        return reference is not None and bool(getattr(reference.feed, "set_command", ""))

    def set_stop(self) -> None:
        """Have the reference move the stimulus to the stop; harm is refused."""
        stop, reference = self.stop, self.live.reference(self.channel)
        if stop is None or reference is None:
            return
        harm = next((one for one in self.refusals() if one.is_harm), None)
        if harm is not None:
            self.refused.emit(f"{harm.says}: it is not set.")
            return
        try:
            reference.link.command(reference.feed.name, stop.value)
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self._arrived_s = time.monotonic()
        self.refused.emit("")

    # -- watching and taking ----------------------------------------------------------------------------------------

    def _tick(self) -> None:
        channel, rule, raw = self.channel, self.rule, self.raw
        if self._bench.step != "gather" or channel is None or rule is None or raw is None:
            return
        try:
            pair = pair_of(raw, self.reference, 2 * rule.window_s)
            self.watched = watch(channel, pair, self.instrument, rule, time.monotonic())
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self._tell_refusal()
        self.changed.emit()
        if self.by_itself and self.stop is not None and self._may_take(rule):
            self.take()

    def _tell_refusal(self) -> None:
        """What the reference said against the last set point, once."""
        live = self.live.reference(self.channel)
        error = live.link.status.error if live is not None else ""
        if error != self._told:
            self._told = error
            if error:
                self.by_itself = False
                self.refused.emit(error)

    @property
    def waited_s(self) -> float:
        """How long this stop has been waited for."""
        return time.monotonic() - self._arrived_s

    @property
    def is_there(self) -> bool:
        """Whether the reference, or the sensor without one, is at the stop."""
        channel, watched, stop = self.channel, self.watched, self.stop
        if channel is None or watched is None or stop is None:
            return False
        return is_at(stop, watched.mean, channel.span)

    def _may_take(self, rule: SteadyRule) -> bool:
        watched = self.watched
        has_reference = watched is not None and watched.reference is not None and watched.is_steady
        return has_reference and self.is_there and self.waited_s > rule.window_s

    def take(self) -> None:
        """Take the last window as a reading, for the mates too where that is wanted; on to the next stop.

        What was taken elsewhere than at the stop is kept as what it is, and the stop stays open.
        """
        channel, rule = self.channel, self.rule
        if channel is None or rule is None:
            return
        stop = self.stop
        try:
            readings = [self._reading(one, rule) for one in (channel, *(self.mates() if self.with_mates else ()))]
            there = stop is not None and self.is_at_stop(channel, readings[0])
            if stop is not None and there:
                at_it = {"direction": stop.direction, "set_value": stop.value}
                readings = [readings[0].with_(**at_it), *(one.with_(direction=stop.direction) for one in readings[1:])]
            self._bench.capture(readings)
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self.refused.emit("")
        self.typed_reference = None
        if stop is not None and not there:
            self._bench.said.emit(off_plan(channel, readings[0], stop, self.at), False)
        elif stop is not None:
            self.next()
            if self.by_itself and self.stop is not None and self.can_set():
                self.set_stop()
            elif self.stop is None:
                self.by_itself = False
        self.taken.emit(readings[0])
        self.changed.emit()

    def is_at_stop(self, channel: ContinuousChannel, reading: Reading) -> bool:
        """Whether a reading was taken at the stop gone to, by its reference."""
        value = channel.in_unit(reading.reference, reading.reference_unit)[0]
        return self.stop is not None and is_at(self.stop, value, channel.span)

    def repeat(self) -> None:
        """Leave the last reading out as repeated, and go back to its stop."""
        channel = self.channel
        rows = self._bench.job.amended(channel.id, "gather") if channel is not None else []
        last = next((row for row in reversed(rows) if row.is_used), None)
        if last is None:
            self.refused.emit("There is no reading to repeat.")
            return
        self._bench.try_edit(
            "a reading to repeat", lambda job: exclude(job, [last.reading.id], "repeated", now())
        )  # fmt: skip
        self.previous()

    def take_zero(self) -> None:
        """Take the signal with the load off: the reference is nought by that, nothing else is read."""
        channel, rule = self.channel, self.rule
        if channel is None or rule is None:
            return
        low, high = channel.range
        if not low <= 0 <= high:
            self.refused.emit(
                f"Nought lies outside the range, {significant(low)} to {significant(high)} {channel.unit}."
            )
            return
        try:
            reading = self._reading(channel, rule, 0.0)
            self._bench.capture([reading.with_(source="load off, averaged", reference_id=None)])
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self.refused.emit("")
        self.taken.emit(reading)

    def tare(self) -> None:
        """Hold the line through a zero to the signal as it is now, averaged: what hangs on the sensor is nought."""
        channel, rule = self.channel, self.rule
        if channel is None or rule is None:
            return
        try:
            seen = self._reading(channel, rule, 0.0)
            assert seen.raw is not None  # a gathered one has it
            pin = seen.raw.at_pin(channel.path, channel.around)
            held = channel.with_(zero=(pin, 0.0))
            self._bench.edit(f"{channel.tag}: tare", lambda job: change_channel(job, held))
        except YardstickError as error:
            self.refused.emit(str(error))
            return
        self.refused.emit("")
        unit = channel.path.pin_unit
        self._bench.said.emit(
            f"Tare: the line through a zero is held to {significant(pin, 5)} {unit}. Undo: Ctrl+Z.", False
        )

    def _reading(self, channel: ContinuousChannel, rule: SteadyRule, typed: float | None = None) -> Reading:
        raw, shown = self.live.raw(channel), self.live.shown(channel)
        if raw is None:
            raise NotApplicable(
                f"No live source gives the raw signal of {channel.tag}. Connect one in the sources (F4)."
            )
        is_zero = typed is not None
        typed = self._typed_for(channel) if typed is None else typed
        reference = None if typed is not None else self.live.reference(channel)
        end = time.monotonic()
        about = Circumstances(
            id=new_id(),
            captured=now(),
            stimulated=self.stimulated,
            orientation=self.orientation,
            source=f"live, {raw.link.spec.name}",
            shown=shown_over(shown, end - rule.window_s, end),
            shown_unit="" if shown is None else shown.feed.unit,
            typed_reference=typed,
        )
        if raw.is_stale:
            raise NotApplicable(
                f"{raw.link.spec.name} gives nothing now: {raw.link.status.error or 'the last value is stale'}. "
                "Wait until it answers."
            )
        pair = pair_of(raw, reference, 2 * rule.window_s)
        instrument = None if is_zero else self.instrument
        return reading_of(channel, pair, instrument, (end - rule.window_s, end), about)
