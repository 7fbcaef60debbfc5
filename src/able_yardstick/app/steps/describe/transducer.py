"""The fields of a transducer: its range, its output, what rates it, its limits, and the error allowed."""

from collections.abc import Sequence
from typing import Any

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ....core.curves import Line
from ....core.describe.edits import (
    with_figures,
    with_limits,
    with_output,
    with_quantity,
    with_rating,
    with_sheet_unit,
    with_working_unit,
)
from ....core.document.channel import AnyChannel, ContinuousChannel
from ....core.sensor.rating import RATING_KINDS, RatedTable, Thermistor, TwoPoints
from ....core.sensor.transducer import OUTPUT_UNITS, SOURCES, MeasuredZero, RespondsTo
from ....core.units.conversion import taken_for
from ....core.units.electrical import signal_gain
from ....core.units.quantity import QUANTITIES, SUGGESTED_UNITS
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import parse_number, significant
from ....core.words.record import InvalidRecord, first_complaint
from ....core.words.tolerance import Tolerance
from ...panel.fields import ChoiceField, TextField, label
from ...panel.lead_box import Act, Headline
from ...panel.record_form import FieldRow, RecordForm, plain
from ...panel.section import Section
from ...panel.sentences import tolerance_sentence, tolerance_words
from ...panel.table_field import TableField
from .lead import lead_of_transducer
from .part_fields import Fields
from .rating_rows import RATING_ROWS

_RATINGS = [(str(kind.model_fields["kind"].default), kind.title) for kind in RATING_KINDS]
_SOURCES = [(text, text) for text in SOURCES]
_RESPONDS: tuple[RespondsTo, ...] = (
    "instantaneous", "mean", "true root-mean-square", "rectified mean, scaled for a sine",
)  # fmt: skip
_MEANS = tuple((text, text) for text in _RESPONDS)


def _alternating(part: Any) -> bool:
    return bool(part.quantity == "electric current")


def _frequency(part: Any) -> bool:
    return part.output in ("frequency", "duty cycle")


def _resistive_thermometer(part: Any) -> bool:
    return bool(part.quantity == "temperature" and part.output == "resistance")


_LIMITS = (
    FieldRow("Supply", ("supply_v",), "V nominal"),
    FieldRow("it may be", ("supply_least_v", "supply_most_v"), "V", optional=True, between="to", hint="?"),
    FieldRow("Signal within", ("signal_low", "signal_high"), "{out}", optional=True, between="to", hint="?"),
    FieldRow("Noise, 1 σ", ("noise",), "{out}", optional=True, hint="not stated"),
    FieldRow("Response, 63 %", ("response_s",), "s", optional=True, hint="not stated"),
    FieldRow("Survives", ("overload",), "{unit}", optional=True, hint="overload not stated"),
    FieldRow("Gives the", ("responds_to",), kind="choice", choices=_MEANS, only_if=_alternating),
    FieldRow("its output is an open collector", ("open_collector",), kind="tick", only_if=_frequency),
    FieldRow(
        "Warms by", ("dissipation_mw_k",), "mW/K", optional=True, hint="not stated", only_if=_resistive_thermometer
    ),
    FieldRow("its leads must not be swapped", ("polarity_matters",), kind="tick"),
)


