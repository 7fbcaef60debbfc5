"""U of a fitted channel: its rows against the same sums by hand, its growth, and what weighs the readings."""

import numpy as np
import pytest
from scipy.optimize import least_squares
from scipy.stats import t as student

from able_yardstick.core.fit.budget import fit_budget, reach_of
from able_yardstick.core.fit.inputs import fit_inputs
from able_yardstick.core.fit.on_offer import candidate_of, candidates_of, recommended
from able_yardstick.core.gather.points import points_of
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.instruments import change_reference
from able_yardstick.core.regression.fitted import FitSettings, FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.results.basis import stale_fit
from able_yardstick.core.results.choices import use_curve


def fitted_of(job, channel, model):
    return next(row.fitted for row in candidates_of(job, channel) if row.model == model)


def test_the_rows_are_those_of_the_gauge_the_scatter_and_the_converter(demo_job):
    """PT-201: a gauge with U = 0.1 kPa (k = 2) and steps of 0.01 kPa, a 12-bit converter of 5 V."""
    channel = demo_job.continuous("pt-201")
    line = fitted_of(demo_job, channel, "line")
    pin = line.curve.domain[1]
    found = fit_budget(fit_inputs(demo_job, channel), line, pin)
    rows = {row.name: row for row in found.rows}
    x, n = np.array(line.signals), len(line.signals)
    scatter = line.residual_sd
    leverage = 1 / n + (pin - x.mean()) ** 2 / np.sum((x - x.mean()) ** 2)
    gauge, display, count = 0.1 / 2, 0.005 / 3**0.5, 62.4 * 5 / 4095 / 2 / 3**0.5
    assert rows["scatter about the curve"].standard == pytest.approx(scatter)
    assert rows["the curve itself"].standard == pytest.approx(
        scatter * leverage**0.5, rel=0.02
    )  # weights are near even
    assert rows["reference, certificate"].standard == pytest.approx(gauge)
    assert rows["reference, display"].standard == pytest.approx(display)
    assert rows["one count"].standard == pytest.approx(count, rel=1e-3)
    both = scatter**2 * (1 + leverage)
    combined = (both + gauge**2 + display**2 + count**2) ** 0.5
    assert found.interval.combined == pytest.approx(combined, rel=2e-3)
    assert found.interval.dof == pytest.approx(combined**4 / (both**2 / line.dof), rel=0.01)
    assert found.interval.factor == pytest.approx(student.ppf(0.975, found.interval.dof), rel=1e-6)


def test_each_row_is_its_size_over_its_divisor_times_its_sensitivity(demo_job):
    for tag in ("pt-201", "pt-202", "wt-206", "at-208"):
        channel = demo_job.continuous(tag)
        for model in ("line", "poly2", "table", "pchip"):
            fitted = fitted_of(demo_job, channel, model)
            for row in fit_budget(fit_inputs(demo_job, channel), fitted, sum(fitted.curve.domain) / 2).rows:
                assert row.standard == pytest.approx(row.size / row.divisor * abs(row.sensitivity))


@pytest.mark.parametrize("model", ["terminal", "two-point", "line", "poly2", "poly3", "table", "pchip"])
def test_u_grows_beyond_the_readings_and_faster_with_more_numbers(demo_job, model):
    channel = demo_job.continuous("pt-201")
    found = reach_of(demo_job, channel, model)
    low, high = fitted_of(demo_job, channel, model).curve.domain
    above = found.expanded[found.pins >= high]
    assert np.all(np.diff(above) > 0)
    assert above[-1] > 1.2 * found.largest
    assert low <= found.inside <= high


def test_the_bend_that_a_line_cannot_see_counts_beyond_the_readings(demo_job):
    """AT-208 bends, so a line through it is worth little beyond its readings, and the budget has a row for that."""
    channel = demo_job.continuous("at-208")
    line = fitted_of(demo_job, channel, "line")
    high = line.curve.domain[1]
    names = [row.name for row in fit_budget(fit_inputs(demo_job, channel), line, high + 0.5).rows]
    assert names[-1] == "bend beyond the readings"
    assert "bend beyond the readings" not in [
        row.name for row in fit_budget(fit_inputs(demo_job, channel), line, high).rows
    ]


def test_a_table_without_repeats_claims_no_uncertainty(demo_job):
    channel = demo_job.continuous("pt-202")
    points = points_of(demo_job, channel)
    few = np.unique(points.reference.round(-1), return_index=True)[1]
    found = fit(points.signal[few], points.reference[few], FitSpec(model="table"))
    assert fit_budget(fit_inputs(demo_job, channel), found, 2.0) is None
    assert "nothing of their spread" in found.why_no_spread


def test_readings_weigh_by_their_instruments_uncertainty(demo_job):
    """A second gauge ten times as doubtful hardly pulls: the fit is that of exact weighted sums."""
    channel = demo_job.continuous("pt-201")
    half = tuple(
        reading.with_(reference_standard=1.0) if reading.channel == "pt-201" and n % 2 else reading
        for n, reading in enumerate(demo_job.readings)
    )
    job = demo_job.with_(readings=half)
    points = points_of(job, channel)
    doubts = fit_inputs(job, channel).doubts
    assert sorted(set(doubts.reference.round(3))) == [0.05, 1.0]
    line = fitted_of(job, channel, "line")
    x, y = points.signal, points.reference

    def misses(numbers):
        a, b, true = numbers[0], numbers[1], numbers[2:]
        return np.concatenate([(true - x) / doubts.signal, (a + b * true - y) / doubts.reference])

    likely = least_squares(misses, [0, 60, *x], xtol=1e-15, ftol=1e-15, gtol=1e-15, x_scale="jac").x
    assert line.curve.gradient == pytest.approx(likely[1], rel=1e-6)
    even = change_channel(job, channel.with_(fit_settings=FitSettings(weigh="all the same")))
    assert fit_inputs(even, even.continuous("pt-201")).doubts is None
    plain = fitted_of(even, even.continuous("pt-201"), "line")
    assert plain.curve.gradient == pytest.approx(np.polyfit(x, y, 1)[0], rel=1e-9)
    assert plain.weights == ()


def test_another_certificate_makes_a_weighed_fit_stale(demo_job):
    at = demo_job.readings[0].captured
    job = use_curve(demo_job, "pt-201", "line", at)
    gauge = next(one for one in job.references if one.id == job.amended("pt-201", "gather")[0].reading.reference_id)
    after = change_reference(job, gauge.with_(expanded_uncertainty=0.2))
    assert stale_fit(after, after.continuous("pt-201")) == ("the uncertainty of a reference changed",)


def test_the_simplest_that_is_adequate_is_recommended_with_its_reason(demo_job):
    found = recommended(demo_job, demo_job.continuous("at-208"))
    assert found.candidate.model == "poly3"
    assert found.reason.startswith("the simplest whose largest error 0.0185 is within the error allowed")
    assert recommended(demo_job, demo_job.continuous("tt-203")) is None


@pytest.mark.parametrize("tag", ["pt-201", "pt-202", "wt-206", "at-208", "te-204"])
def test_a_curve_made_alone_is_the_one_made_among_all(demo_job, tag):
    channel = demo_job.continuous(tag)
    inputs = fit_inputs(demo_job, channel)
    every = candidates_of(demo_job, channel)
    assert every
    for row in every:
        alone = candidate_of(inputs, row.model)
        assert alone is not None
        assert (alone.fitted, alone.refusal) == (row.fitted, row.refusal)
