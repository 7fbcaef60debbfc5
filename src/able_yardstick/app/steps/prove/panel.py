"""Prove: fresh readings of the controller against the reference, judged check by check."""

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QPushButton

from ....core.alarms.rehearsal import RehearsalStep, rehearse
from ....core.document.channel import ContinuousChannel
from ....core.document.reference import Reference
from ....core.document.saturation import saturation_words
from ....core.job.precautions import to_restore
from ....core.prove.checks import Check, as_found, checks_of, missed_of, proof_of, weaknesses_of
from ....core.prove.judging import change_rule
from ....core.prove.mistakes.evidence import naming_of
from ....core.prove.mistakes.naming import Naming
from ....core.prove.mistakes.words import naming_words
from ....core.prove.proof import Proof
from ....core.prove.run_plan import missed_by_plan
from ....core.prove.split import split_of
from ....core.results.basis import stale_pack
from ....core.state.progress import Level
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import counted, decimals_for, fixed, parse_number, signed
from ...centre.sight import Sight
from ...frame.live import LiveBench
from ...frame.plain_text import PlainLabel
from ...frame.theme import Theme, font
from ...frame.widgets import discard
from ...frame.workbench import Workbench, now
from ...panel.bar_table import BarTable
from ...panel.fields import ChoiceField, TextField, heading, label, rule_line
from ...panel.import_dialog import RAW, REFERENCE, SHOWN
from ...panel.instrument_row import InstrumentRow
from ...panel.lead_box import Act, Headline
from ...panel.readings_panel import ReadingsPanel, Seen
from ...panel.record_form import FieldRow, RecordForm, plain
from ...panel.section import Section
from ...panel.sentences import tolerance_sentence
from ...panel.step_panel import PanelKey
from .alarm_box import AlarmBox
from .jaws_cell import JawsCell
from .lead import lead_of_proof
from .rehearsal_box import KnobsPort
from .run import ProofRun, RunBox
from .trim_box import TrimBox
from .words import (
    RULES,
    left_out_words,
    missed_bars,
    missed_summary,
    missed_words,
    naming_bars,
    naming_summary,
    outcome_words,
    rule_words,
    split_words,
)

_MISSED = "What these checks would miss"


_DISPLAY_ROWS = (
    FieldRow("Read off", ("name",), kind="text", optional=True, hint="the controller itself"),
    FieldRow("in", ("unit",), kind="text", optional=True, hint="as the controller has it"),
    FieldRow("Last digit", ("step",), suffix="{shown}", optional=True, hint="told by the values"),
    FieldRow("Lags by", ("delay_s",), suffix="s"),
)


