"""Fast capture: triggers, what came before them, peaks that were cut off."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.journal.sample import Series
from able_yardstick.core.wake.burst import burst_about, crossing, smoothed


def series(values, rate=1000.0):
    return Series.of(np.arange(len(values)) / rate, np.asarray(values, dtype=float))


def test_a_trigger_is_the_first_sample_that_has_crossed():
    values = np.array([0, 1, 2, 3, 2, 1, 0, 3.0])
    assert crossing(values, 2.5, "rising") == 3
    assert crossing(values, 1.5, "falling") == 5
    assert crossing(values, 9, "rising") is None
    assert crossing(np.array([5.0, 5.0]), 2, "rising") is None  # it was above from the beginning


def test_a_burst_holds_what_came_before_its_trigger():
    burst = burst_about(series(np.arange(100)), 40, 10, 30)
    assert (len(burst.values), burst.at, burst.values[burst.at]) == (30, 10, 40)
    assert burst.times_s[burst.at] == 0
    assert burst.times_s[0] == pytest.approx(-0.010)


def test_a_peak_at_the_ceiling_is_flagged_and_a_single_touch_is_not():
    wave = np.clip(3 * np.sin(np.linspace(0, 6.28, 500)) + 2.5, 0, 5)
    cut = burst_about(series(wave), 100, 100, 500, (0.0, 5.0))
    assert cut.clipped_high > 50
    assert cut.clipped_low > 50
    assert "may be cut off" in cut.words
    touch = burst_about(series([1, 2, 5, 2, 1]), 2, 2, 5, (0.0, 5.0))
    assert touch.clipped_high == 0
    assert "cut off" not in touch.words


@given(st.lists(st.floats(-1e3, 1e3), min_size=1, max_size=60), st.integers(1, 12))
def test_smoothing_is_the_running_mean_of_what_has_come(values, over):
    found = smoothed(np.array(values), over)
    padded = [values[0]] * (over - 1) + values
    expected = [np.mean(padded[n : n + over]) for n in range(len(values))] if over <= len(values) else values
    assert found == pytest.approx(expected, abs=1e-6)
