"""Pack: the calibration as the controller takes it, with the exact cost, ready to copy, save or write."""

from pathlib import Path

import numpy as np
from PySide6.QtGui import QFont, QGuiApplication
from PySide6.QtWidgets import QFileDialog, QPlainTextEdit, QPushButton

from ....core.curves import AnyCurve, ComposedCurve, MonotoneCubic, Table
from ....core.curves.bend import is_straight
from ....core.document.channel import ContinuousChannel
from ....core.forms.any_form import AnyForm
from ....core.forms.expression import FormulaText
from ....core.forms.function import CodeFunction
from ....core.forms.table import Knots
from ....core.job.in_force import believed, curve_in_use
from ....core.job.job import Job
from ....core.pack.begun import begun_in
from ....core.pack.doubts import doubts_about
from ....core.pack.hand_knots import even_knots, knots_in
from ....core.pack.inputs import pack_inputs
from ....core.pack.packed import Packed, packed_now
from ....core.pack.spared import (
    ends_shown,
    enough_digits,
    enough_step,
    faults_shown,
    fewer_knots,
    implied_digit,
    single_precision,
)
from ....core.results.basis import stale_fit, stale_pack
from ....core.results.choices import keep_packing
from ....core.words.errors import BadTable, YardstickError
from ....core.words.numerals import parse_number, significant
from ....files.exports import as_cells, save_packing
from ....files.output import file_name
from ...centre.sight import Sight
from ...frame.live import LiveBench
from ...frame.plain_text import tip
from ...frame.theme import Theme
from ...frame.workbench import Workbench, now
from ...panel.fields import ChoiceField, Complaint, TextField, label
from ...panel.lead_box import Act, Headline
from ...panel.numbers_table import NumbersTable
from ...panel.record_form import RecordForm, TickField
from ...panel.section import Section
from ...panel.step_panel import StepPanel
from ...panel.table_field import TableField
from .around_box import AroundBox
from .cost import CostBar, cost_of, places_of
from .given_box import GivenBox
from .lead import lead_of_packing
from .load_box import LoadBox
from .other_forms import FORM_TITLES, OtherForms
from .rows import FORM_ROWS, RARE_ROWS, clamp_words, has_rare_rows, is_placed, is_rarely_set
from .search_box import SearchBox

_SAVED_AS = "CSV (*.csv);;Workbook (*.xlsx);;JSON (*.json);;Text (*.txt)"


