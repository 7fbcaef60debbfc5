"""Live collection: stops, steadiness, the reading of a window, contradictions and advice, what must not be gone to."""

from datetime import UTC, date, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.reference import Correction, Head, Reference
from able_yardstick.core.document.stop_plan import StopPlan
from able_yardstick.core.gather.advice import conflicts_of, next_stop
from able_yardstick.core.gather.gathering import (
    Circumstances,
    WindowPair,
    reading_of,
    reference_in_value,
    referenced,
    watch,
)
from able_yardstick.core.gather.guard import refusals
from able_yardstick.core.gather.steady import SteadyRule, rule_for, steadiness
from able_yardstick.core.job.channels import add_axis, axes_of
from able_yardstick.core.job.entries import capture
from able_yardstick.core.job.instruments import change_reference
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.journal.sample import BAD, Series
from able_yardstick.core.words.errors import NotApplicable, TooFewReadings, UnitMismatch
from able_yardstick.core.words.record import InvalidRecord

WHEN = datetime(2026, 11, 20, 9, 0, tzinfo=UTC)
RULE = SteadyRule(window_s=2.0, spread=0.5, slope=0.2)


@pytest.fixture
def gas(demo_job):
    return demo_job.continuous("pt-201")


def series(values, rate=100.0, start=0.0):
    values = np.asarray(values, dtype=float)
    return Series.of(start + np.arange(len(values)) / rate, values)


def broken_at(whole, at):
    """The series with the link dropped at a sample."""
    states, values = whole.states.copy(), whole.values.copy()
    states[at], values[at] = BAD, np.nan
    number = int(whole.sequences[at])
    return Series(whole.times_s, whole.walls_s, values, whole.sequences, states, {number: "It did not answer."})


# -- stops ----------------------------------------------------------------------------------------------------------


def test_evenly_spread_stops_go_up_and_come_down_again():
    stops = StopPlan(spread=3, cycles=2).stops(0, 250)
    assert [(stop.value, stop.direction) for stop in stops[:6]] == [
        (0, "up"), (125, "up"), (250, "up"), (250, "down"), (125, "down"), (0, "down"),
    ]  # fmt: skip
    assert len(stops) == 12
    assert len(StopPlan(spread=5, both_ways=False).stops(0, 1)) == 5


def test_typed_stops_know_the_way_they_are_reached():
    ways = [stop.direction for stop in StopPlan(typed=(0, 50, 100, 100, 50, 0)).stops(0, 250)]
    assert ways == ["up", "up", "up", "down", "down", "down"]
    assert [stop.direction for stop in StopPlan(typed=(40,)).stops(0, 250)] == ["not stated"]


@given(low=st.floats(-1e3, 1e3), span=st.floats(0.1, 1e4), spread=st.integers(2, 30))
def test_spread_stops_stay_within_the_range_and_reach_both_ends(low, span, spread):
    values = [stop.value for stop in StopPlan(spread=spread, both_ways=False).stops(low, low + span)]
    assert values[0] == pytest.approx(low, rel=1e-8, abs=1e-8)
    assert values[-1] == pytest.approx(low + span, rel=1e-8, abs=1e-8)
    assert values == sorted(values)


# -- steadiness -----------------------------------------------------------------------------------------------------


def test_a_ramp_is_not_steady_and_a_still_signal_is():
    still = series(np.random.default_rng(1).normal(100, 0.1, 400))
    assert steadiness(still, RULE).steady
    rising = steadiness(series(100 + np.arange(400) * 0.005), RULE)
    assert not rising.steady
    assert rising.reason == "still rising, 0.99 over the window"
    assert steadiness(series(100 - np.arange(400) * 0.005), RULE).reason.startswith("still falling")
    wide = steadiness(series(np.random.default_rng(1).normal(100, 0.8, 400)), RULE)
    assert "allowed 0.5" in wide.reason


def test_a_window_must_be_filled_and_whole():
    assert "more to fill the window" in steadiness(series([100.0] * 100), RULE).reason
    assert steadiness(series([100.0] * 3), RULE).reason == "3 of 5 samples, 0 s more"
    assert steadiness(broken_at(series([100.0] * 400), 350), RULE).reason == "It did not answer, within the window"


def test_a_source_of_one_value_in_two_seconds_is_waited_for(gas):
    """Seven samples, 14 s apart from first to last, where a fast source needs two seconds."""
    rule = rule_for(gas, rate_hz=0.5)
    assert rule.window_s == pytest.approx(14.0)
    assert rule_for(gas, rate_hz=100.0).window_s == rule_for(gas).window_s == 2.0
    assert steadiness(series([100.0] * 3, rate=0.5), rule).reason == "3 of 5 samples, 4 s more"
    assert steadiness(series([100.0, 100.1, 100.0, 99.9, 100.0, 100.1, 100.0, 100.0], rate=0.5), rule).steady
    rising = steadiness(series([100.0 + n for n in range(8)], rate=0.5), rule)
    assert rising.reason.startswith("still rising")


