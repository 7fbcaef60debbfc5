"""Who uses a channel's numbers, and whether each still has the old ones."""

from typing import NamedTuple

from ..document.channel import ContinuousChannel
from ..document.output import OutputChannel
from ..job.in_force import kept_packing
from ..job.job import Job
from ..wire.landing import landed
from ..words.errors import UnitMismatch
from ..words.numerals import significant


class Usage(NamedTuple):
    """One user of a channel's numbers; `is_behind` where it still has those of before."""

    name: str
    says: str
    is_behind: bool


def usage_of(job: Job, channel: ContinuousChannel) -> tuple[Usage, ...]:
    """The controller, alarms, outputs, channels that share the table, and what is defined on one side only."""
    found: list[Usage] = []
    record, write = kept_packing(job, channel), job.write_of(channel.id)
    if record is not None:
        found.append(_controller(job, channel))
        if write is not None and write.packing != record.revision:
            found[-1] = found[-1]._replace(says="has the numbers written before", is_behind=True)
    elif channel.landing is not None:
        found.append(Usage("Input", "is configured, but no numbers are kept for it", True))
    if channel.display.name:
        found.append(Usage(channel.display.name, f"shows it in {channel.shown_in}", False))
    for alarm in channel.alarms:
        says = "trips by these numbers: rehearse it again after a change"
        found.append(Usage(f"{alarm.kind.capitalize()} alarm", says, False))
    found += [_output(channel, one) for one in job.channels if isinstance(one, OutputChannel) and _hears(one, channel)]
    for name in channel.pack_spec.shared_with:
        other = job.document.by_id.get(name)
        if isinstance(other, ContinuousChannel):
            found.append(_sharer(job, channel, other))
    if channel.controller_range is not None and tuple(channel.controller_range) != tuple(channel.range):
        low, high = channel.controller_range
        found.append(Usage("Range in the controller", f"still {low:g} to {high:g} {channel.unit}", True))
    return tuple(found)


def _hears(output: OutputChannel, channel: ContinuousChannel) -> bool:
    """Whether an output is written by a channel."""
    return channel.id in (output.follows, *(condition.channel for condition in output.conditions))


def _output(channel: ContinuousChannel, output: OutputChannel) -> Usage:
    """An output that a channel writes; one of another unit still has another range."""
    alarms = " and ".join(f"the {one.when} alarm" for one in output.conditions if one.channel == channel.id)
    if output.follows != channel.id:
        return Usage(output.tag, f"is written by {alarms}", False)
    own = f"{significant(output.value_low, 6)} to {significant(output.value_high, 6)} {output.unit}"
    try:
        ends = channel.in_unit([output.value_low, output.value_high], output.unit)
    except UnitMismatch:
        return Usage(output.tag, f"follows it, but gives {output.unit or 'a number without a unit'}", True)
    low, high = sorted(channel.range)
    slack = 1e-9 * channel.span
    beyond = min(ends) > low + slack or max(ends) < high - slack
    return Usage(output.tag, f"gives it from {own}{', which is not all of the range' if beyond else ''}", beyond)


def _controller(job: Job, channel: ContinuousChannel) -> Usage:
    place = landed(job, channel)
    if place is None:
        return Usage("No input", "the numbers are kept, but the channel is on no input", True)
    written = job.write_of(channel.id) is not None
    says = "has these numbers" if written else "nothing was written from here yet"
    return Usage(f"{place.controller.name}, {place.terminal.title}", says, False)


def _sharer(job: Job, channel: ContinuousChannel, other: ContinuousChannel) -> Usage:
    mine, theirs = job.pack_of(channel.id), job.pack_of(other.id)
    behind = mine is not None and (theirs is None or theirs.revision != mine.revision)
    return Usage(other.tag, "shares the table, and has other numbers" if behind else "shares the table", behind)
