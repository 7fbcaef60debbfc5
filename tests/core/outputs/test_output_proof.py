"""The proof of an output: errors by hand, U by the meter, its own zero and full count, and what becomes stale."""

from datetime import UTC, datetime

import numpy as np
import pytest

from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.entries import capture, exclude
from able_yardstick.core.job.job import Job
from able_yardstick.core.outputs.giving import count_of, plan_of, signals_for
from able_yardstick.core.outputs.proving import (
    Delivered,
    meter_rule,
    next_wanted,
    not_sent_words,
    output_checks,
    output_doubt,
    output_proof,
    output_reading,
    own_scaling,
    with_own_scaling,
)
from able_yardstick.core.outputs.target import output_target
from able_yardstick.core.state.progress import progress_of
from able_yardstick.core.words.errors import NotApplicable, UnitMismatch
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())
WHEN = datetime(2026, 11, 20, tzinfo=UTC)
METER = next(one for one in JOB.references if one.id == "BM-02")


def checked(job, wanted, signals, instrument=METER, **seen):
    """The job with checks of its output at values, by signals in mA."""
    channel = job.tagged("TY-213")
    start = len(job.readings)
    return capture(
        job,
        [
            output_reading(channel, value, Delivered(signal, "mA", **seen), instrument, f"o{start + n}", WHEN)
            for n, (value, signal) in enumerate(zip(wanted, signals, strict=True))
        ],
    )


def driven(channel, wanted, start=0.03, gain=0.998):
    """What a driver that is a little off gives for values, in mA."""
    return [start + gain * 20 * count_of(channel, value) / 4000 for value in wanted]


def test_an_error_is_what_was_given_less_what_was_wanted():
    job = checked(JOB, [0.0, 1200.0], [4.02, 19.99])
    first, last = output_checks(job, job.tagged("TY-213"))
    assert (first.written, last.written) == (800, 4000)
    assert first.value - first.wanted == pytest.approx(0.02 / 16 * 1200)
    assert last.value - last.wanted == pytest.approx(-0.01 / 16 * 1200)


def test_units_are_converted_and_another_kind_of_signal_is_refused():
    channel = JOB.tagged("TY-213")
    made = output_reading(channel, 600.0, Delivered(0.012, "A"), None, "x", WHEN)
    assert made.reference == 0.012
    job = capture(JOB, [made])
    assert output_checks(job, channel)[0].value == pytest.approx(600.0)
    with pytest.raises(UnitMismatch, match="no unit of current"):
        output_reading(channel, 600.0, Delivered(3.0, "V"), None, "x", WHEN)
    with pytest.raises(NotApplicable, match="far beyond what this terminal gives"):
        output_reading(channel, 600.0, Delivered(12.0, "A"), None, "x", WHEN)
    with pytest.raises(NotApplicable, match="beyond the range"):
        output_reading(channel, 1300.0, Delivered(12.0, "mA"), None, "x", WHEN)


def test_the_uncertainty_is_the_meters_by_hand():
    job = checked(JOB, [600.0], [12.0], spread=0.004, samples=16)
    channel = job.tagged("TY-213")
    doubt = output_doubt(job, channel, output_checks(job, channel)[0])
    by_hand = np.sqrt((0.002 / 2) ** 2 + (0.0005 / 2) ** 2 / 3 + (0.004 / 4) ** 2) * 75  # 75 degrees to a milliampere
    assert doubt.standard == pytest.approx(by_hand, rel=1e-6)
    unknown = checked(JOB, [600.0], [12.0], instrument=None)
    assert output_doubt(unknown, channel, output_checks(unknown, channel)[0]) is None


def test_five_checks_tell_its_own_zero_and_full_count_and_what_is_left():
    channel = JOB.tagged("TY-213")
    wanted = plan_of(channel)
    job = checked(JOB, wanted, driven(channel, wanted))
    own = own_scaling(job, channel)
    # 0.03 + 0.998 * 20 c / 4000 is 0 at -6.01 and 20 at 4002.0
    assert (own.zero_count, own.full_count) == (-6, 4002)
    assert own.before > 1.5
    assert own.left < channel.driver.per_count * 75  # a count
    trimmed = change_channel(job, with_own_scaling(channel, own))
    after = trimmed.tagged("TY-213")
    assert all(check.stale for check in output_checks(trimmed, after))
    assert output_proof(trimmed, after) is None
    assert output_proof(trimmed, after, found=True).passed == output_proof(job, channel).passed
    proven = checked(trimmed, wanted, driven(after, wanted))
    proof = output_proof(proven, after)
    assert proof.passed
    assert max(abs(check.error) for check in proof.checks) <= own.left * 1.01 + 1e-9
    assert own_scaling(proven, after) is None


def test_a_driver_far_off_points_at_load_and_leads():
    channel = JOB.tagged("TY-213")
    wanted = plan_of(channel)
    assert own_scaling(checked(JOB, wanted, driven(channel, wanted, 0.4, 1.0)), channel).is_beyond
    assert not own_scaling(checked(JOB, wanted, driven(channel, wanted)), channel).is_beyond
    assert own_scaling(checked(JOB, [600.0], [12.1]), channel) is None


@pytest.mark.parametrize("at", [0, 2, 4])
def test_one_reading_off_is_no_scaling_of_the_driver(at):
    channel = JOB.tagged("TY-213")
    wanted = plan_of(channel)
    signals = [float(one) for one in signals_for(channel, np.array(wanted))]
    signals[at] += 0.2
    assert own_scaling(checked(JOB, wanted, signals), channel) is None


def test_the_plan_goes_on_until_every_value_was_checked_and_progress_with_it():
    channel, job = JOB.tagged("TY-213"), JOB
    for value in plan_of(channel):
        assert next_wanted(job, channel) == value
        job = checked(job, [value], driven(channel, [value], 0.0, 1.0))
    assert next_wanted(job, channel) is None
    steps = {step.step: step for step in progress_of(job, channel)}
    assert (steps["prove"].state, steps["prove"].says) == ("proven", "5 of 5 checks pass")
    ids = [check.row.reading.id for check in output_checks(job, channel)]
    assert next_wanted(exclude(job, ids[:1], "the meter slipped", WHEN), channel) == 0.0
    failed = checked(job, [600.0], [12.2])
    assert {step.step: step.state for step in progress_of(failed, channel)}["prove"] == "failed"


def test_a_value_that_was_not_sent_is_asked_about():
    channel = JOB.tagged("TY-213")
    assert "was it sent" in not_sent_words(channel, 600.0, Delivered(0.03, "mA"))
    assert not_sent_words(channel, 600.0, Delivered(12.05, "mA")) == ""


def test_steady_is_a_part_of_the_error_allowed_in_the_meters_unit():
    channel = JOB.tagged("TY-213")
    assert meter_rule(channel, "mA", 4.0).spread == pytest.approx(3.0 / 75 / 2)
    assert meter_rule(channel, "A", 4.0).spread == pytest.approx(3.0 / 75 / 2 / 1000)


def test_where_a_count_goes_and_what_is_missing_for_it():
    target = output_target(JOB, JOB.tagged("TY-213"))
    assert (target.address, target.source.id) == (850, "controller")
    assert [target.word(number) for number in (0, 4000, -1)] == [0, 4000, 0xFFFF]
    with pytest.raises(NotApplicable, match="No source speaks to Kiln controller"):
        output_target(JOB.with_(sources=()), JOB.tagged("TY-213"))
    with pytest.raises(NotApplicable, match="Land it at Wire"):
        output_target(JOB, JOB.tagged("TY-213").with_(landing=None))
