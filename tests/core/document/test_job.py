"""Edits of the document: what they change, what they never touch, and what goes stale."""

from datetime import UTC, datetime

import numpy as np
import pytest

from able_yardstick.core.describe.edits import with_output, with_quantity, with_rated_pair, with_working_unit
from able_yardstick.core.document.channel import TwoStateChannel
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.document.reference import Reference
from able_yardstick.core.gather.points import points_of
from able_yardstick.core.job.channels import (
    add_channel,
    bring_back,
    change_channel,
    duplicate_channel,
    free_tag,
    move_channel,
    new_continuous,
    remove_channel,
    rename,
)
from able_yardstick.core.job.entries import capture, correct, exclude, include
from able_yardstick.core.job.history import restored
from able_yardstick.core.job.in_force import curve_in_use
from able_yardstick.core.job.instruments import change_reference
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.journal.sample import Sample, Series
from able_yardstick.core.path.node import Met
from able_yardstick.core.prove.checks import as_found, checks_of, proof_of
from able_yardstick.core.results.basis import stale_fit, stale_pack
from able_yardstick.core.results.choices import keep_packing, use_curve
from able_yardstick.core.sensor.rating import RatedTable
from able_yardstick.core.stages import Shunt
from able_yardstick.core.state.progress import progress_of, state_of
from able_yardstick.core.words.errors import NotApplicable, OutOfRange, TooFewReadings, UnitMismatch
from able_yardstick.core.words.record import InvalidRecord
from able_yardstick.core.words.tolerance import Tolerance

NOON = datetime(2026, 11, 16, 12, 0, tzinfo=UTC)

VOLTS = Met("pin", "V")


def reading(number, reference, signal, **fields):
    fields = {"raw": Raw(mean=signal), "reference_unit": "kPa", **fields}
    return Reading(id=f"r{number}", channel="c", captured=NOON, reference=reference, **fields)


@pytest.fixture
def job():
    """A channel with five readings of a straight line, 0 to 100 kPa over 0 to 5 V."""
    channel = new_continuous("c", "d", "PT-1").with_(tolerance=Tolerance(constant=1.0))
    readings = [reading(n, 25.0 * n, 1.25 * n) for n in range(5)]
    return capture(add_channel(Job(id="j"), channel), readings)


def states(job):
    return {step.step: step.state for step in progress_of(job, job.channel("c"))}


def proven(job):
    """The same job, fitted, packed and with three checks that pass."""
    job = keep_packing(use_curve(job, "c", "line", NOON), "c", NOON)
    basis = job.pack_of("c").revision
    checks = [
        reading(10 + n, value, 0.0, raw=None, shown=value + 0.1, purpose="prove", basis=basis)
        for n, value in enumerate((10.0, 50.0, 90.0))
    ]
    return capture(job, checks)


def test_a_channel_goes_from_readings_to_a_passed_proof(job):
    job = proven(job)
    assert proof_of(job, job.channel("c")).passed
    assert states(job) == {
        "describe": "begun", "wire": "begun", "wake": "empty", "gather": "proven", "fit": "proven", "pack": "proven",
        "prove": "proven",
        "sign": "empty",
    }  # fmt: skip


def test_excluding_a_reading_makes_fit_and_pack_stale_and_taking_it_back_heals_them(job):
    done = proven(job)
    spoiled = exclude(done, ["r2"], "gauge was knocked", NOON)
    channel = spoiled.channel("c")
    assert stale_fit(spoiled, channel) == ("the readings changed",)
    assert stale_pack(spoiled, channel) == ("its curve is out of date",)
    assert states(spoiled)["fit"] == states(spoiled)["pack"] == states(spoiled)["prove"] == "stale"
    assert state_of(progress_of(spoiled, channel)).level == "look"
    healed = include(spoiled, ["r2"], NOON)
    assert stale_fit(healed, channel) == ()
    assert states(healed)["prove"] == "proven"


