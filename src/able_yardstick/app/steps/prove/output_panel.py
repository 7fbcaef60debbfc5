"""Prove for an output: a wanted value is sent, the meter says what the terminal gave, and each check is judged."""

import time

from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QPushButton

from ....bench.gatherer import instrument_of
from ....bench.hub import Live
from ....bench.output_writer import send_count
from ....core.document.output import OutputChannel
from ....core.document.reference import Reference
from ....core.gather.steady import Steadiness, steadiness
from ....core.job.channels import change_channel
from ....core.job.entries import exclude
from ....core.job.job import Job
from ....core.outputs.giving import given
from ....core.outputs.proving import (
    Delivered,
    OwnScaling,
    meter_rule,
    next_wanted,
    not_sent_words,
    output_checks,
    output_proof,
    output_reading,
    own_scaling,
    with_own_scaling,
)
from ....core.outputs.target import output_target
from ....core.prove.proof import Proof
from ....core.units.electrical import is_signal_in
from ....core.units.typed import number_and_unit
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import counted, decimals_for, fixed, parse_number, significant
from ...frame.beside import Beside
from ...frame.live import LiveBench
from ...frame.theme import Theme
from ...frame.workbench import Workbench, new_id, now
from ...panel.fields import ChoiceField, Complaint, Entry, TextField, label, restyle
from ...panel.lead_box import Act, Headline
from ...panel.readings_table import excluded_reason
from ...panel.record_form import plain
from ...panel.section import Section
from ...panel.step_panel import PanelKey, StepPanel
from .lead import lead_of_output_proof
from .output_checks_box import OutputChecksBox
from .words import RULES, judged_words, left_out_words


