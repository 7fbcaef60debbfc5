"""The rehearsal of alarms: its steps, what was seen, and that another limit makes it undone."""

from datetime import UTC, datetime

import pytest

from able_yardstick.core.alarms.rehearsal import rehearsal_of, rehearsal_steps, rehearsal_summary, rehearse
from able_yardstick.core.document.alarm import Alarm
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.job import Job
from able_yardstick.core.words.errors import BadTable
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
