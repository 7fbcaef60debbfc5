"""Scatter that grows with the value, and what lies between the rows of a table: how often U holds the truth."""

import numpy as np
import pytest

from able_yardstick.core.fit.budget import fit_budget
from able_yardstick.core.fit.inputs import FitInputs
from able_yardstick.core.fit.scatter import scatter_of
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit

CALIBRATIONS = 500
PLAIN = FitInputs(unit="kPa", pin_unit="V", reference_rows=(), half_step=0.0)


def held(x, truth, scatter, model, pins):
    """How often U of a fit holds a further reading of the truth at pins, over many calibrations."""
    random = np.random.default_rng(2026)
    count = np.zeros(len(pins))
    for _ in range(CALIBRATIONS):
        fitted = fit(x, truth(x) + random.normal(0, 1, len(x)) * scatter(truth(x)), FitSpec(model=model))
        claimed = [fit_budget(PLAIN, fitted, float(pin)).interval.expanded for pin in pins]
        indicated = fitted.curve.value(pins) + random.normal(0, 1, len(pins)) * scatter(truth(pins))
        count += np.abs(indicated - truth(pins)) <= claimed
    return count / CALIBRATIONS


def test_scatter_that_grows_with_the_value_is_held_at_the_top_too():
    """With one scatter for the whole range U held 77 % at the top, and everything at the bottom."""
    x = np.repeat(np.linspace(0.2, 5, 12), 3)
    shares = held(x, lambda v: 50 * v, lambda value: 0.01 * value + 0.02, "line", np.array([0.5, 2.5, 4.9]))
    assert np.all(shares >= 0.91), shares
    assert shares[2] <= 0.985


def test_even_scatter_is_mostly_taken_as_even():
    random = np.random.default_rng(5)
    x = np.repeat(np.linspace(0.2, 5, 12), 3)
    fits = [fit(x, 50 * x + random.normal(0, 1, 36), FitSpec(model="line")) for _ in range(300)]
    uneven = sum(scatter_of(fitted).is_uneven for fitted in fits)
    assert uneven / 300 < 0.08


def test_uneven_scatter_is_found_with_its_two_parts():
    random = np.random.default_rng(6)
    x = np.linspace(0.1, 5, 4000)
    fitted = fit(x, 50 * x + random.normal(0, 1, 4000) * np.hypot(0.5, 0.02 * 50 * x), FitSpec(model="line"))
    found = scatter_of(fitted)
    assert (found.constant, found.proportional) == (pytest.approx(0.5, rel=0.2), pytest.approx(0.02, rel=0.05))
    assert "unevenly" in found.says


@pytest.mark.parametrize("model", ["table", "pchip"])
def test_between_the_rows_of_a_table_of_a_bent_truth_the_truth_is_held(model):
    """Six stops of a curve that saturates, each read three times: between them U held 10 to 21 %."""
    x = np.repeat(np.linspace(0, 5, 6), 3)
    pins = np.array([0.5, 1.5, 2.5, 3.5, 4.5])
    shares = held(x, lambda v: 100 * (1 - np.exp(-v / 2)), lambda value: 0.05 + 0 * value, model, pins)
    assert np.all(shares >= 0.93), shares


def test_at_its_rows_a_table_owes_nothing_to_what_lies_between():
    x = np.repeat(np.linspace(0, 5, 6), 2)
    fitted = fit(x, x**2 + 0.01 * (-1.0) ** np.arange(12), FitSpec(model="table"))
    names = lambda pin: [row.name for row in fit_budget(PLAIN, fitted, pin).rows if row.standard > 1e-9]  # noqa: E731
    assert "between its rows" not in names(2.0)
    assert "between its rows" in names(2.5)
    bend = next(row for row in fit_budget(PLAIN, fitted, 2.5).rows if row.name == "between its rows")
    assert bend.size == pytest.approx(1.5 * 0.25, rel=0.05)  # of x² between 2 and 3: (x − 2)(3 − x) = 1/4