def test_what_stopped_coming_is_not_steady():
    assert not steadiness(series([100.0] * 400), RULE, now_s=6.0).steady


def test_a_slow_sensor_gets_a_longer_window(demo_job):
    assert rule_for(demo_job.continuous("te-204")).window_s == pytest.approx(6.0)
    assert rule_for(demo_job.continuous("pt-201")).window_s == 2.0


# -- a reading ------------------------------------------------------------------------------------------------------


def test_a_reading_holds_both_means_the_correction_and_what_the_controller_showed(gas):
    counts = np.where(np.arange(300) % 2, 1722.0, 1724.0)
    pair = WindowPair(series(counts), series([100.0, 100.02] * 12, 8.0), "kPa")
    gauge = Reference(
        id="g", name="Gauge", unit="kPa", expanded_uncertainty=0.1, resolution=0.02, due=date(2026, 11, 1),
        corrections=(Correction(reading=0, correction=0), Correction(reading=200, correction=-0.1)),
    )  # fmt: skip
    about = Circumstances(id="r", captured=WHEN, direction="up", shown=99.8, shown_unit="kPa")
    found = reading_of(gas, pair, gauge, (0.0, 3.0), about)
    assert (found.raw.mean, found.raw.count, found.raw.node) == (1723.0, 300, "counts")
    assert found.reference_read == pytest.approx(100.01)
    assert found.reference == pytest.approx(100.01 - 0.050005)
    assert found.reference_standard == pytest.approx(np.hypot(0.05, 0.01 / np.sqrt(3)))
    assert found.reference_note == "calibration of Gauge was due 2026-11-01, 19 days ago"
    assert (found.shown, found.stimulated) == (99.8, "whole loop")


def test_a_source_that_dies_within_the_window_spoils_only_that_window(gas):
    whole = series([1723.0] * 600)
    pair = WindowPair(broken_at(whole, 450), series([100.0] * 60, 10.0), "kPa")
    about = Circumstances(id="r", captured=WHEN)
    with pytest.raises(TooFewReadings, match=r"sensor's window is broken.*It did not answer, within the window"):
        reading_of(gas, pair, None, (3.5, 5.5), about)
    assert reading_of(gas, pair, None, (1.0, 3.0), about).raw.mean == 1723.0


def test_a_window_that_is_hardly_filled_is_not_averaged(gas):
    pair = WindowPair(series([1723.0] * 50, start=1.5), series([100.0] * 16, 8.0), "kPa")
    with pytest.raises(TooFewReadings, match=r"sensor gave only 0\.5 s of the 2\.0 s"):
        reading_of(gas, pair, None, (0.0, 2.0), Circumstances(id="r", captured=WHEN))


def test_without_a_live_reference_its_value_is_typed(gas):
    pair = WindowPair(series([1723.0] * 300))
    with pytest.raises(NotApplicable, match="type what it shows"):
        reading_of(gas, pair, None, (0, 3), Circumstances(id="r", captured=WHEN))
    assert (
        reading_of(gas, pair, None, (0, 3), Circumstances(id="r", captured=WHEN, typed_reference=99.9)).reference
        == 99.9
    )


def test_both_are_watched_in_the_channels_unit(gas):
    pair = WindowPair(series([1720.0] * 400), series([1.0] * 40, 10.0), "bar")
    found = watch(gas, pair, None, RULE, 3.9)
    assert found.reference.mean == pytest.approx(100.0)
    assert found.sensor.mean == pytest.approx(100.0, abs=0.1)
    assert found.is_steady


# -- references -----------------------------------------------------------------------------------------------------


def test_corrections_are_between_their_lines_in_proportion_and_held_beyond():
    one = Reference(
        id="g", name="G", unit="kPa",
        corrections=(Correction(reading=10, correction=0.1), Correction(reading=20, correction=0.3)),
    )  # fmt: skip
    assert [one.correction_at(at) for at in (0, 10, 15, 20, 99)] == pytest.approx([0.1, 0.1, 0.2, 0.3, 0.3])
    with pytest.raises(InvalidRecord, match="must rise from line to line"):
        one.with_(corrections=tuple(reversed(one.corrections)))


def test_a_sensor_above_the_reference_sees_less_by_the_column_between():
    head = Head(height_m=1.5, density_kg_m3=998.2)
    one = Reference(id="g", name="G", unit="kPa", head=head)
    assert one.head_correction == pytest.approx(-998.2 * 9.80665 * 1.5 / 1000)
    assert one.corrected(100.0) == pytest.approx(100 - 14.6833, abs=1e-3)


def test_overdue_is_said_from_the_day_after():
    one = Reference(id="g", name="G", due=date(2026, 11, 20))
    assert one.overdue_words(date(2026, 11, 20)) == ""
    assert one.overdue_words(date(2026, 11, 21)) == "calibration of G was due 2026-11-20, 1 day ago"


# -- what must not be gone to ---------------------------------------------------------------------------------------


