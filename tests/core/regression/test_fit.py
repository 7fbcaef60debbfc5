"""Fits against exact rational arithmetic, and the refusals of points that determine nothing."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.regression.choice import candidate, choose
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.words.errors import ConflictingReadings, DegenerateReadings, NotMonotonic, TooFewReadings


def exact_fit(x, y, degree):
    """Coefficients and standard errors in ascending powers of x, in exact rationals (square roots at the end)."""
    xs, ys = [Fraction(float(v)) for v in x], [Fraction(float(v)) for v in y]
    size = degree + 1
    normal = [[sum(v ** (i + j) for v in xs) for j in range(size)] for i in range(size)]
    right = [sum(b * a**i for a, b in zip(xs, ys, strict=True)) for i in range(size)]
    inverse = invert(normal)
    beta = [sum(inverse[i][j] * right[j] for j in range(size)) for i in range(size)]
    residuals = [b - sum(beta[k] * a**k for k in range(size)) for a, b in zip(xs, ys, strict=True)]
    dof = len(xs) - size
    variance = sum(r * r for r in residuals) / dof if dof else Fraction(0)
    spread = [float(variance * inverse[i][i]) ** 0.5 for i in range(size)]
    return beta, spread, [float(b - r) for b, r in zip(ys, residuals, strict=True)]


def invert(matrix):
    """Gauss-Jordan in rationals."""
    n = len(matrix)
    rows = [list(row) + [Fraction(int(i == j)) for j in range(n)] for i, row in enumerate(matrix)]
    for i in range(n):
        pivot = next(r for r in range(i, n) if rows[r][i] != 0)
        rows[i], rows[pivot] = rows[pivot], rows[i]
        rows[i] = [v / rows[i][i] for v in rows[i]]
        for r in range(n):
            if r != i:
                rows[r] = [a - rows[r][i] * b for a, b in zip(rows[r], rows[i], strict=True)]
    return [row[n:] for row in rows]


CASES = [
    (0.0025, 0.004), (2.5, 4.0), (12.0, 16.0), (1e3, 1.0), (5e6, 1e7), (1e7, 10.0), (1e7, 1e-2),
]  # fmt: skip


@pytest.mark.parametrize(("model", "degree"), [("line", 1), ("poly2", 2)])
@pytest.mark.parametrize(("middle", "span"), CASES)
def test_coefficients_and_standard_errors_agree_with_exact_arithmetic_to_nine_digits(model, degree, middle, span):
    random = np.random.default_rng(7)
    x = middle + span * np.linspace(-0.5, 0.5, 23)
    share = (x - middle) / span
    y = 125 + 250 * share + 4 * share**2 + random.normal(0, 0.08, len(x))
    found = fit(x, y, FitSpec(model=model))
    beta, spread, values = exact_fit(x, y, degree)
    for got, wanted in zip(found.curve.powers, beta, strict=True):
        assert got == pytest.approx(float(wanted), rel=1e-9)
    assert found.standard_errors == pytest.approx(spread, rel=1e-9)
    assert found.curve.value(x) == pytest.approx(values, abs=1e-12 * 250 + 1e-13)


@given(st.integers(0, 2**31), st.integers(5, 60), st.floats(-3, 7), st.floats(-3, 3))
def test_fitted_values_agree_to_a_millionth_of_a_millionth_of_span(seed, count, exponent, width):
    random = np.random.default_rng(seed)
    x = 10.0**exponent * (1 + 10.0 ** (width - 3) * random.uniform(-1, 1, count))
    y = random.uniform(-1, 1) * 1e3 + 500 * (x - x.mean()) / np.ptp(x) + random.normal(0, 1, count)
    _, _, values = exact_fit(x, y, 1)
    assert np.abs(fit(x, y, FitSpec(model="line")).curve.value(x) - values).max() <= 1e-12 * np.ptp(y) + 4e-13


def test_a_published_line_fit_is_met():
    """JCGM 100:2008, H.3, table H.6: thermometer correction against temperature less 20 degC."""
    t = np.array([21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.010, 26.511])
    b = np.array([-0.171, -0.169, -0.166, -0.159, -0.164, -0.165, -0.156, -0.157, -0.159, -0.161, -0.160])
    found = fit(t - 20, b, FitSpec(model="line"))
    assert found.curve.powers == pytest.approx((-0.1712, 0.00218), abs=5e-5)
    assert found.standard_errors == pytest.approx((0.0029, 0.00067), abs=5e-5)
    assert (found.residual_sd, found.dof) == (pytest.approx(0.0035, abs=5e-5), 9)


def test_errors_are_curve_minus_reference():
    found = fit(np.array([0.0, 1.0, 2.0]), np.array([0.0, 2.0, 2.0]), FitSpec(model="two-point"))
    assert found.errors == pytest.approx((0.0, -1.0, 0.0))
    assert (found.largest_error, found.largest_at) == (pytest.approx(1.0), 1.0)


def test_a_line_through_a_zero_passes_through_it():
    x, y = np.array([4.0, 12.0, 20.0]), np.array([0.4, 50.3, 100.1])
    found = fit(x, y, FitSpec(model="through-zero", zero=(4.0, 0.0)))
    assert float(found.curve.value(4.0)) == 0.0
    assert found.curve.gradient == pytest.approx((8 * 50.3 + 16 * 100.1) / (8**2 + 16**2))
    assert found.standard_errors[1] == pytest.approx(found.residual_sd / np.sqrt(8**2 + 16**2))


def test_repeated_stops_become_one_row_each_of_a_table():
    x = np.array([1.001, 1.999, 3.0, 0.999, 2.001, 3.0])
    y = np.array([10.0, 20.0, 30.0, 10.0, 20.0, 30.0])
    found = fit(x, y, FitSpec(model="table"))
    assert found.curve.signals == pytest.approx((1.0, 2.0, 3.0))
    assert found.remark == "each the mean of 2 readings"


REFUSED = [
    ("line", [2.0], [1.0], TooFewReadings, "At least 2 readings at different signals are needed, found 1"),
    ("line", [2.0, 2.0], [1.0, 3.0], TooFewReadings, "found 1: every one is 2. Take more, further apart."),
    ("poly2", [1.0, 2.0, 2.0], [1.0, 2.0, 2.1], TooFewReadings, "At least 3 readings at different signals"),
    ("poly2", [0.0, 1e-13, 1.0], [0.0, 1e-13, 1.0], DegenerateReadings, "lie too close together"),
    ("line", [1.0, 2.0, 3.0], [5.0, 5.0, 5.0], ConflictingReadings, "Every reference value is 5"),
    ("through-zero", [0.0, 0.0], [1.0, 2.0], TooFewReadings, "needs a reading away from it"),
    ("table", [1.0, 2.0, 3.0, 4.0], [1.0, 3.0, 2.0, 4.0], NotMonotonic, "turns at a signal of 2"),
    ("table", [1.0, 2.0, 2.0], [1.0, 2.0, 3.0], ConflictingReadings, "The signal 2 stands twice"),
    ("line", [], [], TooFewReadings, "There are no readings to fit a curve to."),
]


@pytest.mark.parametrize(("model", "x", "y", "kind", "words"), REFUSED)
def test_points_that_determine_nothing_are_refused_in_words(model, x, y, kind, words):
    with pytest.raises(kind) as refusal:
        fit(np.array(x), np.array(y), FitSpec(model=model))
    assert words in str(refusal.value)


def test_a_curve_that_turns_among_the_readings_is_listed_but_not_usable():
    x = np.linspace(0, 5, 9)
    row = candidate(x, (x - 2) ** 2, FitSpec(model="poly2"))
    assert row.fitted is not None
    assert not row.usable
    assert "It turns at a signal of 2 inside the readings" in row.refusal


def test_auto_takes_the_line_unless_the_bend_is_more_than_chance():
    random = np.random.default_rng(3)
    x = np.linspace(0, 5, 15)
    noise = random.normal(0, 0.1, 15)
    assert choose(x, 3 * x + noise).candidate.model == "line"
    assert choose(x, 3 * x + 0.4 * x**2 + noise).candidate.model == "poly2"
    assert choose(x, 3 * x + 0.4 * x**2 + noise, tolerance=5.0).candidate.model == "line"


def test_the_band_is_narrowest_amid_the_readings_and_grows_beyond_them():
    x = np.linspace(1, 4, 12)
    y = 2 * x + np.tile([0.1, -0.1], 6)
    half = fit(x, y, FitSpec(model="line")).band(np.array([0.0, 1.0, 2.5, 4.0, 5.0]))
    assert half[0] > half[1] > half[2] < half[3] < half[4]
    # at the mean the standard deviation is s / sqrt(n); t(0.95, 10) = 2.228 (JCGM 100:2008, table G.2: 2.23)
    found = fit(x, y, FitSpec(model="line"))
    assert half[2] == pytest.approx(2.228 * found.residual_sd / np.sqrt(12), rel=1e-3)
