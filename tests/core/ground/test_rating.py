"""Transducers by what is known of them: each way's curve at figures worked out by hand."""

import numpy as np
import pytest
from pydantic import ValidationError

from able_yardstick.core.describe.catalogue import ENTRIES, groups
from able_yardstick.core.describe.edits import with_figures, with_output, with_rating
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.formula import FormulaError
from able_yardstick.core.job.channels import new_continuous
from able_yardstick.core.job.nodes import range_pins
from able_yardstick.core.sensor.rating import (
    RATING_KINDS,
    Formula,
    Platinum,
    Pulses,
    Root,
    Sensitivity,
    Thermistor,
    Thermocouple,
    Turns,
    TwoPoints,
    Zirconia,
)
from able_yardstick.core.sensor.transducer import MeasuredZero, Transducer
from able_yardstick.core.words.errors import NotApplicable, UnitMismatch, YardstickError
from able_yardstick.core.words.record import InvalidRecord


def part(rating, unit, low, high, output, **more):
    return Transducer(unit=unit, range_low=low, range_high=high, output=output, rating=rating, **more)


def test_two_points_need_not_be_the_ends():
    rated = part(TwoPoints(signals=(1.0, 3.0), values=(20.0, 60.0)), "kPa", 0, 100, "voltage").nominal()
    assert rated.value(np.array([0.0, 5.0])).tolist() == [0.0, 100.0]
    assert rated.domain == (0.0, 5.0)


def test_a_load_cell_is_its_capacity_over_its_sensitivity_from_its_zero_balance():
    cell = part(Sensitivity(mv_per_v=2.0, capacity=2000, zero_mv_per_v=0.02, tolerance_percent=0.25), "kg", 0, 2000,
                "bridge")  # fmt: skip
    assert float(cell.nominal().value(2.02)) == pytest.approx(2000)
    assert float(cell.nominal().value(0.02)) == pytest.approx(0, abs=1e-9)
    assert cell.half_width(np.array([1000.0])) == pytest.approx(2.5)


@pytest.mark.parametrize(
    ("unit", "low", "high", "at"), [("°C", 0, 200, 100), ("°F", 32, 392, 212), ("K", 273.15, 473.15, 373.15)]
)
def test_a_platinum_element_in_any_unit_of_temperature(unit, low, high, at):
    element = part(Platinum(), unit, low, high, "resistance")
    assert float(element.nominal().value(138.5055)) == pytest.approx(at, abs=1e-6)
    assert element.nominal().domain == pytest.approx((100.0, 175.856), abs=1e-3)
    step = 1.8 if unit == "°F" else 1.0
    assert element.half_width(np.array([float(at)])) == pytest.approx(0.8 * step)


def test_a_thermocouple_that_cannot_tell_its_range_is_refused():
    with pytest.raises(ValidationError, match=r"what type B can tell: 42\.13 to 1820 °C"):
        part(Thermocouple(letter="B"), "°C", 0, 1700, "millivolts")
    assert part(Thermocouple(letter="B"), "°C", 100, 1700, "millivolts").nominal().is_monotonic


def test_a_thermistor_by_beta_by_coefficients_and_by_pairs_is_the_same_one():
    pairs = Thermistor(given_by="three pairs")
    a, b, c = pairs.terms
    same = Thermistor(given_by="coefficients", a=a, b=b, c=c)
    curves = [part(one, "°C", 0, 100, "resistance").nominal() for one in (pairs, same)]
    ohms = np.array([32_650.0, 10_000.0, 3_603.0])
    for curve in curves:
        assert curve.value(ohms) == pytest.approx([0, 25, 50], abs=1e-6)
    with pytest.raises(InvalidRecord, match="the resistance rises as it warms"):
        same.with_(b=-1e-4)


def test_a_zirconia_cell_has_no_end_at_zero_percent():
    with pytest.raises(ValidationError, match=r"start the range above it, at 0\.1 % say"):
        part(Zirconia(), "% O2", 0, 21, "millivolts")
    cell = part(Zirconia(cell_c=700), "% O2", 0.5, 20.9, "millivolts").nominal()
    assert float(cell.value(49.2424)) == pytest.approx(2.0, rel=1e-4)


def test_a_current_transformer_is_its_ratio():
    turns = part(Turns(primary_a=100, secondary_ma=50), "A", 0, 100, "alternating current")
    assert float(turns.nominal().value(25.0)) == 50.0


def test_pulses_for_what_passes_are_counted_in_time():
    flow = part(Pulses(pulses=6000, per="m³"), "m³/h", 0, 480, "frequency")
    assert float(flow.nominal().value(800.0)) == pytest.approx(480.0)
    assert float(part(Pulses(pulses=2.5), "rpm", 0, 400, "frequency").nominal().value(1000)) == 400
    litres = part(Pulses(pulses=6, per="l"), "m³/h", 0, 480, "frequency")
    assert float(litres.nominal().value(800.0)) == pytest.approx(480.0)
    with pytest.raises(ValidationError, match="m³ in time is no kg/h"):
        part(Pulses(pulses=6000, per="m³"), "kg/h", 0, 480, "frequency")


