"""Tables of few knots: proven bounds, grids that are searched and not rounded to, and what is refused."""

from itertools import combinations, pairwise, product

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.optimize import linprog

from able_yardstick.core.curves import Line, Polynomial, Table
from able_yardstick.core.forms.cost import packing_cost
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.pack.around import Around
from able_yardstick.core.pack.make import pack_in_full
from able_yardstick.core.pack.search.funnel import corners, links_through
from able_yardstick.core.pack.search.knots import Shared
from able_yardstick.core.pack.search.reduce import even_knots, fewest_knots, free_knots, values_at
from able_yardstick.core.pack.search.room import Grid
from able_yardstick.core.pack.search.settle import settled
from able_yardstick.core.pack.search.target import Target
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.words.errors import OutOfRange

SQUARE = Polynomial(coefficients=(0.0, 0.0, 1.0), domain=(0.0, 1.0))
OXYGEN = Table.through(np.linspace(0, 5, 23), 9.05 * np.expm1(0.24 * np.linspace(0, 5, 23)))


def target(x, y):
    return Target(np.asarray(x, dtype=float), np.asarray(y, dtype=float), np.asarray(y, dtype=float))


def best_by_linear_programs(x, y, pieces):
    """The least error of a broken line, by trying every way to share out the gates and which way each corner turns."""
    best = np.inf
    for cuts in combinations(range(1, len(x)), pieces - 1):
        bounds = [0, *cuts, len(x)]
        for turns in product((1, -1), repeat=pieces - 1):
            rows, limits = [], []
            for n in range(pieces):
                for i in range(bounds[n], bounds[n + 1]):
                    line = np.zeros(2 * pieces + 1)
                    line[2 * n : 2 * n + 2] = (1, x[i])
                    for sign in (1, -1):
                        row = sign * line
                        row[-1] = -1
                        rows.append(row)
                        limits.append(sign * y[i])
            for n, turn in enumerate(turns):  # neighbouring lines cross between the gates on either side of the cut
                for at, sign in ((x[cuts[n] - 1], turn), (x[cuts[n]], -turn)):
                    row = np.zeros(2 * pieces + 1)
                    row[2 * n : 2 * n + 2] = (sign, sign * at)
                    row[2 * n + 2 : 2 * n + 4] = (-sign, -sign * at)
                    rows.append(row)
                    limits.append(0.0)
            cost = np.zeros(2 * pieces + 1)
            cost[-1] = 1
            free = [(None, None)] * (2 * pieces) + [(0, None)]
            found = linprog(cost, A_ub=np.array(rows), b_ub=np.array(limits), bounds=free)
            if found.status == 0:
                best = min(best, found.fun)
    return best


def by_bisection(x, y, pieces):
    low, high = 0.0, float(np.ptp(y)) + 1
    for _ in range(60):
        middle = (low + high) / 2
        enough = links_through(list(x), list(y - middle), list(y + middle), pieces) is not None
        low, high = (low, middle) if enough else (middle, high)
    return high


@settings(max_examples=12)
@given(st.lists(st.floats(-5, 5), min_size=6, max_size=6), st.integers(1, 3))
def test_the_funnel_finds_what_every_way_of_sharing_out_the_gates_finds(values, pieces):
    x, y = np.array([0.0, 0.7, 1.1, 2.0, 3.2, 3.9]), np.array(values)
    assert by_bisection(x, y, pieces) == pytest.approx(best_by_linear_programs(x, y, pieces), abs=1e-6)


@given(st.integers(0, 10_000), st.integers(1, 9))
def test_the_broken_line_passes_every_gate(seed, pieces):
    random = np.random.default_rng(seed)
    x = np.cumsum(random.uniform(0.01, 1, 60))
    y = np.cumsum(random.normal(0, 1, 60))
    error = by_bisection(x, y, pieces) * (1 + 1e-9) + 1e-12
    links = links_through(list(x), list(y - error), list(y + error), pieces)
    knots = np.array(corners(list(x), links))
    assert np.all(np.diff(knots[:, 0]) >= 0)
    assert np.max(np.abs(np.interp(x, knots[:, 0], knots[:, 1]) - y)) <= error * (1 + 1e-6)


