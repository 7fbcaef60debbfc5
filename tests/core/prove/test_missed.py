"""What a proof would miss: the stated size passes as often as stated, by simulation, and the next stop shrinks it."""

import numpy as np
import pytest
from scipy.stats import norm

from able_yardstick.core.prove.missed import PlannedCheck, envelope, largest_passing, missed_by, shapes

WAYS = {"up": 1.0, "down": -1.0, "not stated": 0.0}


def plan(*values, standard=0.1, accepted=1.0, ways=("up",)):
    return tuple(PlannedCheck(value, accepted, standard, way) for value in values for way in ways)


CHECKS = plan(0.0, 20.0, 70.0, ways=("up", "down"))


@pytest.mark.parametrize("number", range(6))
def test_an_error_of_the_stated_size_passes_in_the_stated_share_of_proofs(number):
    shape = shapes(0.0, 100.0, [check.value for check in CHECKS])[number]
    (size,) = largest_passing(shape, [CHECKS], 0.05)
    values = np.array([check.value for check in CHECKS])
    course = shape.course(values, np.array([WAYS[check.direction] for check in CHECKS]))
    if not np.any(course):
        assert size == float("inf")
        return
    noise = np.random.default_rng(number).normal(0, 0.1, (40_000, len(CHECKS)))
    passed = np.mean(np.all(np.abs(size * course + noise) <= 1.0, axis=1))
    assert passed == pytest.approx(0.05, abs=4 * np.sqrt(0.05 * 0.95 / 40_000))


def test_one_check_misses_a_shift_of_the_tolerance_and_a_quantile():
    (shift,) = [one for one in missed_by(plan(50.0), 0.0, 100.0) if one.shape == "zero shift"]
    assert shift.largest == pytest.approx(1.0 + norm.ppf(0.95) * 0.1, abs=1e-6)


def test_near_zero_proves_no_gain_and_the_top_is_the_next_stop():
    found = {one.shape: one for one in missed_by(plan(0.0, 1.0), 0.0, 100.0)}
    assert found["gain"].largest > 100
    assert found["gain"].next_stop == pytest.approx(100.0)
    assert found["gain"].largest_then == pytest.approx(1.0 + norm.ppf(0.95) * 0.1, rel=0.01)
    assert found["outside the checks"].largest == float("inf")
    assert found["outside the checks"].next_stop == pytest.approx(100.0)


def test_only_upwards_sees_no_hysteresis_that_is_nought_at_the_ends():
    found = {one.shape: one for one in missed_by(plan(0.0, 100.0), 0.0, 100.0)}
    assert found["hysteresis"].largest == float("inf")
    assert 30 < found["hysteresis"].next_stop < 70
    assert found["bend"].next_stop == pytest.approx(50.0, abs=3)


def test_more_checks_never_miss_more():
    few, many = missed_by(plan(0.0, 100.0), 0.0, 100.0), missed_by(plan(0.0, 25.0, 50.0, 75.0, 100.0), 0.0, 100.0)
    for one, other in zip(few, many, strict=True):
        assert other.largest <= one.largest * (1 + 1e-9)


def test_a_check_that_can_accept_nothing_misses_nothing():
    assert all(one.largest == 0 for one in missed_by((PlannedCheck(50.0, -0.1, 0.1, "up"),), 0.0, 100.0)
               if one.shape in ("zero shift", "gain", "bend"))  # fmt: skip


def test_the_envelope_is_the_worst_of_all_kinds_and_has_no_end_where_nothing_is_checked():
    checks = plan(20.0, 50.0, 80.0, ways=("up", "down"))
    values = np.array([10.0, 20.0, 50.0, 80.0, 90.0])
    most = envelope(checks, 0.0, 100.0, values)
    assert np.isinf(most[-1])
    assert np.isfinite(most[1:4]).all()
    found = {one.shape: one for one in missed_by(checks, 0.0, 100.0)}
    assert most[2] >= max(found["zero shift"].largest, found["bend"].largest)
