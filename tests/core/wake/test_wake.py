"""Waking a signal: its figures against signals of known make, the nudge, and the verdict's sets of causes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.bench.rig.confusion import one_run, runs_of
from able_yardstick.core.document.channel import PlantState
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.wake.causes import CAUSES, causes_for
from able_yardstick.core.wake.evidence import Evidence
from able_yardstick.core.wake.expected import expected_at
from able_yardstick.core.wake.figures import figures_of
from able_yardstick.core.wake.inputs import look_inputs
from able_yardstick.core.wake.meter import MeterPair, split_of
from able_yardstick.core.wake.nudge import nudge_of, nudge_seconds
from able_yardstick.core.wake.verdict import diagnose
from able_yardstick.core.words.errors import TooFewReadings

RATE = 100.0


def counts_of(channel, pins, rate=RATE):
    """A series of raw counts for signals at the pin."""
    times = np.arange(len(pins)) / rate
    return Series.of(times, channel.path.converter.count_of(np.asarray(pins)).astype(float))


def noisy(level, sd, seconds=6.0, rate=RATE, seed=1):
    return level + np.random.default_rng(seed).normal(0, sd, int(seconds * rate))


@pytest.fixture
def gas(demo_job):
    return demo_job.continuous("pt-201")


def test_noise_and_level_are_those_of_the_signal_that_was_made(gas):
    found = figures_of(gas, counts_of(gas, noisy(2.1, 0.0012)))
    assert found.level == pytest.approx(2.1, abs=2e-4)
    step = gas.path.converter.per_count
    assert found.noise == pytest.approx(np.hypot(0.0012, step / np.sqrt(12)), rel=0.1)
    assert found.noise_value == pytest.approx(found.noise * 250 / 4, rel=1e-9)
    assert found.texture == "quiet"
    assert found.distinct == len(np.unique(counts_of(gas, noisy(2.1, 0.0012)).values))
    assert found.smoothed_over == pytest.approx(1.0, abs=0.25)


def test_a_running_mean_of_nine_is_seen_as_smoothing(gas):
    smooth = np.convolve(noisy(2.1, 0.02, 30), np.ones(9) / 9, "valid")
    assert 5 < figures_of(gas, counts_of(gas, smooth)).smoothed_over < 40


@pytest.mark.parametrize(("frequency", "amplitude"), [(50.0, 0.05), (16.7, 0.03), (31.0, 0.2)])
def test_a_line_in_the_spectrum_is_found_with_its_amplitude(gas, frequency, amplitude):
    rate = 400.0
    times = np.arange(2400) / rate
    pins = noisy(2.1, 0.001, 6.0, rate) + amplitude * np.sin(2 * np.pi * frequency * times)
    line = figures_of(gas, counts_of(gas, pins, rate)).line
    assert line.frequency_hz == pytest.approx(frequency, abs=0.2)
    assert line.amplitude == pytest.approx(amplitude, rel=0.05)
    assert not line.near_half_rate


def test_drift_is_given_a_minute(gas):
    pins = noisy(2.1, 0.0005) + 0.002 * np.arange(600) / RATE
    found = figures_of(gas, counts_of(gas, pins))
    assert found.drift_per_minute == pytest.approx(0.12, rel=0.03)
    assert found.texture == "ramp"


@pytest.mark.parametrize(
    ("make", "texture"),
    [
        (lambda: np.full(600, 2.1), "constant"),
        (lambda: noisy(2.1, 0.02), "noisy"),
        (lambda: np.where(np.arange(600) % 50 < 10, 0.0, noisy(2.1, 0.001)), "jumps"),
        (lambda: 2.1 + np.cumsum(noisy(0, 0.02)), "wander"),
    ],
)
def test_textures_are_told_apart(gas, make, texture):
    assert figures_of(gas, counts_of(gas, make())).texture == texture


def test_counts_beyond_the_converter_are_impossible(gas):
    counts = gas.path.converter.count_of(noisy(2.1, 0.002))
    swapped = (counts & 0xFF) << 8 | counts >> 8
    found = figures_of(gas, Series.of(np.arange(600) / RATE, swapped.astype(float)))
    assert found.texture == "impossible counts"
    assert found.swapped_level == pytest.approx(2.1, abs=0.005)


def test_too_few_samples_say_nothing(gas):
    with pytest.raises(TooFewReadings, match="5 of 16 samples, 0 s more: fewer say nothing"):
        figures_of(gas, counts_of(gas, [2.1] * 5))
    with pytest.raises(TooFewReadings, match="4 of 16 samples, 12 s more"):
        figures_of(gas, counts_of(gas, [2.1] * 4, rate=1.0))


@given(level=st.floats(0.8, 4.2), sd=st.floats(0, 0.0015), seed=st.integers(0, 10_000))
def test_noise_up_to_the_specified_level_is_never_an_alarm(demo_gas, level, sd, seed):
    job, channel = demo_gas
    curve = channel.transducer.nominal()
    state = PlantState(name="now", value=float(curve.value(level)))
    figures = figures_of(channel, counts_of(channel, noisy(level, sd, seed=seed)))
    verdict = diagnose(look_inputs(job, channel), Evidence(figures, expected_at(channel, state)))
    assert verdict.first == "healthy"


@pytest.fixture(scope="module")
def demo_gas():
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    job = Job.model_validate_json(demo_text())
    return job, job.continuous("pt-201")


# -- the nudge ------------------------------------------------------------------------------------------------------


def nudged(channel, after, rises=True):
    before = counts_of(channel, noisy(2.1, 0.001, 1.0))
    return nudge_of(channel, before, counts_of(channel, after), rises).outcome


def test_a_nudge_is_a_movement_with_its_direction_and_speed(gas):
    times = np.arange(300) / RATE
    step = 2.1 + 0.4 * (1 - np.exp(-times / 0.2)) + noisy(0, 0.001, 3.0)
    late = np.concatenate([noisy(2.1, 0.001, 2.2, seed=3), step[:180]])  # the hand came late
    assert nudged(gas, late) == "moved"
    assert nudged(gas, step) == "moved"
    assert nudged(gas, step, rises=False) == "moved the wrong way"
    assert nudged(gas, noisy(2.1, 0.001, 3.0, seed=4)) == "did not move"
    assert nudged(gas, 2.1 + 0.4 * (1 - np.exp(-times / 8.0)) + noisy(0, 0.001, 3.0)) == "moved slowly"
    pressed_and_let_go = 2.1 + 0.4 * np.exp(-(((times - 1) / 0.3) ** 2)) + noisy(0, 0.001, 3.0)
    assert nudged(gas, pressed_and_let_go) == "moved"


def test_too_short_a_look_is_no_nudge(gas):
    few = counts_of(gas, [2.1] * 3)
    assert nudge_of(gas, few, few, True) is None


def test_a_nudge_is_seen_by_a_slow_source_too(gas):
    """One value a second: what lies between two of them is not seen, and is not called slow."""
    before = counts_of(gas, noisy(2.1, 0.001, 6.0, rate=1.0), rate=1.0)
    after = counts_of(gas, [2.1, 2.1, 2.5, 2.5, 2.5, 2.5, 2.5], rate=1.0)
    assert nudge_of(gas, before, after, True).outcome == "moved"
    assert nudge_of(gas, before, counts_of(gas, [2.1] * 7, rate=1.0), True).outcome == "did not move"
    assert nudge_seconds(gas, 0.5) == pytest.approx(12.0)


# -- the verdict ----------------------------------------------------------------------------------------------------


def test_what_the_signal_alone_cannot_tell_apart_stays_together_with_the_test_that_would(demo_job):
    channel = demo_job.continuous("pt-202")
    verdict = diagnose(
        look_inputs(demo_job, channel), Evidence(figures_of(channel, counts_of(channel, noisy(0.0, 0.0005))))
    )
    assert {"open lead", "no supply", "swapped leads"} <= set(verdict.names)
    assert verdict.next_test == "supply"
    assert "Hold a meter to the supply terminal" in verdict.says


def test_each_test_leaves_fewer_causes(demo_job):
    channel = demo_job.continuous("pt-202")
    dead = Evidence(figures_of(channel, counts_of(channel, noisy(0.0, 0.0005))))
    assert "no supply" not in diagnose(look_inputs(demo_job, channel), dead._replace(supply_v=24.1)).names
    assert diagnose(look_inputs(demo_job, channel), dead._replace(supply_v=0.0)).names == ("no supply",)
    open_lead = dead._replace(supply_v=24.1, leads_ohm=float("inf"))
    assert diagnose(look_inputs(demo_job, channel), open_lead).names == ("open lead",)


def test_a_loop_below_its_live_zero_is_never_healthy(demo_job):
    channel = demo_job.continuous("pt-202")
    for level in (0.0, 0.3, 0.7):
        verdict = diagnose(
            look_inputs(demo_job, channel), Evidence(figures_of(channel, counts_of(channel, noisy(level, 0.001))))
        )
        assert verdict.first != "healthy"


def test_without_an_expected_state_the_verdict_says_what_it_cannot_see(demo_job, gas):
    verdict = diagnose(look_inputs(demo_job, gas), Evidence(figures_of(gas, counts_of(gas, noisy(2.1, 0.001)))))
    assert verdict.first == "healthy"
    assert "without it an offset cannot be seen" in verdict.says


def test_folded_hum_asks_for_faster_sampling(demo_job, gas):
    """At 12 samples a second 50 Hz folds down to 2 Hz: only a burst tells it from other noise."""
    state = PlantState(name="now", value=100.0)
    slow, fast = np.arange(120) / 12.0, np.arange(3000) / 1000.0
    folded = noisy(2.1, 0.001, 10, 12) + 0.04 * np.sin(2 * np.pi * 50.2 * slow)
    evidence = Evidence(figures_of(gas, counts_of(gas, folded, 12.0)), expected_at(gas, state))
    verdict = diagnose(look_inputs(demo_job, gas), evidence)
    assert "hum" in verdict.names
    burst = noisy(2.1, 0.001, 3.0, 1000.0) + 0.04 * np.sin(2 * np.pi * 50.2 * fast)
    told = diagnose(look_inputs(demo_job, gas), evidence._replace(burst=figures_of(gas, counts_of(gas, burst, 1000.0))))
    assert told.names == ("hum",)


def test_a_meter_splits_the_difference_into_reference_and_offset():
    seen = [MeterPair(1.01 * volts + 0.12, volts) for volts in (0.5, 4.0)]
    split = split_of(tuple(seen), 5.0)
    assert split.is_solved
    assert (split.gain, split.offset_v) == pytest.approx((1.01, 0.12))
    assert "offset 120 mV" in split.says
    one = split_of((MeterPair(2.62, 2.5),), 5.0)
    assert not one.is_solved
    assert "+4.80 %" in one.says
    assert split_of((), 5.0) is None


def test_a_channel_is_suspected_only_of_what_its_wiring_can_have(demo_job):
    assert "wrong shunt" in causes_for(demo_job.continuous("pt-202"))
    assert "wrong shunt" not in causes_for(demo_job.continuous("pt-201"))
    assert "missing pull-up" in causes_for(demo_job.continuous("te-205"))
    assert "hum" not in causes_for(demo_job.continuous("te-204"))


@pytest.mark.parametrize("cause", CAUSES)
def test_the_rigs_faults_are_named(demo_job, cause):
    """A few runs of each; the whole table stands in docs/confusion.md."""
    runs = list(runs_of(demo_job, cause, 11, 77_000))
    assert all(run.in_set for run in runs)
    alone = [run for run in runs if run.alone or run.tag == "PS-211"]
    assert len(alone) >= 10


def test_a_run_can_be_repeated(demo_job, gas):
    first, again = (one_run(demo_job, gas, "hum", 5) for _ in range(2))
    assert first.last == again.last


# -- one cause after the other, by hand -----------------------------------------------------------------------------


def seen(job, tag, pins, value, **more):
    channel = job.tagged(tag)
    state = PlantState(name="now", value=value)
    return channel, Evidence(figures_of(channel, counts_of(channel, pins)), expected_at(channel, state), **more)


@pytest.mark.parametrize(
    ("tag", "pins", "value", "more", "left"),
    [
        ("PT-201", noisy(2.1, 0.001), 100.0, {}, {"healthy", "stuck", "slow", "wrong unit or scale"}),
        ("PT-201", noisy(2.1, 0.001), 100.0, {"shown": 10.0, "reckoned": 100.0}, {"wrong unit or scale"}),
        ("PT-201", noisy(2.25, 0.001), 100.0, {"meter_v": 2.1}, {"chassis-ground offset"}),
        ("PT-201", noisy(2.25, 0.001), 100.0, {"meter_v": 2.25}, {"stuck"}),
        ("PT-201", np.zeros(600), 100.0, {"meter_v": 2.1}, {"not configured"}),
        ("PT-202", noisy(1.2, 0.001), 0.0, {"meter_v": 1.2}, {"stuck", "clipped", "wrong shunt"}),
        ("TE-205", noisy(5.0, 0.0005), 48.0, {"leads_ohm": float("inf")}, {"open lead"}),
        ("TE-205", noisy(0.0, 0.0005), 48.0, {"supply_v": 5.0, "leads_ohm": 0.8}, {"short"}),
        ("TE-205", noisy(0.0, 0.0005), 48.0, {"supply_v": 5.0, "leads_ohm": 4100.0}, {"missing pull-up"}),
        ("TE-205", noisy(0.0, 0.0005), 48.0, {"supply_v": 0.02}, {"no supply"}),
        ("WT-206", noisy(0.0, 0.0002), 800.0, {"meter_v": -3.9}, {"swapped leads"}),
        ("PS-211", noisy(0.0, 0.001), 0.0, {"supply_v": 24.0, "leads_ohm": float("inf")}, {"open lead"}),
    ],
)
def test_what_is_left_follows_from_the_wiring(demo_job, tag, pins, value, more, left):
    channel, evidence = seen(demo_job, tag, pins, value, **more)
    assert set(diagnose(look_inputs(demo_job, channel), evidence).names) == left


def test_a_second_state_tells_an_offset_from_a_wrong_shunt(demo_job):
    channel, first = seen(demo_job, "PT-202", noisy(3.36, 0.001), 0.0)
    second = PlantState(name="low", value=-100.0)
    expected = expected_at(channel, second)
    for level, cause in ((expected.pin + 0.36, "chassis-ground offset"), (expected.pin * 3.36 / 3.0, "wrong shunt")):
        other = (expected, figures_of(channel, counts_of(channel, noisy(level, 0.001))))
        assert diagnose(look_inputs(demo_job, channel), first._replace(other=other)).names == (cause,)


def test_a_slow_sensor_creeps_towards_what_is_expected_and_a_drifting_one_away_from_it(demo_job):
    ramp = 0.002 * np.arange(600) / RATE
    for start, left in ((2.11, {"drifting"}), (2.0, {"drifting", "slow"})):
        pins = noisy(start, 0.0008) + ramp
        channel, evidence = seen(demo_job, "PT-201", pins, 100.0, meter_v=start + 0.006)
        assert set(diagnose(look_inputs(demo_job, channel), evidence).names) == left


def test_nothing_known_is_said_when_nothing_fits(demo_job):
    channel, evidence = seen(demo_job, "TE-204", noisy(300.0, 4.0), 88.0)
    verdict = diagnose(look_inputs(demo_job, channel), evidence)
    assert verdict.causes == ()
    assert verdict.first is None
    assert "may still have been moving" in verdict.says
