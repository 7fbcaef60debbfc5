"""Alarms of a channel: their limits, the counts that trip and clear them, and what each break does to them."""

from collections.abc import Callable

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ....core.alarms.breaks import alarm_breaks
from ....core.alarms.edits import alarm_of, with_alarm, without_alarm
from ....core.alarms.fault_band import fault_band
from ....core.alarms.rehearsal import rehearsal_of
from ....core.alarms.tripping import trippings
from ....core.alarms.words import alarms_summary, break_words, silent_breaks, tripping_words
from ....core.document.alarm import ALARM_KINDS, ON_FAULT, Alarm, AlarmKind
from ....core.document.channel import ContinuousChannel
from ....core.job.job import Job
from ....core.words.errors import BadTable, YardstickError
from ....core.words.numerals import parse_number, significant
from ...panel.fields import ChoiceField, TextField, label
from ...panel.record_form import plain
from .rehearsal_box import RehearsalBox, Rehearse

_KINDS = tuple((kind, kind) for kind in ALARM_KINDS)
_ON_FAULT = tuple((what, what) for what in ON_FAULT)
Put = Callable[[str, ContinuousChannel], None]


class AlarmBox(QWidget):
    """The alarm that is looked at with its fields, then all of them and the breaks; `put` makes the edit."""

    def __init__(self, put: Put, rehearse: Rehearse) -> None:
        super().__init__()
        self._put = put
        self._channel: ContinuousChannel | None = None
        self._kind: AlarmKind = "high"
        self.kind = ChoiceField("Alarm", _KINDS, self._look_at)
        self.limit = TextField("Limit", self._put_limit, hint="none", optional=True)
        self.dead_band = TextField("Dead band", lambda text: self._put_part("dead_band", text))
        self.delay = TextField("Delay", lambda text: self._put_part("delay_s", text), suffix="s")
        self.found = label("", "", 12)
        self.band = TextField("Fault beyond", self._put_band, parts=2, between="and", optional=True)
        self.source = label("", "muted", 12)
        self.on_fault = ChoiceField("A fault is", _ON_FAULT, self._put_on_fault)
        self.silent = label("", "look", 12)
        self.breaks = label("", "muted", 12)
        self.rehearsal = RehearsalBox(rehearse)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        for widget in (
            self.kind, self.limit, self.dead_band, self.delay, self.found, self.band, self.source, self.on_fault,
            self.silent, self.breaks, self.rehearsal,
        ):  # fmt: skip
            column.addWidget(widget)

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_channel(self, job: Job, channel: ContinuousChannel) -> str:
        """Show a channel's alarms as they now are; gives what stands in a few words."""
        if self._channel is None or self._channel.id != channel.id:
            self._kind = channel.alarms[0].kind if channel.alarms else "high"
        self._channel = channel
        alarm = alarm_of(channel, self._kind)
        self.kind.show_value(self._kind)
        self.limit.show_values("" if alarm is None else plain(alarm.limit), suffix=channel.unit)
        for field in (self.dead_band, self.delay, self.band, self.source, self.on_fault):
            field.setVisible(bool(channel.alarms) and (alarm is not None or field not in (self.dead_band, self.delay)))
        if alarm is not None:
            self.dead_band.show_values(plain(alarm.dead_band), suffix=channel.unit)
            self.delay.show_values(plain(alarm.delay_s))
        self._show_faults(channel)
        return self._show_found(job, channel)

    def _show_faults(self, channel: ContinuousChannel) -> None:
        rule, band = channel.fault_rule, fault_band(channel)
        ends = (rule.low, rule.high) if rule.stated else (None, None)
        self.band.show_values(*("" if end is None else plain(end) for end in ends), suffix=channel.path.pin_unit)
        between = "" if band is None else f"{significant(band.low, 4)} to {significant(band.high, 4)} are values"
        source = "nothing is described" if band is None else f"{between}: {band.source}"
        self.source.setText(f"{source}.")
        self.on_fault.show_value(rule.on_fault)

    def _show_found(self, job: Job, channel: ContinuousChannel) -> str:
        try:
            found, breaks = trippings(job, channel), alarm_breaks(job, channel)
        except YardstickError as error:
            self.found.setText(str(error))
            self.breaks.setText("")
            self.silent.setText("")
            self.rehearsal.hide()
            return "not known"
        self.found.setText("\n\n".join(tripping_words(one, channel) for one in found))
        self.found.setVisible(bool(found))
        names = silent_breaks(breaks)
        for words, wanted in ((self.silent, True), (self.breaks, False)):
            words.setText("\n".join(break_words([one for one in breaks if (one.name in names) == wanted])))
            words.setVisible(bool(words.text()))
        self.rehearsal.show_rows(rehearsal_of(job, channel), channel)
        return alarms_summary(found, breaks)

    # -- editing ----------------------------------------------------------------------------------------------------

    @property
    def _now(self) -> ContinuousChannel:
        assert self._channel is not None  # a field that can be typed in shows a channel
        return self._channel

    def _look_at(self, kind: str) -> None:
        self._kind = next(one for one in ALARM_KINDS if one == kind)
        self._put("", self._now)

    def _put_limit(self, text: str) -> None:
        channel = self._now
        kind = self._kind
        if not text.strip():
            self._put(f"{channel.tag}: no {kind} alarm", without_alarm(channel, kind))
            return
        alarm = alarm_of(channel, kind)
        limit = parse_number(text)
        made = (alarm or Alarm(kind=kind, limit=0.0)).with_(limit=limit)  # which may refuse it
        self._put(f"{channel.tag}: {kind} alarm", with_alarm(channel, made))

    def _put_part(self, name: str, text: str) -> None:
        channel = self._now
        alarm = alarm_of(channel, self._kind)
        if alarm is None:
            raise BadTable("Enter the limit of this alarm first.")
        self._put(f"{channel.tag}: {self._kind} alarm", with_alarm(channel, alarm.with_(**{name: parse_number(text)})))

    def _put_band(self, low: str, high: str) -> None:
        channel = self._now
        ends = [parse_number(text) if text.strip() else None for text in (low, high)]
        rule = channel.fault_rule.with_(low=ends[0], high=ends[1], stated=ends != [None, None])
        self._put(f"{channel.tag}: fault band", channel.with_(fault_rule=rule))

    def _put_on_fault(self, what: str) -> None:
        channel = self._now
        rule = channel.fault_rule.with_(on_fault=what)
        self._put(f"{channel.tag}: on a fault", channel.with_(fault_rule=rule))
