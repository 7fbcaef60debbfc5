"""Describe: what the transducer is, and the converter it ends in."""

from collections.abc import Callable, Sequence

import numpy as np
from PySide6.QtWidgets import QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from ...core import edits
from ...core.calibration import nominal_curve
from ...core.channel import AnyChannel, ConstantChannel, ContinuousChannel, TwoStateChannel
from ...core.errors import BadTable, YardstickError
from ...core.model import InvalidRecord, first_complaint
from ...core.numerals import decimals_for, fixed, parse_number, significant
from ...core.quantity import QUANTITIES, SUGGESTED_UNITS
from ...core.rating import RatedTable, SlopeOffset, TwoPoints, Unrated
from ...core.stages import AnyStage, Divider, Shunt
from ...core.tolerance import Tolerance
from ...core.transducer import OUTPUT_UNITS
from ...files.tables import parse_grid, pick
from ..theme import Theme, font
from ..workbench import Workbench
from .fields import ChoiceField, FieldBase, TextField, heading, label, rule_line
from .panel import StepPanel

_RATINGS = [
    ("two points", "two rated points"),
    ("table", "a table of the data sheet"),
    ("slope and offset", "slope and offset"),
    ("unrated", "nothing: measured only"),
]
_SOURCES = [(text, text) for text in ("data sheet", "similar part", "measured", "assumed")]


def plain(value: float) -> str:
    """A model's number as it is typed: all its digits, no thousands."""
    return f"{value:.12g}".replace("-", "−") if value < 0 else f"{value:.12g}"


class TableField(FieldBase):
    """Rows of signal and value as text: typed, or pasted from a sheet."""

    def __init__(self, put: Callable[[Sequence[float], Sequence[float]], None]) -> None:
        super().__init__("")
        self._put = put
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText("Paste two columns: signal, value")
        self.text.setAccessibleName("Table of the data sheet: signal and value")
        self.text.setFont(font(12))
        self.text.setFixedHeight(150)
        self.text.setTabChangesFocus(True)
        self.row.addWidget(self.text)
        self.take = QPushButton("Take these rows")
        self.take.clicked.connect(self._commit)
        self._column.insertWidget(1, self.take)

    def show_rows(self, signals: Sequence[float], values: Sequence[float]) -> None:
        """Show the model's rows, unless something else is typed here."""
        rows = "\n".join(f"{plain(x)}\t{plain(y)}" for x, y in zip(signals, values, strict=True))
        if not self.text.document().isModified() and self.text.toPlainText() != rows:
            self.text.setPlainText(rows)

    def _commit(self) -> None:
        try:
            grid = parse_grid(self.text.toPlainText())
            picked = pick(grid, (0, 1))
            if picked.problems:
                raise BadTable(f"{picked.problems[0]} Correct it, or remove the line.")
            rows = [(float(x or 0.0), float(y or 0.0)) for x, y in picked.numbers]
            self._put([x for x, _ in rows], [y for _, y in rows])
        except YardstickError as error:
            self.fail(str(error))
            return
        self.text.document().setModified(False)
        self.fail("")


class DescribePanel(StepPanel):
    """The fields of a continuous channel, a contact, or a constant."""

    title = "Describe the transducer"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self._tag = TextField("Tag", lambda text: self._change("tag", tag=text.strip()))
        self._name = TextField("Measures", lambda text: self._change("name", name=text.strip()), optional=True)
        self.body.addWidget(self._tag)
        self.body.addWidget(self._name)
        self._parts: dict[type[AnyChannel], _Fields] = {}
        self._room = QVBoxLayout()
        self.body.addLayout(self._room)
        self.body.addStretch(1)

    def _change(self, what: str, **fields: object) -> None:
        channel = self.bench.channel
        if channel is not None:
            self.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.channel
        self.setEnabled(channel is not None)
        if channel is None:
            return
        self._tag.show_values(channel.tag)
        self._name.show_values(channel.name)
        self.intro.setVisible(False)
        shown = self.part(type(channel))
        for part in self._parts.values():
            part.setVisible(part is shown)
        self.heading.setText(f"Describe the {shown.noun}")
        shown.show_channel(channel)

    def part(self, kind: type[AnyChannel]) -> "_Fields":
        """The fields of a kind of channel, made when they are first needed."""
        if kind not in self._parts:
            makers = {made.shows: made for made in (_ContinuousFields, _TwoStateFields, _ConstantFields)}
            self._parts[kind] = makers[kind](self)
            self._room.addWidget(self._parts[kind])
        return self._parts[kind]