def test_the_square_with_twelve_knots_reaches_its_known_optimum():
    x = np.linspace(0, 1, 20_001)
    found = free_knots(target(x, x**2), 12, (0.0, 1.0))
    assert found.reached == pytest.approx(1 / 968, rel=0.01)  # (1 / 11)^2 / 8: each piece swings as far both ways
    assert found.bound <= found.reached <= 1.002 * found.bound
    assert len(found.signals) == 12


def test_a_curve_that_bends_both_ways_is_not_worse_than_its_bound():
    x = np.linspace(0, 5, 3001)
    found = free_knots(target(x, np.sin(3 * x) + 0.2 * x), 12, (0.0, 5.0))
    assert found.reached <= 1.002 * found.bound
    assert found.reached < 0.5 * even_knots(target(x, np.sin(3 * x) + 0.2 * x), 12, (0.0, 5.0)).reached


def exhaustive(x, y, places, step, knots):
    """The least largest error over every choice of places and every value on the steps near the truth."""
    best = np.inf
    near = [np.arange(np.floor(v / step) - 2, np.ceil(v / step) + 3) * step for v in np.interp(places, x, y)]
    for inner in combinations(range(1, len(places) - 1), knots - 2):
        rows = [0, *inner, len(places) - 1]
        for values in product(*(near[row] for row in rows)):
            best = min(best, float(np.max(np.abs(np.interp(x, places[rows], values) - y))))
    return best


@pytest.mark.parametrize(("knots", "step"), [(3, 0.5), (4, 1.0), (3, 0.2)])
@pytest.mark.parametrize("bend", [1.0, -2.0])
def test_knots_on_a_grid_are_the_best_there_are(knots, step, bend):
    x = np.linspace(0, 4, 41)
    y = bend * (x**2 / 2 + np.sin(x))
    places = np.arange(0, 4.01, 0.5)
    points = target(x, y)
    found = settled(points, Grid(places, step), knots, free_knots(points, knots, (0.0, 4.0)))
    truth = exhaustive(x, y, places, step, knots)
    assert found.reached == pytest.approx(truth, rel=0.01)
    assert found.bound <= truth * (1 + 1e-9)
    assert np.allclose(found.values / step, np.round(found.values / step))


@pytest.mark.parametrize(
    ("signal_step", "value_step"),
    [(0.01, 0.01), (0.05, 0.01), (0.01, 0.001), (0.1, 0.1), (0.01, None), (0.001, 0.001), (0.002, 0.005), (0.01, 1e-4)],
)
def test_a_table_on_its_grid_is_within_a_hundredth_of_its_proven_bound(signal_step, value_step):
    spec = PackSpec(form="knots", knots=12, signal_step=signal_step, value_step=value_step)
    made = pack_in_full(OXYGEN, Converter(), spec)
    cost = packing_cost(made.form, OXYGEN, Converter(), 21.0).overall
    assert made.bound <= abs(cost.error) <= 1.01 * made.bound
    assert made.table.free_bound <= made.bound
    assert made.table.even_error > 1.2 * abs(cost.error) or signal_step == 0.1
    assert np.allclose(np.array(made.form.signals) / signal_step, np.round(np.array(made.form.signals) / signal_step))


def few_counts(seed):
    """A random bent table and a converter so coarse that every table can be tried."""
    random = np.random.default_rng(seed)
    x = np.concatenate(
        [[0.0], np.sort(random.choice(np.arange(3, 48), random.integers(1, 6), replace=False)) / 10, [5]]
    )
    y = np.cumsum(random.uniform(0.05, 3, len(x))) * random.choice([1, -1])
    return random, Table.through(x, y), Converter(bits=6, full_count=int(random.integers(15, 60)), low=0.0, high=5.0)


def truth_of(curve, converter):
    signal = converter.inverse(converter.every_count())
    return signal, curve.value(signal)


def best_values(signal, truth, places, values):
    """The least error of knots at places with values of a list, each pair of neighbours tried."""
    reached = np.zeros(len(values))
    for low, high in pairwise(places):
        on = (signal >= low - 1e-12) & (signal <= high + 1e-12)
        share = (signal[on] - low) / (high - low)
        lines = values[:, None, None] * (1 - share) + values[None, :, None] * share
        error = np.max(np.abs(lines - truth[on]), axis=2, initial=0.0)
        reached = np.min(np.maximum(reached[:, None], error), axis=0)
    return float(reached.min())