class OutputProvePanel(StepPanel):
    """The panel of the Prove step for an output."""

    title = "Prove the output"

    def __init__(self, bench: Workbench, theme: Theme, live: LiveBench) -> None:
        super().__init__(bench, theme)
        self._live = live
        self._beside = Beside(self)
        self._proof: Proof | None = None
        self._own: OwnScaling | None = None
        self._begins = True  # with another channel
        self._build_check()
        self._build_rule()
        self._build_checks()
        live.slow_ticked.connect(self._tick)

    def _build_check(self) -> None:
        self.wanted = Entry()
        self.wanted.setAccessibleName("Wanted value")
        self.wanted.textChanged.connect(lambda _text: self._show_count())
        self.count_words = label("", "", 13)
        self.may_move = QCheckBox("what hangs on it may move")
        self.may_move.toggled.connect(lambda _on: self._show_send())
        self.send_button = QPushButton("Send it")
        self.send_button.clicked.connect(self.send)
        self.send_words = label("", "muted", 12)
        self.measured = Entry()
        self.measured.setAccessibleName("Signal by the meter")
        self.measured.returnPressed.connect(self.add)
        self._units = [label("", "muted", 12), label("", "muted", 12)]
        self.meter = ChoiceField("By", [], lambda _key: None)
        self.meter_words = label("", "muted", 12)
        self.add_button = QPushButton("Add check")
        self.add_button.clicked.connect(self.add)
        self.complaint = Complaint()
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        grid.setColumnStretch(1, 1)
        for row, (title, entry) in enumerate((("Wanted", self.wanted), ("Meter reads", self.measured))):
            grid.addWidget(label(title, "muted", 12), 2 * row, 0)
            grid.addWidget(entry, 2 * row, 1)
            grid.addWidget(self._units[row], 2 * row, 2)
        grid.addWidget(self.count_words, 1, 1, 1, 2)
        self.body.addLayout(grid)
        self.body.addWidget(self.meter)
        self.body.addWidget(self.meter_words)
        sending = QHBoxLayout()
        sending.addWidget(self.may_move, 1)
        sending.addWidget(self.send_button)
        self.body.addLayout(sending)
        for widget in (self.send_words, self.add_button, self.complaint):
            self.body.addWidget(widget)

    def _build_rule(self) -> None:
        self.rule = ChoiceField("Judged by", RULES, self._put_rule)
        self.risk = TextField("Largest risk", self._put_risk, suffix="%")
        self.body.addWidget(self.rule)
        self.body.addWidget(self.risk)

    def _build_checks(self) -> None:
        self.part = Section(self.bench, "prove/output", "Checks", opened=True)
        self.checks = OutputChecksBox(self._exclude)
        self.rule_words = label("", "muted", 12)
        self.part.add(self.checks, self.rule_words)
        self.scaling = Section(self.bench, "prove/scaling", "Its own zero and full count", opened=True)
        self.scaling_words = label("", "", 12)
        self.take_scaling = QPushButton()
        self.take_scaling.clicked.connect(self._take_scaling)
        self.scaling.add(self.scaling_words, self.take_scaling)
        self.body.addWidget(self.part)
        self.body.addWidget(self.scaling)
        self.body.addStretch(1)

    # -- what is looked at ------------------------------------------------------------------------------------------

    def _wanted(self) -> float:
        """The value typed. Raises: BadNumber."""
        return parse_number(self.wanted.text())

    def _instrument(self) -> Reference | None:
        chosen = self.meter.box.currentData()
        return next((one for one in self.bench.job.references if one.id == chosen), None)

    # -- doing ------------------------------------------------------------------------------------------------------

    def take_key(self, key: PanelKey) -> bool:
        """The capture key takes what the live meter reads, else what is typed."""
        if key != "take":
            return False
        channel = self.bench.channel
        if (
            isinstance(channel, OutputChannel)
            and self._live.meter(channel.driver.unit) is not None
            and not self.measured.text().strip()
        ):
            self.take_live()
        else:
            self.add()
        return True

    def add(self) -> None:
        """Take the check that is typed; a refusal stays in place."""
        try:
            number, unit = number_and_unit(self.measured.text())
            channel = self.output
            seen = Delivered(parse_number(number), unit or channel.driver.unit)
            self._capture(channel, seen, self._instrument())
        except YardstickError as error:
            self.complaint.setText(str(error))

    def take_live(self) -> None:
        """Take what the live meter reads over a steady window; a refusal stays in place."""
        try:
            channel = self.output
            live = self._live.meter(channel.driver.unit)
            if live is None:
                raise NotApplicable("No meter of this kind of signal is live: type what it reads.")
            seen = self._watched(channel, live)
            if not seen.steady:
                raise NotApplicable(f"Not steady yet: {seen.reason}. The check is not taken; wait, and press again.")
            read = Delivered(seen.mean, live.feed.unit, seen.spread, seen.samples)
            doubt = not_sent_words(channel, self._wanted(), read)
            if doubt:
                raise NotApplicable(doubt)
            self._capture(channel, read, instrument_of(self.bench.job, live) or self._instrument())
        except YardstickError as error:
            self.complaint.setText(str(error))

    def _watched(self, channel: OutputChannel, live: Live) -> Steadiness:
        rule = meter_rule(channel, live.feed.unit, live.rate_hz)
        return steadiness(live.window(2 * rule.window_s), rule, time.monotonic())

    def _capture(self, channel: OutputChannel, seen: Delivered, instrument: Reference | None) -> None:
        self.bench.capture([output_reading(channel, self._wanted(), seen, instrument, new_id(), now())])
        self.complaint.setText("")
        self.measured.clear()
        self._offer_next(channel)

    def send(self) -> None:
        """Write the count of the value typed into the controller."""
        try:
            channel = self.output
            target, row = output_target(self.bench.job, channel), given(channel, self._wanted())
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        written, tag = int(row.counts[0]), channel.tag
        self.send_button.setEnabled(False)

        def sent(_found: object) -> None:
            self.complaint.setText("")
            self.bench.said.emit(f"Count {written} is written to {tag}.", False)
            self._show_send()

        def refused(words: str) -> None:
            self.complaint.setText(words)
            self._show_send()

        self._beside.run(lambda _ask: send_count(target, written), sent, refused)

    def _put_rule(self, kind: str) -> None:
        channel = self.output
        self.change(f"{channel.tag}: decision rule", channel.with_(decision=channel.decision.with_(kind=kind)))

    def _put_risk(self, text: str) -> None:
        channel = self.output
        rule = channel.decision.with_(risk=parse_number(text) / 100)
        self.change(f"{channel.tag}: largest risk", channel.with_(decision=rule))

    def _exclude(self, check: str, reason: str) -> None:
        words = excluded_reason(reason)
        self.bench.edit("a check left out", lambda job: exclude(job, [check], words, now()))

    def _take_scaling(self) -> None:
        channel, own = self.output, self._own
        if own is not None:
            self.bench.try_edit(
                f"{channel.tag}: its own zero and full count", lambda job: _changed(job, channel, own)
            )  # fmt: skip

    def forget(self) -> None:
        """Drop what was typed and not taken."""
        super().forget()
        self.measured.clear()
        self.wanted.clear()
        self.may_move.setChecked(False)
        self._begins = True
        self.complaint.setText("")

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the output looked at, as it now is."""
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            return
        self._units[0].setText(channel.unit)
        self._units[1].setText(channel.driver.unit)
        if not self.wanted.text():
            self._offer_next(channel)
        known = [one for one in self.bench.job.references if one.unit and is_signal_in(one.unit, channel.driver.unit)]
        self.meter.offer([("", "a meter not on the list"), *((one.id, one.name) for one in known)])
        if self._begins:
            self._begins = False
            used = [check.row.reading.reference_id or "" for check in output_checks(self.bench.job, channel)]
            self.meter.show_value(used[-1] if used else "")
        self.rule.show_value(channel.decision.kind)
        self.risk.setVisible(channel.decision.kind == "risk")
        self.risk.show_values(plain(100 * channel.decision.risk))
        self._proof = output_proof(self.bench.job, channel)
        checks = output_checks(self.bench.job, channel)
        self.checks.show_checks(channel, checks, self._proof, self.theme)
        said = left_out_words(self.bench.job, channel.id)
        said += [] if self._proof is None else [judged_words(self._proof, channel)]
        self.rule_words.setText(" ".join(said))
        self.rule_words.setVisible(bool(said))
        self.part.show_summary(counted(sum(not check.stale for check in checks), "check"))
        self._show_scaling(channel)
        self._show_count()
        self._show_send()

    def _offer_next(self, channel: OutputChannel) -> None:
        stop = next_wanted(self.bench.job, channel)
        self.wanted.setText("" if stop is None else plain(round(stop, 9)))

    def _tick(self) -> None:
        if self.isVisible():
            self._show_meter()

    def _show_meter(self) -> None:
        channel = self.bench.channel
        live = self._live.meter(channel.driver.unit) if isinstance(channel, OutputChannel) else None
        self.meter_words.setVisible(live is not None)
        if live is None or not isinstance(channel, OutputChannel):
            return
        value, seen = live.latest(), self._watched(channel, live)
        decimals = decimals_for(channel.driver.per_count) + 1
        says = "no value: hold it to the terminal" if value is None else f"{fixed(value, decimals)} {live.feed.unit}"
        steady = "steady, F8 takes it" if seen.steady else f"not yet: {seen.reason}"
        self.meter_words.setText(f"Live: {says}" if value is None else f"Live: {says}, {steady}")
        restyle(self.meter_words, "role", "good" if seen.steady else "muted")

    def _show_count(self) -> None:
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            return
        try:
            row = given(channel, self._wanted())
        except YardstickError:
            self.count_words.setText("")
            return
        decimals = decimals_for(channel.driver.per_count)
        held = ", held at the end of its range" if row.is_held[0] else ""
        signal = fixed(float(row.signals[0]), decimals)
        self.count_words.setText(f"{signal} {channel.driver.unit}, count {row.counts[0]}{held}")

    def _show_send(self) -> None:
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            return
        why = ""
        try:
            output_target(self.bench.job, channel)
        except YardstickError as error:
            why = str(error)
        on = self._live.is_on
        self.send_words.setText(why or ("" if on else "Sources are not connected: enter the count at the controller."))
        self.send_words.setVisible(bool(self.send_words.text()))
        self.may_move.setVisible(not why and on)
        self.send_button.setVisible(not why and on)
        self.send_button.setEnabled(self.may_move.isChecked() and not self._beside.is_running)
        self._show_meter()

    def _show_scaling(self, channel: OutputChannel) -> None:
        own = self._own = own_scaling(self.bench.job, channel)
        self.scaling.setVisible(own is not None)
        if own is None:
            return
        more = " More than the driver's own tolerance explains: see load and leads first." if own.is_beyond else ""
        zero, full = significant(own.zero_count, 9), significant(own.full_count, 9)
        self.scaling_words.setText(
            f"The checks lie on the line of zero count {zero} and full count {full}. With these, "
            f"{significant(own.left, 2)} {channel.unit} is left at most, of {significant(own.before, 2)} now.{more}"
        )
        self.take_scaling.setText(f"Take {zero} and {full}, and prove again")
        self.scaling.show_summary(f"{zero} and {full}")

    def lead(self) -> Headline | None:
        """The verdict, or what is wanted for one."""
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            return None
        lead = lead_of_output_proof(self.bench.job, channel, self._proof)
        if not channel.tolerance.is_stated:
            return lead._replace(acts=(self.onward("describe"), self._next_act(channel)))
        return lead._replace(acts=() if lead.level == "ok" else (self._next_act(channel),))

    def _next_act(self, channel: OutputChannel) -> Act:
        """The next check; once each stop has one, what they say of the driver, else the checks themselves."""
        if next_wanted(self.bench.job, channel) is not None or self._proof is None:
            return self.goes_to("Type what the meter reads", self.measured)
        if self._own is not None:
            return self.goes_to("See its own zero and full count", self.take_scaling)
        return self.goes_to("See which check failed", self.checks)


def _changed(job: Job, channel: OutputChannel, own: OwnScaling) -> Job:
    return change_channel(job, with_own_scaling(channel, own))
