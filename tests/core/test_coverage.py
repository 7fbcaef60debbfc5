"""Intervals hold the truth as often as they say, in calibrations drawn from the very budget claimed."""

import numpy as np
import pytest
from scipy.special import stdtrit

from able_yardstick.core.coverage import Contribution, interval_of
from able_yardstick.core.fit import FitSpec, fit

CALIBRATIONS = 2000
# how many readings, their scatter, the reference's standard uncertainty and how it is spread, one count
CASES = {
    "few readings": (5, 0.20, 0.02, "normal", 0.05),
    "few readings, poor reference": (5, 0.10, 0.15, "normal", 0.02),
    "many readings": (33, 0.20, 0.05, "normal", 0.05),
    "a reference known within limits": (20, 0.05, 0.20, "rectangular", 0.02),
    "limits and scatter": (11, 0.15, 0.15, "rectangular", 0.10),
    "coarse counts": (25, 0.05, 0.02, "normal", 0.60),
}


def drawn(random, standard, kind):
    return random.normal(0, standard) if kind == "normal" else random.uniform(-1, 1) * standard * np.sqrt(3)


@pytest.mark.parametrize("case", CASES)
def test_the_interval_holds_the_truth_pointwise_as_often_as_it_says(case):
    """A new reading's indication against the truth: readings scatter, the reference is off by one amount throughout."""
    count, scatter, reference, kind, one_count = CASES[case]
    random = np.random.default_rng(12345)
    x = np.linspace(0.5, 4.5, count)
    points = np.array([0.5, 1.7, 4.5])
    held = np.zeros(3)
    for _ in range(CALIBRATIONS):
        true = 62.5 * x - 31.25
        shared = drawn(random, reference, kind)
        fitted = fit(x, true + shared + random.normal(0, scatter, count), FitSpec(model="line"))
        indicated = fitted.curve.value(points) + random.normal(0, scatter, 3)
        indicated = indicated + random.uniform(-0.5, 0.5, 3) * one_count
        spread = fitted.curve_spread(points)
        for n in range(3):
            rows = [
                Contribution("scatter and curve", float(np.hypot(fitted.residual_sd, spread[n])), fitted.dof),
                Contribution("reference", reference, distribution=kind),
                Contribution("one count", one_count / 2 / np.sqrt(3), distribution="rectangular"),
            ]
            held[n] += abs(indicated[n] - (62.5 * points[n] - 31.25)) <= interval_of(rows).expanded
    assert np.all((held / CALIBRATIONS >= 0.93) & (held / CALIBRATIONS <= 0.97)), held / CALIBRATIONS


def test_one_scattered_contribution_gets_students_factor():
    found = interval_of([Contribution("scatter", 0.5, 4)])
    assert found.factor == pytest.approx(stdtrit(4, 0.975))
    assert (found.combined, found.dof) == (0.5, 4)


def test_the_effective_degrees_of_freedom_are_those_of_the_guides_example():
    """JCGM 100:2008, G.4.1: four parts of 0.25, 0.57, 0.82 with 9, 4, 14 degrees: 1.03 and 19."""
    rows = [Contribution("a", 0.25, 9), Contribution("b", 0.57, 4), Contribution("c", 0.82, 14)]
    found = interval_of(rows)
    assert found.combined == pytest.approx(1.03, abs=0.005)
    assert found.dof == pytest.approx(19.0, abs=0.05)


def test_limits_alone_are_held_to_their_width():
    found = interval_of([Contribution("limits", 1 / np.sqrt(3), distribution="rectangular")])
    assert found.expanded == pytest.approx(0.95, abs=0.02)
    assert found.by_integration


def test_two_limits_add_up_as_draws_say():
    random = np.random.default_rng(1)
    draws = np.abs(random.uniform(-1, 1, 400_000) + random.uniform(-0.7, 0.7, 400_000) + random.normal(0, 0.1, 400_000))
    rows = [
        Contribution("one", 1 / np.sqrt(3), distribution="rectangular"),
        Contribution("two", 0.7 / np.sqrt(3), distribution="rectangular"),
        Contribution("scatter", 0.1),
    ]
    assert interval_of(rows).expanded == pytest.approx(float(np.quantile(draws, 0.95)), rel=0.01)
