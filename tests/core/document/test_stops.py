"""Stops: which readings are repeats of one another, and which only look so."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.regression.choice import candidates
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.regression.repeats import stop_means, stop_numbers
from able_yardstick.core.regression.worth import worth_of
from able_yardstick.core.words.errors import ConflictingReadings, NotMonotonic


def test_readings_that_lie_together_against_the_way_to_the_next_are_one_stop():
    reference = np.array([0.0, 50.2, 100.0, 49.9, 0.4, 99.2])
    assert stop_numbers(reference).tolist() == [0, 1, 2, 1, 0, 2]


@given(
    st.lists(st.integers(0, 20), min_size=2, max_size=60).filter(lambda stops: len(set(stops)) > 1), st.integers(0, 99)
)
def test_repeats_of_wide_stops_are_always_told_apart(stops, seed):
    random = np.random.default_rng(seed)
    target = np.array(stops, dtype=float)
    reference = target + random.uniform(-0.001, 0.001, len(target)) * np.ptp(target)
    numbers = stop_numbers(reference)
    wanted = {stop: n for n, stop in enumerate(sorted(set(stops)))}
    assert numbers.tolist() == [wanted[stop] for stop in stops]


def test_means_are_those_of_each_stop():
    signal, reference, counts = stop_means(np.array([1.0, 1.2, 3.0]), np.array([10.0, 10.0, 30.0]))
    assert signal == pytest.approx([1.1, 3.0])
    assert reference == pytest.approx([10.0, 30.0])
    assert counts.tolist() == [2, 1]


def test_decades_are_told_apart_and_their_repeats_found():
    reference = np.array([0.01, 0.0101, 0.1, 0.1001, 1, 1.01, 10, 10.02, 100, 100.5, 1000, 1001])
    assert stop_numbers(reference).tolist() == [0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5]


def test_repeats_are_those_taken_at_one_set_value_however_far_they_scatter():
    reference = np.array([0.0, 10.4, 9.5, 11.2, 20.0])
    assert stop_numbers(reference, set_values=np.array([0.0, 10.0, 10.0, 10.0, 20.0])).tolist() == [0, 1, 1, 1, 2]
    assert stop_numbers(reference, set_values=np.array([0.0, 10.0, 10.0, np.nan, 20.0])).max() > 2


def test_readings_that_the_reference_cannot_tell_apart_are_one_stop():
    reference, spread = np.array([10.0, 10.2, 10.5, 11.0]), np.array([0.1, 0.1, 0.0, 0.0])
    assert stop_numbers(reference).max() == 3
    assert stop_numbers(reference, spread).tolist() == [0, 0, 1, 2]


@given(st.permutations([0.0, 2.0, 4.0, 6.0, 8.0, 10.0, 10.1, 9.99]))
def test_a_table_has_one_row_for_each_stop_in_whatever_order_the_readings_came(reference):
    reference = np.array(reference)
    found = fit(np.log1p(reference) + 1e-3 * np.sin(97 * reference), reference, FitSpec(model="table"))
    assert len(found.curve.signals) == 6
    assert found.curve.values[-1] == pytest.approx((10 + 10.1 + 9.99) / 3)


def test_a_straight_line_over_decades_is_tested_by_its_repeats():
    reference = np.array([0.01, 0.0101, 0.1, 0.1001, 1, 1.01, 10, 10.02, 100, 100.5, 1000, 1001])
    noise = np.array([1, -1, 1, -1, 1, -1, -1, 1, 1, -1, 1, -1.0])
    signal = reference * (1 + 1e-4 * noise)
    test = worth_of(signal, reference, fit(signal, reference, FitSpec(model="line"))).lack_of_fit
    assert (test.dof_pure, test.dof_lack) == (6, 4)
    lonely = fit(np.arange(6.0), 10.0 ** np.arange(-2, 4), FitSpec(model="line"))
    why = worth_of(np.arange(6.0), 10.0 ** np.arange(-2, 4), lonely).why_no_test
    assert why.startswith("no stop was repeated")


def test_a_dense_clean_table_is_taken_row_by_row():
    x = np.linspace(0, 5, 1000)
    found = fit(x, np.expm1(x), FitSpec(model="table"))
    assert len(found.curve.signals) == 1000
    assert found.remark == ""


def test_one_reference_at_signals_far_apart_is_a_conflict_and_no_repeat():
    x = np.array([300.0, 1200.0, 2100.0, 2500.0, 3450.0])
    y = np.array([162.0, 50.0, 2.0, 4.0, 50.2])
    with pytest.raises(ConflictingReadings) as refusal:
        fit(x, y, FitSpec(model="table"))
    assert refusal.value.rows in ((1, 4), (2, 3))
    assert "About the same reference value was read at signals far apart" in str(refusal.value)


def test_stops_that_turn_are_refused_at_the_stop():
    x = np.array([1.0, 1.01, 2.0, 2.01, 3.0, 3.01])
    y = np.array([10.0, 10.0, 30.0, 30.0, 20.0, 20.0])
    with pytest.raises(NotMonotonic, match=r"turns at a signal of 2\.005 \(value 30\)"):
        fit(x, y, FitSpec(model="table"))


def test_every_candidate_is_listed_even_where_none_can_be_had():
    models = ("two-point", "through-zero", "line", "poly2", "table")
    rows = candidates(np.array([2.0]), np.array([5.0]), tuple(FitSpec(model=m) for m in models), None)
    assert [row.model for row in rows] == list(models)
    assert [row.usable for row in rows] == [False, True, False, False, False]
    assert all(row.refusal for row in rows if not row.usable)
