"""A sensor's accuracy in the standard's terms, on readings whose figures are known by hand."""

import numpy as np
import pytest
from scipy.optimize import linprog

from able_yardstick.core.curves import Line
from able_yardstick.core.fit.assumed import standing_of
from able_yardstick.core.fit.linearity import ReadingRun, linearity_of
from able_yardstick.core.job.entries import capture
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.results.choices import use_curve


def run_of(values, stops, directions, nominal=None):
    """Readings whose signal is a tenth of what they indicate."""
    return ReadingRun(np.array(values) / 10, np.array(stops, dtype=float), tuple(directions), (0.0, 100.0), nominal)


def figures(run):
    return {term.name: term.value for term in linearity_of(run).terms}


STOPS = [0, 50, 100, 100, 50, 0]
WAYS = ["up"] * 3 + ["down"] * 3


def test_hysteresis_reversibility_and_repeatability_by_hand():
    first, second = [0, 50.0, 100, 100, 50.6, 0], [0, 50.2, 100, 100, 51.0, 0]
    found = figures(run_of(first + second, STOPS * 2, WAYS * 2))
    assert found["hysteresis"] == pytest.approx((50.6 + 51.0) / 2 - (50.0 + 50.2) / 2)
    assert found["reversibility"] == pytest.approx(51.0 - 50.2)
    assert found["repeatability"] == pytest.approx(0.4)
    assert linearity_of(run_of(first + second, STOPS * 2, WAYS * 2)).cycles == 2


def test_the_three_linearities_of_a_bend():
    """A parabola with a bend of 1 at the middle: off the ends' line by 1, off the best line by half of that."""
    stops = np.linspace(0, 100, 41)
    bent = stops + 4 * stops / 100 * (1 - stops / 100)
    found = figures(run_of(bent, stops, ["up"] * 41))
    assert found["terminal-based"] == pytest.approx(1.0, abs=1e-6)
    assert found["independent"] == pytest.approx(0.5, abs=1e-6)
    assert found["zero-based"] == pytest.approx(zero_based(stops, bent), abs=1e-6)


def zero_based(x, y):
    """By linear programming: the slope through the first point whose largest deviation is least."""
    away, rise = x[1:] - x[0], y[1:] - y[0]
    rows = np.concatenate([np.stack([away, -np.ones_like(away)], 1), np.stack([-away, -np.ones_like(away)], 1)])
    return linprog([0, 1], rows, np.concatenate([rise, -rise]), bounds=[(None, None)] * 2).fun


def test_zero_and_span_error_are_those_of_the_described_line():
    described = Line(height=0.5, gradient=10.2, centre=0.0, domain=(0, 10))
    found = figures(run_of([0, 50, 100], [0, 50, 100], ["up"] * 3, described))
    assert found["zero error"] == pytest.approx(0.5)
    assert found["span error"] == pytest.approx(2.0)


def test_what_the_readings_cannot_give_is_said():
    found = linearity_of(
        run_of([10, 90], [10, 90], ["up", "up"], Line(height=0, gradient=10, centre=0, domain=(0, 10)))
    )
    why = {term.name: term.why_not for term in found.terms}
    assert all(term.value is None for term in found.terms)
    assert "one between them would show a bend" in why["independent"]
    assert "both going up and coming down" in why["hysteresis"]
    assert "twice in one direction" in why["repeatability"]
    assert why["zero error"] == "no reading at the lower range value, 0"
    assert found.says.startswith("no whole cycle up and down, 2 stops; the standard's test")


def gathered(job: Job, pairs) -> Job:
    """The demo's dryer air with these pairs of ohms and °C alone."""
    at = job.readings[0].captured
    readings = [
        Reading(
            id=f"r{n}", channel="it-207", captured=at, reference=value, reference_unit="A", raw=Raw(mean=signal),
            reference_standard=0.05,
        )
        for n, (signal, value) in enumerate(pairs)
    ]  # fmt: skip
    return capture(job, readings)


def test_two_points_leave_linearity_assumed_and_say_what_one_more_would_prove(demo_job):
    job = gathered(demo_job, [(0.5, 5.0), (4.5, 45.0)])
    channel = job.continuous("it-207")
    found = standing_of(job, channel)
    assert found.assumed == "two stops lie on any line"
    assert "at 25 A" in found.more
    assert "a bend of more than 0.12 A" in found.more  # 2 sqrt(1.5) 0.05
    record = use_curve(job, channel.id, "two-point", job.readings[0].captured).fit_of(channel.id)
    assert record.assumed == found.assumed
    assert record.expanded is None


def test_stops_without_repeats_leave_it_assumed_too(demo_job):
    job = gathered(demo_job, [(0.5, 5.0), (2.5, 25.0), (4.5, 45.0)])
    found = standing_of(job, job.continuous("it-207"))
    assert found.assumed == "no stop was repeated"
    assert "at 25 A, taken already" in found.more


def test_repeated_stops_prove_it(demo_job):
    job = gathered(demo_job, [(0.5, 5.0), (2.5, 25.0), (2.51, 25.0), (4.5, 45.0)])
    channel = job.continuous("it-207")
    assert standing_of(job, channel).assumed == ""
    record = use_curve(job, channel.id, "line", job.readings[0].captured).fit_of(channel.id)
    assert record.assumed == ""
    assert record.expanded > 0.1


def test_the_average_is_that_of_both_directions_and_not_of_all_readings():
    """Two passes up and one down: a pooled mean would give the way up twice the weight (IEC 61298-2, 4.1)."""
    stops = [0.0, 50.0, 100.0]
    signal, reference, ways = [], [], []
    for way, shift, passes in (("up", 0.0, 2), ("down", 0.09, 1)):
        for _ in range(passes):
            for stop in stops:
                reference.append(stop)
                signal.append(stop / 100 + (shift if stop == 50.0 else 0.0))
                ways.append(way)
    found = linearity_of(ReadingRun(np.array(signal), np.array(reference), tuple(ways), (0.0, 100.0)))
    terms = {term.name: term.value for term in found.terms}
    assert terms["terminal-based"] == pytest.approx(4.5)  # half of 9 %, where the pooled mean would say 3
    assert terms["hysteresis"] == pytest.approx(9.0)
