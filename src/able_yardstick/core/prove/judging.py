"""A rule changed after the run is a new judgement beside the old one: both are kept."""

from datetime import datetime

from ..document.channel import ContinuousChannel
from ..job.channels import change_channel
from ..job.job import Job
from ..journal.records import JudgementRecord
from ..words.acceptance import DecisionRule
from ..words.errors import YardstickError
from .checks import checks_of, proof_of


def change_rule(job: Job, channel_id: str, rule: DecisionRule, made: datetime) -> Job:
    """The job with another rule for a channel's checks; what they came to by the one before is entered."""
    channel = job.continuous(channel_id)
    changed = change_channel(job, channel.with_(decision=rule))
    record = judgement_now(job, channel, made)
    return changed if record is None or rule == channel.decision else changed.entered(judgements=[record])


def judgement_now(job: Job, channel: ContinuousChannel, made: datetime) -> JudgementRecord | None:
    """What the checks of the numbers in force come to by the channel's rule; None while there is nothing to judge."""
    pack = job.pack_of(channel.id)
    try:
        proof = proof_of(job, channel)
    except YardstickError:
        return None
    checks = [check for check in checks_of(job, channel) if not check.stale]
    return JudgementRecord(
        channel=channel.id, made=made, rule=channel.decision, packing="" if pack is None else pack.revision,
        checks=tuple(check.row.reading.id for check in checks), passed=tuple(one.passed for one in proof.checks),
    )  # fmt: skip


def earlier_judgements(job: Job, channel: ContinuousChannel) -> tuple[JudgementRecord, ...]:
    """What the numbers in force were judged to be by other rules, the last of each rule."""
    pack = job.pack_of(channel.id)
    if pack is None:
        return ()
    known = [one for one in job.journal.of(channel.id).judgements if one.packing == pack.revision]
    last = {one.rule.words: one for one in known if one.rule != channel.decision}
    return tuple(last.values())
