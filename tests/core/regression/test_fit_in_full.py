"""Fits of every kind against exact arithmetic, known answers and simulation; and what a fit is worth."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator
from scipy.optimize import least_squares, minimize
from test_fit import exact_fit, invert

from able_yardstick.core.curves import MonotoneCubic, Table
from able_yardstick.core.formula import FormulaError
from able_yardstick.core.regression.choice import choose
from able_yardstick.core.regression.doubt import Doubts
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.kinds import DEGREES
from able_yardstick.core.regression.models import fit
from able_yardstick.core.regression.worth import worth_of
from able_yardstick.core.words.errors import NotApplicable, NotConverged, NotMonotonic, OutOfRange, TooFewReadings


@pytest.mark.parametrize("model", ["poly3", "poly4", "poly5"])
@pytest.mark.parametrize(("middle", "span"), [(10.0, 20.0), (2.5, 4.0), (12.0, 16.0), (0.0, 2.0)])
@pytest.mark.parametrize("noise", [0.0, 1e-5, 1.0])
def test_higher_orders_agree_with_exact_arithmetic_to_nine_digits(model, middle, span, noise):
    random = np.random.default_rng(3)
    x = middle + span * np.linspace(-0.5, 0.5, 21)
    y = sum(x**k / span**k for k in range(6)) + noise * random.normal(0, 1, 21)
    found = fit(x, y, FitSpec(model=model))
    beta, spread, values = exact_fit(x, y, DEGREES[model])
    for got, wanted in zip(found.curve.powers, beta, strict=True):
        assert got == pytest.approx(float(wanted), rel=1e-9, abs=1e-9 * np.ptp(y) / span**5)
    if noise:
        assert found.standard_errors == pytest.approx(spread, rel=1e-9)
    assert found.curve.value(x) == pytest.approx(values, abs=1e-12 * np.ptp(y))


def test_a_fifth_order_with_every_coefficient_one_is_given_back():
    x = np.arange(21.0)
    found = fit(x, sum(x**k for k in range(6)), FitSpec(model="poly5"))
    assert found.curve.powers == pytest.approx([1.0] * 6, rel=1e-9)


def test_weighted_coefficients_and_standard_errors_agree_with_exact_arithmetic():
    random = np.random.default_rng(5)
    x, w = np.linspace(0.5, 4.5, 12), random.uniform(0.2, 5, 12)
    y = 62.5 * x - 31 + random.normal(0, 1, 12) / np.sqrt(w)
    found = fit(x, y, FitSpec(model="line"), Doubts(weights=w))
    xs, ys, ws = ([Fraction(float(v)) for v in row] for row in (x, y, w / w.mean()))
    normal = [[sum(c * a ** (i + j) for a, c in zip(xs, ws, strict=True)) for j in range(2)] for i in range(2)]
    right = [sum(c * b * a**i for a, b, c in zip(xs, ys, ws, strict=True)) for i in range(2)]
    inverse = invert(normal)
    beta = [sum(inverse[i][j] * right[j] for j in range(2)) for i in range(2)]
    rest = sum(c * (b - beta[0] - beta[1] * a) ** 2 for a, b, c in zip(xs, ys, ws, strict=True)) / 10
    assert found.curve.powers == pytest.approx([float(b) for b in beta], rel=1e-9)
    assert found.standard_errors == pytest.approx([float(rest * inverse[i][i]) ** 0.5 for i in range(2)], rel=1e-9)
    assert found.residual_sd == pytest.approx(float(rest) ** 0.5, rel=1e-9)


def test_errors_in_both_variables_come_close_to_the_most_likely_line():
    """Against the full likelihood with every true signal a free number, found by a general minimiser."""
    random = np.random.default_rng(11)
    true = np.linspace(0, 10, 9)
    ux, uy = np.full(9, 0.3), np.linspace(0.1, 1.0, 9)
    x, y = true + random.normal(0, ux), 2 * true + 1 + random.normal(0, uy)
    found = fit(x, y, FitSpec(model="line"), Doubts(reference=uy, signal=ux))

    def unlikely(p):
        line = p[0] + p[1] * p[2:]
        return np.sum(((y - line) / uy) ** 2) + np.sum(((x - p[2:]) / ux) ** 2)

    best = minimize(unlikely, [1.0, 2.0, *x], method="BFGS", options={"gtol": 1e-9})
    away = np.abs(np.array(found.curve.powers) - best.x[:2])
    assert np.all(away < 0.2 * np.array(found.standard_errors))
    plain = fit(x, y, FitSpec(model="line"))
    assert abs(found.curve.powers[1] - best.x[1]) < abs(plain.curve.powers[1] - best.x[1])


def most_likely(law, start, x, y, u_x, u_y):
    """Parameters and true signals that are most likely together, by a general search over all of them."""

    def misses(numbers):
        true = numbers[len(start) :]
        return np.concatenate([(true - x) / u_x, (law(true, *numbers[: len(start)]) - y) / u_y])

    found = least_squares(misses, np.concatenate([start, x]), xtol=1e-15, ftol=1e-15, gtol=1e-15, x_scale="jac")
    return found.x[: len(start)]


def test_an_uncertainty_of_both_that_is_the_same_everywhere_gives_demings_line():
    """W. E. Deming, Statistical Adjustment of Data, 1943: the slope in closed form."""
    x, y = np.linspace(0, 5, 8), np.array([0.1, 1.0, 2.2, 2.9, 4.1, 5.0, 6.1, 6.9])
    both = fit(x, y, FitSpec(model="line"), Doubts(reference=np.full(8, 0.1), signal=np.full(8, 0.05)))
    (s_xx, s_xy), (_, s_yy) = np.cov(x, y)
    ratio = (0.1 / 0.05) ** 2
    off = s_yy - ratio * s_xx
    slope = (off + np.sqrt(off**2 + 4 * ratio * s_xy**2)) / (2 * s_xy)
    assert both.curve.gradient == pytest.approx(slope, rel=1e-9)
    plain = fit(x, y, FitSpec(model="line"))
    one = fit(x, y, FitSpec(model="line"), Doubts(reference=np.full(8, 0.1)))
    assert one.curve.powers == pytest.approx(plain.curve.powers, rel=1e-12)


def test_a_scattered_signal_does_not_flatten_the_line():
    """Signals that scatter by 2 % of their span: weights alone find slopes 0.4 % too small."""
    random = np.random.default_rng(8)
    truth, slopes = np.linspace(0, 5, 21), []
    doubts = Doubts(reference=np.full(21, 0.1), signal=np.full(21, 0.1))
    for _ in range(600):
        x, y = truth + random.normal(0, 0.1, 21), 10 * truth + random.normal(0, 0.1, 21)
        slopes.append(fit(x, y, FitSpec(model="line"), doubts).curve.gradient)
    assert np.mean(slopes) == pytest.approx(10.0, abs=3 * np.std(slopes) / np.sqrt(600))


def test_uncertainties_over_many_decades_count_as_they_are():
    """Half a percent of reading from 0.01 to 1 000: the smallest readings settle where the line begins."""
    x = np.array([0.0101, 0.0099, 0.101, 0.099, 1.01, 0.99, 10.1, 9.9, 101.0, 99.0, 1005.0, 998.0])
    y = 10 * np.array([0.01, 0.01, 0.1, 0.1, 1, 1, 10, 10, 100, 100, 1000, 1000])
    found = fit(x, y, FitSpec(model="line"), Doubts(reference=0.005 * y))
    weights = [1 / Fraction(0.005 * one) ** 2 for one in y]
    sums = [sum(w * Fraction(one) ** n for w, one in zip(weights, x, strict=True)) for n in range(3)]
    with_y = [sum(w * Fraction(a) ** n * Fraction(b) for w, a, b in zip(weights, x, y, strict=True)) for n in (0, 1)]
    slope = (sums[0] * with_y[1] - sums[1] * with_y[0]) / (sums[0] * sums[2] - sums[1] ** 2)
    assert found.curve.gradient == pytest.approx(float(slope), rel=1e-9)


@given(st.integers(0, 9), st.floats(5, 500))
def test_a_robust_fit_names_the_reading_that_lies_far_off_and_keeps_it(row, off):
    random = np.random.default_rng(2)
    x = np.linspace(0.5, 4.5, 10)
    y = 62.5 * x - 31.25 + random.normal(0, 0.1, 10)
    y[row] += off
    robust = fit(x, y, FitSpec(model="line", robust=True))
    assert row in robust.distrusted
    assert len(robust.errors) == 10
    assert 0 < robust.weights[row] < 0.5
    truth = 62.5 * x - 31.25
    plain = fit(x, y, FitSpec(model="line"))
    assert np.max(np.abs(robust.curve.value(x) - truth)) < np.max(np.abs(plain.curve.value(x) - truth))


@pytest.mark.parametrize("count", [6, 20])
def test_a_robust_fits_bands_hold_as_often_as_they_say(count):
    """2,000 lines whose readings scatter normally: weighing far ones less must not make the scatter look smaller."""
    random = np.random.default_rng(3)
    x, points = np.linspace(0.5, 4.5, count), np.array([0.5, 2.5, 4.5])
    held, held_new = np.zeros(3), np.zeros(3)
    for _ in range(2000):
        found = fit(x, 62.5 * x + random.normal(0, 0.2, count), FitSpec(model="line", robust=True))
        off = found.curve.value(points) - 62.5 * points
        held += np.abs(off) <= found.band(points)
        held_new += np.abs(off + random.normal(0, 0.2, 3)) <= found.prediction(points)
    for share in (held / 2000, held_new / 2000):
        assert np.all((share >= 0.93) & (share <= 0.97)), share


def test_one_wrong_reading_among_exact_ones_is_named():
    """All others lie on the line to the last digit, so that the bulk does not scatter at all."""
    x = np.linspace(0.5, 4.5, 9)
    y = 62.5 * x - 31.25
    y[4] = 500.0
    found = fit(x, y, FitSpec(model="line", robust=True))
    assert found.distrusted == (4,)
    assert found.curve.powers == pytest.approx((-31.25, 62.5), rel=1e-3)


@given(st.integers(0, 10_000), st.sampled_from([1, -1]))
def test_the_monotone_cubic_is_the_well_known_one_and_never_overshoots(seed, way):
    random = np.random.default_rng(seed)
    x = np.cumsum(random.uniform(0.1, 1, 9))
    y = way * np.cumsum(random.uniform(0.01, 2, 9))
    curve = MonotoneCubic.through(Table.through(x, y))
    points = np.linspace(x[0], x[-1], 301)
    assert curve.value(points) == pytest.approx(PchipInterpolator(x, y)(points), abs=1e-12 * np.ptp(y))
    assert np.all(np.diff(way * curve.value(points)) >= -1e-12 * np.ptp(y))
    inner = points[1:-1]
    assert curve.signal(curve.value(inner)) == pytest.approx(inner, abs=1e-6)
    step = 1e-6
    numeric = (curve.value(inner + step) - curve.value(inner - step)) / (2 * step)
    assert curve.slope(inner) == pytest.approx(numeric, rel=1e-3, abs=1e-4 * np.ptp(y))


def test_a_monotone_cubic_through_values_that_turn_is_refused():
    with pytest.raises(NotMonotonic, match=r"The table turns at a signal of 2"):
        fit(np.array([1.0, 2.0, 3.0]), np.array([1.0, 4.0, 2.0]), FitSpec(model="pchip"))


def test_a_terminal_based_line_goes_through_the_means_at_both_ends():
    x = np.array([0.5, 0.52, 2.5, 2.6, 4.5, 4.48])
    y = np.array([0.0, 0.0, 130.0, 130.0, 250.0, 250.0])
    curve = fit(x, y, FitSpec(model="terminal")).curve
    assert curve.value(np.array([0.51, 4.49])) == pytest.approx([0.0, 250.0])


RATIONAL = FitSpec(model="formula", formula="p*x/(q+x)+r", start=(("p", 12.0), ("q", 3.0), ("r", 0.5)))


@pytest.mark.parametrize("start", [(12.0, 3.0, 0.5), (8.0, 1.0, 0.0), (30.0, 9.0, 2.0)])
def test_a_formulas_parameters_are_found_from_every_start(start):
    x = np.linspace(0.2, 9, 30)
    y = 15 * x / (4 + x) + 0.7
    spec = RATIONAL.with_(start=tuple(zip(("p", "q", "r"), start, strict=True)))
    found = fit(x, y, spec)
    assert [one.value for one in found.parameters] == pytest.approx([15.0, 4.0, 0.7], rel=1e-7)


def test_a_formulas_standard_errors_are_those_of_repeated_readings():
    x = np.linspace(0.2, 9, 40)
    truth = 15 * x / (4 + x) + 0.7
    random = np.random.default_rng(8)
    fits = [fit(x, truth + random.normal(0, 0.05, 40), RATIONAL) for _ in range(400)]
    seen = np.std([[one.value for one in found.parameters] for found in fits], axis=0)
    said = np.mean([[one.standard_error for one in found.parameters] for found in fits], axis=0)
    assert said == pytest.approx(seen, rel=0.12)


def bent_readings(count=20):
    x = np.linspace(0.2, 9, count)
    return x, 15 * x / (4 + x) + 0.7 + np.random.default_rng(5).normal(0, 0.05, count)


@pytest.mark.parametrize("reference", [0.02, 0.05, 0.3])
def test_a_formula_follows_readings_uncertain_in_both_as_is_most_likely(reference):
    x, y = bent_readings()
    found = fit(x, y, RATIONAL, Doubts(reference=np.full(len(x), reference), signal=np.full(len(x), 0.1)))
    by_hand = most_likely(lambda x, p, q, r: p * x / (q + x) + r, [12, 3, 0.5], x, y, 0.1, reference)
    assert [one.value for one in found.parameters] == pytest.approx(by_hand, rel=2e-4)


def test_a_polynomial_follows_readings_uncertain_in_both_as_is_most_likely():
    x, y = bent_readings()
    found = fit(x, y, FitSpec(model="poly2"), Doubts(reference=np.full(len(x), 0.05), signal=np.full(len(x), 0.1)))
    by_hand = most_likely(lambda x, a, b, c: a + b * x + c * x**2, [1, 2, 0], x, y, 0.1, 0.05)
    assert found.curve.powers == pytest.approx(by_hand, rel=2e-3)


def test_a_robust_formula_names_the_reading_that_lies_far_off_and_keeps_it():
    x, y = bent_readings()
    y[7] += 3
    found = fit(x, y, RATIONAL.with_(robust=True))
    assert found.distrusted == (7,)
    assert len(found.errors) == len(x)
    plain = fit(x, y, RATIONAL)
    truth = 15 * x / (4 + x) + 0.7
    assert np.max(np.abs(found.curve.value(x) - truth)) < 0.5 * np.max(np.abs(plain.curve.value(x) - truth))


@pytest.mark.parametrize("model", ["two-point", "terminal", "table", "pchip"])
def test_a_curve_through_its_points_cannot_be_robust(model):
    with pytest.raises(NotApplicable, match="so none of them can weigh less"):
        fit(np.arange(5.0), np.arange(5.0) ** 2, FitSpec(model=model, robust=True))


def test_a_flat_spot_weighs_no_more_than_a_person_would_believe():
    """Without an uncertainty of the reference, a curve's level spot would weigh without end."""
    x = np.linspace(-2, 2, 9)
    found = fit(x, x**2 + 0.01 * np.cos(9 * x), FitSpec(model="poly2"), Doubts(signal=np.full(9, 0.1)))
    assert np.isfinite(found.weights).all()
    assert found.curve.powers[2] == pytest.approx(1.0, abs=0.02)


