"""A blank sheet for the field: what a channel is, where its leads go, and room for readings, to be typed back in."""

from collections.abc import Sequence
from itertools import pairwise

from ..document.channel import AnyChannel, ContinuousChannel, WiredChannel
from ..document.stop_plan import Stop
from ..job.job import Job
from ..wire.landing import WiringRow, wiring_rows
from ..words.numerals import significant
from .blocks import Block, Facts, PrintedSheet, SideBySide, Tabled

_BLANK = "." * 44
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
        rows = wiring_rows(job, channel) if isinstance(channel, WiredChannel) else []
        blocks += _wiring(rows, f"{channel.tag}  {channel.name}".strip())
    names = ", ".join(f"{one.name} {one.revision}".strip() for one in job.controllers)
    return PrintedSheet("Wiring", job.title, (names,), tuple(blocks), f"{job.title}, revision {job.revision}: wiring")


def _day(job: Job) -> SideBySide:
    rows = tuple((one.name, f"certificate {one.certificate or _BLANK}") for one in job.references[:6])
    return SideBySide(
        Facts("Who and when", (("day", _BLANK), ("technician", _BLANK), ("room, barometer", _BLANK))),
        Facts("References", rows or (("instrument", _BLANK), ("certificate", _BLANK))),
    )


def _channel(job: Job, channel: AnyChannel) -> list[Block]:
    title = f"{channel.tag}  {channel.name}".strip()
    blocks: list[Block] = []
    if isinstance(channel, ContinuousChannel):
        low, high = channel.range
        allowed = f"±{significant(float(channel.tolerance.at(high, channel.span)), 3)} {channel.unit}"
        facts = (
            ("range", f"{significant(low, 6)} to {significant(high, 6)} {channel.unit}"),
            ("error allowed", allowed if channel.tolerance.is_stated else "not stated"),
            ("signal at the pin", f"{channel.path.pin_unit}"),
            ("serial", _serial(job, channel)),
        )
        blocks.append(Facts(title, facts))
    else:
        blocks.append(Facts(title, (("kind", channel.kind),)))
    if isinstance(channel, WiredChannel):
        blocks += _wiring(wiring_rows(job, channel))
    if isinstance(channel, ContinuousChannel):
        blocks += [_readings(channel), _checks(channel)]
    return blocks


def _serial(job: Job, channel: ContinuousChannel) -> str:
    device = job.document.device_by_id.get(channel.device)
    return (device.serial if device is not None else "") or _BLANK


def _wiring(rows: Sequence[WiringRow], heading: str = "Wiring") -> list[Block]:
    if not rows:
        return []
    columns = ("lead", "colour", "strip", "connector", "channel", "register", "shield")
    cells = tuple((r.function, r.colour, r.strip, r.connector, r.channel, r.register, r.shield) for r in rows)
    return [Tabled(heading, columns, cells)]


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
