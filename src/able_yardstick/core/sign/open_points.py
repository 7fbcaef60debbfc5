"""What a record would lack: not there, stale, failed, assumed or borrowed; each with the step that mends it."""

from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..job.job import Job
from ..job.precautions import to_restore
from ..prove.checks import proof_of, weaknesses_of
from ..state.progress import StepName, progress_of
from ..words.errors import YardstickError

_BORROWED = {"similar part": "taken from a similar part", "assumed": "assumed"}


class OpenPoint(NamedTuple):
    """One thing to know before signing: in words, and the step where it is mended."""

    says: str
    step: StepName
    must: bool = False  # nothing that is said makes up for it


def open_points(job: Job, channel: ContinuousChannel, on: date) -> tuple[OpenPoint, ...]:
    """All of a channel as of a day, in the steps' order."""
    return (*_loop(job), *_own_points(job, channel, on))


@once_per_slice
def _own_points(job: Job, channel: ContinuousChannel, on: date) -> tuple[OpenPoint, ...]:
    """Those that only what matters to the channel decides."""
    return (
        *_steps(job, channel), *_origins(job, channel), *_weak(job, channel), *_references(job, channel, on),
    )  # fmt: skip


def _loop(job: Job) -> Iterator[OpenPoint]:
    for name in to_restore(job):
        yield OpenPoint(f"Pack: “{name}” was taken and is not put back", "pack", must=True)


def _steps(job: Job, channel: ContinuousChannel) -> Iterator[OpenPoint]:
    for row in progress_of(job, channel):
        if row.step == "sign":
            continue
        if row.state in ("stale", "failed"):
            yield OpenPoint(f"{row.step.capitalize()}: {row.says}", row.step)
        elif row.state in ("empty", "begun") and row.step in ("fit", "pack", "prove"):
            yield OpenPoint(f"{row.step.capitalize()} is not done: {row.says}", row.step)
    try:
        proof = proof_of(job, channel)
    except YardstickError:
        return
    if not proof.passed:
        failed = sum(not check.passed for check in proof.checks)
        yield OpenPoint(f"Prove: {failed} of {len(proof.checks)} checks are not within the tolerance", "prove")


def _origins(job: Job, channel: ContinuousChannel) -> Iterator[OpenPoint]:
    source = channel.transducer.source
    if source in _BORROWED:
        yield OpenPoint(f"Describe: the transducer's figures are {_BORROWED[source]}", "describe")
    record = job.fit_of(channel.id)
    if record is not None and record.assumed:
        yield OpenPoint(f"Fit: {record.assumed}", "fit")
    used = [row.reading for row in job.amended(channel.id, "gather") if row.is_used]
    assumed = sum(one.origin == "assumed" for one in used)
    if assumed:
        yield OpenPoint(f"Gather: {assumed} of {len(used)} readings are assumed", "gather")


def _weak(job: Job, channel: ContinuousChannel) -> Iterator[OpenPoint]:
    for words in weaknesses_of(job, channel):
        yield OpenPoint(f"Prove: {words.rstrip('.')}", "prove")


def _references(job: Job, channel: ContinuousChannel, on: date) -> Iterator[OpenPoint]:
    used = {reading.reference_id for reading in job.readings if reading.channel == channel.id}
    for reference in job.references:
        words = reference.overdue_words(on) if reference.id in used else ""
        if words:
            yield OpenPoint(f"Gather: {words}", "gather")
