"""An instrument found wrong: errors move by the correction that was missing, in the channel's unit."""

import pytest

from able_yardstick.core.drift.resting import ShiftedCheck, shifted


def record(unit="kPa", reference_unit="kPa", purpose="prove"):
    return {
        "channel": {"kind": "continuous", "tag": "PT-1", "unit": unit},
        "unit": {"serial": "S1"},
        "signed": "2026-05-01T10:00:00+00:00",
        "references": [
            {"id": "R1", "serial": "77", "unit": reference_unit, "corrections": [{"reading": 0.0, "correction": 0.0},
             {"reading": 200.0, "correction": 0.2}]},
        ],
        "readings": [{"reference_id": "R1", "purpose": "gather"}, {"reference_id": "R1", "purpose": purpose}],
        "proof": {"checks": [{"reference": 100.0, "error": 0.5, "allowed": 1.0, "doubt": {"expanded": 0.1}}]},
    }  # fmt: skip


def test_an_error_moves_against_the_correction_that_was_missing():
    # at 100 it added 0.1 and should have added 0.4: the reference was 0.3 higher, the error is 0.3 less
    found = shifted(record(), "ab", "77", "C-1", [(0.0, 0.2), (200.0, 0.6)])
    assert found.worst.after == pytest.approx(0.2)
    assert (found.outcome, found.readings, found.certificate) == ("still passes", 1, "C-1")


def test_corrections_are_in_the_instruments_unit_and_errors_in_the_channels():
    found = shifted(record(reference_unit="bar"), "ab", "R1", "C-1", [(0.0, 0.0), (2.0, 0.01)])
    assert found.worst.after == pytest.approx(0.5 - 100 * (0.005 - 0.001), abs=1e-3)  # 1 bar is 100 kPa


def test_what_only_the_curve_rests_on_is_not_judged():
    found = shifted(record(purpose="gather"), "ab", "77", "C-1", [(0.0, 5.0)])
    assert (found.outcome, found.readings, found.worst) == ("not judged", 2, None)


@pytest.mark.parametrize(
    ("before", "after", "says"),
    [(0.5, 0.8, "still passes"), (0.5, 0.95, "no longer sure"), (0.5, 1.1, "now fails"), (1.2, 0.1, "failed before")],
)
def test_how_a_check_stands_now(before, after, says):
    assert ShiftedCheck(100.0, before, after, 1.0, 0.1).outcome == says


def test_an_instrument_of_another_quantity_is_not_judged_and_not_taken_for_the_same_unit():
    found = shifted(record(reference_unit="ohm"), "ab", "77", "C-1", [(0.0, 5.0)])
    assert (found.outcome, found.checks) == ("not judged", ())


def test_what_is_not_signed_rests_on_it_too_until_it_is(demo_job):
    from datetime import UTC, datetime

    from able_yardstick.core.drift.unsigned import unsigned_resting
    from able_yardstick.core.job.entries import keep_signature
    from able_yardstick.core.journal.records import SignedRecord
    from able_yardstick.core.results.signed_basis import signed_basis

    long_ago, later = datetime(2020, 1, 1, tzinfo=UTC), datetime(2030, 1, 1, tzinfo=UTC)
    wrong = [(0.0, 0.0), (300.0, -2.0)]
    (row,) = unsigned_resting(demo_job, "2204-12", long_ago, wrong)
    assert (row.tag, row.signed, row.sha256, row.certificate, row.readings) == ("PT-201", "", "", "C-114", 36)
    assert row.outcome == "now fails"
    assert unsigned_resting(demo_job, "2204-12", later, wrong) == ()
    assert unsigned_resting(demo_job, "nobody's", long_ago, wrong) == ()
    channel = demo_job.continuous("pt-201")
    entry = SignedRecord(
        sha256="ab", channel=channel.id, made=later, name="Ada", role="technician", scope="this unit", number=1,
        file="x.record.json", basis=signed_basis(demo_job, channel),
    )  # fmt: skip
    assert unsigned_resting(keep_signature(demo_job, entry), "2204-12", long_ago, wrong) == ()