class PackPanel(StepPanel):
    """Form, settings, numbers, cost."""

    title = "Pack for the controller"

    def __init__(self, bench: Workbench, theme: Theme, sight: Sight, live: LiveBench) -> None:
        super().__init__(bench, theme)
        self._sight = sight
        self._knots: list[float] = []
        self._asked: AnyForm | None = None
        self._packed: Packed | None = None
        self._form = ChoiceField("Numeric form", FORM_TITLES, self._put_form)
        self._given = GivenBox(lambda fields: self._spec("numbers from elsewhere", fields))
        self.own_table = TableField(
            lambda signals, values, *_units: self._spec(
                "knots", {"own_knots": tuple(zip(signals, values, strict=True))}
            ),
            "Knots of your own: signal and value",
            "Paste or type the knots: signal, value, one row each",
        )
        self._settings = RecordForm(FORM_ROWS, self._put_settings)
        self._shared = TextField("Shared with", self._put_shared, hint="tags of other channels", optional=True)
        self._positions = TextField("Signals", self._put_positions, hint="0; 1; 2.5; 5")
        self._clamp = TickField("", lambda on: self._spec("clamp", {"clamp": on}))
        self._rare = RecordForm(RARE_ROWS, self._put_settings)
        self.more = QPushButton("More settings")
        self.more.setCheckable(True)
        self.more.setObjectName("quiet")
        self.more.toggled.connect(lambda _on: self.refresh())
        for widget in (
            self._form, self._settings, self._given, self.own_table, self._positions, self._clamp, self.more,
            self._rare, self._shared,
        ):  # fmt: skip
            self.body.addWidget(widget)
        self.searching = SearchBox(bench.search, "the best numbers")
        self.body.addWidget(self.searching)
        self.numbers = NumbersTable()
        self._text = self._text_box()
        self.body.addWidget(self.numbers)
        self.body.addWidget(self._text)
        self._build_cost(theme)
        self._ends = label("", "muted", 12)
        self.around_part = Section(bench, "pack/around", "Before and after")
        self.around = AroundBox(bench)
        self.around_part.add(self.around)
        self.load = LoadBox(bench, live)
        self.others = OtherForms(bench)
        for part in (self._ends, self.around_part, self.load, self.others):
            self.body.addWidget(part)
        self.body.addStretch(1)
        self.keep = self.action("Keep for the controller", self._keep, primary=True)
        self.copy = self.action("Copy", self.copy_cells)
        self.save = self.action("Save …", self._save)
        sight.moved.connect(self._tint)

    def _build_cost(self, theme: Theme) -> None:
        self._bound = label("", "good", 12)
        self._bar = CostBar(theme)
        self._where = label("", "muted", 12)
        self._advice = label("", "", 12)
        self._doubts = label("", "look", 12)
        self._complaint = Complaint()
        for widget in (self._bar, self._bound, self._where, self._advice, self._doubts, self._complaint):
            self.body.addWidget(widget)

    @staticmethod
    def _text_box() -> QPlainTextEdit:
        box = QPlainTextEdit()
        box.setReadOnly(True)
        box.setTabChangesFocus(True)
        box.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        box.setAccessibleName("Text for the controller")
        face = QFont("DejaVu Sans Mono")
        face.setStyleHint(QFont.StyleHint.Monospace)
        face.setPixelSize(12)
        box.setFont(face)
        box.setMinimumHeight(190)
        return box

    # -- sending back -----------------------------------------------------------------------------------------------

    def _spec(self, what: str, fields: dict[str, object]) -> None:
        channel = self.channel
        spec = channel.pack_spec.with_(**fields)
        self.change(f"{channel.tag}: {what}", channel.with_(pack_spec=spec))

    def _put_form(self, kind: str) -> None:
        channel = self.channel
        self.change(f"{channel.tag}: form", channel.with_(pack_spec=begun_in(channel, kind)))  # type: ignore[arg-type]

    def _put_settings(self, fields: dict[str, object]) -> None:
        spec = self.channel.pack_spec
        if fields.get("spacing") == "own" and not spec.own_knots:
            fields = {**fields, "own_knots": self._present_knots()}
        if fields.get("spacing") == "fixed" and len(spec.positions) < 2:
            fields = {**fields, "positions": tuple(x for x, _ in self._present_knots())}
        self._spec(next(iter(fields)).replace("_", " "), fields)

    def _present_knots(self) -> tuple[tuple[float, float], ...]:
        """The knots that stand there; while none are found yet, as many spread evenly over the curve."""
        job, channel = self.bench.job, self.channel
        if self.bench.has_numbers(channel):
            found = knots_in(packed_now(job, channel).form)
            if found is not None:
                return tuple(zip(found.signals, found.values, strict=True))
        use = curve_in_use(job, channel)
        return () if use is None else even_knots(believed(channel, use.curve), channel.pack_spec.knots)

    def _put_positions(self, text: str) -> None:
        parts = [part for part in text.replace("|", ";").split(";") if part.strip()]
        if len(parts) < 2:
            raise BadTable("Expected signals with semicolons between them, such as 0; 1; 2.5; 5.")
        self._spec("positions", {"positions": tuple(parse_number(part) for part in parts)})

    def _put_shared(self, text: str) -> None:
        tags = [part.strip() for part in text.replace(";", ",").split(",") if part.strip()]
        others = tuple(self.bench.job.tagged(tag).id for tag in tags)
        if self.channel.id in others:
            raise BadTable(f"{self.channel.tag} is this channel itself. Name the others that use the same table.")
        pack_inputs(self.bench.job, self.channel, self.channel.pack_spec.with_(shared_with=others))  # or refuses
        self._spec("channels that share the table", {"shared_with": others})

    def _keep(self) -> None:
        channel = self.channel
        packed = packed_now(self.bench.job, channel)
        doubts = doubts_about(self.bench.job, channel, packed)
        if doubts and self._asked != packed.form:
            self._asked = packed.form
            self.refresh()
            self.show_lead()
            self._complaint.setText(f"{' '.join(doubts)} Keep them all the same?")
            return
        try:
            self.bench.edit(f"{channel.tag}: packing", lambda job: keep_packing(job, channel.id, now()))
        except YardstickError as error:
            self._complaint.setText(str(error))

    def copy_cells(self) -> None:
        """Put the numbers on the clipboard as cells."""
        packed = packed_now(self.bench.job, self.channel)
        cells = packed.form.cells(self.channel.path.pin_unit, self.channel.unit)
        QGuiApplication.clipboard().setText(as_cells(cells))
        self.bench.said.emit(f"{len(cells.rows)} rows of numbers copied: paste them into a spreadsheet.", False)

    def _save(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self,
            "Save the numbers",
            file_name(self.channel.tag, ".csv"),
            _SAVED_AS,
        )
        if name:
            self.save_to(Path(name))

    def save_to(self, path: Path) -> None:
        """Write the numbers to a file in the format of its ending."""
        channel = self.channel
        try:
            packed = packed_now(self.bench.job, channel)
            save_packing(path, channel.tag, packed.form, packed.cost, channel.path.pin_unit, channel.unit)
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        self.bench.said.emit(f"Numbers of {channel.tag} saved in {path}.", False)

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.continuous
        if channel is None:
            return
        self._show_settings(channel)
        self._complaint.setText("")
        packed: Packed | None = None
        try:
            packed = packed_now(self.bench.job, channel) if self.bench.has_numbers(channel) else None
        except YardstickError as error:
            self._complaint.setText(str(error))
        self.searching.show_now(channel.unit)
        why_not = _why_not_given_out(self.bench.job, channel) if packed is not None else ""
        self.keep.setEnabled(packed is not None)
        for button in (self.copy, self.save):
            button.setEnabled(packed is not None and not why_not)
            button.setToolTip(tip(why_not))
        figures = (self._bound, self._bar, self._where, self._advice, self._doubts)
        for widget in (*figures, self._ends):
            widget.setVisible(packed is not None)
        form = None if packed is None else packed.form
        self._given.show_form(channel.pack_spec, form, pin=channel.path.pin_unit, unit=channel.unit)
        self._packed = packed
        self._show_packed(channel, packed)
        self.others.show_packed(channel, packed)
        self.around_part.show_summary(self.around.show_channel(channel))
        self.load.show_channel(channel)

    def lead(self) -> Headline | None:
        """What the numbers cost, and whether they are kept."""
        channel, packed = self.bench.continuous, self._packed
        if channel is None:
            return None
        use = curve_in_use(self.bench.job, channel)
        if use is None:
            return Headline("open", "There is no curve to pack yet.", "Describe the sensor, or fit readings.",
                        (Act("Gather readings", lambda: self.bench.go("gather")),))  # fmt: skip
        about = self._introduction(channel, packed)
        if packed is None:
            if self.bench.search.is_running:
                return Headline("open", "Looking for the best numbers …", about)
            return Headline("look", "Nothing can be packed so.", self._complaint.text() or about)
        lead = lead_of_packing(self.bench.job, channel, packed)
        lead = lead._replace(more=f"{lead.more} {about}".strip())
        return lead._replace(acts=(self.onward("prove"),)) if lead.level == "ok" else lead

    def _introduction(self, channel: ContinuousChannel, packed: Packed | None) -> str:
        use = curve_in_use(self.bench.job, channel)
        if use is None:
            return ""
        if channel.pack_spec.given:
            return f"Numbers from elsewhere, measured against the {use.caption} curve."
        straight = packed is not None and not hasattr(packed.form.continuous(channel.path.converter.nominal), "signals")
        if straight and not is_straight(use.curve) and channel.pack_spec.form not in ("poly", "formula"):
            return "The curve bends, so one straight line costs what is stated below. A table of knots follows it."
        return f"The {use.caption} curve, as this controller takes it.{_between_rows(use.curve)}"

    def show_draft(self, channel: ContinuousChannel) -> None:
        """What numbers would cost that are only tried, such as a knot that is being dragged."""
        self._packed = packed_now(self.bench.job, channel)
        self._show_packed(channel, self._packed)
        self.show_lead()

    def _show_packed(self, channel: ContinuousChannel, packed: Packed | None) -> None:
        is_text = packed is not None and isinstance(packed.form, CodeFunction | FormulaText)
        self.numbers.setVisible(packed is not None and not is_text)
        self._text.setVisible(is_text)
        if packed is None:
            return
        if isinstance(packed.form, CodeFunction | FormulaText):
            form = packed.form
            self._text.setPlainText(form.written if isinstance(form, FormulaText) else form.text)
        else:
            self._show_numbers(channel, packed.form)
            self._tint()
        self._show_cost(channel, packed)
        self._show_status(channel, packed)

    def _show_settings(self, channel: ContinuousChannel) -> None:
        spec = channel.pack_spec
        self._form.show_value(spec.form)
        end = channel.path.node_units[0] if spec.ends_at == "output" else channel.path.pin_unit
        self._settings.show_record(spec, pin=channel.path.pin_unit, unit=channel.unit, end=end)
        unfolded = self.more.isChecked() or is_rarely_set(spec)
        self.more.setVisible(has_rare_rows(spec) and not is_rarely_set(spec))
        self.more.setText("Fewer settings" if self.more.isChecked() else "More settings: ends, limits, a wanted error")
        self._rare.setVisible(unfolded)
        self._rare.show_record(spec, pin=channel.path.pin_unit, unit=channel.unit)
        self._shared.setVisible(bool(spec.shared_with) or (unfolded and is_placed(spec)))
        self._shared.show_values(", ".join(self.bench.job.channel(one).tag for one in spec.shared_with))
        self.own_table.setVisible(spec.form == "knots" and spec.spacing == "own")
        self.own_table.show_rows([x for x, _ in spec.own_knots], [y for _, y in spec.own_knots])
        self._positions.setVisible(
            spec.spacing == "fixed" and bool(clamp_words(spec)) and spec.form not in ("ends", "span")
        )
        self._positions.show_values("; ".join(f"{x:.9g}" for x in spec.positions), suffix=channel.path.pin_unit)
        words = clamp_words(spec)
        self._clamp.setVisible(bool(words))
        self._clamp.box.setText(words)
        self._clamp.show_value(spec.clamp)

    def _show_numbers(self, channel: ContinuousChannel, form: AnyForm) -> None:
        cells = form.cells(channel.path.pin_unit, channel.unit)
        self._knots = list(form.signals) if isinstance(form, Knots) else []
        self.numbers.show_cells(cells)

    def _tint(self) -> None:
        """Mark the two knots between which the hairline stands."""
        if not self.numbers.isVisible() or not self._knots:
            return
        stands = int(np.searchsorted(self._knots, self._sight.pin)) - 1
        between = 0 <= stands < len(self._knots) - 1
        self.numbers.tint((stands, stands + 1) if between else (), self.theme)

    def _show_cost(self, channel: ContinuousChannel, packed: Packed) -> None:
        cost = cost_of(self.bench.job, channel, packed)
        share = "" if cost.is_exact else f"{significant(packed.worst.percent_of_span, 2)} % of span"
        is_proven = cost.bound is not None and not cost.is_exact
        bound = f"none can do better than {cost.beside(cost.bound or 0.0)}" if is_proven else ""
        self._bound.setText(bound or share)
        self._bound.setProperty("role", "good" if bound else "muted")
        self._bound.style().polish(self._bound)
        self._bar.show_cost(cost, self.theme)
        self._where.setText(places_of(channel, packed))
        spec = channel.pack_spec
        doubts = doubts_about(self.bench.job, channel, packed)
        self._doubts.setText(" ".join(doubts))
        self._doubts.setVisible(bool(doubts))
        said = [
            fewer_knots(self.bench.job, channel, packed),
            enough_digits(self.bench.job, channel, spec),
            enough_step(channel, spec),
            single_precision(channel, packed.form),
            implied_digit(channel, packed.form),
            faults_shown(channel, packed.form),
        ]
        self._advice.setText(" ".join(text for text in said if text))
        self._advice.setVisible(bool(self._advice.text()))
        self._ends.setText(ends_shown(channel, packed.form))

    def _show_status(self, channel: ContinuousChannel, packed: Packed) -> None:
        record = self.bench.job.pack_of(channel.id)
        stale = stale_pack(self.bench.job, channel)
        same = record is not None and record.form == packed.form and record.unit == channel.unit and not stale
        asked = "Keep all the same" if self._asked == packed.form and not same else "Keep for the controller"
        self.keep.setText("Kept for the controller" if same else asked)
        stale_curve = stale_fit(self.bench.job, channel)  # packing it again would change nothing
        self.keep.setEnabled(not same and not stale_curve)


def _why_not_given_out(job: Job, channel: ContinuousChannel) -> str:
    """Why numbers that would be made now are neither copied nor saved; empty if they are."""
    stale = stale_fit(job, channel)
    return f"The curve is out of date: {', '.join(stale)}. Choose it anew at Fit first." if stale else ""


def _between_rows(curve: AnyCurve) -> str:
    """What is taken for true between the rows of a table; nothing for another curve."""
    inner = curve.curve if isinstance(curve, ComposedCurve) else curve
    if isinstance(inner, MonotoneCubic):
        return f" Between its {len(inner.signals)} rows a monotone cubic is taken for true."
    if isinstance(inner, Table):
        return f" Between its {len(inner.signals)} rows straight lines are taken for true."
    return ""
