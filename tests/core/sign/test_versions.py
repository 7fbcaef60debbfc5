"""What was written is compared with what stands now, figure by figure; records rest on all that goes into them."""

from datetime import UTC, datetime

from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.entries import exclude, keep_signature, written_state
from able_yardstick.core.journal.records import SignedRecord
from able_yardstick.core.results.signed_basis import changed_since_signed, signatures_of, signed_basis
from able_yardstick.core.sign.open_points import open_points
from able_yardstick.core.sign.rule_read import round_steps
from able_yardstick.core.sign.versions import differences, writes_of
from able_yardstick.core.state.progress import progress_of
from able_yardstick.core.words.tolerance import Tolerance

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)


def test_a_write_keeps_what_its_numbers_came_of_and_is_compared_with_now(demo_job):
    job = demo_job
    then = written_state(job, job.continuous("at-208"))
    channel = job.continuous("at-208")
    job = change_channel(job, channel.with_(name="Flue oxygen, north", tolerance=Tolerance(constant=0.5)))
    found = {one.path: (one.then, one.now) for one in differences(then, written_state(job, job.continuous("at-208")))}
    assert found["channel.name"] == ("Flue oxygen", "Flue oxygen, north")
    assert found["channel.tolerance.constant"][1] == "0.5"
    assert differences(then, then) == ()
    assert writes_of(job, channel) == ()


def signed(job):
    channel = job.continuous("pt-201")
    record = SignedRecord(
        sha256="ab", channel=channel.id, made=NOON, name="Ada", role="technician", scope="this unit", number=1,
        file="x.record.json", basis=signed_basis(job, channel),
    )  # fmt: skip
    return keep_signature(job, record)


def sign_state(job):
    return next(row for row in progress_of(job, job.continuous("pt-201")) if row.step == "sign")


def test_a_signature_holds_until_something_that_went_into_it_changes(demo_job):
    assert sign_state(demo_job).state == "empty"
    job = signed(demo_job)
    assert sign_state(job).state == "proven"
    other = change_channel(job, job.continuous("at-208").with_(name="elsewhere"))
    assert changed_since_signed(other, other.continuous("pt-201")) == ()
    noted = change_channel(job, job.continuous("pt-201").with_(note="new"))
    assert changed_since_signed(noted, noted.continuous("pt-201")) == ("the description or the wiring",)
    assert sign_state(noted).state == "stale"
    left_out = exclude(job, ["r0001"], "bumped", NOON)
    assert "the readings" in changed_since_signed(left_out, left_out.continuous("pt-201"))
    back = change_channel(noted, job.continuous("pt-201"))
    assert sign_state(back).state == "proven"


def test_a_record_that_asks_for_approval_is_half_way_until_it_has_it(demo_job):
    job = signed(demo_job)
    (record,) = signatures_of(job, job.continuous("pt-201"))
    asked = keep_signature(job, record.with_(asks_approval=True))
    assert (sign_state(asked).state, sign_state(asked).says) == ("begun", "signed by Ada, not approved yet")
    approved = keep_signature(asked, record.with_(asks_approval=True, approver="Ben", approved=NOON))
    assert sign_state(approved).state == "proven"
    assert len(signatures_of(approved, approved.continuous("pt-201"))) == 1


def test_open_points_name_the_step_that_mends_them(demo_job):
    steps = {point.step for point in open_points(demo_job, demo_job.continuous("at-209"), NOON.date())}
    assert "prove" in steps
    assert (
        sum(
            "0 of 3 checks pass" in point.says
            for point in open_points(demo_job, demo_job.continuous("at-209"), NOON.date())
        )
        == 1
    )
    late = open_points(demo_job, demo_job.continuous("pt-201"), datetime(2028, 1, 1, tzinfo=UTC).date())
    assert any("RP-12" in point.says for point in late)


def test_graduations_are_round_numbers():
    assert round_steps(0, 250).tolist() == [0, 50, 100, 150, 200, 250]
    assert round_steps(-1.6, 1.6).tolist() == [-1.5, -1, -0.5, 0, 0.5, 1, 1.5]
    assert round_steps(3, 3).tolist() == [3]


def test_a_unit_without_a_serial_and_readings_without_an_instrument_are_told(demo_job):
    job, channel = demo_job, demo_job.continuous("pt-201")
    bare = [one.with_(reference_id=None) if one.channel == channel.id else one for one in job.readings]
    devices = [one.with_(serial="") if one.id == channel.device else one for one in job.devices]
    unknown = job.with_(
        journal=job.journal.with_(readings=tuple(bare)), document=job.document.with_(devices=tuple(devices))
    )
    told = {point.says: point.step for point in open_points(unknown, channel, NOON.date())}
    assert told["Describe: the unit's serial number is not stated"] == "describe"
    assert told["Gather: 36 of 36 readings name no reference"] == "gather"
    assert told["Prove: 5 of 5 checks name no reference"] == "prove"
