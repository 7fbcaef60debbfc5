"""When two sensors began to part: the interval holds the moment, none is named where there is none; pairs by hand."""

import numpy as np
import pytest
from scipy.signal import lfilter

from able_yardstick.core.journal.sample import Series
from able_yardstick.core.lookout.pairs import compare_pair, noise_of
from able_yardstick.core.lookout.parting import parted
from able_yardstick.core.path.node import Met
from able_yardstick.core.words.errors import TooFewReadings

TIMES = np.arange(2000.0)


def noise(draw, memory):
    """Noise that remembers itself from sample to sample, of standard deviation 1."""
    steps = draw.normal(0, np.sqrt(1 - memory**2), len(TIMES) + 50)
    return lfilter([1.0], [1.0, -memory], steps)[50:]


@pytest.mark.slow
@pytest.mark.parametrize("memory", [0.0, 0.6])
def test_on_pairs_that_do_not_part_none_is_named(memory):
    draw = np.random.default_rng(20261129)
    named = sum(parted(TIMES, noise(draw, memory)) is not None for _ in range(150))
    assert named / 150 <= 0.05 + 2 * np.sqrt(0.05 * 0.95 / 150)


@pytest.mark.slow
@pytest.mark.parametrize(("course", "size"), [("step", 1.0), ("step", 0.5), ("slope", 3.0)])
def test_the_interval_holds_the_moment_as_often_as_it_says(course, size):
    draw = np.random.default_rng(7)
    held = found = right = 0
    for _ in range(150):
        at = draw.uniform(400, 1600)
        course_of = (at <= TIMES) if course == "step" else np.clip((TIMES - at) / (TIMES[-1] - at), 0, None)
        result = parted(TIMES, noise(draw, 0.3) + size * course_of)
        if result is not None:
            found += 1
            held += result.low_s <= at <= result.high_s
            right += result.course == course
    assert found > 145
    assert held / found >= 0.95 - 2.5 * np.sqrt(0.95 * 0.05 / 150)
    assert right / found > 0.9


def test_the_size_of_a_step_and_of_a_slope_are_told():
    draw = np.random.default_rng(3)
    step = parted(TIMES, 0.2 * noise(draw, 0.0) + 2.0 * (TIMES >= 900))
    assert step.size == pytest.approx(2.0, abs=0.05)
    assert step.at_s == pytest.approx(900, abs=20)
    slope = parted(TIMES, 0.2 * noise(draw, 0.0) + 0.004 * np.clip(TIMES - 1000, 0, None))
    assert (slope.course, slope.size) == ("slope", pytest.approx(4.0, abs=0.2))


@pytest.mark.parametrize("count", [0, 3, 20])
def test_too_little_says_nothing(count):
    assert parted(np.arange(float(count)), np.ones(count)) is None


def sensor(times, values):
    return Series.of(times, values, Met("counts", "% O2"))


def test_a_pair_by_hand_with_another_rate_a_lag_and_a_trend():
    draw = np.random.default_rng(5)
    fast, slow = np.arange(0, 600, 0.1), np.arange(0.05, 600, 0.5)

    def course(times):
        return 8 + np.sin(times / 9) + 0.5 * np.sin(times / 2.3)

    one = sensor(fast, course(fast) + draw.normal(0, 0.02, len(fast)))
    other = sensor(slow, course(slow - 2.0) + 0.25 + draw.normal(0, 0.02, len(slow)))
    found = compare_pair(one, other)
    assert found.lag_s == pytest.approx(2.0, abs=0.3)
    assert found.mean == pytest.approx(0.25, abs=0.01)
    assert found.spread < 0.1
    assert abs(found.trend) < 4 * found.trend_doubt
    assert compare_pair(other, one).lag_s == pytest.approx(-2.0, abs=0.3)
    assert found.parting is None


def test_two_that_stand_still_tell_no_lag_and_two_that_hardly_met_are_refused():
    draw = np.random.default_rng(6)
    still = sensor(TIMES[:300], draw.normal(8, 0.02, 300))
    assert compare_pair(still, sensor(TIMES[:300], draw.normal(8, 0.02, 300))).lag_s is None
    with pytest.raises(TooFewReadings, match="watched together at 0 moments"):
        compare_pair(still, sensor(TIMES[:300] + 1e6, np.ones(300)))


def test_noise_is_told_whatever_is_followed():
    draw = np.random.default_rng(8)
    values = np.linspace(0, 5, 900) + draw.normal(0, np.repeat([0.1, 0.1, 0.4], 300))
    early, late = noise_of(sensor(TIMES[:900], values))
    assert early == pytest.approx(0.1, rel=0.25)
    assert late == pytest.approx(0.4, rel=0.25)