class ProvePanel(ReadingsPanel):
    """Checks with their errors, the verdict, and the shift they share."""

    title = "Prove it"
    purpose = "prove"
    roles = (REFERENCE, SHOWN, RAW._replace(optional=True))
    form_words = ("Reference", "or raw signal", "Shown")
    add_words = "Add check"

    def build_above_table(self) -> None:
        self._instruments: dict[str, str] = {}  # by channel: what typed checks are read off, where somebody said so
        self.instrument = InstrumentRow(self.bench, "prove", self._instrument_id, self._put_instrument)
        self.body.addWidget(self.instrument)
        self._tolerance = TextField("Fixed error ±", self._put_tolerance)
        self._allowed = label("", "muted", 12)
        self.rule = ChoiceField("Judged by", RULES, self._put_rule)
        self.risk = TextField("Largest risk", self._put_risk, suffix="%")
        for widget in (self._tolerance, self._allowed, self.rule, self.risk):
            self.body.addWidget(widget)
        self._checks = QGridLayout()
        self._checks.setHorizontalSpacing(5)
        self._checks.setVerticalSpacing(1)
        self.body.addLayout(self._checks)
        self._rule = label("", "muted", 12)
        self.split = label("", "muted", 12)
        self.mistake_part = Section(self.bench, "prove/mistake", "What explains the errors", opened=True)
        self.mistake = BarTable("What explains the errors")
        self.mistake_words = label("", "", 12)
        self.mistake_go = QPushButton()
        self.mistake_go.clicked.connect(self._go_to_mistake)
        self.mistake_part.add(self.mistake_words, self.mistake, self.mistake_go)
        self.missed_part = Section(self.bench, "prove/missed", _MISSED, opened=True)
        self.missed = BarTable(_MISSED)
        self.missed_words = label("", "muted", 12)
        self.missed_part.add(self.missed_words, self.missed)
        self.trim_part = Section(self.bench, "prove/trim", "Trim")
        self.trim = TrimBox(self.bench)
        self.trim_part.add(self.trim)
        self.display_part = Section(self.bench, "prove/display", "Display that is read")
        self.display = RecordForm(_DISPLAY_ROWS, self._put_display)
        self.display_part.add(self.display)
        self.alarm_part = Section(self.bench, "prove/alarms", "Alarms")
        self.alarms = AlarmBox(self._put_alarms, self._rehearsed)
        self.alarm_part.add(self.alarms)
        self.body.addWidget(self.split)
        self.body.addWidget(self._rule)
        self.body.addWidget(self.mistake_part)
        self.body.addWidget(self.trim_part)
        self.body.addWidget(self.missed_part)
        self.body.addWidget(self.display_part)
        self.body.addWidget(self.alarm_part)
        self.body.addWidget(rule_line())
        self.body.addWidget(heading("Checks as entered"))

    def __init__(self, bench: Workbench, theme: Theme, live: LiveBench, sight: Sight, knobs_port: KnobsPort) -> None:
        super().__init__(bench, theme)
        self._sight = sight
        sight.moved.connect(lambda _pin: self._show_split() if self.isVisible() else None)
        self.run = ProofRun(bench, live, self)
        self.run_box = RunBox(self.run)
        self.body.insertWidget(0, self.run_box)
        self.trim.follow(live)
        self.alarms.rehearsal.follow(live, knobs_port)
        self._proof: Proof | None = None
        self._refusal = ""
        self._naming: Naming | None = None
        self.table.setMinimumHeight(120)
        self.form.origin.hide()  # a check is always measured

    def basis(self) -> str:
        """The packing in the controller when a check is taken."""
        record = self.bench.job.pack_of(self.channel.id)
        if record is None:
            raise NotApplicable("Keep a packing first: a check belongs to the numbers in the controller.")
        return record.revision

    @property
    def typed_instrument(self) -> Reference | None:
        """The instrument that typed checks are read off: the one chosen, else that of the channel's last reading."""
        return self.instrument.instrument

    def _instrument_id(self) -> str:
        channel = self.bench.continuous
        if channel is None:
            return ""
        job = self.bench.job
        taken = job.amended(channel.id, "prove") or job.amended(channel.id, "gather")
        last = (taken[-1].reading.reference_id or "") if taken else ""
        return self._instruments.get(channel.id, last)

    def _put_instrument(self, key: str) -> None:
        self._instruments[self.channel.id] = key

    def take_one(self, seen: Seen) -> None:
        """Capture one check. Raises: NotApplicable without a packing."""
        self.basis()
        super().take_one(seen)

    def take_key(self, key: PanelKey) -> bool:
        """The capture key takes a check of live sources, else the one that is typed."""
        if key != "take":
            return False
        if self.run.is_live:
            self.run.take()
        else:
            self.form.add()
        return True

    def _put_tolerance(self, text: str) -> None:
        channel = self.channel
        tolerance = channel.tolerance.with_(constant=parse_number(text))
        self.change(f"{channel.tag}: tolerance", channel.with_(tolerance=tolerance))

    def _put_rule(self, kind: str) -> None:
        channel = self.channel
        rule = channel.decision.with_(kind=kind)
        self.bench.edit(f"{channel.tag}: decision rule", lambda job: change_rule(job, channel.id, rule, now()))

    def _put_risk(self, text: str) -> None:
        channel = self.channel
        rule = channel.decision.with_(risk=parse_number(text) / 100)
        self.bench.edit(f"{channel.tag}: largest risk", lambda job: change_rule(job, channel.id, rule, now()))

    def _put_display(self, changes: dict[str, Any]) -> None:
        channel = self.channel
        changed = channel.with_(display=channel.display.with_(**changes))
        changed.converted(0.0, changed.shown_in, changed.unit)  # or a refusal of its unit
        self.change(f"{channel.tag}: display", changed)

    def _put_alarms(self, what: str, channel: ContinuousChannel) -> None:
        if what:
            self.change(what, channel)
        else:
            self.refresh()

    def _rehearsed(self, step: RehearsalStep, as_expected: bool, delay_s: float | None) -> None:
        channel = self.channel
        self.bench.record(lambda job: rehearse(job, channel.id, step, as_expected, delay_s, now()))

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.continuous
        if channel is None:
            return
        self.show_table(channel)
        self.run_box.refresh()
        self.instrument.refresh()
        self._tolerance.show_values(plain(channel.tolerance.constant), suffix=channel.unit)
        self._allowed.setText(tolerance_sentence(channel, channel.tolerance))
        try:
            self._proof, self._refusal = proof_of(self.bench.job, channel), ""
        except YardstickError as error:
            self._proof, self._refusal = None, str(error)
        self.rule.show_value(channel.decision.kind)
        self.risk.setVisible(channel.decision.kind == "risk")
        self.risk.show_values(plain(100 * channel.decision.risk))
        self._show_checks(channel, self._proof)
        self._rule.setText(rule_words(self.bench.job, channel, self._proof) if self._proof is not None else "")
        self._rule.setVisible(self._proof is not None)
        self._show_split()
        self._show_mistake(channel)
        self._show_missed(channel)
        self.trim_part.setVisible(self._proof is not None)
        self.trim_part.show_summary(self.trim.show_channel(channel, self.theme))
        display = channel.display
        self.display.show_record(display, shown=channel.shown_in)
        lag = f", {display.delay_s:g} s behind" if display.delay_s else ""
        self.display_part.show_summary(f"{display.name or 'the controller itself'}, in {channel.shown_in}{lag}")
        self.alarm_part.show_summary(self.alarms.show_channel(self.bench.job, channel))

    def lead(self) -> Headline | None:
        """The verdict, or what is wanted for one."""
        channel = self.bench.continuous
        if channel is None:
            return None
        if self.bench.job.pack_of(channel.id) is None:
            more = "A check says how far the controller's number is from the reference: keep numbers for it first."
            return Headline("open", "Nothing to prove yet.", more, (Act("Go to Pack", lambda: self.bench.go("pack")),))
        checks = checks_of(self.bench.job, channel)
        remarks = self._remarks(channel, checks)
        typed = self.goes_to("Type a check", self.form.reference)
        if self._proof is None:
            level: Level = "look" if checks else "open"
            says = self._refusal if checks else "No checks yet."
            acts: tuple[Act, ...] = (typed,)
            if checks and not channel.tolerance.is_stated:
                acts = (self.goes_to("State the error allowed", self._tolerance.entries[0]), typed)
            return Headline(level, says, remarks, acts)
        lead = lead_of_proof(self._proof, channel)
        level = "look" if lead.level == "ok" and stale_pack(self.bench.job, channel) else lead.level
        acts = (typed,)
        if self._naming is not None and self._naming.suspects:
            lead = lead._replace(more=naming_words(self._naming, channel.unit))
            acts = (Act(self.mistake_go.text(), self._go_to_mistake), typed)
        return lead._replace(level=level, more=f"{lead.more} {remarks}".strip(), acts=acts)

    def _remarks(self, channel: ContinuousChannel, checks: list[Check]) -> str:
        """The as-found state, and what no longer counts."""
        stale = sum(check.stale for check in checks)
        found = as_found(self.bench.job, channel)
        words = []
        if found is not None:
            passed = sum(check.passed for check in found.checks)
            words.append(f"As found: {passed} of {len(found.checks)} within the error allowed.")
        words += left_out_words(self.bench.job, channel.id)
        if stale:
            words.append(f"No longer counted: {counted(stale, 'check')} of another packing.")
        if stale_pack(self.bench.job, channel):
            words.append("The packing is out of date: pack again before proving.")
        left = to_restore(self.bench.job)
        if left and self._proof is not None and self._proof.passed:
            words.append(f"Put back at the end: {', '.join(left)} (Pack, Before and after).")
        lost = saturation_words(channel)
        if lost:
            words.append(f"{lost} A check there proves nothing.")
        if not checks:
            words.append("Enter a reference value and what the controller shows, spread over the range.")
        return " ".join(words)

    def _show_split(self) -> None:
        """What the error of the check under the hairline is made of, or of the one nearest to it."""
        channel = self.bench.continuous
        checks = [] if channel is None else [one for one in checks_of(self.bench.job, channel) if not one.stale]
        check = min(checks, key=lambda one: abs(one.pin - self._sight.pin), default=None)
        found = None if channel is None or check is None else split_of(self.bench.job, channel, check)
        self.split.setVisible(found is not None)
        if channel is not None and check is not None and found is not None:
            self.split.setText(split_words(found, check, channel))

    def _show_mistake(self, channel: ContinuousChannel) -> None:
        """The mistakes that explain the errors, how much each alone, beside patterns that name none."""
        try:
            self._naming = naming_of(self.bench.job, channel)
        except YardstickError:
            self._naming = None  # without checks or their uncertainty there is nothing to explain, and the rest says so
        naming = self._naming
        self.mistake_part.setVisible(naming is not None and not naming.is_sound)
        if naming is None or naming.is_sound:
            return
        self.mistake_words.setText(naming_words(naming, channel.unit))
        self.mistake_part.show_summary(naming_summary(naming))
        self.mistake.show_bars("explains of the errors", naming_bars(naming, channel), self.theme)
        self.mistake_go.setVisible(bool(naming.suspects))
        if naming.suspects:
            self.mistake_go.setText(f"Set it right at {naming.suspects[0].where.capitalize()}")

    def _go_to_mistake(self) -> None:
        if self._naming is not None and self._naming.suspects:
            self.bench.go(self._naming.suspects[0].where)

    def _show_missed(self, channel: ContinuousChannel) -> None:
        """The largest error of each kind that the checks would let through; before any is taken those planned."""
        job, planned = self.bench.job, self._proof is None
        found = missed_by_plan(job, channel) if planned else missed_of(job, channel)
        self.missed_part.setVisible(bool(found) or not planned)
        if planned and not found:
            return
        self.missed_part.show_title("What the planned checks would miss" if planned else _MISSED)
        self.missed_words.setText(missed_words(found, () if planned else weaknesses_of(job, channel)))
        self.missed_part.show_summary(missed_summary(found, channel))
        allowed = channel.allowed_error()
        self.missed.show_bars(f"largest, {channel.unit}", missed_bars(found, allowed, channel), self.theme)

    def _show_checks(self, channel: ContinuousChannel, proof: Proof | None) -> None:
        while self._checks.count():
            item = self._checks.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                discard(widget)
        if proof is None:
            return
        for column, text in enumerate(("reference", "shows", "error", "of allowed", "")):
            self._put(0, column, text, "muted", 12)
        decimals = decimals_for(float(channel.tolerance.at(0.0, channel.span)) / 50)
        for n, check in enumerate(proof.checks[:40], 1):
            role = "good" if check.passed else "error"
            texts = (
                (fixed(check.reference, decimals), ""),
                (fixed(check.shown, decimals), ""),
                (signed(check.error, decimals), role),
                (f"{check.share:.0%} {outcome_words(check)}", role),
            )
            for column, (text, part) in enumerate(texts):
                self._put(n, column, text, part, 12)
            self._checks.addWidget(JawsCell(self.theme, check), n, 4)

    def _put(self, row: int, column: int, text: str, role: str, size: int) -> None:
        cell = PlainLabel(text)
        cell.setFont(font(size, QFont.Weight.Medium))
        cell.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role:
            cell.setProperty("role", role)
        self._checks.addWidget(cell, row, column)
