"""What can be signed, whatever kind of channel it is: one contract for all, and what is each kind's own."""

import json
from datetime import UTC, datetime

import pytest

from able_yardstick.core.alarms.rehearsal import rehearsal_steps, rehearse
from able_yardstick.core.document.channel import SignableChannel
from able_yardstick.core.drift.resting import shifted
from able_yardstick.core.drift.trend import trend_of
from able_yardstick.core.drift.visit import visit_of
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.entries import keep_signature
from able_yardstick.core.journal.records import SignedRecord
from able_yardstick.core.outputs.giving import plan_of, signals_for
from able_yardstick.core.outputs.proving import Delivered, output_reading
from able_yardstick.core.results.signed_basis import changed_since_signed, signed_basis
from able_yardstick.core.sign.contents import Signing, contents_of, draft_of
from able_yardstick.core.sign.field_sheet import field_sheet
from able_yardstick.core.sign.kinds.registry import SIGNED_KINDS
from able_yardstick.core.sign.open_points import open_points
from able_yardstick.core.sign.sheet import sheet_of
from able_yardstick.core.state.progress import progress_of, steps_of
from able_yardstick.core.words.errors import NotApplicable, TooFewReadings

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)
SIGNING = Signing("Ada Tester", "technician", NOON, accepted="trial")
TAGS = {"continuous": "PT-201", "two-state": "PS-211", "output": "TY-213"}
OFF_MA = 0.01  # what the meter read above what was meant: 0.75 °C of 1200 over 16 mA


@pytest.fixture(scope="module")
def proven():
    """The demo with its output checked too."""
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    job = Job.model_validate_json(demo_text())
    channel = job.tagged("TY-213")
    meter = next(one for one in job.references if one.unit == "mA")
    seen = [Delivered(float(signals_for(channel, one)) + OFF_MA, "mA") for one in plan_of(channel)]
    rows = zip(plan_of(channel), seen, strict=True)
    return job.entered(
        readings=[output_reading(channel, one, read, meter, f"o{n}", NOON) for n, (one, read) in enumerate(rows)]
    )


def record_of(job, tag):
    return json.loads(json.dumps(contents_of(job, job.tagged(tag), SIGNING, "1.0")))


@pytest.mark.parametrize("name", SIGNED_KINDS)
class TestEverySignedKind:
    """The contract of a kind of channel that is signed."""

    def channel(self, job, name):
        found = job.tagged(TAGS[name])
        assert found.kind == name
        return found

    def test_it_has_the_parts_that_all_have_and_sign_among_its_steps(self, proven, name):
        kind = SIGNED_KINDS[name]
        assert kind.parts.keys() == SIGNED_KINDS["continuous"].parts.keys()
        assert isinstance(self.channel(proven, name), SignableChannel)
        assert "sign" in steps_of(self.channel(proven, name))

    def test_its_record_is_plain_and_its_pages_are_made_of_it_alone(self, proven, name):
        drawn = contents_of(proven, self.channel(proven, name), SIGNING, "1.0")
        read = record_of(proven, TAGS[name])
        assert read == drawn
        texts = sheet_of(read, "ab" * 32).texts
        assert any(TAGS[name] in text for text in texts)
        assert all(isinstance(text, str) for text in texts)

    def test_its_rule_is_graduated_within_the_axis(self, proven, name):
        rule = record_of(proven, TAGS[name])["rule"]
        low, high = rule["axis"]
        marks = [mark for scale in rule["scales"] for mark in scale["graduations"]]
        assert len(marks) > 5
        assert all(low - 1e-9 <= mark["at"] <= high + 1e-9 for mark in marks)

    def test_it_holds_until_something_of_it_changes(self, proven, name):
        channel = self.channel(proven, name)
        entry = SignedRecord(
            sha256="ab", channel=channel.id, made=NOON, name="Ada", role="technician", scope="this unit", number=1,
            file="x.record.json", basis=signed_basis(proven, channel),
        )  # fmt: skip
        signed = keep_signature(proven, entry)
        assert changed_since_signed(signed, channel) == ()
        noted = change_channel(signed, channel.with_(note="behind the burner"))
        assert changed_since_signed(noted, noted.tagged(channel.tag)) == ("the description or the wiring",)
        (row,) = [row for row in progress_of(noted, noted.tagged(channel.tag)) if row.step == "sign"]
        assert row.state == "stale"

    def test_its_visit_has_errors_or_says_that_it_has_none(self, proven, name):
        record = record_of(proven, TAGS[name])
        visit = visit_of(record)
        assert visit.has_errors == (SIGNED_KINDS[name].ends(record) is not None)
        assert bool(visit.left) == visit.has_errors
        with pytest.raises(TooFewReadings if visit.has_errors else NotApplicable):
            trend_of((visit,))

    def test_it_has_a_sheet_for_the_field_with_room_to_write(self, proven, name):
        blocks = field_sheet(proven, [self.channel(proven, name)]).blocks
        assert any(getattr(block, "is_tall", False) and block.rows for block in blocks)


def rehearsed(job, as_expected, steps):
    channel = job.tagged("PS-211")
    for step in rehearsal_steps(job, channel)[:steps]:
        job = rehearse(job, channel.id, step, as_expected, None, NOON)
    return job


def test_a_contact_is_proven_once_all_of_it_was_seen_as_expected(proven):
    assert "Rehearsed: pass, 5 of 5 seen as expected" in sheet_of(record_of(proven, "PS-211")).texts
    assert open_points(proven, proven.tagged("PS-211"), NOON.date()) == ()
    failed = rehearsed(proven, False, 1)
    assert not record_of(failed, "PS-211")["proof"]["passed"]
    assert "Rehearsed: fail, 1 of 5 not as expected" in sheet_of(record_of(failed, "PS-211")).texts
    assert [point.step for point in open_points(failed, failed.tagged("PS-211"), NOON.date())] == ["prove"]
    moved = change_channel(proven, proven.tagged("PS-211").with_(threshold=2.0))  # of which nothing was rehearsed
    texts = sheet_of(draft_of(moved, moved.tagged("PS-211"), SIGNING, "1.0")).texts
    assert "Rehearsed: not known, 0 of 5 seen as expected" in texts


def test_an_output_is_judged_by_what_was_given_and_moves_with_its_meter(proven):
    record = record_of(proven, "TY-213")
    assert [round(check["error"], 6) for check in record["proof"]["checks"]] == [0.75] * 5
    assert record["numbers"]["rows"] == [["at its zero", 0.0, 4.0, 800], ["at its full", 1200.0, 20.0, 4000]]
    assert ["follows", "TT-203"] in record["writers"]
    # the meter should have been corrected by 0.032 mA, which is 2.4 °C: what was given was higher, and so the error
    (meter,) = record["references"]
    found = shifted(record, "ab", meter["serial"], meter["certificate"], [(0.0, 0.032), (24.0, 0.032)])
    assert meter["corrections"] == []
    assert [round(check.after, 6) for check in found.checks] == [3.15] * 5
    assert found.outcome == "now fails"


def test_a_constant_is_not_signed(demo_job):
    with pytest.raises(NotApplicable, match="nothing of it is checked, or signed"):
        demo_job.signable(demo_job.tagged("WQ-212").id)
