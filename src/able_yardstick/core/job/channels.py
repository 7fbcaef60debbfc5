"""Edits of the list of channels: pure functions from the old tree to the new one. Ids come from the caller."""

import numpy as np

from ..document.channel import AnyChannel, ConstantChannel, ContinuousChannel, Device, TwoStateChannel
from ..document.output import OutputChannel
from ..journal.reading import Reading
from ..path.node import Met
from ..path.pin import true_pin
from ..sensor.transducer import Transducer
from ..units.conditions import Conditions
from ..words.errors import NoSuchThing, NotApplicable, UnitMismatch
from .job import Job


def rename(job: Job, title: str) -> Job:
    """The job under another title."""
    return job.edited(title=title.strip() or job.title)


def free_tag(job: Job, wanted: str) -> str:
    """`wanted`, with a number behind it if the tag is taken."""
    tags = {channel.tag.casefold() for channel in job.channels}
    if wanted.casefold() not in tags:
        return wanted
    return next(tag for n in range(2, len(tags) + 3) if (tag := f"{wanted}-{n}").casefold() not in tags)


def add_channel(job: Job, channel: AnyChannel, device: Device | None = None) -> Job:
    """The job with a channel at its end, and its device if that is new. Raises: InvalidRecord on a used tag."""
    devices = job.devices
    if channel.device not in {known.id for known in devices}:
        devices = (*devices, device or Device(id=channel.device, name=channel.name))
    return job.edited(devices=devices, channels=(*job.channels, channel))


def device_of(job: Job, channel: AnyChannel) -> Device:
    """The piece of equipment that a channel belongs to."""
    return next((one for one in job.devices if one.id == channel.device), Device(id=channel.device))


def change_device(job: Job, device: Device) -> Job:
    """The job with what is on a device's plate noted anew."""
    known = {one.id: one for one in job.devices} | {device.id: device}  # in its old place
    return job.edited(devices=tuple(known.values()))


def duplicate_channel(job: Job, channel_id: str, new_id: str, new_device: str) -> Job:
    """The job with a copy of a channel's description behind it; readings and results stay with the first."""
    channel = job.channel(channel_id)
    copy = channel.with_(id=new_id, device=new_device, tag=free_tag(job, f"{channel.tag}-copy"))
    at = job.channels.index(channel) + 1
    devices = (*job.devices, Device(id=new_device, name=channel.name))
    return job.edited(devices=devices, channels=(*job.channels[:at], copy, *job.channels[at:]))


AXES = ("X", "Y", "Z")


def add_axis(job: Job, channel_id: str, new_id: str) -> Job:
    """The job with another axis of a channel's device: described alike, with a tag and readings of its own.

    Raises: NotApplicable for a channel without a curve, or once the device has all its axes.
    """
    channel = job.continuous(channel_id)
    mates = [one for one in job.channels if isinstance(one, ContinuousChannel) and one.device == channel.device]
    first = channel if channel.axis else channel.with_(axis=AXES[0])
    taken = {one.axis for one in mates} | {first.axis}
    free = next((axis for axis in AXES if axis not in taken), None)
    if free is None:
        raise NotApplicable(f"The device of {channel.tag} has its {len(AXES)} axes already.")
    job = job if first is channel else change_channel(job, first)
    tag = free_tag(job, f"{channel.tag.removesuffix(f'-{first.axis}')}-{free}")
    copy = first.with_(id=new_id, tag=tag, axis=free, landing=None)
    at = [one.id for one in job.channels].index(channel_id) + 1
    return job.edited(channels=(*job.channels[:at], copy, *job.channels[at:]))


