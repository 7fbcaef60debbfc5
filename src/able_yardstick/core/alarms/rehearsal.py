"""The rehearsal of alarms: signals that walk through each limit and each break, what should come, and what was seen."""

from datetime import datetime
from typing import NamedTuple

from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..job.job import Job
from ..journal.records import RehearsalRecord
from ..wire.breaks import contact_breaks
from ..words.errors import BadTable, NotApplicable
from ..words.numerals import significant
from ..words.record import digest
from .breaks import alarm_breaks
from .tripping import Tripping, trippings

_BEYOND = 2  # counts past the edge of a dead band: surely on the other side


class RehearsalStep(NamedTuple):
    """One thing to try: the signal at the pin (None where the pin floats), and what must be seen.

    `wanted` says of each alarm that matters (or of "open", for a contact) whether it must stand then.
    """

    name: str
    signal: float | None
    expects: str
    wanted: tuple[tuple[str, bool], ...] = ()


class Rehearsed(NamedTuple):
    """A step with what was last seen of it with the numbers and limits of now; None where it was not tried."""

    step: RehearsalStep
    record: RehearsalRecord | None


def rehearsal_steps(job: Job, channel: WiredChannel) -> tuple[RehearsalStep, ...]:
    """Through each limit or threshold there and back, then each break. Raises: NotApplicable as `trippings`."""
    return _contact_steps(channel) if isinstance(channel, TwoStateChannel) else _alarm_steps(job, channel)


def _alarm_steps(job: Job, channel: ContinuousChannel) -> tuple[RehearsalStep, ...]:
    steps: list[RehearsalStep] = []
    for one in trippings(job, channel, with_true=False):
        steps += _through(one, channel)
    for broken in alarm_breaks(job, channel):
        came = f"{' and '.join(broken.comes)} comes" if broken.comes else "no alarm comes"
        if broken.counts is None:
            steps.append(RehearsalStep(broken.name, None, "whatever comes"))
            continue
        signal = float(channel.path.converter.inverse(broken.counts))
        wanted = tuple((alarm.kind, alarm.kind in broken.comes) for alarm in channel.alarms)
        steps.append(RehearsalStep(broken.name, signal, came, wanted))
    return tuple(steps)


def _contact_steps(channel: TwoStateChannel) -> tuple[RehearsalStep, ...]:
    """To the threshold from either side, a count beyond its dead band; then each break."""
    converter, half = channel.path.converter, channel.dead_band / 2
    closed, opened = channel.pin_levels
    rises = opened > closed
    found = []
    for opens in (True, False):
        upwards = opens == rises
        edge = channel.threshold + (half if upwards else -half)
        count = int(converter.count_of(edge)) + (_BEYOND if upwards else -_BEYOND)
        found.append(_contact_step(channel, "opens" if opens else "closes", float(converter.inverse(count)), opens))
    for broken in contact_breaks(channel):
        if broken.pin is None:
            found.append(RehearsalStep(broken.name, None, "whatever comes"))
        else:
            reads_open = channel.state(broken.pin, "open") == "open"
            found.append(_contact_step(channel, broken.name, broken.pin, reads_open))
    return tuple(found)


def _contact_step(channel: TwoStateChannel, name: str, signal: float, opens: bool) -> RehearsalStep:
    means = channel.open_means if opens else channel.closed_means
    return RehearsalStep(name, signal, f"“{means}” is seen", (("open", opens),))


def _through(one: Tripping, channel: ContinuousChannel) -> list[RehearsalStep]:
    """One limit passed and passed back, at the middle of the counts that do it."""
    alarm, converter = one.alarm, channel.path.converter
    found = []
    for point, verb in ((one.trips, "comes"), (one.clears, "goes")):
        if point is not None:
            after = f" after {significant(alarm.delay_s)} s" if alarm.delay_s and verb == "comes" else ""
            signal = float(converter.inverse(point.counts))
            wanted = ((alarm.kind, verb == "comes"),)
            found.append(RehearsalStep(f"{alarm.kind} {verb}", signal, f"{alarm.kind} {verb}{after}", wanted))
    return found


def rehearsal_of(job: Job, channel: WiredChannel) -> tuple[Rehearsed, ...]:
    """Every step with what was seen of it, as far as that is of the numbers and limits of now."""
    basis = _basis(job, channel)
    last = {one.step: one for one in job.journal.of(channel.id).rehearsals if one.basis == basis}
    return tuple(Rehearsed(step, last.get(step.name)) for step in rehearsal_steps(job, channel))


def rehearse(
    job: Job, channel_id: str, step: RehearsalStep, as_expected: bool, delay_s: float | None, made: datetime
) -> Job:
    """The job with what was seen of a step. Raises: BadTable for a delay below 0."""
    if delay_s is not None and delay_s < 0:
        raise BadTable(f"Expected the seconds until it came, found {delay_s:g}.")
    channel = job.channel(channel_id)
    if not isinstance(channel, ContinuousChannel | TwoStateChannel):
        raise NotApplicable(f"{channel.tag} is a {channel.kind} channel: it has no alarms to rehearse.")
    record = RehearsalRecord(
        channel=channel_id, made=made, step=step.name, expected=step.expects, as_expected=as_expected, delay_s=delay_s,
        basis=_basis(job, channel),
    )  # fmt: skip
    return job.entered(rehearsals=[record])


def _basis(job: Job, channel: WiredChannel) -> str:
    """Names the numbers and limits that were rehearsed."""
    if isinstance(channel, TwoStateChannel):
        return digest(channel.threshold, channel.dead_band, channel.path, channel.closed_level, channel.open_level)
    pack = job.pack_of(channel.id)
    return digest("" if pack is None else pack.revision, channel.alarms, channel.fault_rule)


def rehearsal_summary(rows: tuple[Rehearsed, ...]) -> str:
    """How much was tried, what failed, and what was not tried."""
    failed = [row.step.name for row in rows if row.record is not None and not row.record.as_expected]
    missing = [row.step.name for row in rows if row.record is None]
    said = [f"{len(rows) - len(missing)} of {len(rows)} rehearsed."]
    if failed:
        said.append(f"Not as expected: {', '.join(failed)}.")
    if missing:
        said.append(f"Not rehearsed: {', '.join(missing)}.")
    return " ".join(said)