def test_another_packing_takes_the_checks_out_of_force(job):
    job = proven(job)
    channel = job.continuous("c")
    job = change_channel(job, channel.with_(pack_spec=channel.pack_spec.with_(form="ends", value_step=1.0)))
    job = keep_packing(job, "c", NOON)
    assert all(check.stale for check in checks_of(job, job.continuous("c")))
    with pytest.raises(TooFewReadings):
        proof_of(job, job.continuous("c"))
    assert states(job)["prove"] == "stale"


def test_a_new_shunt_makes_the_fit_stale(demo_job):
    channel = demo_job.continuous("pt-202")
    job = use_curve(demo_job, "pt-202", "line", NOON)
    path = channel.path.with_(stages=(Shunt(resistance_ohm=200),))
    job = change_channel(job, job.continuous("pt-202").with_(path=path))
    assert stale_fit(job, job.continuous("pt-202")) == ("the signal path changed",)


def test_a_check_read_raw_is_reckoned_by_the_packing_kept(job):
    job = proven(job)
    raw = reading(20, 60.0, 3.0, purpose="prove")
    found = checks_of(capture(job, [raw]), job.continuous("c"))[-1]
    assert (found.reckoned, found.stale) == (True, False)
    assert found.shown == pytest.approx(60.0, abs=0.02)


def test_undo_goes_back_in_edits_but_keeps_what_was_captured(job):
    later = capture(rename(job, "Other"), [reading(9, 60.0, 3.0)])
    back = restored(later, job, (), NOON)
    assert back.title == job.title
    assert [one.id for one in back.readings][-1] == "r9"
    assert back.revision > later.revision


def test_a_channel_with_a_history_is_set_aside_and_undoing_brings_it_back(job):
    removed = remove_channel(job, "c")
    assert removed.channels == ()
    assert [one.id for one in removed.document.set_aside] == ["c"]
    assert len(points_of(restored(removed, job, (), NOON), job.continuous("c")).rows) == 5
    assert bring_back(removed, "c").channels == job.channels
    assert bring_back(removed, "c").document.set_aside == ()


def test_a_channel_without_a_history_is_gone_when_it_is_removed(job):
    more = add_channel(job, new_continuous("e", "f", "E"))
    assert remove_channel(more, "e").document.set_aside == ()


def test_undoing_a_new_channel_sets_it_aside_once_it_has_readings(job):
    with_new = add_channel(job, new_continuous("e", "f", "E"))
    taken = capture(with_new, [reading(9, 60.0, 3.0).with_(channel="e")])
    back = restored(taken, job, (), NOON)
    assert [one.id for one in back.channels] == ["c"]
    assert [one.id for one in back.document.set_aside] == ["e"]
    assert [one.reading.id for one in bring_back(back, "e").amended("e", "gather")] == ["r9"]
    assert restored(back, taken, (), NOON).document == taken.document


def test_undo_takes_back_an_instrument_but_not_one_that_was_read(job):
    gauge = Reference(id="g", name="Gauge", unit="kPa")
    listed = change_reference(job, gauge)
    assert restored(listed, job, (), NOON).references == ()
    read = capture(listed, [reading(9, 60.0, 3.0).with_(reference_id="g")])
    assert restored(read, job, (), NOON).references == (gauge,)
    doubted = change_reference(read, gauge.with_(name="Other"))
    assert restored(doubted, read, (), NOON).references == (gauge,)


def test_an_amendment_is_taken_back_by_another_and_nothing_leaves_the_journal(job):
    left_out = exclude(correct(job, "r1", NOON, reference=26.0), ["r1"], "odd", NOON)
    back = restored(left_out, job, ("r1",), NOON)
    row = back.amended("c", "gather")[1]
    assert (row.reading.reference, row.excluded) == (25.0, "")
    assert back.amendments[: len(left_out.amendments)] == left_out.amendments
    again = restored(back, left_out, ("r1",), NOON).amended("c", "gather")[1]
    assert (again.reading.reference, again.excluded) == (26.0, "odd")


