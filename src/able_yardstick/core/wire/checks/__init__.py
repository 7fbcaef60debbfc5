"""Checks in words of what was described and wired, each with its arithmetic and what to do."""

from ...document.channel import ContinuousChannel, WiredChannel
from ...job.job import Job
from ...words.errors import YardstickError
from . import levels, meaning, parts
from .base import CheckFunction, Finding, Severity, View
from .contacts import contact_findings

CHECKS: tuple[CheckFunction, ...] = (
    levels.pin_within_limits, levels.pin_in_breaks, levels.clipping, levels.headroom, levels.span_used, levels.one_step,
    parts.live_zero, parts.shunt_heat, parts.loop_supply, parts.pull_up, parts.bridge_supply,
    parts.ratiometric_supply, parts.supply_within,
    parts.reference, parts.self_heating, parts.lead_error, parts.cold_junction, parts.gains_agree, parts.slowness,
    meaning.return_lead, meaning.polarity, meaning.landing, meaning.controller_range, meaning.root,
    meaning.oxygen_basis, meaning.alternating, meaning.at_rest, meaning.class_holds, meaning.measured_zero,
    meaning.source_of_figures,
)  # fmt: skip
_ORDER: dict[Severity, int] = {"fault": 0, "look": 1, "pass": 2}


def findings_of(job: Job, channel: WiredChannel) -> tuple[Finding, ...]:
    """What all checks say of a channel, faults first."""
    found = _continuous(job, channel) if isinstance(channel, ContinuousChannel) else contact_findings(job, channel)
    return tuple(sorted(found, key=lambda finding: _ORDER[finding.level]))


def _continuous(job: Job, channel: ContinuousChannel) -> list[Finding]:
    """The findings of a channel, reckoned anew only when something they rest on became another record."""
    mates = [other for other in job.channels if other.device == channel.device and other.id != channel.id]
    rests_on = (job.controllers, tuple(mates), job.pack_of(channel.id), job.document.landings)
    kept = channel.memo.get(_KEY)
    if kept is None or kept[0] != rests_on:
        channel.memo[_KEY] = kept = (rests_on, _reckoned(job, channel))
    found: list[Finding] = kept[1]
    return found


_KEY = (__name__, "findings")


def _reckoned(job: Job, channel: ContinuousChannel) -> list[Finding]:
    view = View(job, channel)
    try:
        _ = view.curve, view.ends
    except YardstickError as error:
        return [Finding("fault", "description", str(error), node="quantity")]
    return [finding for check in CHECKS for finding in check(view)]


__all__ = ["CHECKS", "Finding", "Level", "findings_of"]
