"""Pack: the calibration as the controller takes it, with the exact cost, ready to copy or save."""

from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QGuiApplication, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QFileDialog,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from ...core import edits
from ...core.calibration import Packed, curve_in_use, packed_now, stale_fit, stale_pack
from ...core.channel import ContinuousChannel
from ...core.errors import YardstickError
from ...core.numerals import decimals_for, fixed, parse_number, signed
from ...core.packing import AnyForm, EndValues, Knots, RawPair, SlopeOffset, WorstError
from ...files.exports import as_cells, save_packing
from ..theme import Theme, bold, font
from ..workbench import Workbench, now
from .fields import ChoiceField, Complaint, TextField, heading, label
from .panel import StepPanel
from .record_form import plain

_FORMS = [
    ("slope", SlopeOffset.title),
    ("ends", EndValues.title),
    ("span", RawPair.title),
    ("knots", Knots.title),
]
_CLAMP_WORDS = {
    "slope": "held at the ends of the range",
    "ends": "held at the signal ends",
    "span": "held at the two pairs",
    "knots": "held at the first and last knot",
}


class CostBar(QWidget):
    """The worst packing error on a scale of the error allowed."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme, self._error, self._allowed = theme, 0.0, 0.0
        self.setFixedHeight(22)
        self.setAccessibleName("Share of the error allowed that packing takes")

    def show_cost(self, error: float, allowed: float, theme: Theme) -> None:
        """Take the worst error and the tolerance (0 if none is stated)."""
        self._error, self._allowed, self._theme = abs(error), allowed, theme
        self.setVisible(allowed > 0)
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._allowed <= 0:
            return
        painter = QPainter(self)
        width = self.width() - 2.0
        full = max(self._error, self._allowed) * 1.15
        allowed, error = self._allowed / full * width, self._error / full * width
        painter.fillRect(QRectF(0, 6, allowed, 9), self._theme.color("allowed"))
        inside = self._error <= self._allowed
        painter.fillRect(QRectF(0, 6, max(error, 2.0), 9), self._theme.color("green" if inside else "red"))
        painter.fillRect(QRectF(allowed, 2, 2, 17), self._theme.color("red"))
        painter.end()


class PackPanel(StepPanel):
    """Form, settings, numbers, cost."""

    title = "Pack for the controller"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self._form = ChoiceField("Numeric form", _FORMS, lambda text: self._spec("form", form=text))
        self._decimals = TextField(
            "Decimals", lambda text: self._spec("decimals", decimals=self._whole(text)), hint="all", optional=True
        )
        self._knots = TextField("Knots", lambda text: self._spec("knots", knots=round(parse_number(text))))
        self._ends = TextField("Signal ends", self._put_ends, parts=2, hint="auto", optional=True)
        self._signal_step = TextField(
            "Signal step", lambda t: self._spec("signal step", signal_step=self._number(t)), hint="any", optional=True
        )
        self._value_step = TextField(
            "Value step", lambda t: self._spec("value step", value_step=self._number(t)), hint="any", optional=True
        )
        self._clamp = QCheckBox()
        self._clamp.clicked.connect(lambda on: self._try_spec("clamp", clamp=bool(on)))
        for widget in (self._form, self._decimals, self._knots, self._ends, self._signal_step, self._value_step):
            self.body.addWidget(widget)
        self.body.addWidget(self._clamp)
        self._build_cost(theme)
        self.body.addWidget(heading("Numbers to load"))
        self._numbers = self._numbers_table()
        self.body.addWidget(self._numbers)
        self.body.addStretch(1)
        self.keep = self.action("Keep for the controller", self._keep, primary=True)
        self.copy = self.action("Copy", self.copy_cells)
        self.save = self.action("Save …", self._save)

    def _build_cost(self, theme: Theme) -> None:
        self._worst_heading = heading("Worst packing error")
        self._worst = label("")
        self._worst.setFont(bold(17))
        self._bar = CostBar(theme)
        self._where = label("", "muted", 12)
        self._status = label("", "look", 12)
        self._complaint = Complaint()
        for widget in (self._worst_heading, self._worst, self._bar, self._where, self._status):
            self.body.addWidget(widget)
        self.body.addWidget(self._complaint)

    @staticmethod
    def _numbers_table() -> QTableWidget:
        table = QTableWidget()
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setAccessibleName("Numbers to load")
        table.verticalHeader().setDefaultSectionSize(23)
        table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        table.setShowGrid(False)
        table.setTabKeyNavigation(False)
        return table

    # -- sending back -----------------------------------------------------------------------------------------------

    @staticmethod
    def _number(text: str) -> float | None:
        return parse_number(text) if text.strip() else None

    @staticmethod
    def _whole(text: str) -> int | None:
        return round(parse_number(text)) if text.strip() else None

    def _spec(self, what: str, **fields: object) -> None:
        channel = self.channel
        spec = channel.pack_spec.with_(**fields)
        self.change(f"{channel.tag}: {what}", channel.with_(pack_spec=spec))

    def _try_spec(self, what: str, **fields: object) -> None:
        try:
            self._spec(what, **fields)
        except YardstickError as error:
            self._complaint.setText(str(error))

    def _put_ends(self, low: str, high: str) -> None:
        self._spec("signal ends", signal_low=self._number(low), signal_high=self._number(high))

    def _keep(self) -> None:
        channel = self.channel
        try:
            self.bench.edit(f"{channel.tag}: packing", lambda job: edits.keep_packing(job, channel.id, now()))
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
            self, "Save the numbers", f"{self.channel.tag}.csv", "CSV (*.csv);;JSON (*.json);;Text (*.txt)"
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
        use = curve_in_use(self.bench.job, channel)
        packed: Packed | None = None
        try:
            packed = packed_now(self.bench.job, channel)
        except YardstickError as error:
            self._complaint.setText(str(error))
        for button in (self.keep, self.copy, self.save):
            button.setEnabled(packed is not None)
        for widget in (self._numbers, self._worst, self._worst_heading, self._where, self._bar):
            widget.setVisible(packed is not None)
        curved = use is not None and use.curve.kind != "line"
        straight = channel.pack_spec.form != "knots"
        self.intro.setText(
            "The curve bends, so one straight line costs what is stated below. A table of knots follows it."
            if curved and straight
            else f"The {use.caption} curve, as this controller takes it."
            if use
            else ""
        )
        if packed is not None:
            self._show_numbers(channel, packed.form)
            self._show_cost(channel, packed)
            self._show_status(channel, packed)

    def _show_settings(self, channel: ContinuousChannel) -> None:
        spec, pin = channel.pack_spec, channel.path.pin_unit
        self._form.show_value(spec.form)
        self._decimals.setVisible(spec.form == "slope")
        self._decimals.show_values("" if spec.decimals is None else str(spec.decimals))
        self._knots.setVisible(spec.form == "knots")
        self._knots.show_values(str(spec.knots))
        self._ends.setVisible(spec.form != "slope")
        ends = ["" if end is None else plain(end) for end in (spec.signal_low, spec.signal_high)]
        self._ends.show_values(*ends, suffix=pin)
        self._signal_step.setVisible(spec.form == "knots")
        self._signal_step.show_values("" if spec.signal_step is None else plain(spec.signal_step), suffix=pin)
        self._value_step.setVisible(spec.form != "slope")
        self._value_step.show_values("" if spec.value_step is None else plain(spec.value_step), suffix=channel.unit)
        self._clamp.setText(_CLAMP_WORDS[spec.form])
        self._clamp.setChecked(spec.clamp)

    def _show_numbers(self, channel: ContinuousChannel, form: AnyForm) -> None:
        cells = form.cells(channel.path.pin_unit, channel.unit)
        table = self._numbers
        table.setColumnCount(len(cells.headings))
        table.setRowCount(len(cells.rows))
        table.setHorizontalHeaderLabels(list(cells.headings))
        for n, row in enumerate(cells.rows):
            for column, cell in enumerate(row):
                text = cell if isinstance(cell, str) else f"{cell:.12g}".replace("-", "−")
                item = QTableWidgetItem(text)
                item.setFont(font(13) if isinstance(cell, str) else bold(13))
                side = Qt.AlignmentFlag.AlignLeft if isinstance(cell, str) else Qt.AlignmentFlag.AlignRight
                item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
                table.setItem(n, column, item)
        rows = min(len(cells.rows), 12)
        table.setFixedHeight(rows * 23 + table.horizontalHeader().sizeHint().height() + 4)

    def _show_cost(self, channel: ContinuousChannel, packed: Packed) -> None:
        worst = packed.cost.in_reach or packed.cost.overall
        decimals = decimals_for(abs(worst.error) / 20)
        share = f"{worst.percent_of_span:.2g} % of span"
        self._worst.setText(f"{fixed(abs(worst.error), decimals)} {channel.unit}, {share}")
        use = curve_in_use(self.bench.job, channel)
        there = float(use.curve.value(worst.signal)) if use else 0.0
        self._bar.show_cost(worst.error, float(channel.tolerance.at(there, channel.span)), self.theme)
        self._where.setText(self._places(channel, packed, decimals))

    @staticmethod
    def _places(channel: ContinuousChannel, packed: Packed, decimals: int) -> str:
        unit, pin = channel.unit, channel.path.pin_unit

        def place(worst: WorstError) -> str:
            error = signed(worst.error, decimals)
            return f"{error} {unit} at {worst.signal:.4g} {pin}, count {worst.count}"

        overall = f"Over every one of {channel.path.converter.full_count + 1} counts: {place(packed.cost.overall)}."
        if packed.cost.in_reach is None:
            return f"{overall} No count lies where the calibration holds: check the converter's span."
        if packed.cost.in_reach.count == packed.cost.overall.count:
            return overall
        return f"Where the calibration holds: {place(packed.cost.in_reach)}. {overall}"

    def _show_status(self, channel: ContinuousChannel, packed: Packed) -> None:
        record = self.bench.job.pack_of(channel.id)
        stale = stale_pack(self.bench.job, channel)
        same = record is not None and record.form == packed.form and record.unit == channel.unit and not stale
        self.keep.setText("Kept for the controller" if same else "Keep for the controller")
        stale_curve = stale_fit(self.bench.job, channel)  # packing it again would change nothing
        self.keep.setEnabled(not same and not stale_curve)
        if record is None:
            text = "Not kept yet: keeping makes these the numbers that proving goes by."
        elif stale:
            cure = "Choose the curve anew at Fit first" if stale_curve else "Keep these instead"
            text = f"The numbers kept are out of date: {', '.join(stale)}. {cure}."
        elif not same:
            text = f"The controller has other numbers: {record.form.title.lower()}, kept {record.made:%d %b, %H:%M}."
        else:
            text = f"Kept {record.made:%d %b %Y, %H:%M} UTC."
        self._status.setText(text)
        self._status.setProperty("role", "good" if same else "look")
        self._status.style().polish(self._status)
