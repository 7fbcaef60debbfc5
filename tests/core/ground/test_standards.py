"""Standard curves both ways, and where they refuse. Table values still want comparing with a printed copy."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.standards import platinum, thermistors, zirconia
from able_yardstick.core.standards import thermocouples as tc
from able_yardstick.core.words.errors import DegenerateReadings, OutOfRange

# IEC 60584-1:2013, the tables: mV rounded to 0.001, reference junction at 0 °C
EMFS = [
    ("B", 100, 0.033), ("B", 600, 1.792), ("B", 1000, 4.834), ("B", 1820, 13.820),
    ("E", -270, -9.835), ("E", -200, -8.825), ("E", 100, 6.319), ("E", 1000, 76.373),
    ("J", -210, -8.095), ("J", 100, 5.269), ("J", 760, 42.919), ("J", 1200, 69.553),
    ("K", -270, -6.458), ("K", -200, -5.891), ("K", 100, 4.096), ("K", 1000, 41.276), ("K", 1372, 54.886),
    ("N", -270, -4.345), ("N", -200, -3.990), ("N", -100, -2.407), ("N", 100, 2.774), ("N", 1000, 36.256),
    ("N", 1300, 47.513), ("R", -50, -0.226), ("R", 100, 0.647), ("R", 1000, 10.506), ("R", 1768, 21.101),
    ("S", -50, -0.236), ("S", 100, 0.646), ("S", 1000, 9.587), ("S", 1768, 18.693),
    ("T", -270, -6.258), ("T", -200, -5.603), ("T", 100, 4.279), ("T", 400, 20.872),
]  # fmt: skip
# IEC 60751:2022, table 1: ohms of a 100 Ω element, rounded to 0.01
OHMS = [(-200, 18.52), (-100, 60.26), (-50, 80.31), (0, 100.0), (25, 109.73), (100, 138.51), (250, 194.10),
        (400, 247.09), (600, 313.71), (850, 390.48)]  # fmt: skip


@pytest.mark.parametrize(("letter", "celsius", "millivolts"), EMFS)
def test_a_thermocouple_gives_the_emf_of_the_tables(letter, celsius, millivolts):
    assert float(tc.emf_mv(letter, celsius)) == pytest.approx(millivolts, abs=0.00051)


@pytest.mark.parametrize("letter", tc.LETTERS)
def test_the_pieces_of_a_reference_function_join(letter):
    for before, after in zip(tc._pieces(letter), tc._pieces(letter)[1:], strict=False):
        at = np.array([before.high_c])
        assert before.high_c == after.low_c
        assert float(before.emf(at)[0]) == pytest.approx(float(after.emf(at)[0]), abs=2e-7)


@pytest.mark.parametrize("letter", tc.LETTERS)
@given(share=st.floats(0, 1))
def test_the_inverse_is_the_reference_function_solved(letter, share):
    low, high = tc.one_to_one_c(letter)
    celsius = low + share * (high - low)
    found = float(tc.temperature_c(letter, tc.emf_mv(letter, celsius)))
    loose = abs(float(tc.sensitivity_mv_k(letter, celsius))) < 1e-3
    assert found == pytest.approx(celsius, abs=0.02 if loose else 1e-6)


def test_a_whole_array_is_solved_at_once_and_keeps_its_shape():
    celsius = np.linspace(-100, 1300, 6).reshape(2, 3)
    assert tc.temperature_c("K", tc.emf_mv("K", celsius)) == pytest.approx(celsius, abs=1e-9)


def test_type_b_has_two_temperatures_for_one_emf_below_43_degrees():
    assert tc.turning_c("B") == pytest.approx(21.0, abs=0.1)
    first, second = tc.temperatures_c("B", -0.001)
    assert tc.emf_mv("B", np.array([first, second])) == pytest.approx(-0.001, abs=1e-12)
    assert first < 21 < second
    with pytest.raises(OutOfRange, match=r"belongs to two temperatures of type B, 4\.55 and 37\.54 °C"):
        tc.temperature_c("B", -0.001)
    assert tc.temperatures_c("B", -0.01) == ()


def test_an_emf_no_temperature_gives_is_refused_with_the_cure():
    with pytest.raises(OutOfRange, match=r"80 mV is beyond type K, which gives −6\.45774 to 54\.8864 mV"):
        tc.temperature_c("K", 80.0)
    with pytest.raises(OutOfRange, match="1500 °C is beyond type T"):
        tc.emf_mv("T", 1500.0)


def test_the_cold_junction_is_dealt_with_in_emf_and_not_in_degrees():
    seen = float(tc.emf_mv("K", 1000.0) - tc.emf_mv("K", 40.0))
    right = float(tc.temperature_c("K", seen + float(tc.emf_mv("K", 40.0))))
    wrong = float(tc.temperature_c("K", seen)) + 40.0
    assert right == pytest.approx(1000.0, abs=1e-6)
    assert abs(wrong - 1000.0) > 0.5


@pytest.mark.parametrize(("celsius", "ohms"), OHMS)
def test_a_platinum_element_gives_the_resistance_of_the_table(celsius, ohms):
    assert float(platinum.resistance_ohm(celsius)) == pytest.approx(ohms, abs=0.0051)
    assert float(platinum.resistance_ohm(celsius, 1000.0)) == pytest.approx(10 * ohms, abs=0.051)


@given(celsius=st.floats(-200, 850), r0=st.sampled_from([100.0, 500.0, 1000.0]))
def test_platinum_is_solved_both_ways(celsius, r0):
    assert float(platinum.temperature_c(platinum.resistance_ohm(celsius, r0), r0)) == pytest.approx(celsius, abs=1e-8)


def test_a_class_of_platinum_holds_over_its_own_range_only():
    assert platinum.tolerance_k("AA", np.array([0.0, 100.0])).tolist() == pytest.approx([0.10, 0.27])
    assert platinum.tolerance_k("A", -50.0) == pytest.approx(0.25)
    assert platinum.tolerance_k("B", 100.0) == pytest.approx(0.80)
    assert platinum.tolerance_k("C", 100.0) == pytest.approx(1.60)
    assert np.isnan(platinum.tolerance_k("AA", 300.0))
    with pytest.raises(OutOfRange, match="400 Ω is beyond IEC 60751"):
        platinum.temperature_c(400.0)


def test_three_pairs_give_the_steinhart_hart_coefficients():
    ohms, celsius = (32_650.0, 10_000.0, 3_603.0), (0.0, 25.0, 50.0)
    law = thermistors.SteinhartHart.through(ohms, celsius)
    assert thermistors.temperature_c(law, np.array(ohms)) == pytest.approx(celsius, abs=1e-9)
    assert thermistors.resistance_ohm(law, np.array(celsius)) == pytest.approx(ohms, rel=1e-12)
    logs = [np.log(r) for r in ohms]  # the textbook solution by divided differences
    y = [1 / (t + 273.15) for t in celsius]
    g2, g3 = (y[1] - y[0]) / (logs[1] - logs[0]), (y[2] - y[0]) / (logs[2] - logs[0])
    c = (g3 - g2) / (logs[2] - logs[1]) / sum(logs)
    assert law.c == pytest.approx(c, rel=1e-6)
    with pytest.raises(DegenerateReadings, match="Check that each resistance stands beside its own temperature"):
        thermistors.SteinhartHart.through(ohms, (50.0, 25.0, 0.0))


def test_the_beta_law_is_met_at_its_own_two_points():
    law = thermistors.SteinhartHart.from_beta(10_000.0, 25.0, 3950.0)
    assert float(thermistors.temperature_c(law, 10_000.0)) == pytest.approx(25.0)
    expected = 10_000 * np.exp(3950 * (1 / 358.15 - 1 / 298.15))
    assert float(thermistors.resistance_ohm(law, 85.0)) == pytest.approx(expected)
    with pytest.raises(OutOfRange, match="Look for a short"):
        thermistors.temperature_c(law, 0.0)


def test_nernst_gives_no_emf_in_air_and_a_decade_for_each_step_below_it():
    assert float(zirconia.emf_mv(20.946, 700.0)) == pytest.approx(0.0, abs=1e-12)
    decade = zirconia.emf_mv(0.2, 700.0) - zirconia.emf_mv(2.0, 700.0)
    assert float(decade) == pytest.approx(0.0496 * 973.15, rel=2e-4)  # 0.0496 T mV a decade, in every textbook
    assert float(zirconia.oxygen_percent(zirconia.emf_mv(3.0, 650.0, 1.5), 650.0, 1.5)) == pytest.approx(3.0)


@pytest.mark.parametrize(
    ("letter", "cls", "celsius", "kelvin"),
    [
        ("K", "2", -200.0, np.nan), ("K", "3", -200.0, 3.0), ("K", "2", 1000.0, 7.5), ("K", "1", 1000.0, 4.0),
        ("T", "1", 100.0, 0.5), ("T", "3", -100.0, 1.5), ("R", "1", 1600.0, 2.5), ("S", "1", 1000.0, 1.0),
        ("B", "2", 800.0, 2.0), ("B", "3", 1000.0, 5.0), ("C", "2", 1000.0, 10.0), ("A", "2", 2000.0, 20.0),
        ("J", "3", 0.0, np.nan), ("B", "2", 500.0, np.nan),
    ],
)  # fmt: skip
def test_tolerance_classes_of_thermocouples_and_where_they_hold(letter, cls, celsius, kelvin):
    found = float(tc.tolerance_k(letter, cls, celsius))
    assert np.isnan(found) if np.isnan(kelvin) else found == pytest.approx(kelvin)


def test_types_a_and_c_give_their_known_emfs():
    """Type C at 1 000 and 2 000 °C and at its end; type A-1 at 1 200 °C and at its end (rounded as tables print)."""
    assert tc.emf_mv("C", np.array([1000.0, 2000.0, 2315.0])) == pytest.approx([18.26, 33.669, 37.07], abs=5e-3)
    assert tc.emf_mv("A", np.array([1200.0, 2500.0])) == pytest.approx([19.15, 33.64], abs=5e-3)
    below, above = tc.sensitivity_mv_k("C", np.array([630.61499, 630.61501]))
    assert below == pytest.approx(above, abs=1e-8), "both pieces of type C meet in slope as well"


@pytest.mark.parametrize(
    ("element", "cls", "celsius", "holds"),
    [("film", "B", 550.0, False), ("wire-wound", "B", 550.0, True), ("film", "A", 250.0, True),
     ("film", "AA", 200.0, False), ("wire-wound", "AA", 200.0, True), ("film", "C", 550.0, True)],
)  # fmt: skip
def test_a_class_holds_over_less_of_a_film_element(element, cls, celsius, holds):
    assert bool(np.isfinite(platinum.tolerance_k(cls, celsius, element))) is holds
