"""What happened, entered into the job: readings, amendments, looks and writes. Times come from the caller."""

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any

from ..document.reference import Reference
from ..journal.reading import Amendment, Reading
from ..journal.records import WakeRecord, WriteRecord
from ..words.errors import NotApplicable
from .channels import _next
from .job import Job


def capture(job: Job, readings: Sequence[Reading], reference: Reference | None = None) -> Job:
    """The job with readings added: the one change that undo never takes back."""
    references = job.references
    if reference is not None and reference.id not in {known.id for known in references}:
        references = (*references, reference)
    return _next(job, readings=(*job.readings, *readings), references=references)


def amend(job: Job, amendments: Sequence[Amendment]) -> Job:
    """The job with changes set beside readings."""
    return _next(job, amendments=(*job.amendments, *amendments))


def exclude(job: Job, readings: Sequence[str], reason: str, made: datetime) -> Job:
    """The job with readings left out for a reason."""
    return amend(job, [Amendment(reading=one, made=made, kind="exclude", reason=reason) for one in readings])


def include(job: Job, readings: Sequence[str], made: datetime) -> Job:
    """The job with readings taken back in."""
    return amend(job, [Amendment(reading=one, made=made, kind="include") for one in readings])


def correct(job: Job, reading: str, made: datetime, **figures: Any) -> Job:
    """The job with some of a reading's figures corrected beside it."""
    return amend(job, [Amendment(reading=reading, made=made, kind="correct", **figures)])


def keep_wake(job: Job, record: WakeRecord) -> Job:
    """The job with what was found of a channel's raw signal, in place of an earlier look."""
    return _next(job, wakes=(*(old for old in job.wakes if old.channel != record.channel), record))


def keep_write(job: Job, record: WriteRecord) -> Job:
    """The job with what was written into a controller; like a reading it is never undone."""
    return _next(job, writes=(*job.writes, record))


def finish_write(job: Job, channel_id: str, differences: tuple[str, ...]) -> Job:
    """The job with a write ended that was begun: what was read back differs so from what was meant."""
    return _with_last_write(job, channel_id, lambda _record: {"differences": differences, "finished": True})


def tick_off(job: Job, channel_id: str, thing: str, done: bool) -> Job:
    """The job with one of the things that must follow a write ticked off, or not. Raises: NotApplicable."""

    def changes(record: WriteRecord) -> dict[str, object]:
        others = tuple(one for one in record.done if one != thing)
        return {"done": (*others, thing) if done else others}

    return _with_last_write(job, channel_id, changes)


def _with_last_write(job: Job, channel_id: str, changes: Callable[[WriteRecord], dict[str, object]]) -> Job:
    record = job.write_of(channel_id)
    if record is None:
        raise NotApplicable("Nothing was written yet.")
    changed = record.with_(**changes(record))
    return _next(job, writes=tuple(changed if one is record else one for one in job.writes))