@pytest.mark.parametrize(
    ("taken", "at_half"), [("in the transmitter", 50.0), ("in the controller", 70.7107), ("not yet", 70.7107)]
)
def test_the_root_of_a_pressure_is_taken_once(taken, at_half):
    rating = Root(taken=taken, full=100, cutoff_percent=10)
    flow = part(rating, "m³/h", 0, 100, "current loop").nominal()
    assert float(flow.value(12.0)) == pytest.approx(at_half, abs=1e-3)
    if taken != "in the transmitter":
        assert float(flow.value(4.15)) == 0.0  # 9.7 % of full flow, below the cutoff
        assert float(flow.value(4.0 + 16 * 0.11**2)) == pytest.approx(11.0)


def test_a_formula_is_checked_at_both_its_ends():
    rating = Formula(text="0.02 * mv + 1", name_of_signal="mv", signal_unit="mV", value_unit="bar(g)", signal_high=5000)
    curve = part(rating, "kPa", 0, 10_100, "voltage", quantity="gauge pressure").nominal()
    assert float(curve.value(2.0)) == pytest.approx(100 * (0.02 * 2000 + 1))
    assert curve.domain == (0.0, 5.0)
    sheet = part(rating, "kPa", 0, 1, "voltage", quantity="gauge pressure").sheet
    with pytest.raises(UnitMismatch, match="is no unit of voltage"):
        rating.with_(signal_unit="mA").curve(sheet)
    with pytest.raises(UnitMismatch, match="they measure different things"):
        rating.with_(value_unit="°C").curve(sheet)
    with pytest.raises(InvalidRecord, match="asks for y, but only mv is given"):
        rating.with_(text="0.02 * y").curve(sheet)
    with pytest.raises(InvalidRecord, match="turns or is flat at a signal of 2"):
        rating.with_(text="(mv - 2500)^2").curve(sheet)
    with pytest.raises(FormulaError, match="found the end"):
        rating.with_(text="0.02 *").curve(sheet)


def test_a_measured_zero_keeps_the_slope_or_the_top():
    gauge = part(TwoPoints(signals=(0.5, 4.5), values=(0, 250)), "kPa", 0, 250, "voltage")
    choices = gauge.zero_choices(0.54)
    assert choices.rated_signal == 0.5
    assert choices.at_top == pytest.approx(-2.5)
    assert float(choices.keep_slope.value(4.5)) == pytest.approx(247.5)
    assert float(choices.keep_top.value(4.5)) == pytest.approx(250.0)
    for keep, at_top in (("slope", 247.5), ("top", 250.0)):
        moved = gauge.with_(measured_zero=MeasuredZero(signal=0.54, keep=keep)).nominal()
        assert float(moved.value(0.54)) == pytest.approx(0.0, abs=1e-9)
        assert float(moved.value(4.5)) == pytest.approx(at_top)
    with pytest.raises(NotApplicable, match="this one is bent"):
        part(Platinum(), "°C", 0, 100, "resistance").zero_choices(100.1)


def test_ranges_and_limits_are_kept_apart_and_checked():
    gauge = part(TwoPoints(signals=(0.5, 4.5), values=(0, 250)), "kPa", 0, 250, "voltage")
    with pytest.raises(InvalidRecord, match="must not lie inside the range"):
        gauge.with_(overload=200)
    with pytest.raises(InvalidRecord, match="signal's limits must run upwards"):
        gauge.with_(signal_low=4.75, signal_high=0.25)
    with pytest.raises(InvalidRecord, match="is about an output in Ω"):
        gauge.with_(rating=Platinum())


def test_every_way_of_rating_can_be_turned_into_every_other():
    kinds = [kind.model_fields["kind"].default for kind in RATING_KINDS]
    for first in kinds:
        for second in kinds:
            channel = with_rating(new_continuous("c", "d", "T"), first)
            turned = with_rating(channel, second)
            assert turned.transducer.rating.kind == second
            assert turned.transducer.rating.sentence(turned.transducer.sheet)


def test_a_cold_junction_follows_the_type_of_its_thermocouple():
    channel = with_rating(new_continuous("c", "d", "T"), "thermocouple")
    turned = with_figures(channel, Thermocouple(letter="N"))
    assert turned.path.stages[0].letter == "N"


@pytest.mark.parametrize("entry", ENTRIES, ids=lambda entry: f"{entry.group}: {entry.title}")
def test_every_entry_of_the_catalogue_starts_a_channel_that_works(entry):
    channel = entry.channel("c", "d", f"{entry.tag}-1")
    curve = nominal_curve(channel)
    assert curve is not None
    assert curve.is_monotonic
    assert channel.transducer.source == "assumed"
    low, high = range_pins(channel)
    assert low != high
    changed = channel.with_(transducer=channel.transducer.with_(source="measured"))
    assert entry.transducer.source == "assumed", "an entry is a copy"
    assert changed.transducer.source == "measured"


def test_no_entry_names_a_maker_and_each_has_its_group():
    titles = [entry.title for entry in ENTRIES]
    assert sum(len(entries) for entries in groups().values()) == len(titles)
    assert len({(entry.group, entry.title) for entry in ENTRIES}) == len(titles)


def test_an_output_that_a_rating_is_not_about_is_refused():
    channel = with_rating(new_continuous("c", "d", "T"), "platinum")
    assert with_output(channel, "voltage").transducer.rating.kind == "unrated"
    with pytest.raises(YardstickError):
        channel.transducer.with_(output="voltage")