class _Fields(QWidget):
    shows: type = object
    noun = ""

    def __init__(self, panel: DescribePanel) -> None:
        super().__init__()
        self.panel = panel
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(7)
        self.build()

    def build(self) -> None:
        """Make the fields."""

    def add(self, *widgets: QWidget) -> None:
        """Put widgets one under the other."""
        for widget in widgets:
            self.column.addWidget(widget)

    def show_channel(self, channel: AnyChannel) -> None:
        """Show a channel's values."""


class _ContinuousFields(_Fields):
    shows = ContinuousChannel
    noun = "transducer"

    def build(self) -> None:
        self.quantity = ChoiceField("Quantity", [(q, q) for q in QUANTITIES], self._put_quantity)
        self.sheet_unit = TextField("Data sheet in", self._put_sheet_unit, hint="kPa, bar(g), °C, % O2")
        self.range = TextField("Range", self._put_range, parts=2)
        self.output = ChoiceField("Output signal", [(o, o) for o in OUTPUT_UNITS], self._put_output)
        self.supply = TextField("At a supply of", self._put_supply, suffix="V")
        self.rating = ChoiceField("Given by", _RATINGS, self._put_rating)
        self.first = TextField("First point", lambda s, v: self._put_point(0, s, v), parts=2, between="→")
        self.second = TextField("Second point", lambda s, v: self._put_point(1, s, v), parts=2, between="→")
        self.table = TableField(self._put_table)
        self.slope = TextField("Slope, offset", self._put_slope, parts=2, between="and")
        self.source = ChoiceField("Figures from", _SOURCES, self._put_source)
        self.line = label("", "signal", 12)
        self.unit = TextField("Work in", self._put_unit, hint="any unit of the quantity")
        self.barometer = TextField(
            "Barometer", self._put_barometer, suffix="kPa", hint="to turn gauge into absolute", optional=True
        )
        self.add(self.quantity, self.sheet_unit, self.range, self.output, self.supply, self.rating)
        self.fuel = label("", "muted", 12)
        self.add(self.first, self.second, self.table, self.slope, self.source, self.line)
        self.add(self.unit, self.fuel, self.barometer)
        self._build_path()
        self._build_tolerance()

    def _build_path(self) -> None:
        self.shunt = TextField("Shunt", self._put_shunt, suffix="Ω", hint="none", optional=True)
        self.divider = TextField(
            "Divider", self._put_divider, parts=2, between="over", suffix="Ω", hint="none", optional=True
        )
        self.span = TextField("Converter", self._put_span, parts=2)
        self.bits = TextField("Bits, full count", self._put_bits, parts=2, between="→")
        tops = [("full count", "is the full count"), ("one above", "is one above full count")]
        self.top = ChoiceField("Top of span", tops, self._put_top)
        self.top_words = label("", "muted", 12)
        self.path_words = label("", "signal", 12)
        self.add(rule_line(), heading("Signal path and converter"))
        self.add(self.shunt, self.divider, self.span, self.bits, self.top, self.top_words, self.path_words)

    def _build_tolerance(self) -> None:
        self.constant = TextField("Fixed ±", lambda text: self._put_tolerance("constant", text))
        self.of_reading = TextField("and of reading", lambda t: self._put_tolerance("of_reading", t), suffix="%")
        self.of_span = TextField("and of span", lambda t: self._put_tolerance("of_span", t), suffix="%")
        self.tolerance_words = label("", "muted", 12)
        self.add(rule_line(), heading("Error allowed"))
        self.add(self.constant, self.of_reading, self.of_span, self.tolerance_words)

    # -- sending back -----------------------------------------------------------------------------------------------

    @property
    def channel(self) -> ContinuousChannel:
        return self.panel.channel

    def _send(self, what: str, channel: ContinuousChannel) -> None:
        self.panel.change(f"{channel.tag}: {what}", channel)

    def _transducer(self, what: str, **fields: object) -> None:
        self._send(what, self.channel.with_(transducer=self.channel.transducer.with_(**fields)))

    def _put_quantity(self, text: str) -> None:
        self._send("quantity", edits.with_quantity(self.channel, text))  # type: ignore[arg-type]

    def _put_sheet_unit(self, text: str) -> None:
        self._send("unit of the data sheet", edits.with_sheet_unit(self.channel, text))

    def _put_range(self, low: str, high: str) -> None:
        self._transducer("range", range_low=parse_number(low), range_high=parse_number(high))

    def _put_output(self, text: str) -> None:
        self._send("output signal", edits.with_output(self.channel, text))  # type: ignore[arg-type]

    def _put_supply(self, text: str) -> None:
        self._transducer("supply", supply_v=parse_number(text))

    def _put_source(self, text: str) -> None:
        self._transducer("source of the figures", source=text)

    def _put_rating(self, kind: str) -> None:
        channel = self.channel
        if kind == "two points":
            self._send("two rated points", edits.with_rated_pair(channel))
        elif kind == "unrated":
            self._transducer("nothing rated", rating=Unrated())
        elif kind == "slope and offset":
            line = nominal_line(channel)
            self._transducer("slope and offset", rating=SlopeOffset(slope=line[0], offset=line[1]))
        else:
            self._transducer("table", rating=rows_of(channel))

    def _put_point(self, which: int, signal: str, value: str) -> None:
        rating = self.channel.transducer.rating
        if isinstance(rating, TwoPoints):
            signals, values = list(rating.signals), list(rating.values)
            signals[which], values[which] = parse_number(signal), parse_number(value)
            self._transducer("rated point", rating=rating.with_(signals=tuple(signals), values=tuple(values)))

    def _put_table(self, signals: Sequence[float], values: Sequence[float]) -> None:
        from pydantic import ValidationError

        try:
            rating = RatedTable(signals=tuple(signals), values=tuple(values))
        except ValidationError as error:
            raise InvalidRecord(f"The rows are no usable table: {first_complaint(error)}") from error
        self._transducer("table of the data sheet", rating=rating)

    def _put_slope(self, slope: str, offset: str) -> None:
        rating = self.channel.transducer.rating
        if isinstance(rating, SlopeOffset):
            changed = rating.with_(slope=parse_number(slope), offset=parse_number(offset))
            self._transducer("slope and offset", rating=changed)

    def _put_unit(self, text: str) -> None:
        self._send("working unit", edits.with_working_unit(self.channel, text))

    def _put_barometer(self, text: str) -> None:
        reading = parse_number(text) if text.strip() else None
        conditions = self.channel.conditions.with_(barometer_kpa=reading)
        self._send("barometer", self.channel.with_(conditions=conditions))

    def _put_shunt(self, text: str) -> None:
        if not text.strip():
            raise BadTable("A current loop needs a shunt: the converter takes a voltage. Type its resistance.")
        others = [stage for stage in self.channel.path.stages if not isinstance(stage, Shunt)]
        shunt = Shunt().with_(resistance_ohm=parse_number(text))
        self._put_stages("shunt", (shunt, *others))

    def _put_divider(self, top: str, bottom: str) -> None:
        others = tuple(stage for stage in self.channel.path.stages if not isinstance(stage, Divider))
        if not top.strip() and not bottom.strip():
            self._put_stages("no divider", others)
        elif not top.strip() or not bottom.strip():
            raise BadTable("A divider has two resistors: type both, or clear both for none.")
        else:
            made = Divider().with_(top_ohm=parse_number(top), bottom_ohm=parse_number(bottom))
            self._put_stages("divider", (*others, made))

    def _put_stages(self, what: str, stages: tuple[AnyStage, ...]) -> None:
        self._send(what, self.channel.with_(path=self.channel.path.with_(stages=stages)))

    def _converter(self, what: str, **fields: object) -> None:
        path = self.channel.path
        self._send(what, self.channel.with_(path=path.with_(converter=path.converter.with_(**fields))))

    def _put_span(self, low: str, high: str) -> None:
        self._converter("converter span", low=parse_number(low), high=parse_number(high))

    def _put_bits(self, bits: str, full: str) -> None:
        before = self.channel.path.converter
        wanted, full_count = round(parse_number(bits)), round(parse_number(full))
        if wanted != before.bits and full_count == before.full_count and 1 <= wanted <= 32:
            full_count = 2**wanted - 1
        self._converter("converter bits", bits=wanted, full_count=full_count)

    def _put_top(self, text: str) -> None:
        self._converter("top of the span", top=text)

    def _put_tolerance(self, part: str, text: str) -> None:
        number = parse_number(text) / (1 if part == "constant" else 100)
        self._send("tolerance", self.channel.with_(tolerance=self.channel.tolerance.with_(**{part: number})))

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, ContinuousChannel)
        part = channel.transducer
        self.quantity.show_value(part.quantity)
        self.sheet_unit.show_values(part.unit)
        suggested = ", ".join(SUGGESTED_UNITS[part.quantity])
        self.sheet_unit.entries[0].setToolTip(f"The unit the data sheet prints: {suggested} …")
        self.range.show_values(plain(part.range_low), plain(part.range_high), suffix=part.unit)
        self.output.show_value(part.output)
        self.supply.setVisible(part.is_ratiometric)
        self.supply.show_values(plain(part.supply_v))
        self._show_rating(channel)
        self.source.show_value(part.source)
        self.source.setVisible(part.rating.kind != "unrated")
        self.unit.show_values(channel.unit)
        self.barometer.setVisible("pressure" in part.quantity and part.quantity != "differential pressure")
        fuel = channel.fuel
        self.fuel.setVisible(part.quantity == "oxygen")
        self.fuel.setText(
            f"% O2, lambda and AFR are views of one another: {fuel.name}, {fuel.basis} gas, stoichiometric air-fuel "
            f"ratio {fuel.stoichiometric_afr:.2f}."
        )
        barometer = channel.conditions.barometer_kpa
        self.barometer.show_values("" if barometer is None else plain(barometer))
        self._show_path(channel)
        self._show_tolerance(channel)

    def _show_rating(self, channel: ContinuousChannel) -> None:
        part = channel.transducer
        rating = part.rating
        self.rating.show_value(rating.kind)
        for field in (self.first, self.second):
            field.setVisible(isinstance(rating, TwoPoints))
        self.table.setVisible(isinstance(rating, RatedTable))
        self.slope.setVisible(isinstance(rating, SlopeOffset))
        if isinstance(rating, TwoPoints):
            for n, field in enumerate((self.first, self.second)):
                words = f"{part.output_unit} → {part.unit}"
                field.show_values(plain(rating.signals[n]), plain(rating.values[n]), suffix=words)
        elif isinstance(rating, RatedTable):
            self.table.show_rows(rating.signals, rating.values)
        elif isinstance(rating, SlopeOffset):
            words = f"{part.unit}/{part.output_unit}, {part.unit}"
            self.slope.show_values(plain(rating.slope), plain(rating.offset), suffix=words)
        self.line.setText(rated_sentence(channel))

    def _show_path(self, channel: ContinuousChannel) -> None:
        path, converter = channel.path, channel.path.converter
        shunt = next((stage for stage in path.stages if isinstance(stage, Shunt)), None)
        divider = next((stage for stage in path.stages if isinstance(stage, Divider)), None)
        self.shunt.setVisible(path.source == "mA")
        self.shunt.show_values(plain(shunt.resistance_ohm) if shunt else "")
        self.divider.setVisible(path.pin_unit == "V")
        texts = (plain(divider.top_ohm), plain(divider.bottom_ohm)) if divider else ("", "")
        self.divider.show_values(*texts)
        self.span.show_values(plain(converter.low), plain(converter.high), suffix=path.pin_unit)
        self.bits.show_values(str(converter.bits), str(converter.full_count))
        self.top.show_value(converter.top)
        self.top.setVisible(path.pin_unit != "counts")
        self.top_words.setText(top_sentence(channel))
        self.path_words.setText("\n".join(path.sentences()))

    def _show_tolerance(self, channel: ContinuousChannel) -> None:
        tolerance = channel.tolerance
        self.constant.show_values(plain(tolerance.constant), suffix=channel.unit)
        self.of_reading.show_values(plain(100 * tolerance.of_reading))
        self.of_span.show_values(plain(100 * tolerance.of_span))
        self.tolerance_words.setText(tolerance_sentence(channel, tolerance))


