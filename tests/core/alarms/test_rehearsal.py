"""The rehearsal of alarms: its steps, what was seen, and that another limit makes it undone."""

from datetime import UTC, datetime

import pytest

from able_yardstick.core.alarms.rehearsal import rehearsal_of, rehearsal_steps, rehearsal_summary, rehearse
from able_yardstick.core.document.alarm import Alarm
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.job import Job
from able_yardstick.core.state.progress import progress_of
from able_yardstick.core.words.errors import BadTable, NotApplicable
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())
WHEN = datetime(2026, 11, 20, tzinfo=UTC)


def test_steps_walk_through_each_limit_and_back_and_then_each_break():
    steps = rehearsal_steps(JOB, JOB.continuous("te-205"))
    assert [step.name for step in steps[:4]] == ["high comes", "high goes", "high high comes", "high high goes"]
    assert steps[0].signal == pytest.approx(0.4884, abs=1e-4)  # the middle of count 400 of 4095 over 5 V
    assert steps[0].expects == "high comes after 5 s"
    broken = {step.name: step.expects for step in steps[4:]}
    assert broken["lead open"] == "no alarm comes"
    assert broken["leads shorted"] == "high and high high comes"


def test_what_was_seen_stays_until_numbers_or_limits_change():
    channel = JOB.continuous("te-205")
    steps = rehearsal_steps(JOB, channel)
    job = rehearse(JOB, "te-205", steps[0], True, 5.4, WHEN)
    job = rehearse(job, "te-205", steps[4], False, None, WHEN)
    rows = rehearsal_of(job, channel)
    assert rows[0].record.delay_s == 5.4
    said = rehearsal_summary(rows)
    assert said.startswith("2 of 8 rehearsed. Not as expected: lead open. Not rehearsed: high goes, high high comes")
    assert Job.model_validate_json(job.model_dump_json()) == job
    other = channel.with_(alarms=(Alarm(kind="high", limit=80.0),))
    assert all(row.record is None for row in rehearsal_of(change_channel(job, other), other))


def test_a_delay_below_nought_is_refused():
    step = rehearsal_steps(JOB, JOB.continuous("te-205"))[0]
    with pytest.raises(BadTable, match="seconds until it came"):
        rehearse(JOB, "te-205", step, True, -1.0, WHEN)


def test_a_contact_is_walked_over_its_threshold_and_through_its_breaks():
    switch = JOB.tagged("PS-211")
    steps = rehearsal_steps(JOB, switch)
    assert [step.name for step in steps] == ["opens", "closes", "lead open", "leads shorted", "supply lost"]
    opens, closes = steps[:2]
    assert switch.state(opens.signal, "closed") == "open"
    assert switch.state(closes.signal, "open") == "closed"
    per_count = switch.path.converter.per_count
    assert abs(opens.signal - 1.4) < 4 * per_count  # 1.8 V less half of 0.8 V
    assert abs(closes.signal - 2.2) < 4 * per_count
    assert opens.expects == "“gas low” is seen"
    assert opens.wanted == (("open", True),)


def test_a_contact_is_proven_by_its_rehearsal_and_another_threshold_undoes_it():
    switch = JOB.tagged("PS-211")
    steps = {step.step: step for step in progress_of(JOB, switch)}
    assert (steps["prove"].state, steps["prove"].says) == ("proven", "5 of 5 rehearsed")
    job = change_channel(JOB, switch.with_(threshold=2.0))
    steps = {step.step: step for step in progress_of(job, job.tagged("PS-211"))}
    assert (steps["prove"].state, steps["prove"].says) == ("empty", "0 of 5 rehearsed")
    failed = rehearse(job, switch.id, rehearsal_steps(job, job.tagged("PS-211"))[0], False, None, WHEN)
    assert {step.step: step.state for step in progress_of(failed, failed.tagged("PS-211"))}["prove"] == "failed"


def test_what_has_no_alarms_is_not_rehearsed():
    step = rehearsal_steps(JOB, JOB.tagged("PS-211"))[0]
    with pytest.raises(NotApplicable, match="it has no alarms to rehearse"):
        rehearse(JOB, JOB.tagged("WQ-212").id, step, True, None, WHEN)