def any_values(signal, truth, places):
    """The least error of knots at places with any values, by a linear program."""
    left = np.clip(np.searchsorted(places, signal, side="right") - 1, 0, len(places) - 2)
    share = (signal - places[left]) / (places[left + 1] - places[left])
    hats = np.zeros((len(signal), len(places) + 1))
    hats[np.arange(len(signal)), left] = 1 - share
    hats[np.arange(len(signal)), left + 1] = share
    above, below = hats.copy(), -hats
    above[:, -1] = below[:, -1] = -1
    cost = np.append(np.zeros(len(places)), 1.0)
    bounds = [(None, None)] * len(places) + [(0, None)]
    return linprog(cost, A_ub=np.vstack([above, below]), b_ub=np.concatenate([truth, -truth]), bounds=bounds).fun


def is_best(made, signal, truth, converter, best):
    """Within a hundredth of what trying all found, and nothing else was claimed to be proven."""
    reached = float(np.max(np.abs(made.form.shown(converter.every_count(), converter) - truth)))
    return reached <= 1.01 * best + 1e-6 and made.bound <= best * (1 + 1e-5) + 1e-7


@settings(max_examples=60)
@given(st.integers(0, 10_000), st.integers(2, 4), st.sampled_from([5, 6, 8]))
@example(64, 3, 6)  # a knot far off the truth between two counts
@example(257, 4, 8)
@example(469, 3, 5)
@example(1746, 2, 5)  # one piece only: the error of the best table is met to the last digit
def test_knots_at_stepped_signals_with_any_values_are_the_best_there_are(seed, knots, steps):
    _, curve, converter = few_counts(seed)
    signal, truth = truth_of(curve, converter)
    places = np.arange(steps + 1) * 5 / steps
    ways = ([0, *inner, steps] for inner in combinations(range(1, steps), knots - 2))
    best = min(any_values(signal, truth, places[way]) for way in ways)
    made = pack_in_full(curve, converter, PackSpec(form="knots", knots=knots, signal_step=5 / steps))
    assert is_best(made, signal, truth, converter, best)


@settings(max_examples=60)
@given(st.integers(0, 10_000), st.integers(2, 5), st.sampled_from([0.3, 0.5, 1.0, 2.0]))
@example(1695, 5, 2.0)
@example(3799, 5, 2.0)
def test_stepped_values_at_fixed_places_are_the_best_there_are(seed, knots, step):
    """The places may stand closer than the counts, so that next to nothing bounds a knot between them."""
    random, curve, converter = few_counts(seed)
    signal, truth = truth_of(curve, converter)
    places = np.concatenate([[0.0], np.sort(random.choice(np.arange(1, 50), knots - 2, replace=False)) / 10, [5.0]])
    values = np.arange(np.floor(truth.min() / step) - 4, np.ceil(truth.max() / step) + 5) * step
    spec = PackSpec(form="knots", spacing="fixed", positions=tuple(places.tolist()), value_step=step)
    assert is_best(
        pack_in_full(curve, converter, spec), signal, truth, converter, best_values(signal, truth, places, values)
    )


@settings(max_examples=60)
@given(st.integers(0, 10_000), st.floats(0.6, 2.0), st.sampled_from([5, 6, 8]))
def test_no_fewer_knots_keep_an_error_on_their_grid(seed, error, steps):
    _, curve, converter = few_counts(seed)
    signal, truth = truth_of(curve, converter)
    places = np.arange(steps + 1) * 5 / steps
    values = np.arange(np.floor(truth.min()) - 3, np.ceil(truth.max()) + 4) * 1.0
    try:
        made = pack_in_full(
            curve, converter, PackSpec(form="knots", max_error=error, signal_step=5 / steps, value_step=1.0)
        )
    except OutOfRange:
        return
    knots = len(made.form.signals)
    assert np.max(np.abs(made.form.shown(converter.every_count(), converter) - truth)) <= error * (1 + 1e-6)
    if knots > 2:
        fewer = ([0, *inner, steps] for inner in combinations(range(1, steps), knots - 3))
        assert min(best_values(signal, truth, places[way], values) for way in fewer) > error


