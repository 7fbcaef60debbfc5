"""Preferred values, networks of parts, and dividers and shunts solved backwards."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.stages import Amplifier, Divider, ohms
from able_yardstick.core.standards.resistors import SERIES, parse_network, solve_divider, solve_shunt
from able_yardstick.core.words.errors import BadTable, OutOfRange


def test_the_series_are_those_of_the_standard():
    assert len(SERIES["E12"]) == 12
    assert len(SERIES["E24"]) == 24
    assert SERIES["E96"][:6] == (1.0, 1.02, 1.05, 1.07, 1.1, 1.13)
    assert SERIES["E96"][-3:] == (9.31, 9.53, 9.76)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("4k7", 4700), ("220", 220), ("2.2k", 2200), ("1M", 1e6), ("4R7", 4.7), ("100 + 220", 320),
        ("1k | 1k", 500), ("100 + 1k | 1k", 600), ("(100 + 1k) | 1k1", 550), ("1k||1k", 500), ("47Ω", 47),
    ],
)  # fmt: skip
def test_parts_in_series_and_parallel_are_added_up(text, value):
    assert parse_network(text) == pytest.approx(value)


@pytest.mark.parametrize("text", ["", "abc", "100 +", "(100", "100 100", "0", "4k7 | "])
def test_what_is_no_network_is_refused(text):
    with pytest.raises(BadTable):
        parse_network(text)


def test_the_gain_follows_from_the_resistor_by_the_amplifiers_own_law():
    part = Amplifier(resistor="100 + 4.3 | 47", law_a=1, law_b_ohm=50_000)
    resistor = 100 + 4.3 * 47 / 51.3
    assert part.volts_per_volt == pytest.approx(1 + 50_000 / resistor)
    rounded = Amplifier(resistor="105", law_a=1, law_b_ohm=50_000)
    assert abs(rounded.volts_per_volt / part.volts_per_volt - 1) > 0.009, "one rounded resistor costs a percent"


@given(top=st.floats(6, 500), pin=st.sampled_from([1.1, 3.3, 5.0]), load=st.sampled_from([math.inf, 1e5, 1e6]))
def test_a_divider_never_goes_over_and_uses_nearly_all(top, pin, load):
    choice = solve_divider(top, pin, impedance_ohm=load, series="E96")
    part = Divider(top_ohm=choice.top_ohm, bottom_ohm=choice.bottom_ohm)
    seen = float(part.forward(top, load_ohm=load))
    assert seen == pytest.approx(choice.pin_v)
    assert seen <= pin * (1 + 1e-9)
    assert choice.used > 0.97


def test_no_other_pair_of_the_series_comes_nearer():
    choice = solve_divider(60.0, 3.3, impedance_ohm=1e5)
    values = [step * 10**decade for decade in range(1, 6) for step in SERIES["E24"]]
    best = 0.0
    for bottom in values:
        loaded = bottom * 1e5 / (bottom + 1e5)
        for top in values:
            seen = 60 * loaded / (loaded + top)
            if seen <= 3.3 and 5e3 <= top + bottom <= 2e5:
                best = max(best, seen)
    assert choice.pin_v == pytest.approx(best)


def test_a_divider_cannot_raise_a_voltage():
    with pytest.raises(OutOfRange, match="only makes a voltage smaller: 3 V cannot become 5 V"):
        solve_divider(3.0, 5.0)


def test_a_shunt_leaves_the_headroom_asked_for():
    choice = solve_shunt(4, 20, 5.0, headroom=0.1)
    assert choice.exact_ohm == pytest.approx(5 / 0.022)
    assert choice.resistance_ohm == 226
    assert choice.headroom == pytest.approx(5 / 226 / 0.02 - 1)
    assert solve_shunt(4, 20, 5.0).resistance_ohm == 249
    with pytest.raises(OutOfRange, match="Expected a loop that rises"):
        solve_shunt(20, 4, 5.0)


def test_resistances_are_written_as_on_a_drawing():
    assert [ohms(one) for one in (0.5, 250, 4700, 1e6)] == ["0.5 Ω", "250 Ω", "4.7 kΩ", "1 MΩ"]
