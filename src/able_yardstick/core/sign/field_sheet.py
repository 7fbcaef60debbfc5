"""A blank sheet for the field: what a channel is, where its leads go, and room for readings, to be typed back in."""

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any

from ..alarms.rehearsal import rehearsal_steps
from ..document.channel import AnyChannel, ConstantChannel, ContinuousChannel, TwoStateChannel
from ..document.output import OutputChannel
from ..document.stop_plan import Stop
from ..job.job import Job
from ..outputs.giving import count_of, plan_of
from ..outputs.wiring_list import wiring_of
from ..words.numerals import significant
from ..words.tolerance import Tolerance
from .blocks import Block, Facts, PrintedSheet, SideBySide, Tabled
from .kinds.signed_kind import FactRows
from .leads import lead_tables

_BLANK = "." * 44
_MOST_REFERENCES = 12
_WAYS = {"up": "↑", "down": "↓", "not stated": ""}


def field_sheet(job: Job, channels: Sequence[AnyChannel]) -> PrintedSheet:
    """A sheet for some channels of a job, one after the other."""
    blocks: list[Block] = [_day(job)]
    for channel in channels:
        blocks += _channel(job, channel)
    names = ", ".join(channel.tag for channel in channels)
    foot = f"{job.title}, revision {job.revision}: {names}" if len(channels) < 6 else f"{job.title}, {job.revision}"
    return PrintedSheet("Field sheet", job.title, (f"revision {job.revision}",), tuple(blocks), foot)


def wiring_sheet(job: Job) -> PrintedSheet:
    """Where every lead of a job goes, a table a channel; what is not landed is left out."""
    blocks: list[Block] = []
    for channel in job.channels:
        blocks += lead_tables(wiring_of(job, channel), f"{channel.tag}  {channel.name}".strip())
    names = ", ".join(f"{one.name} {one.revision}".strip() for one in job.controllers)
    return PrintedSheet("Wiring", job.title, (names,), tuple(blocks), f"{job.title}, revision {job.revision}: wiring")


def _day(job: Job) -> SideBySide:
    rows = tuple((one.name, f"certificate {one.certificate or _BLANK}") for one in job.references[:_MOST_REFERENCES])
    return SideBySide(
        Facts("Who and when", (("day", _BLANK), ("technician", _BLANK), ("room, barometer", _BLANK))),
        Facts("References", rows or (("instrument", _BLANK), ("certificate", _BLANK))),
    )


def _channel(job: Job, channel: AnyChannel) -> list[Block]:
    facts, rooms = _KINDS[channel.kind]
    own = (*facts(channel), ("serial", _serial(job, channel)))
    return [
        Facts(f"{channel.tag}  {channel.name}".strip(), own),
        *lead_tables(wiring_of(job, channel)),
        *rooms(job, channel),
    ]


def _serial(job: Job, channel: AnyChannel) -> str:
    device = job.document.device_by_id.get(channel.device)
    return (device.serial if device is not None else "") or _BLANK


# -- a transducer with a curve -----------------------------------------------------------------------------------------


def _of_curve(channel: ContinuousChannel) -> FactRows:
    low, high = channel.range
    return (
        ("range", f"{significant(low, 6)} to {significant(high, 6)} {channel.unit}"),
        ("error allowed", _allowed(channel.tolerance, high, channel.span, channel.unit)),
        ("signal at the pin", f"{channel.path.pin_unit}"),
    )


def _allowed(tolerance: Tolerance, value: float, span: float, unit: str) -> str:
    return f"±{significant(float(tolerance.at(value, span)), 3)} {unit}" if tolerance.is_stated else "not stated"


def _curve_rooms(_job: Job, channel: ContinuousChannel) -> tuple[Tabled, ...]:
    return _readings(channel), _checks(channel)


def _readings(channel: ContinuousChannel) -> Tabled:
    stops = channel.stop_plan.stops(*channel.range)
    columns = ("row", "stop", "way", f"reference, {channel.unit}", f"raw, {channel.path.pin_unit}", "shown", "note")
    rows = tuple(_row(n, stop) for n, stop in enumerate(stops, 1))
    return Tabled("Readings, row by row as they are typed in at Gather", columns, rows, is_tall=True)


def _row(number: int, stop: Stop) -> tuple[str, ...]:
    return (str(number), significant(stop.value, 5), _WAYS[stop.direction], "", "", "", "")


def _checks(channel: ContinuousChannel) -> Tabled:
    """Checks stand between the stops, where a curve does not agree by its making."""
    values = sorted({stop.value for stop in channel.stop_plan.stops(*channel.range)})
    between = [(low + high) / 2 for low, high in pairwise(values)] or values
    columns = ("row", "near", f"reference, {channel.unit}", "shown by the controller", "note")
    rows = tuple((str(n), significant(value, 4), "", "", "") for n, value in enumerate(between, 1))
    return Tabled("Checks, as they are typed in at Prove", columns, rows, is_tall=True)


# -- a contact, an output, a constant ----------------------------------------------------------------------------------


def _of_contact(channel: TwoStateChannel) -> FactRows:
    unit = channel.signal_unit
    half = channel.dead_band / 2
    edges = (channel.threshold - half, channel.threshold + half)
    return (
        ("states", f"{channel.closed_means} (closed), {channel.open_means} (open)"),
        ("switches at the pin", f"between {significant(edges[0], 5)} and {significant(edges[1], 5)} {unit}"),
    )


def _contact_rooms(job: Job, channel: TwoStateChannel) -> tuple[Tabled, ...]:
    columns = ("row", "what is done", f"pin, {channel.signal_unit}", "must be seen", "seen", "after, s")
    steps = rehearsal_steps(job, channel)
    rows = tuple(
        (str(n), one.name, "floats" if one.signal is None else significant(one.signal, 5), one.expects, "", "")
        for n, one in enumerate(steps, 1)
    )
    return (Tabled("Rehearsal, as it is answered at Prove", columns, rows, is_tall=True),)


def _of_output(channel: OutputChannel) -> FactRows:
    low, high = channel.value_low, channel.value_high
    signal = f"{significant(channel.signal_low, 5)} to {significant(channel.signal_high, 5)} {channel.driver.unit}"
    return (
        ("range", f"{significant(low, 6)} to {significant(high, 6)} {channel.unit}"),
        ("signal at its terminal", signal),
        ("error allowed", _allowed(channel.tolerance, max(channel.ends), channel.span, channel.unit)),
    )


def _output_rooms(_job: Job, channel: OutputChannel) -> tuple[Tabled, ...]:
    columns = ("row", f"wanted, {channel.unit}", "count to write", f"meter, {channel.driver.unit}", "note")
    rows = tuple(
        (str(n), significant(value, 6), str(count_of(channel, value)), "", "")
        for n, value in enumerate(plan_of(channel), 1)
    )
    return (Tabled("Checks, as they are typed in at Prove", columns, rows, is_tall=True),)


def _of_constant(channel: ConstantChannel) -> FactRows:
    return (("value", f"{significant(channel.value, 9)} {channel.unit}".strip()),)


_KINDS: dict[str, tuple[Callable[[Any], FactRows], Callable[[Job, Any], tuple[Tabled, ...]]]] = {
    "continuous": (_of_curve, _curve_rooms),
    "two-state": (_of_contact, _contact_rooms),
    "output": (_of_output, _output_rooms),
    "constant": (_of_constant, lambda _job, _channel: ()),
}