def nominal_line(channel: ContinuousChannel) -> tuple[float, float]:
    """Slope and offset to start from: those of the described curve's ends, else of the whole output."""
    curve = channel.transducer.nominal()
    if curve is None:
        curve = edits.with_rated_pair(channel).transducer.nominal()
    assert curve is not None  # a rated pair has a curve
    low, high = curve.domain
    values = curve.value(np.array([low, high]))
    slope = float(values[1] - values[0]) / (high - low)
    return slope, float(values[0]) - slope * low


def rows_of(channel: ContinuousChannel) -> RatedTable:
    """A table to start from: the two ends of the described curve."""
    curve = edits.with_rated_pair(channel).transducer.nominal()
    assert curve is not None
    low, high = curve.domain
    return RatedTable(signals=(low, high), values=tuple(float(v) for v in curve.value(np.array([low, high]))))


def rated_sentence(channel: ContinuousChannel) -> str:
    """What the rating comes to, with its numbers."""
    part = channel.transducer
    rating = part.rating
    if isinstance(rating, RatedTable):
        return (
            f"{len(rating.signals)} rows, from {min(rating.signals):g} to {max(rating.signals):g} {part.output_unit}."
        )
    if isinstance(rating, Unrated):
        return "Gather readings: the curve will come from them alone."
    slope, offset = nominal_line(channel)
    sign = "−" if offset < 0 else "+"
    return f"{part.unit} = {significant(slope)} × {part.output_unit} {sign} {significant(abs(offset))}"


