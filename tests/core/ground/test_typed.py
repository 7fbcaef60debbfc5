"""Numbers typed with a unit of their own."""

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.units.typed import number_and_unit, number_in, typed_in
from able_yardstick.core.words.errors import UnitMismatch, YardstickError


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("956 mV", "V", 0.956), ("4.5 V", "V", 4.5), ("4,5V", "V", 4.5), ("2.5e-3 V", "mV", 2.5), ("3", "V", 3.0),
        ("1 250 Pa", "kPa", 1.25), ("10 kΩ", "Ω", 10_000.0), ("-40 °F", "°C", -40.0), ("100 mmH2O", "Pa", 980.665),
        ("20 mA", "A", 0.02),
    ],
)  # fmt: skip
def test_a_unit_that_is_typed_is_taken(text, unit, value):
    assert typed_in(text, unit).value == pytest.approx(value, rel=1e-9)


def test_the_last_digit_follows_the_unit():
    assert typed_in("956 mV", "V").digit == pytest.approx(0.001)


def test_a_unit_of_another_kind_is_refused_with_the_one_that_would_fit():
    with pytest.raises(UnitMismatch, match="“psi” was typed where V is expected"):
        typed_in("4.5 psi", "V")
    with pytest.raises(UnitMismatch, match="expected"):
        number_in("4.5 psi", "V")


@pytest.mark.parametrize(("text", "unit"), [("2 K", "°C"), ("3 °F", "°C"), ("1 °C", "K")])
def test_a_field_that_may_hold_a_difference_takes_no_other_zero(text, unit):
    with pytest.raises(UnitMismatch, match="begin at different zeros"):
        number_in(text, unit)


@pytest.mark.parametrize("text", ["", "12", "soon", "PT-201", "12 apples", "1; 2; 3", "-", "5 m**9**9"])
def test_any_other_text_is_left_as_it_is(text):
    assert number_in(text, "V") == text


@given(st.text(max_size=30), st.sampled_from(["V", "kPa", "% of span", "°C"]))
def test_whatever_is_typed_is_taken_or_refused_in_words(text, unit):
    for read in (lambda: number_and_unit(text), lambda: number_in(text, unit), lambda: typed_in(text, unit)):
        with suppress(YardstickError):
            read()
