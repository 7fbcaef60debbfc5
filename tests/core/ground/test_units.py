"""Units as people write them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.describe.edits import with_rating, with_working_unit
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.job.channels import new_continuous
from able_yardstick.core.units.conversion import affine, affine_gain, convert, parse_unit
from able_yardstick.core.units.oxygen import Fuel, convert_oxygen, excess_air, oxygen_percent
from able_yardstick.core.units.quantity import QUANTITIES, SUGGESTED_UNITS, check_unit
from able_yardstick.core.words.errors import OutOfRange, UnitMismatch
from able_yardstick.core.words.numerals import fixed, parse_number, signed

KNOWN = [  # exact by definition: psi from the pound and inch, the bar, the degree Fahrenheit, the conventional water
    (1.0, "bar", "kPa", 100.0),
    (1.0, "psi", "kPa", 6.894757293168361),
    (100.0, "°C", "°F", 212.0),
    (0.0, "°C", "K", 273.15),
    (1.0, "mmH2O", "Pa", 9.80665),
    (6.0, "m³/h", "l/min", 100.0),
    (1.0, "t", "kg", 1000.0),
    (25.0, "%", "%", 25.0),
    (3.0, "V", "mV", 3000.0),
    (1.0, "barg", "kPa(g)", 100.0),
]


@pytest.mark.parametrize(("value", "source", "target", "wanted"), KNOWN)
def test_units_are_converted_as_defined(value, source, target, wanted):
    assert float(convert(value, source, target)) == pytest.approx(wanted, rel=1e-12)


@pytest.mark.parametrize("quantity", QUANTITIES)
def test_every_suggested_unit_fits_its_quantity_and_converts_to_the_first(quantity):
    first = SUGGESTED_UNITS[quantity][0]
    for unit in SUGGESTED_UNITS[quantity]:
        assert check_unit(unit, quantity) == unit
        if quantity not in ("force or mass", "humidity", "level", "flow", "oxygen", "other"):
            gain, offset = affine(unit, first)
            back, step = affine(first, unit)
            assert (gain * back, gain * step + offset) == pytest.approx((1.0, 0.0), abs=1e-9)


def test_a_temperature_step_is_no_temperature():
    assert affine_gain("°C", "°F") == pytest.approx(1.8)
    assert affine("°C", "°F") == pytest.approx((1.8, 32.0))


def test_gauge_becomes_absolute_only_with_the_barometer():
    with pytest.raises(UnitMismatch, match=r"bar\(g\) to bar\(a\) needs the barometer's reading"):
        affine("bar(g)", "bar(a)")
    assert affine("bar(g)", "bar(a)", barometer_kpa=98.0) == pytest.approx((1.0, 0.98))


@pytest.mark.parametrize("text", ["kPaa a", "furlongs of", "", "__import__('os')", "1e999", "m" * 80])
def test_what_is_no_unit_is_refused(text):
    with pytest.raises(UnitMismatch, match=r"Expected a unit such as kPa"):
        check_unit(text, "gauge pressure")


def test_a_unit_of_something_else_is_refused_with_ones_that_fit():
    with pytest.raises(UnitMismatch, match=r"“°C” does not measure gauge pressure: expected a unit such as kPa"):
        check_unit("°C", "gauge pressure")
    with pytest.raises(UnitMismatch, match="is absolute pressure, the channel measures gauge pressure"):
        check_unit("bar(a)", "gauge pressure")


def test_stoichiometric_air_of_methane_is_as_published():
    # 17.2 kg of air a kilogram of methane; flue gas at lambda 1.2 dry: 3.8 % O2 (combustion tables)
    assert Fuel().stoichiometric_afr == pytest.approx(17.2, abs=0.05)
    assert float(oxygen_percent(np.array(1.2), Fuel())) == pytest.approx(3.8, abs=0.1)


@given(st.floats(1.0, 15.0), st.floats(0.0, 4.0), st.sampled_from(["dry", "wet"]))
def test_the_views_of_oxygen_go_round(ratio, hydrogen, basis):
    fuel = Fuel(hydrogen_per_carbon=hydrogen, basis=basis)
    assert float(excess_air(oxygen_percent(np.array(ratio), fuel), fuel)) == pytest.approx(ratio, rel=1e-9)
    through = convert_oxygen(convert_oxygen(np.array(ratio), "lambda", "AFR", fuel), "AFR", "% O2", fuel)
    assert float(through) == pytest.approx(float(oxygen_percent(np.array(ratio), fuel)), abs=1e-9)


def test_the_views_of_oxygen_are_refused_where_they_diverge():
    with pytest.raises(OutOfRange, match=r"lambda 0\.9 is rich"):
        oxygen_percent(np.array([0.9]), Fuel())
    with pytest.raises(OutOfRange, match=r"too near the 20\.95 % of air"):
        excess_air(np.array([20.9]), Fuel())


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("1 250,5", 1250.5),
        ("1\u2009250.5", 1250.5),
        ("−3", -3.0),
        ("2.5e-3", 0.0025),
        ("1,250.5", 1250.5),
        ("1.250,5", 1250.5),
    ],
)
def test_numbers_are_taken_as_people_write_them(text, value):
    assert parse_number(text) == value


@pytest.mark.parametrize("text", ["", "x", "1 2", "nan", "inf", "1_000", "0x10", "1,2,3", "1e9999", "--3"])
def test_what_is_no_number_is_refused(text):
    with pytest.raises(ValueError, match="Expected a number"):
        parse_number(text)


@given(st.floats(-1e9, 1e9), st.integers(0, 6))
def test_a_number_shown_is_read_back(value, decimals):
    assert parse_number(fixed(value, decimals)) == pytest.approx(round(value, decimals), abs=1e-9)


def test_a_zero_has_no_sign():
    assert (fixed(-0.001, 2), signed(0.001, 2), signed(0.5, 1), signed(-0.5, 1)) == ("0.00", "0.00", "+0.5", "−0.5")


def test_a_curve_of_one_view_of_oxygen_is_read_in_another():
    channel = with_rating(new_continuous("c", "d", "T"), "zirconia")
    channel = channel.with_(transducer=channel.transducer.with_(range_low=0.5, range_high=12.0))
    in_percent, in_lambda = nominal_curve(channel), nominal_curve(with_working_unit(channel, "lambda"))
    at = float(in_percent.signal(6.0))
    assert float(in_lambda.value(at)) == pytest.approx(float(convert(6.0, "% O2", "lambda")))
    assert float(in_lambda.signal(float(convert(6.0, "% O2", "lambda")))) == pytest.approx(at)


def test_a_stated_ratio_of_air_to_fuel_takes_the_place_of_the_reckoned_one():
    assert Fuel(stated_afr=15.7).stoichiometric_afr == 15.7
    assert float(convert(1.2, "lambda", "AFR", fuel=Fuel(stated_afr=15.0))) == pytest.approx(18.0)


@pytest.mark.parametrize(
    ("value", "source", "target", "wanted"),
    [
        (1500.0, "rpm", "Hz", 25.0),
        (1.0, "Torr", "Pa", 133.322368),
        (1.0, "N/mm2", "MPa", 1.0),
        (1.0, "mm2/s", "m2/s", 1e-6),
        (1.0, "kgf/cm2", "kPa", 98.0665),
        (1.0, "Nm3/h", "Nl/min", 1000 / 60),
        (1.0, "slpm", "sccm", 1000.0),
        (60.0, "scfm", "Nm3/min", 60 * 0.0283168466 * 273.15 / 288.7055556),
        (1.0, "MV", "kV", 1000.0),
        (1.0, "mV", "V", 0.001),
        (2.0, "t", "kg", 2000.0),
        (1.0, "ton", "kg", 907.18474),
        (1.0, "gal", "l", 3.785411784),
        (100.0, "°F", "°C", 37.7777778),
    ],
)
def test_units_that_the_trade_writes(value, source, target, wanted):
    assert float(convert(value, source, target)) == pytest.approx(wanted, rel=1e-7)


@pytest.mark.parametrize(
    ("unit", "words"), [("ton", "short ton"), ("gal", "US gallon"), ("T", "tonne"), ("scfm", "60 °F")]
)
def test_a_word_with_several_meanings_says_which_is_taken(unit, words):
    assert words in parse_unit(unit).note


def test_plain_units_need_no_note():
    assert all(parse_unit(unit).note == "" for unit in ("kPa", "°C", "kg", "m³/h", "% O2", "V", "t"))


def test_volumes_at_reference_conditions_are_no_volumes_as_they_flow():
    with pytest.raises(UnitMismatch, match="measure different things"):
        convert(1.0, "Nm3/h", "m3/h")


@pytest.mark.parametrize("text", ["m**9**9**9", "80 m**9**9**9", "m**12", "9**9", "m**(9)"])
def test_powers_of_powers_are_no_unit(text):
    with pytest.raises(UnitMismatch):
        parse_unit(text)


def test_a_plain_pressure_unit_means_what_the_channel_measures():
    gauge = affine("kPa(a)", "kPa", barometer_kpa=101.3, pressure="gauge")
    assert gauge == (1.0, pytest.approx(-101.3))
    assert affine("psi(g)", "mbar", barometer_kpa=100.0, pressure="absolute")[1] == pytest.approx(1000.0)
    assert affine("kPa", "bar", barometer_kpa=None, pressure="gauge") == (pytest.approx(0.01), 0.0)
    with pytest.raises(UnitMismatch, match="needs the barometer's reading"):
        affine("kPa(a)", "kPa", pressure="gauge")
    with pytest.raises(UnitMismatch, match="no barometer leads from one to the other"):
        affine("kPa(a)", "Pa", barometer_kpa=100.0, pressure="differential")