def top_sentence(channel: ContinuousChannel) -> str:
    """What the other convention for the top of the span would change, in the channel's unit."""
    converter, curve = channel.path.converter, nominal_curve(channel)
    if channel.path.pin_unit == "counts":
        return ""
    other = converter.other_top()
    full = converter.full_count
    signals = [float(part.inverse(full)) for part in (converter, other)]
    words = (
        f"Count {full} stands for {signals[0]:.6g} {converter.unit}; the other way {signals[1]:.6g} {converter.unit}"
    )
    if curve is None:
        return words + "."
    values = curve.value(np.array(signals))
    step = abs(float(values[1] - values[0]))
    share = 100 * step / channel.span
    decimals = decimals_for(step / 10)
    return f"{words}: a difference of {fixed(step, decimals)} {channel.unit} at the top, {share:.2g} % of span."


def tolerance_sentence(channel: ContinuousChannel, tolerance: Tolerance) -> str:
    """What is allowed at both ends of the range."""
    if not tolerance.is_stated:
        return "No error allowed is stated yet, so nothing can pass or fail."
    low, high = channel.range
    at_low, at_high = (float(tolerance.at(end, channel.span)) for end in (low, high))
    if abs(at_low - at_high) < 1e-12 * max(at_low, at_high):
        return f"Allowed: ±{at_low:.4g} {channel.unit} over the whole range."
    return f"Allowed: ±{at_low:.4g} {channel.unit} at {low:g}, ±{at_high:.4g} {channel.unit} at {high:g}."