def test_the_journal_only_grows(job):
    grown = exclude(capture(job, [reading(9, 60.0, 3.0)]), ["r9"], "odd", NOON)
    for name in type(job.journal).model_fields:
        before, after = getattr(job.journal, name), getattr(grown.journal, name)
        assert after[: len(before)] == before
    assert grown.journal == Job.model_validate_json(grown.model_dump_json()).journal
    assert grown.journal.of("c") == Job.model_validate_json(grown.model_dump_json()).journal.of("c")
    with pytest.raises(InvalidRecord, match="the reading id r9 is used 2 times"):
        capture(grown, [reading(9, 60.0, 3.0)])


def test_a_correction_stands_beside_the_reading_which_stays_as_it_was(job):
    job = correct(job, "r1", NOON, reference=26.0, direction="up")
    row = job.amended("c", "gather")[1]
    assert (row.reading.reference, row.reading.direction, row.corrected) == (26.0, "up", True)
    assert job.readings[1].reference == 25.0


def test_an_exclusion_without_a_reason_is_refused(job):
    with pytest.raises(ValueError, match="needs a reason"):
        exclude(job, ["r1"], "  ", NOON)


def test_two_channels_cannot_have_one_tag(job):
    with pytest.raises(InvalidRecord, match="the tag PT-1 is used 2 times: each must be distinct"):
        add_channel(job, new_continuous("x", "y", "PT-1"))
    assert free_tag(job, "pt-1") == "pt-1-2"


def test_channels_are_copied_and_moved(job):
    job = duplicate_channel(job, "c", "c2", "d2")
    assert [channel.tag for channel in job.channels] == ["PT-1", "PT-1-copy"]
    assert points_of(job, job.continuous("c2")).rows == ()
    moved = move_channel(job, "c2", -5)
    assert [channel.id for channel in moved.channels] == ["c2", "c"]


def test_working_in_another_unit_converts_what_is_shown_and_touches_nothing_stored(job):
    job = proven(job)
    before = job.continuous("c")
    changed = with_working_unit(before, "psi")
    job = change_channel(job, changed)
    use = curve_in_use(job, changed)
    assert float(use.curve.value(5.0)) == pytest.approx(100 / 6.894757293168361)
    assert float(changed.tolerance.constant) == pytest.approx(1 / 6.894757293168361)
    assert stale_fit(job, changed) == ()
    assert stale_pack(job, changed) == ("the unit changed",)
    assert points_of(job, changed).reference[4] == pytest.approx(14.503773773)
    back = with_working_unit(changed, "kPa")
    assert (back.transducer, back.tolerance.constant) == (before.transducer, pytest.approx(1.0))


def test_oxygen_is_worked_as_lambda_where_that_is_defined(demo_job):
    channel = demo_job.continuous("at-208")
    with pytest.raises(OutOfRange, match="lambda grows without bound there"):
        with_working_unit(channel, "lambda")
    lean = RatedTable(signals=(0.0, 2.0, 4.0), values=(0.0, 5.0, 14.0))
    part = channel.transducer.with_(range_high=14.0, rating=lean)
    changed = with_working_unit(channel.with_(transducer=part), "lambda")
    assert float(nominal_curve(changed).value(0.0)) == pytest.approx(1.0)
    assert float(nominal_curve(changed).value(2.0)) == pytest.approx(1.28, abs=0.01)


def test_a_unit_of_something_else_is_refused(job):
    with pytest.raises(UnitMismatch, match="does not measure gauge pressure"):
        with_working_unit(job.continuous("c"), "°C")