def test_a_formula_that_is_a_line_gives_the_lines_numbers():
    random = np.random.default_rng(4)
    x = np.linspace(0.5, 4.5, 15)
    y = 62.5 * x - 31 + random.normal(0, 0.3, 15)
    line = fit(x, y, FitSpec(model="line"))
    found = fit(x, y, FitSpec(model="formula", formula="p*x+r", start=(("r", 0.0), ("p", 1.0))))
    assert [one.value for one in found.parameters] == pytest.approx(line.curve.powers, rel=1e-9)
    assert [one.standard_error for one in found.parameters] == pytest.approx(line.standard_errors, rel=1e-7)
    assert found.curve_spread(x) == pytest.approx(line.curve_spread(x), rel=1e-7)


REFUSED_FORMULAS = [
    ("p*x+q*x", (("p", 1.0), ("q", 2.0)), NotConverged, "do not tell the parameters p, q apart"),
    ("p*ln(x-9)+q", (("p", 1.0), ("q", 2.0)), NotConverged, "no value at some of the readings with these starts"),
    ("p+q", (("p", 1.0), ("q", 2.0)), FormulaError, "does not use x"),
    ("p*x+q", (("p", 1.0),), FormulaError, "No start is given for q"),
    ("p*x", (("p", 1.0), ("q", 1.0)), FormulaError, "q does not occur in the formula"),
    ("", (), TooFewReadings, "Give a formula of x"),
]


