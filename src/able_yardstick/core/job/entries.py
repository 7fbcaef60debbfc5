"""What happened, entered into the job: readings, amendments, looks and writes. Times come from the caller."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from ..document.channel import ContinuousChannel
from ..document.reference import Reference
from ..journal.reading import Amendment, Reading
from ..journal.records import SignedRecord, WakeRecord, WriteRecord, WrittenState
from ..words.errors import NotApplicable
from .job import Job


def capture(job: Job, readings: Sequence[Reading], reference: Reference | None = None) -> Job:
    """The job with readings added, and the instrument they were read off if the job has not known it."""
    entered = job.entered(readings=readings)
    if reference is None or reference.id in {known.id for known in job.references}:
        return entered
    return entered.with_(references=(*job.references, reference))


def amend(job: Job, amendments: Sequence[Amendment]) -> Job:
    """The job with changes set beside readings."""
    return job.entered(amendments=amendments)


def exclude(job: Job, readings: Sequence[str], reason: str, made: datetime) -> Job:
    """The job with readings left out for a reason."""
    return amend(job, [Amendment(reading=one, made=made, kind="exclude", reason=reason) for one in readings])


def include(job: Job, readings: Sequence[str], made: datetime) -> Job:
    """The job with readings taken back in."""
    return amend(job, [Amendment(reading=one, made=made, kind="include") for one in readings])


def correct(job: Job, reading: str, made: datetime, **figures: Any) -> Job:
    """The job with some of a reading's figures corrected beside it."""
    return amend(job, [Amendment(reading=reading, made=made, kind="correct", **figures)])


def keep_look(job: Job, record: WakeRecord) -> Job:
    """The job with what was found of a channel's raw signal."""
    return job.entered(looks=[record])


def keep_signature(job: Job, record: SignedRecord) -> Job:
    """The job with a record that was signed of a channel, or signed once more."""
    return job.entered(signatures=[record])


def keep_write(job: Job, record: WriteRecord) -> Job:
    """The job with what was written into a controller, and what those numbers came of."""
    channel = job.document.by_id.get(record.channel)
    if record.state is None and isinstance(channel, ContinuousChannel):
        record = record.with_(state=written_state(job, channel))
    return job.entered(writes=[record])


def written_state(job: Job, channel: ContinuousChannel) -> WrittenState:
    """What the numbers that would be written now come of."""
    pack = job.pack_of(channel.id)
    kept = {} if pack is None else {"form": pack.form, "unit": pack.unit}
    return WrittenState(channel=channel, fit=job.fit_of(channel.id), **kept)


def finish_write(job: Job, channel_id: str, differences: tuple[str, ...]) -> Job:
    """The job with a write ended that was begun: what was read back differs so from what was meant."""
    return job.entered(writes=[_last_write(job, channel_id).with_(differences=differences, finished=True)])


def tick_off(job: Job, channel_id: str, thing: str, done: bool) -> Job:
    """The job with one of the things that must follow a write ticked off, or not. Raises: NotApplicable."""
    record = _last_write(job, channel_id)
    others = tuple(one for one in record.done if one != thing)
    return job.entered(writes=[record.with_(done=(*others, thing) if done else others)])


def _last_write(job: Job, channel_id: str) -> WriteRecord:
    record = job.write_of(channel_id)
    if record is None:
        raise NotApplicable("Nothing was written yet.")
    return record
