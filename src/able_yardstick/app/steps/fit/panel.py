"""Fit: the curves on offer side by side with what each is worth; one is chosen."""

from itertools import pairwise
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPlainTextEdit, QPushButton, QVBoxLayout

from ....core.document.channel import ContinuousChannel
from ....core.document.nominal import nominal_curve, zero_of
from ....core.fit.assumed import standing_of
from ....core.fit.assumption_cost import assumption_cost
from ....core.fit.budget import FitBudget, fit_budget, reach_of
from ....core.fit.inputs import fit_inputs
from ....core.fit.linearity import ReadingRun, linearity_of
from ....core.fit.on_offer import candidates_of, recommended, worth_in
from ....core.gather.points import Points, points_of
from ....core.job.in_force import curve_in_use
from ....core.regression.choice import Candidate
from ....core.regression.fitted import Fitted
from ....core.regression.free_formula import starts_for, starts_of
from ....core.regression.kinds import ModelName
from ....core.regression.worth import aicc_of
from ....core.results.basis import stale_fit
from ....core.results.choices import use_curve
from ....core.words.errors import YardstickError
from ....core.words.numerals import fixed, parse_number
from ...frame.theme import Theme, bold
from ...frame.widgets import discard
from ...frame.workbench import Workbench, now
from ...panel.bar_table import BarTable
from ...panel.fields import ChoiceField, Complaint, FoldButton, TextField, label, rule_line
from ...panel.figures import FigureTable
from ...panel.lead_box import Act, Headline
from ...panel.record_form import FieldRow, RecordForm, plain
from ...panel.section import Section
from ...panel.sentences import tolerance_sentence
from ...panel.step_panel import StepPanel
from .lead import lead_of_curve
from .rows import CandidateRow, Sizes
from .words import equation, introduction, reach_sentence, spread_sentence
from .worth import (
    assumption_sentences,
    budget_bars,
    coefficients_text,
    growth_sentence,
    linearity_meanings,
    linearity_rows,
    linearity_summary,
    trust_sentence,
    uncertainty_title,
    worth_sentences,
)

_MOST_LINES = 16
_FIRST_SEEN: tuple[ModelName, ...] = ("nominal", "two-point", "through-zero", "line", "poly2", "table")
_WEIGHINGS = (("own uncertainty", "by their own uncertainty"), ("all the same", "all the same"))
_SETTINGS = (
    FieldRow("Weigh readings", ("weigh",), kind="choice", choices=_WEIGHINGS),
    FieldRow("Robust: name readings that lie far off", ("robust",), kind="tick"),
    FieldRow("Formula of x", ("formula",), kind="text", hint="p*x/(q+x)+r, x is the signal"),
)