@pytest.mark.parametrize(("text", "start", "kind", "words"), REFUSED_FORMULAS)
def test_a_formula_that_leads_nowhere_is_refused_in_words(text, start, kind, words):
    x = np.linspace(0.5, 4.5, 9)
    with pytest.raises(kind, match=words):
        fit(x, 2 * x + 1, FitSpec(model="formula", formula=text, start=start))


@pytest.mark.parametrize("bad", [0.0, -1.0, np.nan])
def test_a_weight_that_is_no_weight_is_refused_by_its_row(bad):
    weights = np.array([1.0, 2.0, bad])
    with pytest.raises(OutOfRange, match="Every weight must be a number above 0; that of reading 3 is"):
        fit(np.array([1.0, 2.0, 3.0]), np.array([1.0, 2.0, 3.1]), FitSpec(model="line"), Doubts(weights=weights))


# -- what a fit is worth --------------------------------------------------------------------------------------------


def repeated(bend, seed=1, cycles=4):
    random = np.random.default_rng(seed)
    x = np.repeat(np.linspace(0.5, 4.5, 6), cycles)
    truth = 62.5 * x - 31.25 + bend * (x - 2.5) ** 2
    reference = np.round(truth)
    return x + (reference - truth) / 62.5 + random.normal(0, 0.1, len(x)) / 62.5, reference


