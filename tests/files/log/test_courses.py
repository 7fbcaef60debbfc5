"""Courses of a log: values by the curve in use, envelopes that bound them, what is made of channels, readings, anew."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.document.watched import TotalValue
from able_yardstick.core.job.watching import change_value
from able_yardstick.core.lookout.other_numbers import CURVE, FORMULA, numbers_on_offer, values_by
from able_yardstick.core.lookout.relogging import relogged, relogged_from_shown
from able_yardstick.core.words.errors import NoSuchThing, NotApplicable
from able_yardstick.files.log.anew import reckoned_anew
from able_yardstick.files.log.courses import LogCourses
from able_yardstick.files.log.natural import comparable, readings_from
from logged import LENGTH_S, STEPS, WALL_S, kiln_log

TWICE = "2*(62.4236*x - 31.4094)"  # as kept, and twice that


@pytest.fixture(scope="module")
def log_path(tmp_path_factory):
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    return kiln_log(tmp_path_factory.mktemp("log") / "kiln.yardlog", Job.model_validate_json(demo_text()))


@pytest.fixture
def courses(log_path, demo_job):
    made = LogCourses(log_path, demo_job)
    yield made
    made.close()


def trace(courses, tag, role="value"):
    return next(one for one in courses.traces() if one.tag == tag and one.role == role)


def test_all_that_was_logged_can_be_drawn_and_what_follows_from_it(courses):
    words = [one.words for one in courses.traces()]
    assert words[:4] == ["PT-201", "AT-208", "AT-209", "AY-214"]
    assert {"PT-201 raw", "PT-201 as shown", "PT-201 reference"} <= set(words)
    assert courses.span_s() == (5000.0, pytest.approx(5000.0 + LENGTH_S - 0.1))
    assert courses.wall_s(5000.0) == pytest.approx(WALL_S)
    assert [one.says for one in courses.happenings()] == ["burner lit"]


def test_values_are_those_of_the_curve_in_use(courses):
    values = courses.read(trace(courses, "PT-201"), 5000.0, 5070.0).values
    assert values == pytest.approx(STEPS[0], abs=0.3)
    excess = courses.read(trace(courses, "AY-214", "made"), 5000.0, 5600.0)
    oxygen = courses.read(trace(courses, "AT-208"), 5000.0, 5600.0)
    expected = 20.95 / (20.95 - np.interp(excess.times_s, oxygen.times_s, oxygen.values))
    assert excess.values == pytest.approx(expected, abs=0.01)


@settings(max_examples=25, deadline=None)
@given(st.floats(0, 590), st.floats(1, 600), st.integers(5, 900))
def test_an_envelope_bounds_every_sample(log_path, start, length, pixels):
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    made = LogCourses(log_path, Job.model_validate_json(demo_text()))
    one = trace(made, "AT-209")
    drawn = made.envelope(one, 5000 + start, 5000 + start + length, pixels)
    values = made.read(one, 5000 + start, 5000 + start + length).values
    made.close()
    if len(values):
        assert np.nanmin(drawn.lows) <= values.min() + 1e-6
        assert np.nanmax(drawn.highs) >= values.max() - 1e-6


def test_a_total_is_counted_from_the_beginning_wherever_one_looks(log_path, demo_job):
    gas = demo_job.tagged("PT-201")
    value = TotalValue(id="sum", tag="XQ-1", unit="kPa*s", channel=gas.id)
    made = LogCourses(log_path, change_value(demo_job, value))
    one = trace(made, "XQ-1", "made")
    late = made.envelope(one, 5500.0, 5590.0, 200)
    rate = made.read(trace(made, "PT-201"), 5000.0, 5500.0)
    made.close()
    assert late.lows[0] == pytest.approx(np.trapezoid(rate.values, rate.times_s), rel=0.01)


def test_a_log_of_another_job_is_read_with_its_own(log_path, demo_job):
    made = LogCourses(log_path, demo_job.with_(id="another"))
    assert made.job.id == "kiln-2"
    assert trace(made, "PT-201").unit == "kPa"
    made.close()


def test_steady_moments_become_readings_over_all_that_was_visited(courses, demo_job):
    gas = demo_job.tagged("PT-201")
    offered = comparable(courses, gas)
    assert offered[0].words == "its reference, Reference bench"
    numbers = iter(range(1000))
    found = readings_from(courses, gas, offered[0].key, courses.span_s(), lambda: f"r{next(numbers)}")
    stops = sorted({round(one.reference, -1) for one in found.readings})
    assert stops == sorted(STEPS)
    assert all(one.source == "from the log kiln.yardlog" for one in found.readings)
    assert all(one.reference_id == "RP-12" and one.reference_standard > 0 for one in found.readings)
    assert all(one.raw.spread is not None and one.raw.count > 10 for one in found.readings)
    assert found.unvisited == ()
    short = readings_from(courses, gas, offered[0].key, (5000.0, 5140.0), lambda: "x")
    assert "Not visited: 20 to 80, 80 to 250 kPa" in short.words(gas)


def test_another_channel_taken_for_right_lends_its_u(courses, demo_job):
    stack = demo_job.tagged("AT-209")
    key = next(one.key for one in comparable(courses, stack) if one.words.startswith("AT-208"))
    found = readings_from(courses, stack, key, courses.span_s(), lambda: "x")
    assert found.readings
    assert all(one.reference_note == "AT-208 was taken for right" for one in found.readings)
    assert all(one.reference_standard > 0 for one in found.readings)


def test_a_log_is_reckoned_anew_with_what_is_on_offer(courses, demo_job):
    gas = demo_job.tagged("PT-201")
    keys = [one.key for one in numbers_on_offer(demo_job, gas)]
    assert keys == [CURVE, "1", FORMULA]
    same = reckoned_anew(courses.log, gas, values_by(demo_job, gas, "1"))
    assert np.all(same.difference == 0)
    twice = reckoned_anew(courses.log, gas, values_by(demo_job, gas, FORMULA, TWICE), 5000.0, 5070.0)
    assert twice.new.mean() == pytest.approx(2 * twice.old.mean(), rel=0.01)
    with pytest.raises(NotApplicable, match="no such numbers"):
        values_by(demo_job, gas, "7")
    with pytest.raises(NotApplicable, match="were in force"):
        reckoned_anew(courses.log, demo_job.tagged("AT-208"), np.zeros(4096))


def test_what_was_only_shown_is_taken_back_with_its_doubt(tmp_path, demo_job):
    made = LogCourses(kiln_log(tmp_path / "shown.yardlog", demo_job, with_raw=False), demo_job)
    gas = demo_job.tagged("PT-201")
    found = reckoned_anew(made.log, gas, values_by(demo_job, gas, FORMULA, TWICE))
    exact = 2 * found.old
    assert found.doubt.max() > 0
    assert np.all(np.abs(found.new - exact) <= found.doubt + 0.35)  # half the last digit, and the trim between the two
    with pytest.raises(NoSuchThing):
        made.log.of("PT-201", "raw")
    made.close()


@settings(max_examples=40)
@given(st.lists(st.integers(0, 400), min_size=1, max_size=30), st.booleans(), st.integers(0, 2))
def test_the_interval_of_a_shown_value_holds_the_true_new_one(counts, falling, decimals):
    from able_yardstick.core.journal.sample import Series

    old = np.linspace(90.0, -10.0, 401) if falling else np.linspace(-10.0, 90.0, 401)
    new = np.linspace(0.0, 7.0, 401) ** 2
    times = np.arange(len(counts), dtype=float)
    shown = np.round(old[counts], decimals)
    found = relogged_from_shown(Series.of(times, shown), old, new)
    truth = relogged(Series.of(times, np.array(counts, dtype=float)), old, new).new
    assert np.all(np.abs(found.new - truth) <= found.doubt + 1e-9)


def test_numbers_that_turn_cannot_be_taken_back():
    from able_yardstick.core.journal.sample import Series

    with pytest.raises(NotApplicable, match="do not run one way"):
        relogged_from_shown(Series.of(np.zeros(1), np.zeros(1)), np.array([0.0, 1.0, 0.0]), np.zeros(3))
