"""Without an error allowed the curve is chosen by what is more than chance, and never a line where a bend is plain."""

import numpy as np

from able_yardstick.core.regression.choice import choose


def test_a_bend_is_plain_though_the_curve_that_shows_it_turns():
    """30 rows of a thermistor (beta 3950 K, 10 kohm at 25 degC): no polynomial follows it, some turn."""
    celsius = np.arange(30) * 3.0
    ohm = np.round(10_000 * np.exp(3950 * (1 / (celsius + 273.15) - 1 / 298.15)), 1)
    found = choose(ohm, celsius)
    assert found.candidate.model == "table"
    assert found.candidate.usable
    assert "more than chance, but that curve turns" in found.reason


def test_a_curve_that_meets_every_reading_is_bent_no_further():
    x = np.arange(11.0)
    found = choose(x, x**2)
    assert found.candidate.model == "poly2"
    assert found.reason == "the bend is over 1000 times its standard error: more than chance"


def test_what_the_last_written_decimal_explains_is_no_bend():
    """Five readings whose references were written to 0.1 kPa; a third order would meet them all by chance."""
    found = choose(np.array([0.5, 1.5, 2.5, 3.5, 4.5]), np.array([0.0, 62.4, 125.0, 187.6, 250.0]))
    assert found.candidate.model == "line"


def test_two_readings_are_too_few_to_test_for_a_bend():
    found = choose(np.array([0.5, 4.5]), np.array([0.0, 250.0]))
    assert (found.candidate.model, found.reason) == ("line", "there are too few readings to test for a bend")