def test_the_repeats_show_whether_a_line_is_enough():
    x, y = repeated(1.5)
    test = worth_of(x, y, fit(x, y, FitSpec(model="line"))).lack_of_fit
    assert test.is_significant
    assert (test.dof_lack, test.dof_pure) == (4, 18)
    straight = repeated(0.0)
    assert not worth_of(*straight, fit(*straight, FitSpec(model="line"))).lack_of_fit.is_significant


def test_a_line_that_is_right_is_called_wrong_once_in_twenty_times():
    wrong = 0
    for seed in range(400):
        x, y = repeated(0.0, seed)
        wrong += worth_of(x, y, fit(x, y, FitSpec(model="line"))).lack_of_fit.is_significant
    assert 8 <= wrong <= 34


def test_without_repeats_the_test_says_what_is_missing():
    x = np.linspace(0, 5, 6)
    worth = worth_of(x, 2 * x + np.sin(x), fit(x, 2 * x + np.sin(x), FitSpec(model="line")))
    assert worth.lack_of_fit is None
    assert worth.why_no_test.startswith("no stop was repeated: take one again")


def test_stops_left_out_are_foretold_worse_by_a_curve_with_too_many_numbers():
    random = np.random.default_rng(6)
    x = np.linspace(0.5, 4.5, 9)
    y = 62.5 * x - 31.25 + random.normal(0, 0.5, 9)
    worths = {model: worth_of(x, y, fit(x, y, FitSpec(model=model))) for model in ("line", "poly5")}
    assert worths["line"].cross_validated < worths["poly5"].cross_validated
    assert worths["line"].aicc < worths["poly5"].aicc


