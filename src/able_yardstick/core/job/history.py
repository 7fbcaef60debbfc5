"""What undo and redo go to: the document of another time, with the journal as it is.

Amendments are in the journal and only ever added: one is taken back by another that brings the reading back to how it
stood.
"""

from collections.abc import Sequence
from datetime import datetime

from ..document.channel import AnyChannel
from ..document.reference import Reference
from ..journal.reading import Amended, Amendment
from .job import Job


def restored(now: Job, there: Job, readings: Sequence[str], made: datetime) -> Job:
    """The job with the document of another time, and these readings as they stood then.

    A channel that something happened to is set aside rather than gone; an instrument that was read stays listed.
    """
    document = there.document.with_(
        set_aside=(*there.document.set_aside, *_with_a_past(now, there)),
        references=(*there.references, *_read_since(now, there)),
    )
    amendments = [one for reading in readings for one in _back(now, there, reading, made)]
    return now.edited(document=document, journal=now.journal.with_more(amendments=amendments))


def _with_a_past(now: Job, there: Job) -> list[AnyChannel]:
    known = {channel.id for channel in (*there.channels, *there.document.set_aside)}
    every = (*now.channels, *now.document.set_aside)
    return [one for one in every if one.id not in known and not now.journal.of(one.id).is_empty]


def _read_since(now: Job, there: Job) -> list[Reference]:
    known = {reference.id for reference in there.references}
    missing = [reference for reference in now.references if reference.id not in known]
    read = {reading.reference_id for reading in now.readings} if missing else set()
    return [reference for reference in missing if reference.id in read]


def _back(now: Job, there: Job, reading_id: str, made: datetime) -> list[Amendment]:
    """The amendments that bring a reading from how it stands now to how it stood."""
    is_now, was = _standing(now, reading_id), _standing(there, reading_id)
    if is_now is None or was is None:
        return []
    found = []
    if is_now.excluded != was.excluded:
        kind = "exclude" if was.excluded else "include"
        found.append(
            Amendment.model_validate({"reading": reading_id, "made": made, "kind": kind, "reason": was.excluded})
        )
    if is_now.reading != was.reading:
        raw = was.reading.raw
        found.append(
            Amendment(
                reading=reading_id,
                made=made,
                kind="correct",
                reference=was.reading.reference,
                raw_mean=None if raw is None else raw.mean,
                shown=was.reading.shown,
                direction=was.reading.direction,
            )
        )
    return found


def _standing(job: Job, reading_id: str) -> Amended | None:
    reading = next((one for one in job.readings if one.id == reading_id), None)
    if reading is None:
        return None
    rows = job.amended(reading.channel, reading.purpose)
    return next(row for row in rows if row.reading.id == reading_id)