def test_changing_the_output_brings_the_path_that_goes_with_it(job):
    rated = with_rated_pair(job.continuous("c"))
    assert with_output(rated, "ratiometric voltage").transducer.rating == rated.transducer.rating
    assert with_output(rated, "current loop").transducer.rating.signals == (4.0, 20.0)
    sheet = RatedTable(signals=(0, 1, 5), values=(0, 30, 100))
    tabled = rated.with_(transducer=rated.transducer.with_(rating=sheet))
    assert with_output(tabled, "frequency").transducer.rating.kind == "unrated"
    channel = with_output(job.continuous("c"), "current loop")
    assert [stage.kind for stage in channel.path.stages] == ["shunt"]
    assert with_output(channel, "frequency").path.pin_unit == "Hz"
    assert with_output(channel, "counts").path.converter.high == 4095
    assert with_quantity(channel, "temperature").unit == "°C"


def test_a_curve_that_turns_cannot_be_chosen():
    job = add_channel(Job(id="j"), new_continuous("c", "d", "T"))
    x = np.linspace(0, 5, 9)
    job = capture(job, [reading(n, (v - 2) ** 2, v) for n, v in enumerate(x)])
    with pytest.raises(NotApplicable, match="It turns at a signal of 2"):
        use_curve(job, "c", "poly2", NOON)


def test_what_was_shown_while_gathering_is_the_as_found_state(job):
    shown = [reading(30 + n, 25.0 * n, 1.25 * n, shown=25.0 * n + n, shown_unit="kPa") for n in range(3)]
    found = as_found(capture(job, shown), job.continuous("c"))
    assert [check.error for check in found.checks] == pytest.approx([0, 1, 2])
    assert [check.passed for check in found.checks] == [True, True, False]


def test_a_window_of_samples_becomes_a_reading_without_the_bad_ones():
    times = np.arange(4.0)
    states = np.array([0, 0, 0, 2], dtype=np.uint8)
    window = Series(times, times, np.array([1.0, 2.0, 3.0, np.nan]), np.arange(4), states, {3: "open lead"}, VOLTS)
    raw = Raw.from_series(window)
    assert raw.met == VOLTS
    assert (raw.mean, raw.spread, raw.count) == (2.0, 1.0, 3)
    assert [sample.reason for sample in window] == ["", "", "", "open lead"]
    assert list(window)[3].value is None
    with pytest.raises(TooFewReadings, match="None of 1 samples is good"):
        Raw.from_series(window.since(3.0))
    with pytest.raises(ValueError, match="must say why it is bad"):
        Sample(value=1.0, time_s=0, sequence=0, state="bad")


def test_a_contact_keeps_its_state_in_the_dead_band():
    contact = TwoStateChannel(id="s", device="d", tag="S", threshold=2.25, dead_band=1.5)
    assert [contact.state(v, "open") for v in (1.4, 1.6, 2.9, 3.1)] == ["closed", "open", "open", "open"]
    assert contact.state(2.0, "closed") == "closed"
    with pytest.raises(InvalidRecord, match="must lie between the two levels"):
        contact.with_(threshold=4.9)


def test_a_contact_and_a_constant_have_no_curve(demo_job):
    for tag, last in (("PS-211", ["proven", "empty"]), ("WQ-212", ["none", "none"]), ("TY-213", ["empty", "empty"])):
        channel = demo_job.tagged(tag)
        assert [step.state for step in progress_of(demo_job, channel)][3:] == ["none"] * 3 + last
        with pytest.raises(NotApplicable, match="it has no curve to work on"):
            demo_job.continuous(channel.id)


def test_a_job_survives_its_file_form(demo_job):
    assert Job.model_validate_json(demo_job.model_dump_json()) == demo_job


def test_what_is_reckoned_from_a_tree_is_reckoned_once_and_never_for_another_channel(job):
    channel = job.continuous("c")
    assert points_of(job, channel) is points_of(job, channel)
    other = with_working_unit(channel, "psi")
    assert points_of(job, other).reference[4] == pytest.approx(14.503773773)
    assert points_of(job, channel).reference[4] == 100
    later = exclude(job, ["r4"], "odd", NOON)
    assert len(points_of(later, channel).rows) == 4
    assert job == Job.model_validate_json(job.model_dump_json())
