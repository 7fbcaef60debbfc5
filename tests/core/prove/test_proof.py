"""Judging what a controller shows."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from able_yardstick.core.prove.proof import prove
from able_yardstick.core.words.errors import TooFewReadings
from able_yardstick.core.words.tolerance import Tolerance


def test_errors_are_shown_minus_reference_and_the_shift_is_their_mean():
    proof = prove([10, 20, 30], [10.2, 20.1, 30.6], Tolerance(constant=0.5), span=20)
    assert [check.error for check in proof.checks] == pytest.approx([0.2, 0.1, 0.6])
    assert [check.passed for check in proof.checks] == [True, True, False]
    assert (proof.shift, proof.shift_spread) == (pytest.approx(0.3), pytest.approx(0.264575, rel=1e-5))
    assert proof.verdict == "fail"
    assert proof.largest.reference == 30


def test_an_error_of_just_the_tolerance_passes():
    assert prove([100.0], [100.1], Tolerance(constant=0.1), span=1).passed


def test_the_tolerance_has_three_parts():
    allowed = Tolerance(constant=0.1, of_reading=0.01, of_span=0.002).at(-50.0, 300.0)
    assert float(allowed) == pytest.approx(0.1 + 0.5 + 0.6)


def test_one_check_has_no_spread():
    assert prove([1.0], [1.0], Tolerance(constant=1), span=1).shift_spread is None


@pytest.mark.parametrize(("reference", "tolerance"), [([], 1.0), ([1.0], 0.0)])
def test_nothing_is_judged_without_checks_or_tolerance(reference, tolerance):
    with pytest.raises(TooFewReadings):
        prove(reference, reference, Tolerance(constant=tolerance), span=1)


@given(st.lists(st.tuples(st.floats(-1e3, 1e3), st.floats(-2, 2)), min_size=1, max_size=20), st.floats(0.01, 3))
def test_the_verdict_is_pass_just_when_every_error_is_within(rows, tolerance):
    assume(all(abs(abs(error) - tolerance) > 1e-6 for _, error in rows))
    proof = prove([r for r, _ in rows], [r + e for r, e in rows], Tolerance(constant=tolerance), span=1)
    assert [check.passed for check in proof.checks] == [abs(error) < tolerance for _, error in rows]
    assert proof.passed == all(abs(error) < tolerance for _, error in rows)