def test_auto_bends_as_far_as_the_readings_ask_for_and_no_further():
    random = np.random.default_rng(9)
    x = np.linspace(0, 5, 40)
    cubic = 3 * x + 0.4 * x**3 + random.normal(0, 0.05, 40)
    chosen = choose(x, cubic)
    assert chosen.candidate.model == "poly3"
    assert "more than chance" in chosen.reason
    within = choose(x, cubic, tolerance=0.3)
    assert within.candidate.model == "poly3"
    assert within.reason.startswith("the simplest whose largest error")


def test_a_table_through_single_readings_is_not_praised_for_its_errors():
    """They are nothing because it cannot miss: what counts is how it misses a stop it has not seen."""
    ohms = np.array([32650.0, 19900.0, 10000.0, 5327.0, 2488.0, 1258.0])
    found = choose(ohms, np.array([0.0, 10.0, 25.0, 40.0, 60.0, 80.0]), 0.5)
    assert found.candidate.model == "table"
    assert found.reason == (
        "no simpler curve stays within 0.5; it passes through all 6 readings, as it must, but stops left out of it are "
        "missed by 6.2"
    )
    two = choose(np.array([0.5, 4.5]), np.array([0.0, 250.0]), 0.5)
    assert two.reason == "it passes through both readings, as it must, and nothing tests it yet"
