"""Intervals of several limits at once, against drawn sums."""

import numpy as np
import pytest

from able_yardstick.core.uncertainty.coverage import Contribution, interval_of

DRAWS = 400_000
CASES = [
    ([1.0], 0.0, np.inf), ([1.0, 1.0], 0.02, 5), ([1.0, 1.0, 1.0], 0.0, np.inf), ([1.0] * 6, 0.0, np.inf),
    ([1.0] * 8, 0.02, 4), ([1.0] * 8, 1.0, 6), ([1.0, 0.5, 0.2], 0.3, 9), ([1.0, 0.01, 0.01], 0.0, np.inf),
    ([3.0, 2.0, 2.0, 1.0, 0.5], 0.5, 12),
]  # fmt: skip


@pytest.mark.parametrize(("limits", "scatter", "dof"), CASES)
def test_the_interval_is_the_quantile_of_the_drawn_sum(limits, scatter, dof):
    rows = [Contribution.limit("limit", one) for one in limits]
    random = np.random.default_rng(3)
    drawn = sum(random.uniform(-one, one, DRAWS) for one in limits)
    if scatter:
        rows.append(Contribution("scatter", scatter, dof))
        drawn = drawn + scatter * random.standard_t(dof, DRAWS)
    held = float(np.mean(np.abs(drawn) <= interval_of(rows).expanded))
    assert held == pytest.approx(0.95, abs=5 * np.sqrt(0.05 * 0.95 / DRAWS))
