"""How far a channel has come: what fills the graduations of each step, one after the other."""

from datetime import UTC, datetime

import pytest

from able_yardstick.core.describe.edits import with_rated_pair
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.entries import capture, exclude
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.results.choices import keep_packing, use_curve
from able_yardstick.core.state.progress import GRADUATIONS, STEP_NAMES, progress_of, state_of
from able_yardstick.core.words.tolerance import Tolerance

NOON = datetime(2026, 11, 16, 12, 0, tzinfo=UTC)


def job_with(*values, direction="not stated", **fields):
    """A straight channel of 0 to 100 kPa over 0 to 5 V with readings at these values."""
    channel = new_continuous("c", "d", "T").with_(**fields)
    job = add_channel(Job(id="j"), channel)
    return capture(job, [reading(n, value, direction=direction) for n, value in enumerate(values)])


def reading(number, value, **fields):
    raw = Raw(mean=value / 20)
    return Reading(
        id=f"r{number}", channel="c", captured=NOON, reference=value, reference_unit="kPa", raw=raw, **fields
    )


def step(job, name):
    return progress_of(job, job.channel("c"))[STEP_NAMES.index(name)]


def test_describing_fills_as_more_is_known():
    job = job_with()
    filled = [step(job, "describe").filled]
    says = [step(job, "describe").says]
    for change in (
        lambda c: c.with_(name="Gas"),
        with_rated_pair,
        lambda c: c.with_(tolerance=Tolerance(constant=1.0)),
    ):
        job = change_channel(job, change(job.continuous("c")))
        filled.append(step(job, "describe").filled)
        says.append(step(job, "describe").says)
    assert filled == [2, 4, 6, 8]
    assert says == ["no name yet", "nothing rated: only readings will tell", "no tolerance stated yet", "described"]


@pytest.mark.parametrize(
    ("values", "state", "says"),
    [
        ((), "empty", "no readings yet"),
        ((0.0, 100.0), "begun", "2 readings at 2 stops over 100% of the range"),
        ((0.0, 10.0, 20.0, 30.0, 40.0), "begun", "5 readings at 5 stops over 40% of the range"),
        ((0.0, 25.0, 50.0, 75.0, 100.0), "proven", "5 readings at 5 stops over 100% of the range"),
        ((0.0, 0.1, 50.0, 50.1, 100.0), "begun", "5 readings at 3 stops over 100% of the range"),
    ],
)
def test_gathering_wants_enough_stops_over_enough_of_the_range(values, state, says):
    found = step(job_with(*values), "gather")
    assert (found.state, found.says) == (state, says)
    assert (found.filled == GRADUATIONS) == (state == "proven")


def test_excluded_readings_do_not_count():
    job = exclude(job_with(0.0, 25.0, 50.0, 75.0, 100.0), ["r4"], "bumped", NOON)
    assert step(job, "gather").says == "4 readings at 4 stops over 75% of the range"


def test_each_step_is_filled_by_its_result_and_emptied_by_nothing_else():
    job = job_with(0.0, 25.0, 50.0, 75.0, 100.0, tolerance=Tolerance(constant=1.0))
    assert [step(job, name).state for name in STEP_NAMES[4:7]] == ["empty", "empty", "empty"]
    job = use_curve(job, "c", "line", NOON)
    assert [step(job, name).state for name in STEP_NAMES[4:7]] == ["proven", "empty", "empty"]
    job = keep_packing(job, "c", NOON)
    basis = job.pack_of("c").revision
    for n, (shown, state, filled) in enumerate(((20.0, "begun", 2), (60.0, "begun", 4), (80.0, "proven", 8))):
        check = reading(10 + n, shown, purpose="prove", shown=shown + 0.2, basis=basis)
        job = capture(job, [check])
        assert (step(job, "prove").state, step(job, "prove").filled) == (state, filled)
    bad = reading(20, 90.0, purpose="prove", shown=95.0, basis=basis)
    failed = capture(job, [bad])
    assert (step(failed, "prove").state, step(failed, "prove").says) == ("failed", "3 of 4 checks pass")
    assert state_of(progress_of(failed, failed.channel("c"))).level == "fault"
    forgiven = exclude(failed, ["r20"], "gauge not settled", NOON)
    assert step(forgiven, "prove").state == "proven"


def test_checks_without_an_error_allowed_are_no_fault():
    job = keep_packing(use_curve(job_with(0.0, 25.0, 50.0, 75.0, 100.0), "c", "line", NOON), "c", NOON)
    job = capture(job, [reading(9, 50.0, purpose="prove", shown=51.0, basis=job.pack_of("c").revision)])
    assert (step(job, "prove").state, step(job, "prove").says) == ("begun", "1 check, no error allowed is stated yet")
    assert state_of(progress_of(job, job.channel("c"))).level != "fault"


def test_what_was_shown_while_gathering_begins_the_proof():
    job = job_with(0.0, 100.0, tolerance=Tolerance(constant=1.0))
    assert step(job, "prove").state == "empty"
    shown = reading(9, 50.0, shown=50.4, shown_unit="kPa")
    assert (step(capture(job, [shown]), "prove").state) == "begun"


def test_the_first_open_step_is_what_a_channel_says_of_itself():
    assert state_of(progress_of(job_with(), job_with().channel("c"))).says == "Describe: no name yet"


def test_the_checks_count_again_when_their_packing_comes_back():
    job = job_with(0.0, 25.0, 50.0, 75.0, 100.0, tolerance=Tolerance(constant=1.0))
    job = keep_packing(use_curve(job, "c", "line", NOON), "c", NOON)
    basis = job.pack_of("c").revision
    job = capture(job, [reading(9 + n, v, purpose="prove", shown=v, basis=basis) for n, v in enumerate((1, 50, 99))])
    first = job.continuous("c").pack_spec
    job = change_channel(job, job.continuous("c").with_(pack_spec=first.with_(form="ends", value_step=0.1)))
    job = keep_packing(job, "c", NOON)
    assert step(job, "prove").says == "the checks are of another packing"
    job = change_channel(job, job.continuous("c").with_(pack_spec=first))
    job = keep_packing(job, "c", NOON)
    assert step(job, "prove").state == "proven"