def axes_of(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """The axes of a channel's device, its own first; empty for a device with one channel."""
    mates = [
        one.axis for one in job.channels
        if isinstance(one, ContinuousChannel) and one.device == channel.device and one.id != channel.id and one.axis
    ]  # fmt: skip
    return (channel.axis, *mates) if channel.axis and mates else ()


def move_channel(job: Job, channel_id: str, places: int) -> Job:
    """The job with a channel moved down by so many places (up if below 0), as far as there is room."""
    rows = list(job.channels)
    channel = job.channel(channel_id)
    at = rows.index(channel)
    rows.pop(at)
    rows.insert(min(max(at + places, 0), len(rows)), channel)
    return job.edited(channels=tuple(rows))


def remove_channel(job: Job, channel_id: str) -> Job:
    """The job without a channel; one that something happened to is set aside, and can be brought back."""
    channel = job.channel(channel_id)
    rest = tuple(one for one in job.channels if one.id != channel_id)
    if job.journal.of(channel_id).is_empty:
        return job.edited(channels=rest)
    return job.edited(channels=rest, set_aside=(*job.document.set_aside, channel))


def bring_back(job: Job, channel_id: str) -> Job:
    """The job with a channel that was set aside at its end again; its tag gets a number if it is taken by now.

    Raises: NoSuchThing.
    """
    channel = next((one for one in job.document.set_aside if one.id == channel_id), None)
    if channel is None:
        raise NoSuchThing(f"No channel with the id {channel_id} was set aside.")
    rest = tuple(one for one in job.document.set_aside if one.id != channel_id)
    back = channel.with_(tag=free_tag(job, channel.tag))
    return job.edited(set_aside=rest, channels=(*job.channels, back))


def change_channel(job: Job, channel: AnyChannel) -> Job:
    """The job with a channel's record replaced by one of the same id.

    Raises: UnitMismatch if readings in use are of something that the channel would no longer measure.
    """
    job.channel(channel.id)
    if isinstance(channel, ContinuousChannel):
        _refuse_orphans(job, channel)
    return job.edited(channels=tuple(channel if old.id == channel.id else old for old in job.channels))


def _refuse_orphans(job: Job, channel: ContinuousChannel) -> None:
    rows = [*job.amended(channel.id, "gather"), *job.amended(channel.id, "prove")]
    used = [row.reading for row in rows if row.is_used]
    alike: dict[tuple[str, Met | None, Conditions], list[Reading]] = {}
    for one in used:
        alike.setdefault((one.reference_unit, one.raw.met if one.raw else None, one.conditions), []).append(one)
    for (unit, met, conditions), readings in alike.items():
        try:
            channel.in_unit([one.reference for one in readings], unit)
            if met is not None:
                means = [one.raw.mean for one in readings if one.raw is not None]
                true_pin(channel.path, np.array(means), met, channel.surrounded(conditions))
        except UnitMismatch as error:
            raise UnitMismatch(
                f"{channel.tag} has readings that this would make meaningless: {error} "
                "Exclude them first, or add another channel.",
                found=error.found,
                expected=error.expected,
            ) from error


def new_continuous(channel_id: str, device: str, tag: str) -> ContinuousChannel:
    """A channel to start from: a voltage from 0 to 5 V of which nothing else is known."""
    transducer = Transducer(quantity="gauge pressure", unit="kPa", range_low=0, range_high=100)
    return ContinuousChannel(id=channel_id, device=device, tag=tag, unit="kPa", transducer=transducer)


def new_constant(channel_id: str, device: str, tag: str) -> ConstantChannel:
    """A constant to start from."""
    return ConstantChannel(id=channel_id, device=device, tag=tag)


def new_two_state(channel_id: str, device: str, tag: str) -> TwoStateChannel:
    """A contact to start from: 0 V closed, 5 V open."""
    return TwoStateChannel(id=channel_id, device=device, tag=tag, dead_band=0.5)


def new_output(channel_id: str, device: str, tag: str) -> OutputChannel:
    """An output to start from: 0 to 100 % as 4 to 20 mA."""
    return OutputChannel(id=channel_id, device=device, tag=tag, unit="%")
