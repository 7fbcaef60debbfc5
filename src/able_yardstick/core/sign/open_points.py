"""What a record would lack: not there, stale, failed, assumed or borrowed; each with the step that mends it."""

from collections.abc import Iterator
from datetime import date

from ..document.channel import SignableChannel
from ..document.once import once_per_slice
from ..gather.naming import nameless
from ..job.job import Job
from ..job.precautions import to_restore
from ..journal.reading import Purpose
from ..state.progress import StepName, progress_of
from ..words.numerals import counted
from .kinds.registry import SIGNED_KINDS
from .kinds.signed_kind import OpenPoint

_PURPOSES: tuple[tuple[Purpose, str, StepName], ...] = (
    ("gather", "reading", "gather"), ("prove", "check", "prove"),
)  # fmt: skip


def open_points(job: Job, channel: SignableChannel, on: date) -> tuple[OpenPoint, ...]:
    """All of a channel as of a day, in the steps' order."""
    return (*_loop(job), *_own_points(job, channel, on))


@once_per_slice
def _own_points(job: Job, channel: SignableChannel, on: date) -> tuple[OpenPoint, ...]:
    """Those that only what matters to the channel decides."""
    return (
        *_plate(job, channel), *_steps(job, channel), *SIGNED_KINDS[channel.kind].points(job, channel),
        *_nameless(job, channel), *_references(job, channel, on),
    )  # fmt: skip


def _loop(job: Job) -> Iterator[OpenPoint]:
    for name in to_restore(job):
        yield OpenPoint(f"Pack: “{name}” was taken and is not put back", "pack", must=True)


def _steps(job: Job, channel: SignableChannel) -> Iterator[OpenPoint]:
    for row in progress_of(job, channel):
        if row.step == "sign":
            continue
        if row.state in ("stale", "failed"):
            yield OpenPoint(f"{row.step.capitalize()}: {row.says}", row.step)
        elif row.state in ("empty", "begun") and row.step in ("fit", "pack", "prove"):
            yield OpenPoint(f"{row.step.capitalize()} is not done: {row.says}", row.step)


def _plate(job: Job, channel: SignableChannel) -> Iterator[OpenPoint]:
    """Without a serial number nobody can say which unit a record is of."""
    device = job.document.device_by_id.get(channel.device)
    if device is None or not device.serial:
        yield OpenPoint("Describe: the unit's serial number is not stated", "describe")


def _nameless(job: Job, channel: SignableChannel) -> Iterator[OpenPoint]:
    """Readings and checks that were measured, and name no instrument that they were read off."""
    for purpose, words, step in _PURPOSES:
        used = sum(row.is_used for row in job.amended(channel.id, purpose))
        bare = len(nameless(job, channel.id, purpose))
        if bare:
            yield OpenPoint(f"{step.capitalize()}: {bare} of {counted(used, words)} name no reference", step)


def _references(job: Job, channel: SignableChannel, on: date) -> Iterator[OpenPoint]:
    used = {reading.reference_id for reading in job.readings if reading.channel == channel.id}
    for reference in job.references:
        words = reference.overdue_words(on) if reference.id in used else ""
        if words:
            yield OpenPoint(f"Gather: {words}", "gather")