@pytest.mark.parametrize("full_count", [1, 2, 3, 5])
@pytest.mark.parametrize("positions", [(1.0, 4.0), (0.0, 0.1, 0.2, 3.0, 5.0)])
def test_next_to_no_counts_between_the_knots_break_nothing(full_count, positions):
    """Nothing bounds such knots, so nothing but the least error of any values may be called proven."""
    converter = Converter(bits=3, full_count=full_count, low=0.0, high=5.0)
    spec = PackSpec(form="knots", spacing="fixed", positions=positions, value_step=0.5)
    if full_count < 3 and positions[0] > 0:
        with pytest.raises(OutOfRange, match="gives fewer than two counts where the table is to hold"):
            pack_in_full(OXYGEN, converter, spec)
        return
    made = pack_in_full(OXYGEN, converter, spec)
    assert made.bound <= made.table.inside
    assert np.allclose(np.array(made.form.values) / 0.5, np.round(np.array(made.form.values) / 0.5))


@pytest.mark.parametrize("clamp", [False, True])
@pytest.mark.parametrize(
    "settings",
    [
        {"spacing": "fixed", "positions": (1.0, 2.0, 3.0, 4.0), "value_step": 0.01},
        {"spacing": "own", "own_knots": ((1.0, 2.5), (2.0, 5.6), (4.0, 14.6))},
        {"knots": 4, "signal_low": 1.0, "signal_high": 4.0},
    ],
)
def test_what_is_proven_holds_between_the_tables_ends_and_that_is_said(settings, clamp):
    """The calibration holds from 0 to 5: beyond the ends the table is carried on or held, and errs by more."""
    made = pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", clamp=clamp, **settings))
    signal, truth = truth_of(OXYGEN, Converter())
    errors = np.abs(made.form.shown(Converter().every_count(), Converter()) - truth)
    between = (signal >= 1) & (signal <= 4)
    assert made.table.leaves_out
    assert made.table.inside == pytest.approx(errors[between].max())
    assert made.bound <= made.table.inside < errors.max()
    whole = pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", knots=4))
    assert not whole.table.leaves_out


def test_a_straight_line_costs_nothing_where_its_grid_allows_it():
    gas = Line.through((0.5, 0.0), (4.5, 250.0), (0.5, 4.5))
    made = pack_in_full(gas, Converter(), PackSpec(form="knots", signal_step=0.01, value_step=0.01))
    assert abs(packing_cost(made.form, gas, Converter(), 250.0).in_reach.error) < 1e-9


def test_a_short_tables_own_rows_are_its_knots_to_the_last_digit():
    rows = np.array([[0.0, 0.0], [1.0, 1.5], [2.0, 4.0], [5.0, 21.0]])
    curve = Table.through(*rows.T)
    made = pack_in_full(curve, Converter(), PackSpec(form="knots", knots=4))
    assert (made.form.signals, made.form.values) == (curve.signals, curve.values)
    more = pack_in_full(curve, Converter(), PackSpec(form="knots", knots=6))
    assert set(curve.signals) < set(more.form.signals)
    assert more.form.shown(Converter().every_count(), Converter()) == pytest.approx(
        np.interp(Converter().inverse(Converter().every_count()), *rows.T), abs=1e-14
    )
    assert more.bound == 0


def test_the_end_knots_may_stand_beyond_what_the_converter_reads():
    """A thermistor whose lowest resistance lies between the grid's places, where it bends most."""
    ohms = np.geomspace(1258, 32650, 60)
    warm = 1 / (1.1253e-3 + 2.3471e-4 * np.log(ohms) + 8.563e-8 * np.log(ohms) ** 3) - 273.15
    curve, converter = Table.through(ohms, warm), Converter(low=1258, high=32650)
    made = pack_in_full(curve, converter, PackSpec(form="knots", knots=12, signal_step=100, value_step=0.1))
    assert (made.form.signals[0], made.form.signals[-1]) == (1200, 32700)
    cost = packing_cost(made.form, curve, converter, 80.0).overall
    assert made.bound <= abs(cost.error) <= 1.01 * made.bound


