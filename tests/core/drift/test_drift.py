"""Drift over visits: rates, bands that cover, flags that are rarely false, intervals by the named methods."""

from datetime import date, timedelta

import numpy as np
import pytest

from able_yardstick.core.drift.change import change_at_last, kinds_of
from able_yardstick.core.drift.interval import Advice, advised, interval_before, later
from able_yardstick.core.drift.leaving import leaving
from able_yardstick.core.drift.trend import trend_of
from able_yardstick.core.drift.visit import StopError, Visit, visit_of
from able_yardstick.core.words.errors import NotApplicable, TooFewReadings

STOPS = (25.0, 75.0, 125.0, 175.0, 225.0)
ALLOWED = ((0.0, 1.0), (250.0, 1.0))
YEAR = timedelta(days=365.25)


def visit(day, found=None, left=lambda _value: 0.0, standard=0.07, common=0.05, stops=STOPS):
    def rows(error):
        return () if error is None else tuple(StopError(value, error(value), standard) for value in stops)

    return Visit(day, "kPa", rows(found), rows(left), common, ALLOWED)


FIRST = date(2024, 1, 1)
STEADY = (  # 0.2 kPa a year in the zero at 125, 0.004 a year in the gain
    visit(FIRST),
    visit(FIRST + YEAR, lambda value: 0.2 + 0.004 * (value - 125)),
    visit(FIRST + 3 * YEAR, lambda value: 0.4 + 0.008 * (value - 125)),
)


def test_a_steady_drift_is_found_to_the_digit_and_carried_on():
    trend = trend_of(STEADY)
    for value in STOPS:
        rate, half = trend.rate_at(value)
        assert rate == pytest.approx(0.2 + 0.004 * (value - 125), abs=2e-3)  # days are whole
        assert 0 < half < 0.2
    assert trend.is_steady
    assert set(kinds_of(trend)) == {"zero", "gain"}
    mean, half = trend.expected(225, 1.5)
    assert mean == pytest.approx(0.9, abs=5e-3)
    assert trend.expected(225, 1.5, 0.5)[1] > half > trend.expected(225, 0.0)[1]
    gone = leaving(trend)
    assert gone.value == 225
    assert gone.may < gone.does
    assert abs((gone.does - STEADY[-1].day) / YEAR - 1 / 0.6) < 0.03


def test_the_weights_are_those_of_generalised_least_squares_reckoned_another_way():
    """Against the same problem whitened by a Cholesky factor and solved by numpy's own least squares."""
    trend = trend_of(STEADY)
    rows = trend.differences
    years, values = np.array([row.years for row in rows]), np.array([row.value for row in rows])
    spread = np.zeros((len(rows), len(rows)))
    own, common = 0.07**2 - 0.05**2, 0.05**2
    for a, one in enumerate(rows):
        for b, other in enumerate(rows):
            spread[a, b] += 2 * own * (a == b)
            for sign_a, visit_a in ((1, one.after), (-1, one.before)):
                for sign_b, visit_b in ((1, other.after), (-1, other.before)):
                    spread[a, b] += sign_a * sign_b * common * (visit_a == visit_b)
    factor = np.linalg.inv(np.linalg.cholesky(spread))
    design = np.column_stack([years, years * (values - values.mean())])
    solved, *_rest = np.linalg.lstsq(factor @ design, factor @ np.array([row.difference for row in rows]), rcond=None)
    assert trend.rates == pytest.approx(solved)
    assert trend.covariance == pytest.approx(np.linalg.inv((factor @ design).T @ (factor @ design)))


def test_what_was_left_is_taken_between_its_stops_and_not_beyond_them():
    after = visit(FIRST + YEAR, lambda _value: 0.3, stops=(10.0, 50.0, 150.0))
    trend = trend_of((visit(FIRST, left=lambda value: value / 1000), after))
    assert [row.value for row in trend.differences] == [50, 150]
    assert [row.difference for row in trend.differences] == pytest.approx([0.25, 0.15])
    with pytest.raises(TooFewReadings, match="Drift needs two visits"):
        trend_of((visit(FIRST),))
    with pytest.raises(TooFewReadings, match="Nothing was left near 400"):
        trend.expected(400, 1.0)


def simulated(draw, count, *, drifts):
    """Visits of a unit that drifts steadily: its readings scatter, each visit has a reference error of its own."""
    rates = draw.normal(0, (0.3, 0.003)) if drifts else (0.0, 0.0)
    day, error, gain, visits = FIRST, 0.0, 0.0, []
    for number in range(count):
        span = int(draw.integers(150, 500)) if number else 0
        day += timedelta(days=span)
        error, gain = error + rates[0] * span / 365.25, gain + rates[1] * span / 365.25
        reference = draw.normal(0, 0.05)
        own = 0.049

        def read(zero, slope, common, scatter=own):
            return lambda value: zero + slope * (value - 125) + common + draw.normal(0, scatter)

        found = read(error, gain, reference) if number else None
        error, gain = draw.normal(0, 0.03), draw.normal(0, 0.0003)
        visits.append(visit(day, found, read(error, gain, reference)))
    return tuple(visits)


