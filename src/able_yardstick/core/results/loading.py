"""What stands between a packing that is kept and one that is in use: where it goes, and what speaks against it."""

from typing import NamedTuple

from ..document.channel import ContinuousChannel
from ..document.controller import TableLayout
from ..document.sources import ModbusSource
from ..job.in_force import kept_packing
from ..job.job import Job
from ..journal.records import WriteRecord
from ..journal.table_image import TableImage, image_of
from ..prove.checks import as_found
from ..wire.landing import table_place
from ..words.errors import NotApplicable
from .basis import stale_pack


class LoadTarget(NamedTuple):
    """Where a channel's table is written: the link, the first register, the layout."""

    source: ModbusSource
    address: int
    layout: TableLayout


def target_of(job: Job, channel: ContinuousChannel) -> LoadTarget:
    """Where a channel's numbers go. Raises: NotApplicable with what is missing."""
    place = table_place(job, channel)
    if place is None:
        raise NotApplicable(
            f"{channel.tag} lands on no terminal whose table's registers are described, so its numbers cannot be "
            "written from here. Land it at Wire, or copy them."
        )
    assert channel.landing is not None  # it has a place
    found = [
        source
        for source in job.sources
        if isinstance(source, ModbusSource) and source.controller == channel.landing.controller
    ]
    if not found:
        name = job.controller(channel.landing.controller).name
        raise NotApplicable(
            f"No source speaks to {name}. Add it at Sources (F4), and say there whose registers they are."
        )
    return LoadTarget(found[0], *place)


def image_to_write(job: Job, channel: ContinuousChannel) -> TableImage:
    """The kept packing as the controller's table. Raises: NotApplicable if none is kept, or it went stale."""
    record = kept_packing(job, channel)
    if record is None:
        raise NotApplicable("Keep the numbers first: what is written is what was kept.")
    stale = stale_pack(job, channel)
    if stale:
        raise NotApplicable(f"The numbers kept are out of date: {', '.join(stale)}. Keep new ones first.")
    return image_of(record.form, channel.path.converter.nominal)


def warning_before(job: Job, channel: ContinuousChannel) -> str:
    """What speaks against writing now; empty if nothing does."""
    if job.write_of(channel.id) is not None or as_found(job, channel) is not None:
        return ""
    return (
        "No as-found state was taken: what the controller showed before would be lost for the record. "
        "Gather readings with what it shows first, or write all the same."
    )


def things_left(job: Job, channel: ContinuousChannel) -> list[tuple[str, bool]]:
    """What must happen after a write before the numbers are in use, and whether it was ticked off."""
    record = job.write_of(channel.id)
    if record is None or channel.landing is None or not record.finished:
        return []
    listed = list(job.controller(channel.landing.controller).after_loading)
    if channel.controller_range is not None and tuple(channel.controller_range) != tuple(channel.range):
        low, high = channel.controller_range
        listed.append(f"The controller still takes the range to be {low:g} to {high:g}: correct it.")
    if channel.controller_unit and channel.controller_unit != channel.unit:
        listed.append(f"The controller still shows {channel.controller_unit}, not {channel.unit}: correct it.")
    return [(thing, thing in record.done) for thing in listed]


def standing(job: Job, channel: ContinuousChannel, record: WriteRecord) -> str:
    """What the last write left in the controller, in words."""
    count = len(record.meant.signals)
    if not record.finished:
        return f"cut off while writing, {record.made:%H:%M:%S}: write again, or put back the copy of what was there"
    if record.differences:
        return f"read back {record.made:%H:%M:%S}: not as meant"
    packing = kept_packing(job, channel)
    if record.is_undoing:
        return f"put back what was there: {count} of {count} equal, {record.made:%H:%M:%S}"
    if packing is not None and packing.revision != record.packing:
        return f"the controller has numbers written {record.made:%d %b, %H:%M}, not those kept since"
    return f"read back: {count} of {count} equal, {record.made:%H:%M:%S}"