class _TwoStateFields(_Fields):
    shows = TwoStateChannel
    noun = "contact"

    def build(self) -> None:
        self.levels = TextField("Closed, open", self._put_levels, parts=2, between="and")
        self.threshold = TextField("Threshold", lambda text: self._put("threshold", threshold=parse_number(text)))
        self.dead_band = TextField("Dead band", lambda text: self._put("dead band", dead_band=parse_number(text)))
        self.meanings = TextField("They mean", self._put_meanings, parts=2, between="and")
        self.add(self.levels, self.threshold, self.dead_band, self.meanings)

    def _put(self, what: str, **fields: object) -> None:
        channel = self.panel.bench.channel
        if channel is not None:
            self.panel.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def _put_levels(self, closed: str, opened: str) -> None:
        self._put("levels", closed_level=parse_number(closed), open_level=parse_number(opened))

    def _put_meanings(self, closed: str, opened: str) -> None:
        self._put("meanings", closed_means=closed.strip(), open_means=opened.strip())

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, TwoStateChannel)
        unit = channel.signal_unit
        self.levels.show_values(plain(channel.closed_level), plain(channel.open_level), suffix=unit)
        self.threshold.show_values(plain(channel.threshold), suffix=unit)
        self.dead_band.show_values(plain(channel.dead_band), suffix=unit)
        self.meanings.show_values(channel.closed_means, channel.open_means)


class _ConstantFields(_Fields):
    shows = ConstantChannel
    noun = "constant"

    def build(self) -> None:
        self.value = TextField("Value", lambda text: self._put("value", value=parse_number(text)))
        self.unit = TextField("Unit", lambda text: self._put("unit", unit=text.strip()), optional=True)
        self.decimals = TextField("Decimals", lambda text: self._put("decimals", decimals=round(parse_number(text))))
        self.derivation = TextField("Comes from", lambda text: self._put("derivation", derivation=text), optional=True)
        self.add(self.value, self.unit, self.decimals, self.derivation)

    def _put(self, what: str, **fields: object) -> None:
        channel = self.panel.bench.channel
        if channel is not None:
            self.panel.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, ConstantChannel)
        self.value.show_values(plain(channel.value))
        self.unit.show_values(channel.unit)
        self.decimals.show_values(str(channel.decimals))
        self.derivation.show_values(channel.derivation)