class FitPanel(StepPanel):
    """Candidates, the equation of the one looked at, what it is worth, and the button that chooses it."""

    title = "Fit a curve"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self._tolerance = TextField("Fixed error ±", self._put_tolerance)
        self._allowed = label("", "muted", 12)
        self.standing = label("", "look")
        self.body.addWidget(self.standing)
        self.body.addWidget(self._tolerance)
        self.body.addWidget(self._allowed)
        self._build_rows()
        self._equation_box = self._equation_card()
        self.body.addWidget(self._equation_box)
        self._spread = label("", "muted", 12)
        self.body.addWidget(self._spread)
        self._build_coefficients()
        self._build_worth()
        self._complaint = Complaint()
        self.body.addWidget(self._complaint)
        self.body.addStretch(1)
        self.use = self.action("Use this curve", self._use, primary=True)

    def _build_rows(self) -> None:
        self.body.addLayout(self._headings())
        self._rows_box = QVBoxLayout()
        self._rows_box.setSpacing(2)
        self.body.addLayout(self._rows_box)
        self._rows: dict[ModelName, CandidateRow] = {}
        self.more = QPushButton()
        self.more.setCheckable(True)
        self.more.toggled.connect(lambda _on: self.refresh())
        self.body.addWidget(self.more)
        self.settings = RecordForm(_SETTINGS, self._put_settings)
        self._starts = TextField("Starts", self._put_starts, hint="p=12, q=3, r=0.5", optional=True)
        self._first = ChoiceField("First point", (), lambda _: self._put_points())
        self._second = ChoiceField("Second point", (), lambda _: self._put_points())
        self._zero = TextField("Zero at", self._put_zero, parts=2, between="→")
        for widget in (self.settings, self._starts, self._first, self._second, self._zero):
            self.body.addWidget(widget)

    def _build_coefficients(self) -> None:
        self.coefficients_button = FoldButton("Coefficients and covariance")
        self.coefficients_button.toggled.connect(lambda _on: self.refresh())
        self.coefficients = QPlainTextEdit()
        self.coefficients.setReadOnly(True)
        self.coefficients.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.coefficients.setAccessibleName("Coefficients with standard errors and covariance")
        self.coefficients.setStyleSheet("font-family: 'DejaVu Sans Mono', monospace; font-size: 12px")
        self.body.addWidget(self.coefficients_button)
        self.body.addWidget(self.coefficients)

    def _build_worth(self) -> None:
        self.body.addWidget(rule_line())
        self._trust = label("", "muted", 12)
        self.worth = label("", "", 12)
        self.bends = Section(self.bench, "fit/linearity", "Linearity of the sensor")
        self.linearity = FigureTable("Linearity of the sensor")
        self.linearity_says = label("", "muted", 12)
        self.uncertainty = Section(self.bench, "fit/budget", "Uncertainty", opened=True)
        self.budget_place = label("", "muted", 12)
        self.budget = BarTable("Budget of the expanded uncertainty")
        self.budget_remarks = label("", "muted", 12)
        self._reach = label("")
        for widget in (
            self._trust, self.worth, self._reach, self.uncertainty, self.bends,
        ):  # fmt: skip
            self.body.addWidget(widget)
        self.bends.add(self.linearity, self.linearity_says)
        self.uncertainty.add(self.budget_place, self.budget, self.budget_remarks)

    def _headings(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(6, 4, 4, 0)
        row.setSpacing(4)
        row.addWidget(label("Curves on offer", "muted", 12), 1)
        for text, width in (("largest", 40), ("std err", 40), ("dof", 22), ("errors", 38)):
            part = label(text, "muted", 12)
            part.setWordWrap(False)
            part.setAlignment(Qt.AlignmentFlag.AlignRight)
            part.setFixedWidth(width)
            row.addWidget(part)
        return row

    def _equation_card(self) -> QFrame:
        card = QFrame()
        card.setObjectName("note")
        column = QVBoxLayout(card)
        column.setContentsMargins(10, 7, 10, 7)
        self._equation = label("")
        self._equation.setFont(bold(14))
        self._equation.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(self._equation)
        self.expanded = label("", "", 12)
        column.addWidget(self.expanded)
        return card

    # -- sending back -----------------------------------------------------------------------------------------------

    def _put_tolerance(self, text: str) -> None:
        channel = self.channel
        tolerance = channel.tolerance.with_(constant=parse_number(text))
        self.change(f"{channel.tag}: tolerance", channel.with_(tolerance=tolerance))

    def _put_points(self) -> None:
        pair = (str(self._first.box.currentData()), str(self._second.box.currentData()))
        self.change(f"{self.channel.tag}: two points", self.channel.with_(two_points=pair))

    def _put_zero(self, signal: str, value: str) -> None:
        zero = (parse_number(signal), parse_number(value))
        self.change(f"{self.channel.tag}: given zero", self.channel.with_(zero=zero))

    def _put_settings(self, changes: dict[str, Any]) -> None:
        channel = self.channel
        if "formula" in changes:
            changes["start"] = starts_for(changes["formula"], channel.fit_settings.start)
        settings = channel.fit_settings.with_(**changes)
        self.change(f"{channel.tag}: how it is fitted", channel.with_(fit_settings=settings))

    def _put_starts(self, text: str) -> None:
        self._put_settings({"start": starts_of(text)})

    def look_at(self, model: ModelName) -> None:
        """Picture another candidate."""
        self.bench.look_at_candidate(model)

    def _use(self) -> None:
        channel, model = self.channel, self._looked_at(candidates_of(self.bench.job, self.channel))
        if model is None:
            return
        try:
            self.bench.edit(f"{channel.tag}: curve", lambda job: use_curve(job, channel.id, model.model, now()))
        except YardstickError as error:
            self._complaint.setText(str(error))

    # -- showing ----------------------------------------------------------------------------------------------------

    def _looked_at(self, rows: list[Candidate]) -> Candidate | None:
        by_model = {row.model: row for row in rows if row.usable}
        for model in (self.bench.candidate, "line", "nominal"):
            if model in by_model:
                return by_model[model]
        return next(iter(by_model.values()), None)

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.continuous
        if channel is None:
            return
        rows = candidates_of(self.bench.job, channel)
        looked_at = self._looked_at(rows)
        self._complaint.setText("")
        self._tolerance.show_values(plain(channel.tolerance.constant), suffix=channel.unit)
        self._allowed.setText(tolerance_sentence(channel, channel.tolerance))
        self._show_rows(channel, rows, looked_at)
        points = points_of(self.bench.job, channel)
        self._show_settings(channel, points, looked_at)
        self._show_looked_at(channel, looked_at)

    def lead(self) -> Headline | None:
        """Which curve is in use and what it is worth, or which would do."""
        channel = self.bench.continuous
        if channel is None:
            return None
        rows = candidates_of(self.bench.job, channel)
        advised = recommended(self.bench.job, channel)
        lead = lead_of_curve(self.bench.job, channel, introduction(channel, rows, advised), self.expanded.text())
        if lead.level in ("ok", "look") and not self.use.isEnabled():
            return lead._replace(acts=(self.onward("pack"),))
        if not points_of(self.bench.job, channel).rows:
            return lead._replace(acts=(Act("Gather readings", lambda: self.bench.go("gather")),))
        if advised is not None and self._looked_at(rows) not in (None, advised.candidate):
            model = advised.candidate.model
            return lead._replace(acts=(Act("Look at the one advised", lambda: self.look_at(model)),))
        return lead

    def _show_rows(self, channel: ContinuousChannel, rows: list[Candidate], looked_at: Candidate | None) -> None:
        record = self.bench.job.fit_of(channel.id)
        advised = recommended(self.bench.job, channel)
        kept = {looked_at.model if looked_at else None, record.fitted.spec.model if record else None}
        kept.add(advised.candidate.model if advised else None)
        seen = [row for row in rows if self.more.isChecked() or row.model in _FIRST_SEEN or row.model in kept]
        self._show_more(len(rows) - len(seen), bool(points_of(self.bench.job, channel).rows))
        sizes = [row.fitted.largest_error for row in rows if row.fitted and row.model in ("line", "poly2", "table")]
        widest = max([*sizes, float(channel.tolerance.at(0.0, channel.span))]) or 1.0
        finest = min((size for size in sizes if size > 0.001 * widest), default=widest)
        present = [row.model for row in seen]
        for model in [model for model in self._rows if model not in present]:
            discard(self._rows.pop(model))
        for place, row in enumerate(seen):
            if row.model not in self._rows:
                self._rows[row.model] = CandidateRow(self.look_at, row.model, self.theme)
            self._place_row(self._rows[row.model], place)
            marks = []
            if advised is not None and advised.candidate.model == row.model:
                marks.append("recommended")
            if record is not None and record.fitted.spec.model == row.model:
                marks.append("in use")
            looked = looked_at is not None and row.model == looked_at.model
            self._rows[row.model].show_candidate(row, looked, marks, Sizes(widest, finest), self.theme, channel.unit)
        if list(self._rows) == present:
            return
        self._rows = {model: self._rows[model] for model in present}
        for first, second in pairwise(self._rows.values()):
            self.setTabOrder(first.button, second.button)

    def _place_row(self, row: CandidateRow, place: int) -> None:
        if self._rows_box.indexOf(row) != place:
            self._rows_box.removeWidget(row)
            self._rows_box.insertWidget(place, row)

    def _show_more(self, hidden: int, any_readings: bool) -> None:
        self.more.setVisible(any_readings)
        self.more.setText("Fewer curves" if self.more.isChecked() else f"{hidden} more curves, weights, a formula…")

    def _show_settings(self, channel: ContinuousChannel, points: Points, looked_at: Candidate | None) -> None:
        model = looked_at.model if looked_at else None
        open_ = self.more.isChecked() and self.more.isVisibleTo(self)
        self.settings.setVisible(open_)
        self.settings.show_record(channel.fit_settings)
        self._starts.setVisible(open_ and bool(channel.fit_settings.formula))
        self._starts.show_values(", ".join(f"{name}={plain(value)}" for name, value in channel.fit_settings.start))
        for field in (self._first, self._second):
            field.setVisible(model == "two-point")
        self._zero.setVisible(model == "through-zero")
        if model == "two-point" and looked_at and looked_at.fitted:
            unit = channel.path.pin_unit
            choices = [
                (row.reading.id, f"{fixed(x, 4)} {unit} → {fixed(y, 2)} {channel.unit}")
                for row, x, y in zip(points.rows, points.signal, points.reference, strict=True)
            ]
            spec = looked_at.fitted.spec
            for field, at in ((self._first, spec.first), (self._second, spec.second)):
                field.offer(choices)
                field.show_value(points.rows[at or 0].reading.id)
        signal, value = zero_of(channel)
        self._zero.show_values(f"{signal:.6g}", f"{value:.6g}", suffix=f"{channel.path.pin_unit} → {channel.unit}")

    def _show_looked_at(self, channel: ContinuousChannel, looked_at: Candidate | None) -> None:
        fitted = looked_at.fitted if looked_at else None
        self._equation_box.setVisible(fitted is not None)
        self.use.setEnabled(fitted is not None)
        self._show_coefficients(fitted)
        self._show_worth(channel, fitted)
        self._show_budget(channel, fitted)
        if fitted is None:
            self._spread.setText("")
            return
        self._equation.setText(equation(fitted, channel))
        self._spread.setText(spread_sentence(fitted, channel))
        record = self.bench.job.fit_of(channel.id)
        stale = stale_fit(self.bench.job, channel)
        in_use = record is not None and record.fitted.spec.model == fitted.spec.model and not stale
        same = in_use and curve_in_use(self.bench.job, channel) is not None and record is not None
        same = same and record.fitted.curve == fitted.curve if record else False
        self.use.setText("This curve is in use" if same else "Use this curve")
        self.use.setEnabled(not same)

    def _show_coefficients(self, fitted: Fitted | None) -> None:
        text = coefficients_text(fitted) if fitted is not None and fitted.spec.model != "nominal" else ""
        self.coefficients_button.setVisible(bool(text))
        self.coefficients.setVisible(bool(text) and self.coefficients_button.isChecked())
        self.coefficients.setPlainText(text)
        line = self.coefficients.fontMetrics().lineSpacing()
        self.coefficients.setFixedHeight(min(text.count("\n") + 3, _MOST_LINES) * line)

    def _show_worth(self, channel: ContinuousChannel, fitted: Fitted | None) -> None:
        """The tests of the curve looked at, and the linearity of the sensor, where there are readings."""
        job = self.bench.job
        points = points_of(job, channel)
        there = fitted is not None and bool(points.rows) and fitted.spec.model != "nominal"
        self.worth.setVisible(there)
        self._trust.setText(
            trust_sentence(fitted, fit_inputs(job, channel).doubts is not None, channel) if fitted else ""
        )
        self._trust.setVisible(bool(self._trust.text()))
        if there and fitted is not None:
            worth = worth_in(fit_inputs(job, channel), fitted)
            self.worth.setText(worth_sentences(fitted, worth, self._least_aicc(channel), channel.unit))
        self._show_standing(channel, bool(points.rows), fitted)
        directions = tuple(row.reading.direction for row in points.rows)
        stops = fit_inputs(job, channel).repeats
        run = ReadingRun(points.signal, points.reference, directions, channel.range, nominal_curve(channel), stops)
        found = linearity_of(run)
        self.linearity.show_rows(("", channel.unit, "% of span"), linearity_rows(found), self.theme)
        self.linearity.setToolTip(linearity_meanings(found))
        self.bends.setVisible(bool(found.terms))
        self.bends.show_summary(linearity_summary(found))
        self.linearity_says.setText(found.says)

    def _show_standing(self, channel: ContinuousChannel, any_readings: bool, fitted: Fitted | None) -> None:
        standing = standing_of(self.bench.job, channel)
        assumed = f"Linearity is assumed: {standing.assumed}." if standing.assumed and any_readings else ""
        costs = () if fitted is None else assumption_cost(fit_inputs(self.bench.job, channel), fitted.spec.model)
        parts = (assumed, assumption_sentences(costs, channel.unit), standing.more)
        self.standing.setText(" ".join(part for part in parts if part))
        self.standing.setVisible(bool(self.standing.text()))

    def _least_aicc(self, channel: ContinuousChannel) -> tuple[str, float] | None:
        found = [
            (row.title, figure)
            for row in candidates_of(self.bench.job, channel)
            if row.usable and row.fitted is not None and row.model != "nominal"
            if (figure := aicc_of(row.fitted)) is not None
        ]
        return min(found, key=lambda one: one[1], default=None)

    def _show_budget(self, channel: ContinuousChannel, fitted: Fitted | None) -> None:
        """U where it is largest within the readings, with everything it is made of."""
        job = self.bench.job
        reach = None if fitted is None else reach_of(job, channel, fitted.spec.model)
        budget = None if fitted is None or reach is None else fit_budget(fit_inputs(job, channel), fitted, reach.inside)
        self.uncertainty.setVisible(budget is not None)
        self.budget.show_bars(f"u, {channel.unit}", budget_bars(budget) if budget else (), self.theme)
        remarks = " ".join(budget.remarks) if budget else ""
        self.budget_remarks.setText(remarks)
        self.budget_remarks.setVisible(bool(remarks))
        self.expanded.setText(_expanded_words(channel, fitted, budget))
        said = reach_sentence(fitted, channel) if fitted is not None else ""
        if budget is not None and fitted is not None and reach is not None:
            self.uncertainty.show_summary(f"U = {uncertainty_title(budget, channel)}")
            at = f"{fixed(float(fitted.curve.value(reach.inside)), 2)} {channel.unit}"
            self.budget_place.setText(f"95 %, at {at}, where it is largest within the readings")
            said = f"{said} {growth_sentence(fitted, reach, channel)}"
        self._reach.setText(said)


def _expanded_words(channel: ContinuousChannel, fitted: Fitted | None, budget: FitBudget | None) -> str:
    """How far an indication may be off, or why that is not known."""
    if budget is not None:
        return f"U = {uncertainty_title(budget, channel)} at most within the readings, 95 %"
    if fitted is None or fitted.spec.model == "nominal":
        return "U is not known: nothing was fitted, see Wire for what tolerances allow"
    return f"U is not known: {fitted.why_no_spread}"
