"""Intervals hold the truth as often as they say, in calibrations drawn from the very budget claimed."""

import numpy as np
import pytest
from scipy.special import stdtrit

from able_yardstick.core.fit.budget import fit_budgets
from able_yardstick.core.fit.inputs import FitInputs, fit_inputs
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.uncertainty.coverage import Contribution, interval_of

CALIBRATIONS = 2000
PINS_V = np.array([0.5, 1.7, 4.5])
# how many readings, their scatter, the reference's expanded uncertainty (k = 2) and display step, bits of the converter
CASES = {
    "few readings": (5, 0.20, 0.04, 0.01, 12),
    "few readings, poor reference": (5, 0.10, 0.30, 0.01, 12),
    "many readings": (33, 0.20, 0.10, 0.01, 12),
    "a reference that shows coarse steps": (20, 0.05, 0.02, 0.70, 12),
    "coarse steps and scatter": (11, 0.15, 0.04, 0.50, 12),
    "coarse counts": (25, 0.05, 0.04, 0.01, 9),
}


def bench(job, expanded, step, bits):
    """The demo's gauge pressure channel with another reference and another converter."""
    channel = job.tagged("PT-201")
    read = {row.reading.reference_id for row in job.amended(channel.id, "gather")}
    references = tuple(
        one.with_(expanded_uncertainty=expanded, resolution=step) if one.id in read else one for one in job.references
    )
    converter = channel.path.converter.with_(bits=bits, full_count=2**bits - 1)
    changed = channel.with_(path=channel.path.with_(converter=converter))
    return change_channel(job.with_(references=references), changed), changed


@pytest.mark.parametrize("case", CASES)
def test_the_interval_holds_the_truth_pointwise_as_often_as_it_says(demo_job, case):
    """Calibrations drawn from the very budget that the program claims of them.

    Each has readings that scatter, normally; a reference off by one amount throughout: by its certificate, normally,
    and by its display's step, anywhere within it; then it indicates a new signal, which scatters too, by whole counts.
    """
    count, scatter, expanded, step, bits = CASES[case]
    job, channel = bench(demo_job, expanded, step, bits)
    one_count = 62.5 * channel.path.converter.resolution
    random = np.random.default_rng(12345)
    x = np.linspace(0.5, 4.5, count)
    held, inputs = np.zeros(len(PINS_V)), fit_inputs(job, channel)
    for _ in range(CALIBRATIONS):
        off = random.normal(0, expanded / 2) + random.uniform(-step / 2, step / 2)
        fitted = fit(x, 62.5 * x - 31.25 + off + random.normal(0, scatter, count), FitSpec(model="line"))
        indicated = fitted.curve.value(PINS_V) + random.normal(0, scatter, 3)
        indicated += random.uniform(-0.5, 0.5, 3) * one_count
        claimed = [budget.interval.expanded for budget in fit_budgets(inputs, fitted, PINS_V)]
        held += np.abs(indicated - (62.5 * PINS_V - 31.25)) <= claimed
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


BENDS = {
    "of third order": lambda x: 10 * x + 0.5 * x**2 - 0.08 * x**3,
    "exponential": lambda x: 20 * np.exp(x / 3),
    "even about the middle": lambda x: 10 * x + 0.02 * (x - 2.5) ** 4,
    "saturating": lambda x: 60 * x / (1 + 0.25 * x),
}


@pytest.mark.parametrize("bend", BENDS)
@pytest.mark.parametrize("count", [11, 22])
def test_the_interval_of_a_third_order_holds_the_truth_just_beyond_the_readings_too(bend, count):
    """Beyond by 2 % and by 5 % of the reach, below and above, of truths that a third order follows well or less so."""
    truth, random = BENDS[bend], np.random.default_rng(2)
    x, pins = np.linspace(0.5, 4.5, count), np.array([0.30, 0.42, 4.58, 4.70])
    held, draws = np.zeros(4), 250
    for _ in range(draws):
        y = truth(x) + random.normal(0, 0.05, count)
        fitted = fit(x, y, FitSpec(model="poly3"))
        inputs = FitInputs(
            unit="kPa", pin_unit="V", signal=tuple(x), reference=tuple(y), stops=tuple(range(count)), reference_rows=()
        )
        indicated = fitted.curve.value(pins) + random.normal(0, 0.05, 4)
        claimed = [budget.interval.expanded for budget in fit_budgets(inputs, fitted, pins)]
        held += np.abs(indicated - truth(pins)) <= claimed
    assert np.all(held / draws >= 0.93), held / draws
