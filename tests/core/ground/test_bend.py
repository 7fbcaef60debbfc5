"""How far a curve is from a straight line, whatever kind it is."""

import numpy as np
import pytest

from able_yardstick.core.curves import Line, Polynomial, Table
from able_yardstick.core.curves.bend import bend_of, is_straight


def test_a_table_whose_rows_lie_on_a_line_is_straight():
    signals = np.array([0.5, 1.3, 2.9, 4.5])
    assert is_straight(Table.through(signals, 62.5 * signals - 31.25))
    assert not is_straight(Table.through(signals, signals**2))


def test_the_bend_of_a_parabola_is_its_square_term_times_a_quarter_of_the_reach_squared():
    curve = Polynomial(coefficients=(1.0, 2.0, 0.5), domain=(0.0, 4.0))
    assert bend_of(curve) == pytest.approx(0.5 * 4**2 / 4, rel=1e-3)


def test_a_line_has_no_bend():
    assert bend_of(Line(height=-1.0, gradient=3.0, domain=(0.0, 5.0))) == pytest.approx(0, abs=1e-12)
