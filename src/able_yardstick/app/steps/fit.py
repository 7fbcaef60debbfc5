"""Fit: the curves on offer side by side; one is chosen."""

from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QRadioButton, QVBoxLayout, QWidget

from ...core import edits
from ...core.calibration import Points, candidates_of, curve_in_use, points_of, stale_fit, zero_of
from ...core.channel import ContinuousChannel
from ...core.curves import Line, Polynomial, Table
from ...core.errors import YardstickError
from ...core.fit import Candidate, Fitted, ModelName
from ...core.numerals import decimals_for, fixed, parse_number, significant
from ..theme import Theme, bold, font
from ..widgets import discard
from ..workbench import Workbench, now
from .describe_transducer import tolerance_sentence
from .fields import ChoiceField, Complaint, TextField, label, rule_line
from .panel import StepPanel
from .record_form import plain


class ErrorSketch(QWidget):
    """The errors of a candidate in little: what shape they have."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._x: list[float] = []
        self._y: list[float] = []
        self._scale = 1.0
        self.setFixedSize(QSize(38, 24))

    def show_errors(self, fitted: Fitted | None, scale: float, theme: Theme) -> None:
        """Take the errors of a fit, drawn to a common scale."""
        self._theme, self._scale = theme, scale or 1.0
        order = np.argsort(fitted.signals).tolist() if fitted else []
        self._x = [fitted.signals[n] for n in order] if fitted else []
        self._y = [fitted.errors[n] for n in order] if fitted else []
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = self.height() / 2
        painter.setPen(QPen(self._theme.color("line"), 1))
        painter.drawLine(QPointF(0, middle), QPointF(self.width(), middle))
        if len(self._x) > 1:
            low, span = self._x[0], (self._x[-1] - self._x[0]) or 1.0
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self._theme.color("teal"))
            for x, y in zip(self._x, self._y, strict=True):
                share = max(min(y / self._scale, 1.0), -1.0)
                spot = QPointF(3 + (x - low) / span * (self.width() - 6), middle - share * (middle - 3))
                painter.drawEllipse(spot, 1.6, 1.6)
        painter.end()


class Sizes(NamedTuple):
    """The widest error beside the candidates, to which sketches are drawn, and the finest, which sets the digits."""

    widest: float
    finest: float


class CandidateRow(QFrame):
    """One curve on offer: its largest error, standard error and freedom, or why it is refused."""

    def __init__(self, panel: "FitPanel", model: ModelName, theme: Theme) -> None:
        super().__init__()
        self._panel, self.model = panel, model
        grid = QGridLayout(self)
        grid.setContentsMargins(6, 4, 4, 4)
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(0)
        self.button = QRadioButton()
        self.button.setFont(bold(13))
        self.button.toggled.connect(lambda on: panel.look_at(model) if on else None)
        self._numbers = [QLabel() for _ in range(3)]
        grid.addWidget(self.button, 0, 0)
        self._words = label("", "muted", 11)
        grid.addWidget(self._words, 1, 0, 1, 5)
        for column, number in enumerate(self._numbers):
            number.setFont(font(13))
            number.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            number.setFixedWidth((40, 40, 22)[column])
            grid.addWidget(number, 0, column + 1)
        self._sketch = ErrorSketch(theme)
        grid.addWidget(self._sketch, 0, 4)
        grid.setColumnStretch(0, 1)

    def show_candidate(
        self, row: Candidate, looked_at: bool, chosen: bool, sizes: Sizes, theme: Theme, unit: str
    ) -> None:
        """Show how a candidate does."""
        fitted = row.fitted
        self.button.blockSignals(True)
        self.button.setChecked(looked_at)
        self.button.blockSignals(False)
        self.button.setEnabled(row.usable)
        self.button.setText(row.title)
        texts = ("—", "—", "—")
        if fitted is not None and fitted.signals:
            spread = "—" if fitted.residual_sd is None else _compact(fitted.residual_sd, sizes.finest)
            texts = (_compact(fitted.largest_error, sizes.finest), spread, str(fitted.dof))
        for part, text in zip(self._numbers, texts, strict=True):
            part.setText(text)
        self._numbers[1].setToolTip(fitted.why_no_spread if fitted and fitted.residual_sd is None else "")
        self._words.setText(row.refusal or self._said(fitted, chosen))
        self._words.setProperty("role", "error" if row.refusal else "muted")
        self._words.style().polish(self._words)
        self._sketch.show_errors(fitted, sizes.widest, theme)
        fill = theme.accent_fill if looked_at else "transparent"
        edge = theme.accent if looked_at else "transparent"
        self.setStyleSheet(f"CandidateRow {{ background: {fill}; border: 1px solid {edge}; border-radius: 5px; }}")
        self.button.setAccessibleDescription(
            f"largest error {texts[0]} {unit}, standard error {texts[1]}. {row.refusal}"
        )

    @staticmethod
    def _said(fitted: Fitted | None, chosen: bool) -> str:
        if fitted is None:
            return ""
        parts = ["in use"] if chosen else []
        if fitted.spec.model == "nominal":
            parts.append("nothing fitted")
        else:
            noun = "knot" if fitted.spec.model == "table" else "number"
            parts.append(f"{fitted.numbers} {noun}" + ("s" if fitted.numbers > 1 else ""))
        return ", ".join([*parts, *([fitted.remark] if fitted.remark else [])])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.button.isEnabled():
            self.button.setChecked(True)
        super().mousePressEvent(event)


class FitPanel(StepPanel):
    """Candidates, the equation of the one looked at, its reach, and the button that chooses it."""

    title = "Fit a curve"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self._tolerance = TextField("Fixed error ±", self._put_tolerance)
        self._allowed = label("", "muted", 12)
        self.body.addWidget(self._tolerance)
        self.body.addWidget(self._allowed)
        self.body.addLayout(self._headings())
        self._rows_box = QVBoxLayout()
        self._rows_box.setSpacing(2)
        self.body.addLayout(self._rows_box)
        self._rows: dict[ModelName, CandidateRow] = {}
        self._first = ChoiceField("First point", (), lambda _: self._put_points())
        self._second = ChoiceField("Second point", (), lambda _: self._put_points())
        self._zero = TextField("Zero at", self._put_zero, parts=2, between="→")
        for widget in (self._first, self._second, self._zero):
            self.body.addWidget(widget)
        self._equation_box = self._equation_card()
        self.body.addWidget(self._equation_box)
        self._spread = label("", "muted", 12)
        self.body.addWidget(self._spread)
        self.body.addWidget(rule_line())
        self._reach = label("")
        self.body.addWidget(self._reach)
        self._complaint = Complaint()
        self.body.addWidget(self._complaint)
        self.body.addStretch(1)
        self.use = self.action("Use this curve", self._use, primary=True)

    def _headings(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(6, 4, 4, 0)
        row.setSpacing(4)
        row.addWidget(label("Curves on offer", "muted", 11), 1)
        for text, width in (("largest", 40), ("std err", 40), ("dof", 22), ("errors", 38)):
            part = label(text, "muted", 11)
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

    def look_at(self, model: ModelName) -> None:
        """Picture another candidate."""
        self.bench.look_at_candidate(model)

    def _use(self) -> None:
        channel, model = self.channel, self._looked_at(candidates_of(self.bench.job, self.channel))
        if model is None:
            return
        try:
            self.bench.edit(f"{channel.tag}: curve", lambda job: edits.use_curve(job, channel.id, model.model, now()))
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
        self.intro.setText(self._introduction(channel, rows))
        self._show_looked_at(channel, looked_at)

    def _show_rows(self, channel: ContinuousChannel, rows: list[Candidate], looked_at: Candidate | None) -> None:
        record = self.bench.job.fit_of(channel.id)
        sizes = [row.fitted.largest_error for row in rows if row.fitted and row.model in ("line", "poly2", "table")]
        widest = max([*sizes, float(channel.tolerance.at(0.0, channel.span))]) or 1.0
        finest = min((size for size in sizes if size > 0.001 * widest), default=widest)
        present = [row.model for row in rows]
        for model in [model for model in self._rows if model not in present]:
            discard(self._rows.pop(model))
        for place, row in enumerate(rows):
            if row.model not in self._rows:
                self._rows[row.model] = CandidateRow(self, row.model, self.theme)
                self._rows_box.insertWidget(place, self._rows[row.model])
            chosen = record is not None and record.fitted.spec.model == row.model
            looked = looked_at is not None and row.model == looked_at.model
            widths = Sizes(widest, finest)
            self._rows[row.model].show_candidate(row, looked, chosen, widths, self.theme, channel.unit)

    def _show_settings(self, channel: ContinuousChannel, points: Points, looked_at: Candidate | None) -> None:
        model = looked_at.model if looked_at else None
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

    def _introduction(self, channel: ContinuousChannel, rows: list[Candidate]) -> str:
        if not rows:
            return "There is nothing to fit yet. Gather readings, or describe the transducer."
        fitted = [row for row in rows if row.usable and row.fitted and row.fitted.signals]
        if not fitted:
            return "No readings yet: only the described curve is on offer. It says nothing of this one sensor."
        if not channel.tolerance.is_stated:
            return "State the error allowed, and it will be seen which curves are good enough."
        inside = [row.title for row in fitted if self._stays_within(channel, row)]
        if not inside:
            return "No curve stays within the error allowed at every reading."
        if len(inside) == len(fitted):
            return "Every curve stays within the error allowed. The one with the fewest numbers will do."
        return f"Within the error allowed at every reading: {', '.join(title.lower() for title in inside)}."

    @staticmethod
    def _stays_within(channel: ContinuousChannel, row: Candidate) -> bool:
        assert row.fitted is not None
        errors = np.abs(np.array(row.fitted.errors))
        values = row.fitted.curve.value(np.array(row.fitted.signals))
        return bool(np.all(errors <= channel.tolerance.at(values, channel.span)))

    def _show_looked_at(self, channel: ContinuousChannel, looked_at: Candidate | None) -> None:
        fitted = looked_at.fitted if looked_at else None
        self._equation_box.setVisible(fitted is not None)
        self.use.setEnabled(fitted is not None)
        if fitted is None:
            self._reach.setText("")
            self._spread.setText("")
            return
        self._equation.setText(equation(fitted, channel))
        self._spread.setText(spread_sentence(fitted, channel))
        self._reach.setText(reach_sentence(fitted, channel))
        record = self.bench.job.fit_of(channel.id)
        stale = stale_fit(self.bench.job, channel)
        in_use = record is not None and record.fitted.spec.model == fitted.spec.model and not stale
        same = in_use and curve_in_use(self.bench.job, channel) is not None and record is not None
        same = same and record.fitted.curve == fitted.curve if record else False
        self.use.setText("This curve is in use" if same else "Use this curve")
        self.use.setEnabled(not same)
        if stale and record is not None:
            self._complaint.setText(f"The curve in use is out of date: {', '.join(stale)}. Choose it anew.")


def _compact(value: float, finest: float) -> str:
    """A size to two digits of the finest beside it, with fewer decimals where it is far larger."""
    room = 4 - len(f"{value:.0f}")
    return fixed(value, max(min(decimals_for(finest / 10), room), 0))


def equation(fitted: Fitted, channel: ContinuousChannel) -> str:
    """The curve as an equation in the signal at the pin."""
    curve = fitted.curve
    unit, pin = channel.unit, channel.path.pin_unit
    if isinstance(curve, Table):
        return f"{len(curve.signals)} knots, joined by straight lines"
    if not isinstance(curve, Line | Polynomial):
        return f"by its {curve.name}, seen through the signal path"
    powers = curve.powers
    terms = [f"{significant(abs(powers[-1]))} x" + ("²" if len(powers) > 2 else "")]
    signs = ["−" if powers[-1] < 0 else ""]
    for power in range(len(powers) - 2, -1, -1):
        signs.append(" − " if powers[power] < 0 else " + ")
        terms.append(significant(abs(powers[power])) + (" x" if power == 1 else ""))
    body = "".join(sign + term for sign, term in zip(signs, terms, strict=True))
    return f"y = {body}\n(y in {unit}, x in {pin})"


def spread_sentence(fitted: Fitted, channel: ContinuousChannel) -> str:
    """Standard errors of the coefficients and the scatter, or why they are not known."""
    errors = fitted.standard_errors
    if errors is None:
        return f"Standard errors of the coefficients are not known: {fitted.why_no_spread}."
    units = [channel.unit, f"{channel.unit}/{channel.path.pin_unit}", f"{channel.unit}/{channel.path.pin_unit}²"]
    parts = [f"{significant(error, 2)} {unit}" for error, unit in zip(errors, units, strict=False)]
    names = ["offset", "slope", "bend"]
    said = ", ".join(f"{name} ±{part}" for name, part in zip(names, parts, strict=False))
    return f"Standard errors: {said}. One count is {significant(_one_count(fitted, channel), 2)} {channel.unit}."


def _one_count(fitted: Fitted, channel: ContinuousChannel) -> float:
    middle = sum(fitted.curve.domain) / 2
    return abs(float(fitted.curve.slope(middle))) * channel.path.converter.per_count


def reach_sentence(fitted: Fitted, channel: ContinuousChannel) -> str:
    """Over which values the curve is to be trusted."""
    low, high = fitted.curve.domain
    values = sorted(float(v) for v in fitted.curve.value(np.array([low, high])))
    decimals = decimals_for(abs(values[1] - values[0]) / 2000)
    ends = " to ".join(fixed(value, decimals) for value in values)
    pin, places = channel.path.pin_unit, decimals_for(channel.path.converter.per_count)
    word = "described" if fitted.spec.model == "nominal" else "trusted"
    return (
        f"{word.capitalize()} from {ends} {channel.unit}. Below {fixed(low, places)} {pin} and above "
        f"{fixed(high, places)} {pin} it is extrapolated."
    )
