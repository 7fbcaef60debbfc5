"""Laws of curves: inverses, branches, conversions, refusals."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import ValidationError

from able_yardstick.core.curves import Line, Polynomial, Table, raw_powers
from able_yardstick.core.words.errors import ConflictingReadings, NotMonotonic

numbers = st.floats(-1e6, 1e6, allow_nan=False)
steps = st.lists(st.floats(1e-3, 1e3), min_size=1, max_size=20)


@st.composite
def monotonic_tables(draw):
    dx = draw(steps)
    dy = draw(st.lists(st.floats(1e-3, 1e3), min_size=len(dx), max_size=len(dx)))
    sign = draw(st.sampled_from([1, -1]))
    x = draw(st.floats(-100, 100)) + np.concatenate([[0], np.cumsum(dx)])
    y = sign * np.concatenate([[0], np.cumsum(dy)])
    assume(np.all(np.diff(x) > 0))
    return Table.through(x, y)


@given(numbers, numbers.filter(lambda g: abs(g) > 1e-3), st.floats(-1e3, 1e3), st.floats(-10, 10))
def test_a_line_gives_back_the_signal_it_was_read_at(height, gradient, centre, signal):
    line = Line(height=height, gradient=gradient, centre=centre, domain=(-10, 10))
    back = float(line.signal(line.value(signal)))
    assert back == pytest.approx(signal, abs=1e-9 * (1 + abs(height / gradient) + abs(centre)))


@given(monotonic_tables(), st.floats(-0.5, 1.5))
def test_a_table_gives_back_the_signal_inside_and_beyond_its_rows(table, share):
    low, high = table.domain
    signal = low + share * (high - low)
    assert float(table.signal(table.value(signal))) == pytest.approx(signal, abs=1e-6 * (high - low))


@given(monotonic_tables())
def test_a_table_passes_through_its_rows_exactly(table):
    assert table.value(np.array(table.signals)).tolist() == list(table.values)


@given(monotonic_tables(), st.floats(0.1, 10), st.floats(-50, 50), st.floats(0, 1))
def test_a_conversion_of_unit_converts_every_value(table, gain, offset, share):
    signal = table.domain[0] + share * (table.domain[1] - table.domain[0])
    wanted = gain * float(table.value(signal)) + offset
    assert float(table.converted(gain, offset).value(signal)) == pytest.approx(wanted, rel=1e-9, abs=1e-9)


def test_a_polynomial_that_turns_gives_both_branches_and_refuses_one():
    curve = Polynomial(coefficients=(1.0, 0.0, 2.0), centre=2.0, scale=1.0, domain=(0.0, 5.0))
    assert curve.branches(3.0) == pytest.approx((1.0, 3.0))
    assert curve.turning_points() == pytest.approx((2.0,))
    with pytest.raises(NotMonotonic) as refusal:
        curve.signal(3.0)
    assert str(refusal.value) == (
        "The polynomial turns at a signal of 2, so one value belongs to several signals. "
        "Ask for its branches, or limit the range to one side."
    )


def test_a_polynomial_is_inverted_on_the_branch_of_its_domain():
    curve = Polynomial(coefficients=(0.0, 0.0, 1.0), domain=(1.0, 4.0))
    assert float(curve.signal(9.0)) == pytest.approx(3.0, rel=1e-12)
    assert curve.branches(9.0) == pytest.approx((-3.0, 3.0))


def test_raw_powers_keep_their_digits_on_a_small_span_far_from_zero():
    # (x - 1e7)^2 = x^2 - 2e7 x + 1e14, exact in rationals
    assert raw_powers((0.0, 0.0, 1.0), 1e7, 1.0) == (1e14, -2e7, 1.0)


def test_a_table_names_the_signal_that_stands_twice():
    with pytest.raises(ConflictingReadings, match=r"signal 2 stands twice, for 5 and for 7\. Exclude one"):
        Table.through(np.array([1.0, 2.0, 2.0]), np.array([3.0, 5.0, 7.0]))


def test_a_table_names_the_row_at_which_it_turns():
    with pytest.raises(NotMonotonic, match=r"turns at a signal of 2 \(value 5\)"):
        Table.through(np.array([1.0, 2.0, 3.0]), np.array([3.0, 5.0, 4.0])).refuse_turns()


def test_a_level_line_is_no_calibration():
    with pytest.raises(ValidationError, match="gradient is 0"):
        Line(height=1.0, gradient=0.0, domain=(0.0, 1.0))


@given(monotonic_tables())
def test_a_curve_survives_its_plain_form(table):
    assert Table.model_validate_json(table.model_dump_json()) == table