@pytest.mark.slow
@pytest.mark.parametrize("count", [3, 4, 6])
def test_the_band_of_the_next_error_found_covers_it_in_95_of_100(count):
    draw, hits = np.random.default_rng(7), 0
    for _ in range(1000):
        *known, then = simulated(draw, count + 1, drifts=True)
        stop = then.found[int(draw.integers(0, len(STOPS)))]
        mean, half = trend_of(tuple(known)).expected(stop.value, then.years - known[-1].years, stop.standard)
        hits += abs(stop.error - mean) <= half
    assert 0.93 <= hits / 1000 <= 0.97


@pytest.mark.slow
def test_a_change_is_flagged_falsely_in_5_of_100_at_most_and_a_real_one_is_seen():
    draw = np.random.default_rng(8)
    false = sum(change_at_last(trend_of(simulated(draw, 3, drifts=False))).is_flagged for _ in range(1000))
    assert false / 1000 <= 0.055  # five in a hundred, and what a thousand draws are unsure of
    jumped = (visit(FIRST), visit(FIRST + YEAR, lambda value: 0.5 if value > 200 else 0.0))
    change = change_at_last(trend_of(jumped))
    assert [row.value for row in change.moved] == [225]
    assert change.compared == 5


def test_what_scatters_more_than_is_stated_is_told_and_widens_the_band():
    wild = tuple(visit(FIRST + n * YEAR, lambda _value, n=n: (-1) ** n * 1.0) if n else visit(FIRST) for n in range(5))
    trend = trend_of(wild)
    assert not trend.is_steady
    assert trend.rate_at(125)[1] > 3 * trend_of(STEADY).rate_at(125)[1]


def test_methods_advise_with_their_figures_or_say_why_not():
    found = advised(STEADY, interval_before(STEADY))
    assert interval_before(STEADY) == 24
    assert isinstance(found["staircase"], Advice)
    assert found["staircase"].months == 18
    assert found["staircase"].why == "found 120 % of the error allowed at 225 kPa: a step shorter"
    chart = found["control chart"]
    trend = trend_of(STEADY)
    assert all(sum(map(abs, trend.expected(value, chart.months / 12))) <= 1 for value in STOPS)
    assert any(sum(map(abs, trend.expected(value, (chart.months + 1) / 12))) > 1 for value in STOPS)
    outside = (STEADY[0], visit(FIRST + YEAR, lambda _value: 1.2))
    assert advised(outside, 12)["staircase"].months == 9
    assert "a step shorter" in advised(outside, 12)["staircase"].why
    within = (STEADY[0], visit(FIRST + YEAR, lambda _value: 0.2))
    assert advised(within, 12)["staircase"].months == 18
    alone = advised((STEADY[0],))
    assert "was not seen" in alone["staircase"]
    assert "Drift needs two visits" in alone["control chart"]


@pytest.mark.parametrize(
    ("day", "months", "then"),
    [(date(2026, 1, 31), 1, date(2026, 2, 28)), (date(2027, 12, 5), 13, date(2029, 1, 5)),
     (date(2024, 1, 31), 1, date(2024, 2, 29))],
)  # fmt: skip
def test_so_many_months_later(day, months, then):
    assert later(day, months) == then


def test_what_is_not_known_is_not_taken_for_none():
    unknown = visit(FIRST + YEAR, lambda _value: 0.3, standard=float("nan"))
    with pytest.raises(NotApplicable, match="U is not known"):
        trend_of((STEADY[0], unknown))
    unstated = tuple(one._replace(allowed=()) for one in STEADY)
    assert all("No error allowed is stated" in says for says in advised(unstated).values())
    assert leaving(trend_of(unstated)).does is None


def test_the_uncertainty_that_a_visit_shares_is_in_the_units_own_unit():
    record = {
        "signed": "2026-05-01T10:00:00+00:00", "allowed": [],
        "channel": {"kind": "continuous", "unit": "kPa", "transducer": {"range_low": 0.0, "range_high": 250.0}},
        "references": [{"expanded_uncertainty": 0.002, "unit": "bar"}, {"expanded_uncertainty": 1.0, "unit": "ohm"}],
    }  # fmt: skip
    assert visit_of(record).common == pytest.approx(0.1)
