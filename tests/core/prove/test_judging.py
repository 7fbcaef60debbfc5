"""Judgements beside each other, and what a small difference is made of."""

from datetime import UTC, datetime

import pytest

from able_yardstick.core.job.job import Job
from able_yardstick.core.prove.check_budget import check_rows, unseen_hysteresis
from able_yardstick.core.prove.checks import checks_of
from able_yardstick.core.prove.judging import change_rule, earlier_judgements
from able_yardstick.core.prove.split import split_of
from able_yardstick.core.words.acceptance import DecisionRule

WHEN = datetime(2026, 11, 20, tzinfo=UTC)


def test_a_rule_changed_after_the_run_leaves_the_old_judgement_beside_the_new(demo_job):
    job = change_rule(demo_job, "pt-201", DecisionRule(kind="guarded"), WHEN)
    channel = job.continuous("pt-201")
    assert channel.decision.kind == "guarded"
    (old,) = earlier_judgements(job, channel)
    assert (old.rule.kind, old.verdict, len(old.passed)) == ("simple", "pass", 5)
    again = change_rule(job, "pt-201", DecisionRule(kind="guarded"), WHEN)  # the same: nothing new to keep
    assert len(again.journal.of("pt-201").judgements) == 1
    assert Job.model_validate_json(job.model_dump_json()) == job
    without = change_rule(demo_job, "tt-203", DecisionRule(kind="guarded"), WHEN)
    assert without.journal.of("tt-203").judgements == ()


def test_hysteresis_counts_where_checks_go_one_way_only(demo_job):
    channel = demo_job.tagged("PT-201")
    half = unseen_hysteresis(demo_job, channel)
    assert half == pytest.approx(0.066, abs=0.01)  # 1.6 mV of bend at 62.5 kPa/V is 0.1; the means of 6 stops see most
    row = checks_of(demo_job, channel)[0].row
    names = {one.name: one.standard for one in check_rows(demo_job, channel, row)}
    assert names["hysteresis, one direction only"] == pytest.approx(half / 3**0.5)


def test_a_small_difference_is_split_and_what_is_left_is_a_true_error(demo_job):
    """AT-208 at 10: shown is the reference; AT-209 at 8: nearly all of 0.52 is left."""
    oxygen = demo_job.tagged("AT-208")
    small = [split_of(demo_job, oxygen, check) for check in checks_of(demo_job, oxygen)]
    assert small[2].error == 0
    assert small[2].rest == 0
    assert small[2].digit == pytest.approx(0.005)
    stack = demo_job.tagged("AT-209")
    large = split_of(demo_job, stack, checks_of(demo_job, stack)[1])
    assert large.rest == pytest.approx(0.517, abs=0.005)
    parts = large.one_count + large.digit + large.noise
    assert large.error == pytest.approx(large.packing + large.rest + parts, abs=1e-9)