class TransducerFields(Fields):
    """A continuous channel."""

    shows = ContinuousChannel
    noun = "Sensor"

    def build(self) -> None:
        self.quantity = ChoiceField("Quantity", [(q, q) for q in QUANTITIES], self._put_quantity)
        self.sheet_unit = TextField("Data sheet in", self._put_sheet_unit, hint="kPa, bar(g), °C, % O2")
        self.range = TextField("Range", self._put_range, parts=2)
        self.output = ChoiceField("Output signal", [(o, o) for o in OUTPUT_UNITS], self._put_output)
        self.rating = ChoiceField("Given by", _RATINGS, self._put_rating)
        self.first = TextField("First point", lambda s, v: self._put_point(0, s, v), parts=2, between="→")
        self.second = TextField("Second point", lambda s, v: self._put_point(1, s, v), parts=2, between="→")
        self.table = TableField(self._put_table)
        self._forms: dict[str, RecordForm] = {}
        self._form_room = QVBoxLayout()
        self.pairs = [
            TextField(f"Pair {n + 1}", lambda r, t, n=n: self._put_pair(n, r, t), parts=2, between="at", suffix="Ω, °C")
            for n in range(3)
        ]
        self.line = label("", "signal", 12)
        self.source = ChoiceField("Figures from", _SOURCES, self._put_source)
        self.unit = TextField("Work in", self._put_unit, hint="any unit of the quantity")
        self.barometer = TextField(
            "Barometer", self._put_barometer, suffix="kPa", hint="to turn gauge into absolute", optional=True
        )
        self.add_to_top(self.quantity, self.sheet_unit, self.range, self.output)
        self.curve = self.section("curve", "Curve", opened=True)
        self.curve.add(self.rating, self.first, self.second, self.table)
        self.curve.column.addLayout(self._form_room)
        self.curve.add(*self.pairs, self.line, self.source)
        self._build_fuel()
        self._build_zero()
        self._build_tolerance()
        self._build_limits()
        self._build_site()

    def _build_fuel(self) -> None:
        bases = [("dry", "dry gas"), ("wet", "wet gas")]
        self.fuel = TextField("Fuel", lambda text: self._put_fuel(name=text.strip()))
        self.hydrogen = TextField(
            "H per C", lambda t: self._put_fuel(hydrogen_per_carbon=parse_number(t)), hint="methane: 4"
        )
        self.afr = TextField("Air per fuel", self._put_afr, suffix="kg/kg", hint="from H per C", optional=True)
        self.basis = ChoiceField("O2 stated in", bases, lambda text: self._put_fuel(basis=text))
        self.fuel_words = label("", "muted", 12)
        self.fuel_parts: list[QWidget] = [self.fuel, self.hydrogen, self.afr, self.basis, self.fuel_words]
        self.curve.add(*self.fuel_parts)

    def _build_zero(self) -> None:
        self.zero = TextField("Measured zero", self._put_zero, hint="as rated", optional=True)
        keeps = [("slope", "keep the slope"), ("top", "keep the top")]
        self.zero_keep = ChoiceField("and then", keeps, self._put_zero_keep)
        self.zero_words = label("", "muted", 12)
        self.curve.add(self.zero, self.zero_keep, self.zero_words)

    def _build_limits(self) -> None:
        self.supply_measured = TextField(
            "Measured", self._put_supply_measured, suffix="V", hint="supply not measured", optional=True
        )
        self.limits = RecordForm(_LIMITS, self._put_limits)
        accuracy = (
            FieldRow("Accuracy ±", ("constant",), "{unit}"),
            FieldRow("and of reading", ("of_reading",), "%"),
            FieldRow("and of span", ("of_span",), "%"),
        )
        self.accuracy = RecordForm(accuracy, self._put_accuracy)
        self.bounds = self.section("limits", "Limits")
        self.bounds.add(self.accuracy, self.limits, self.supply_measured)

    def _build_tolerance(self) -> None:
        self.constant = TextField("Fixed ±", lambda text: self._put_tolerance("constant", text))
        self.of_reading = TextField("and of reading", lambda t: self._put_tolerance("of_reading", t), suffix="%")
        self.of_span = TextField("and of span", lambda t: self._put_tolerance("of_span", t), suffix="%")
        self.tolerance_words = label("", "muted", 12)
        self.resolution = TextField("Wanted step", self._put_resolution, hint="any", optional=True)
        self.allowed = self.section("allowed", "Error allowed")
        self.allowed.add(self.constant, self.of_reading, self.of_span, self.tolerance_words, self.resolution)

    def _build_site(self) -> None:
        self.site = self.section("site", "Site")
        self.controller = TextField("Controller has", self._put_controller_range, parts=2, hint="?", optional=True)
        self.controller_unit = TextField(
            "in", lambda text: self.put("controller's unit", controller_unit=text.strip()), hint="the same unit",
            optional=True,
        )  # fmt: skip
        self.site.add(self.unit, self.barometer, self.controller, self.controller_unit)

    def lead(self, channel: AnyChannel) -> Headline:
        """What the description comes to, and what is missing."""
        assert isinstance(channel, ContinuousChannel)
        lead = lead_of_transducer(channel)
        acts: tuple[Act, ...]
        if channel.transducer.rating.kind == "unrated":
            acts = (self._opens("Rate it", self.curve, self.rating.box), self.panel.onward("gather"))
        elif not channel.tolerance.is_stated:
            acts = (self._opens("State it", self.allowed, self.constant.entries[0]), self.panel.onward("wire"))
        elif lead.level == "look":
            acts = (self._opens("Say where from", self.curve, self.source.box), self.panel.onward("wire"))
        else:
            acts = (self.panel.onward("wire"),)
        return lead._replace(acts=acts)

    def _opens(self, words: str, section: Section, widget: QWidget) -> Act:
        going = self.panel.goes_to(words, widget)

        def show() -> None:
            section.unfold()
            going.do()

        return Act(words, show)

    # -- sending back -----------------------------------------------------------------------------------------------

    @property
    def channel(self) -> ContinuousChannel:
        """The channel looked at."""
        return self.panel.channel

    def _send(self, what: str, channel: ContinuousChannel) -> None:
        self.panel.change(f"{channel.tag}: {what}", channel)

    def _transducer(self, what: str, **fields: object) -> None:
        changed = self.channel.with_(transducer=self.channel.transducer.with_(**fields))
        changed.transducer.nominal(changed.around)  # refuse what has no curve
        self._send(what, changed)

    def _put_quantity(self, text: str) -> None:
        self._send("quantity", with_quantity(self.channel, text))  # type: ignore[arg-type]

    def _put_sheet_unit(self, text: str) -> None:
        self._send("unit of the data sheet", with_sheet_unit(self.channel, text))

    def _put_range(self, low: str, high: str) -> None:
        self._transducer("range", range_low=parse_number(low), range_high=parse_number(high))

    def _put_output(self, text: str) -> None:
        self._send("output signal", with_output(self.channel, text))  # type: ignore[arg-type]

    def _put_source(self, text: str) -> None:
        self._transducer("source of the figures", source=text)

    def _put_rating(self, kind: str) -> None:
        self._send("what it is rated by", with_rating(self.channel, kind))

    def _put_figures(self, changes: dict[str, Any]) -> None:
        rating = self.channel.transducer.rating
        channel = with_figures(self.channel, rating.with_(**changes))
        self._send("rated figures", channel)

    def _put_point(self, which: int, signal: str, value: str) -> None:
        rating = self.channel.transducer.rating
        if isinstance(rating, TwoPoints):
            signals, values = list(rating.signals), list(rating.values)
            signals[which], values[which] = parse_number(signal), parse_number(value)
            self._transducer("rated point", rating=rating.with_(signals=tuple(signals), values=tuple(values)))

    def _put_pair(self, which: int, ohm: str, celsius: str) -> None:
        rating = self.channel.transducer.rating
        if isinstance(rating, Thermistor):
            ohms, temperatures = list(rating.pair_ohm), list(rating.pair_c)
            ohms[which], temperatures[which] = parse_number(ohm), parse_number(celsius)
            self._put_figures({"pair_ohm": tuple(ohms), "pair_c": tuple(temperatures)})

    def _put_table(self, signals: Sequence[float], values: Sequence[float], signal_unit: str, unit: str) -> None:
        from pydantic import ValidationError

        channel = self.channel
        gain = signal_gain(signal_unit, channel.path.source) if signal_unit else 1.0
        if unit and unit != channel.transducer.unit:
            channel = with_sheet_unit(channel, unit)
        try:
            rows = {"signals": tuple(gain * signal for signal in signals), "values": tuple(values)}
            before = channel.transducer.rating
            rating = before.with_(**rows) if isinstance(before, RatedTable) else RatedTable(**rows)
        except ValidationError as error:
            raise InvalidRecord(f"The rows are no usable table: {first_complaint(error)}") from error
        except YardstickError as error:
            raise InvalidRecord(f"The rows are no usable table: {error}") from error
        self._send("table of the data sheet", channel.with_(transducer=channel.transducer.with_(rating=rating)))

    def _put_unit(self, text: str) -> None:
        self._send("working unit", with_working_unit(self.channel, text))

    def _put_barometer(self, text: str) -> None:
        self._conditions("barometer", barometer_kpa=parse_number(text) if text.strip() else None)

    def _put_supply_measured(self, text: str) -> None:
        self._conditions("measured supply", supply_v=parse_number(text) if text.strip() else None)

    def _conditions(self, what: str, **fields: object) -> None:
        self._send(what, self.channel.with_(conditions=self.channel.conditions.with_(**fields)))

    def _put_fuel(self, **fields: object) -> None:
        changed = self.channel.with_(fuel=self.channel.fuel.with_(**fields))
        _ = changed.range  # refuse a fuel with which the range has no value
        self._send("fuel", changed)

    def _put_afr(self, text: str) -> None:
        self._put_fuel(stated_afr=parse_number(text) if text.strip() else None)

    def _put_zero(self, text: str) -> None:
        if not text.strip():
            self._transducer("rated zero", measured_zero=None)
            return
        before = self.channel.transducer.measured_zero
        keep = before.keep if before else "slope"
        self._transducer("measured zero", measured_zero=MeasuredZero(signal=parse_number(text), keep=keep))

    def _put_zero_keep(self, keep: str) -> None:
        zero = self.channel.transducer.measured_zero
        if zero is not None:
            self._transducer(f"keep the {keep}", measured_zero=zero.with_(keep=keep))

    def _put_limits(self, changes: dict[str, Any]) -> None:
        self._send("limits", with_limits(self.channel, changes))

    def _put_accuracy(self, changes: dict[str, Any]) -> None:
        name, number = next(iter(changes.items()))
        share = number / (1 if name == "constant" else 100)
        self._transducer("accuracy", accuracy=self.channel.transducer.accuracy.with_(**{name: share}))

    def _put_tolerance(self, part: str, text: str) -> None:
        number = parse_number(text) / (1 if part == "constant" else 100)
        self._send("tolerance", self.channel.with_(tolerance=self.channel.tolerance.with_(**{part: number})))

    def _put_resolution(self, text: str) -> None:
        self.put("wanted step", wanted_resolution=parse_number(text) if text.strip() else None)

    def _put_controller_range(self, low: str, high: str) -> None:
        if not low.strip() and not high.strip():
            self.put("controller's range", controller_range=None)
        else:
            self.put("controller's range", controller_range=(parse_number(low), parse_number(high)))

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, ContinuousChannel)
        part = channel.transducer
        units = {"unit": part.unit, "out": part.output_unit, "pin": channel.path.pin_unit}
        self.quantity.show_value(part.quantity)
        self.sheet_unit.show_values(part.unit)
        suggested = ", ".join(SUGGESTED_UNITS[part.quantity])
        self.sheet_unit.entries[0].setToolTip(f"The unit the data sheet prints: {suggested} …")
        self.range.show_values(plain(part.range_low), plain(part.range_high), suffix=part.unit)
        self.output.show_value(part.output)
        self._show_rating(channel, units)
        self.source.show_value(part.source)
        self.source.setVisible(part.rating.kind != "unrated")
        self.unit.show_values(channel.unit)
        self.sheet_unit.show_note(taken_for(part.unit))
        self.unit.show_note("" if channel.unit == part.unit else taken_for(channel.unit))
        self._show_around(channel)
        self._show_zero(channel)
        self.limits.show_record(part, **units)
        self.accuracy.show_record(_in_percent(part.accuracy), **units)
        self._show_tolerance(channel)
        self._show_summaries(channel)

    def _show_summaries(self, channel: ContinuousChannel) -> None:
        """What stands in each part, for as long as it is folded."""
        part = channel.transducer
        self.curve.show_summary(f"{self.line.text()}; {part.source}" if self.line.text() else "nothing rated")
        self.allowed.show_summary(tolerance_words(channel.tolerance, channel.unit))
        accuracy = tolerance_words(part.accuracy, part.unit, "accuracy not stated")
        survives = "" if part.overload is None else f"survives {significant(part.overload)} {part.unit}, "
        self.bounds.show_summary(f"{survives}{accuracy}")
        stated = channel.controller_range
        has = "" if stated is None else f", controller has {significant(stated[0])} to {significant(stated[1])}"
        barometer = channel.conditions.barometer_kpa
        air = "" if barometer is None else f", barometer {significant(barometer)} kPa"
        self.site.show_summary(f"worked in {channel.unit}{air}{has}" if channel.unit else "no unit yet")

    def _show_around(self, channel: ContinuousChannel) -> None:
        part, fuel, around = channel.transducer, channel.fuel, channel.conditions
        self.barometer.setVisible("pressure" in part.quantity and part.quantity != "differential pressure")
        self.barometer.show_values("" if around.barometer_kpa is None else plain(around.barometer_kpa))
        self.supply_measured.setVisible(part.is_ratiometric and not channel.path.converter.shares_supply)
        self.supply_measured.show_values("" if around.supply_v is None else plain(around.supply_v))
        for widget in self.fuel_parts:
            widget.setVisible(part.quantity == "oxygen")
        self.fuel.show_values(fuel.name)
        self.hydrogen.show_values(plain(fuel.hydrogen_per_carbon))
        self.afr.show_values("" if fuel.stated_afr is None else plain(fuel.stated_afr))
        self.basis.show_value(fuel.basis)
        self.fuel_words.setText(
            f"% O2, lambda and AFR are views of one another, on the lean side: {fuel.stoichiometric_afr:.2f} kg of air "
            "for each kg of fuel at lambda 1."
        )

    def _show_rating(self, channel: ContinuousChannel, units: dict[str, str]) -> None:
        part = channel.transducer
        rating = part.rating
        self.rating.show_value(rating.kind)
        for field in (self.first, self.second):
            field.setVisible(isinstance(rating, TwoPoints))
        self.table.setVisible(isinstance(rating, RatedTable))
        pairs = isinstance(rating, Thermistor) and rating.given_by == "three pairs"
        for n, field in enumerate(self.pairs):
            field.setVisible(pairs)
            if isinstance(rating, Thermistor):
                field.show_values(plain(rating.pair_ohm[n]), plain(rating.pair_c[n]))
        if isinstance(rating, TwoPoints):
            for n, field in enumerate((self.first, self.second)):
                words = f"{part.output_unit} → {part.unit}"
                field.show_values(plain(rating.signals[n]), plain(rating.values[n]), suffix=words)
        elif isinstance(rating, RatedTable):
            self.table.show_rows(rating.signals, rating.values)
        form = self.form(rating.kind)
        for other in self._forms.values():
            other.setVisible(other is form)
        if form is not None:
            form.show_record(rating, **units)
        try:
            self.line.setText(rating.sentence(part.sheet))
        except YardstickError as error:
            self.line.setText(str(error))

    def form(self, kind: str) -> RecordForm | None:
        """The figures of a way of rating, made when they are first needed; None where it has fields of its own."""
        rated = next(one for one in RATING_KINDS if one.model_fields["kind"].default == kind)
        if rated not in RATING_ROWS:
            return None
        if kind not in self._forms:
            self._forms[kind] = RecordForm(RATING_ROWS[rated], self._put_figures)
            self._form_room.addWidget(self._forms[kind])
        return self._forms[kind]

    def _show_zero(self, channel: ContinuousChannel) -> None:
        part = channel.transducer
        zero = part.measured_zero
        try:
            straight = isinstance(part.rated(), Line)
        except YardstickError:
            straight = False
        self.zero.setVisible(straight)
        self.zero.show_values("" if zero is None else plain(zero.signal), suffix=part.output_unit)
        for widget in (self.zero_keep, self.zero_words):
            widget.setVisible(straight and zero is not None)
        if zero is None or not straight:
            return
        self.zero_keep.show_value(zero.keep)
        try:
            self.zero_words.setText(zero_sentence(channel, zero.signal))
        except NotApplicable as error:
            self.zero_words.setText(str(error))

    def _show_tolerance(self, channel: ContinuousChannel) -> None:
        tolerance = channel.tolerance
        self.constant.show_values(plain(tolerance.constant), suffix=channel.unit)
        self.of_reading.show_values(plain(100 * tolerance.of_reading))
        self.of_span.show_values(plain(100 * tolerance.of_span))
        self.tolerance_words.setText(tolerance_sentence(channel, tolerance))
        wanted, stated = channel.wanted_resolution, channel.controller_range
        self.resolution.show_values("" if wanted is None else plain(wanted), suffix=channel.unit)
        texts = ("", "") if stated is None else (plain(stated[0]), plain(stated[1]))
        self.controller.show_values(*texts, suffix=channel.controller_unit or channel.unit)
        self.controller_unit.show_values(channel.controller_unit)


def _in_percent(accuracy: Tolerance) -> Any:
    """The accuracy with its shares in percent, for showing only."""
    return accuracy.with_(of_reading=100 * accuracy.of_reading, of_span=100 * accuracy.of_span)


def zero_sentence(channel: ContinuousChannel, signal: float) -> str:
    """What a measured zero leaves open, with the difference at the top."""
    part = channel.transducer
    choices = part.zero_choices(signal, channel.around)
    slope, top = choices.keep_slope.gradient, choices.keep_top.gradient
    off = significant(choices.at_top, 3)
    return (
        f"Rated {significant(choices.rated_signal)} {part.output_unit}. Keep the slope: {significant(slope)} "
        f"{part.unit}/{part.output_unit}, the top reads {off} {part.unit} off. Keep the top: {significant(top)}."
    )
