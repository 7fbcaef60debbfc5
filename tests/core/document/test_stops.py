"""Stops: which readings are repeats of one another, and which only look so."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.regression.choice import candidates
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.regression.repeats import is_strictly_rising_or_falling, stop_means, stop_numbers
from able_yardstick.core.words.errors import ConflictingReadings, NotMonotonic


def test_readings_within_a_hundredth_of_the_span_are_one_stop():
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


@pytest.mark.parametrize(
    ("signal", "reference", "wanted"),
    [
        ([1, 2, 3], [10, 20, 30], True),
        ([3, 1, 2], [10, 30, 20], True),
        ([1, 2, 2], [10, 20, 30], False),
        ([1, 2, 3], [10, 20, 20], False),
        ([1, 2, 3], [10, 30, 20], False),
    ],
)
def test_a_table_needs_no_averaging_if_it_runs_one_way(signal, reference, wanted):
    found = is_strictly_rising_or_falling(np.array(signal, dtype=float), np.array(reference, dtype=float))
    assert found is wanted


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