def test_harm_is_named_before_a_stop_is_gone_to(demo_job, gas):
    says = [(one.says, one.is_harm) for one in refusals(gas, 420.0, None)]
    assert says[0] == ("420 kPa is beyond what the transducer survives, 400 kPa", True)
    gauge = next(one for one in demo_job.references if one.id == "RP-12")
    assert any("beyond the end of Pressure reference RP-12, 300 kPa" in one.says for one in refusals(gas, 310, gauge))
    assert refusals(gas, 200.0, gauge) == ()
    assert [one.is_harm for one in refusals(gas, 255.0, gauge)] == [False]


def test_a_signal_beyond_the_input_is_said(gas):
    narrow = gas.with_(path=gas.path.with_(converter=gas.path.converter.with_(high=3.0, safe_high_v=3.3)))
    assert any("more than the input survives" in one.says for one in refusals(narrow, 200.0, None))


# -- advice ---------------------------------------------------------------------------------------------------------


def empty_of(job, channel):
    return job.with_(readings=tuple(one for one in job.readings if one.channel != channel.id), amendments=(), fits=())


def taken(channel, pairs):
    return [
        Reading(
            id=f"x{n}", channel=channel.id, captured=WHEN, reference=value, reference_unit=channel.unit,
            raw=Raw(mean=pin, unit="V"),
        )
        for n, (pin, value) in enumerate(pairs)
    ]  # fmt: skip


def test_the_next_reading_goes_where_the_curve_is_known_least(demo_job, gas):
    job = empty_of(demo_job, gas)
    assert next_stop(job, gas).value == 0.0
    two = capture(job, taken(gas, [(0.5, 0.0), (1.3, 50.0)]))
    assert next_stop(two, gas).value == 250.0
    ends = capture(job, taken(gas, [(0.5, 0.0), (4.5, 250.0)]))
    assert next_stop(ends, gas).value == pytest.approx(125.0)
    close = capture(job, taken(gas, [(0.5 + 0.4 * n, 25.0 * n) for n in range(11)]))
    assert next_stop(close, gas) is None


def test_one_signal_with_two_references_is_a_contradiction(demo_job, gas):
    job = empty_of(demo_job, gas)
    pairs = [(0.5, 0.0), (1.3, 50.0), (2.1, 100.0), (2.1, 112.0), (2.9, 150.0), (4.5, 250.0)]
    found = conflicts_of(capture(job, taken(gas, pairs)), gas)
    assert ("x2", "x3") in {(one.first, one.second) for one in found}
    assert "the reference said 100 and 112 kPa" in found[0].says
    assert conflicts_of(capture(job, taken(gas, [pair for pair in pairs if pair[1] != 112])), gas) == ()


def test_the_demos_own_readings_do_not_contradict_each_other(demo_job):
    assert conflicts_of(demo_job, demo_job.continuous("pt-201")) == ()
    assert conflicts_of(demo_job, demo_job.continuous("at-208")) == ()


# -- axes of one device ---------------------------------------------------------------------------------------------


def test_the_axes_of_one_device_are_gathered_each_for_itself(demo_job, gas):
    job = add_axis(demo_job, gas.id, "y-axis")
    one, other = job.continuous(gas.id), job.continuous("y-axis")
    assert (one.axis, other.axis, other.tag, other.device) == ("X", "Y", "PT-201-Y", one.device)
    assert axes_of(job, other) == ("Y", "X")
    assert job.amended("y-axis", "gather") == []
    job = add_axis(job, "y-axis", "z-axis")
    assert job.continuous("z-axis").tag == "PT-201-Z"
    with pytest.raises(NotApplicable, match="has its 3 axes already"):
        add_axis(job, gas.id, "w-axis")
    assert axes_of(demo_job, gas) == ()


def test_a_value_is_corrected_in_its_instruments_own_unit(gas):
    """A gauge in bar with a correction in bar, its value typed in kPa."""
    gauge = Reference(id="b", name="B", unit="bar", expanded_uncertainty=0.002,
                      corrections=(Correction(reading=1, correction=0.01),))  # fmt: skip
    said = referenced(gas, 100.0, "kPa", gauge, WHEN.date())
    assert said.unit == "bar"
    assert (said.read, said.value, said.standard) == pytest.approx((1.0, 1.01, 0.001))
    values = reference_in_value(gas, series([100.0]), gauge, "kPa").values
    assert values == pytest.approx([101.0])
    assert referenced(gas, 100.0, "kPa", None, WHEN.date()).value == 100.0
    with pytest.raises(UnitMismatch):
        referenced(gas, 100.0, "kPa", gauge.with_(unit="degC"), WHEN.date())


def test_an_instruments_unit_must_measure_its_quantity(demo_job):
    one = Reference(id="new", name="New", quantity="temperature", unit="kPa")
    with pytest.raises(UnitMismatch):
        change_reference(demo_job, one)
    assert change_reference(demo_job, one.with_(unit="°C")).references[-1].quantity == "temperature"