def test_a_grid_much_coarser_than_the_curve_bends_ends_with_what_is_proven_by_then():
    """Nearly any knots are as good there, so there is far too much to look through."""
    bent = Polynomial(coefficients=(0, 62, 0.05), centre=0.5, scale=1, domain=(0.5, 4.5))
    spec = PackSpec(form="knots", knots=12, signal_step=0.001, value_step=1.0)
    made = pack_in_full(bent, Converter(low=0.5, high=4.5), spec)
    cost = packing_cost(made.form, bent, Converter(low=0.5, high=4.5), 250.0).overall
    assert made.table.free_bound < made.bound <= abs(cost.error) < 0.21


def test_fixed_places_get_the_best_values():
    x = np.linspace(0, 1, 1101)
    found = values_at(target(x, x**2), np.linspace(0, 1, 12))
    assert found.reached == pytest.approx(1 / 968, rel=0.005)
    places = (0.0, 1.0, 2.5, 4.0, 5.0)
    made = pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", spacing="fixed", positions=places, value_step=0.01))
    assert made.form.signals == places
    assert abs(packing_cost(made.form, OXYGEN, Converter(), 21.0).overall.error) <= 1.01 * made.bound


def test_the_fewest_knots_keep_the_error_and_one_fewer_do_not():
    points = target(np.linspace(0, 1, 2001), np.linspace(0, 1, 2001) ** 2)
    assert fewest_knots(points, 1.001 / 968) == 12
    assert fewest_knots(points, 0.98 / 968) == 13
    made = pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", max_error=0.05, signal_step=0.01, value_step=0.01))
    assert abs(packing_cost(made.form, OXYGEN, Converter(), 21.0).overall.error) <= 0.05
    assert len(made.form.signals) == 7


def test_one_table_serves_two_curves_half_as_well_as_they_differ():
    other = OXYGEN.converted(1.0, 0.2)
    around = Around(shared=(Shared(other, (1.0, 4.0)),))
    made = pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", knots=12), around)
    errors = [
        np.max(np.abs(made.form.continuous(Converter()).value(x) - curve.value(x)))
        for curve, x in ((OXYGEN, np.linspace(0, 5, 999)), (other, np.linspace(1, 4, 999)))
    ]
    assert max(errors) == pytest.approx(0.1, abs=0.02)
    with pytest.raises(OutOfRange, match=r"The curves that share the table differ by up to 0\.2, so no table keeps"):
        pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", max_error=0.05), around)


def test_knots_put_by_hand_stay_where_they_are():
    own = ((0.0, 0.1), (2.0, 5.6), (5.0, 21.0))
    made = pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", spacing="own", own_knots=own))
    assert tuple(zip(made.form.signals, made.form.values, strict=True)) == own
    worst = abs(packing_cost(made.form, OXYGEN, Converter(), 21.0).overall.error)
    assert worst > made.table.free_bound


def test_limits_left_over_from_another_sensor_are_refused_with_the_first_count():
    with pytest.raises(OutOfRange, match=r"upper limit of 15 flattens the curve: from count (\d+) on") as refused:
        pack_in_full(OXYGEN, Converter(), PackSpec(form="knots", limit_high=15.0))
    first = int(str(refused.value).split("from count ")[1].split()[0])
    values = OXYGEN.value(Converter().inverse(np.array([first - 1, first])))
    assert values[0] <= 15.0 < values[1]


@pytest.mark.parametrize(
    ("spec", "words"),
    [
        ({"spacing": "fixed"}, "fixed positions need at least two signals"),
        ({"spacing": "fixed", "positions": (2.0, 1.0)}, "the signals of fixed positions must rise"),
        ({"limit_low": 5.0, "limit_high": 1.0}, r"the lower limit \(5\) must lie below the upper \(1\)"),
        ({"spacing": "own"}, "a table of one's own needs at least two knots"),
        ({"form": "formula", "channel_name": "O2 raw"}, "stands in a formula only between quotes or brackets"),
        ({"form": "formula", "channel_name": "2nd"}, "“2nd” stands in a formula only"),
        ({"channel_name": "x" * 61}, "one line of at most 60 characters"),
    ],
)
def test_settings_that_contradict_themselves_are_refused(spec, words):
    with pytest.raises(ValueError, match=words):
        PackSpec(**{"form": "knots", **spec})
