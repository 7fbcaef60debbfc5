"""Readings that name no instrument, and the instrument that they were read off, named afterwards."""

from datetime import datetime

from ..document.channel import ContinuousChannel
from ..document.reference import Reference
from ..job.entries import amend
from ..job.job import Job
from ..journal.reading import Amended, Amendment, NamedReference, Purpose
from ..words.errors import NotApplicable
from .gathering import referenced


def nameless(job: Job, channel_id: str, purpose: Purpose) -> list[Amended]:
    """The readings in use that were measured, and name no instrument that they were read off."""
    rows = job.amended(channel_id, purpose)
    return [
        row for row in rows if row.is_used and row.reading.reference_id is None and row.reading.origin == "measured"
    ]


def name_reference(
    job: Job, channel: ContinuousChannel, purpose: Purpose, instrument: Reference, made: datetime
) -> Job:
    """The job with an instrument named for all readings that name none: its corrections and its uncertainty follow.

    Raises: NotApplicable where none is nameless, UnitMismatch where the instrument measures something else.
    """
    rows = nameless(job, channel.id, purpose)
    if not rows:
        raise NotApplicable(f"Every reading of {channel.tag} names its reference, or is assumed.")
    return amend(job, [_named(channel, row, instrument, made) for row in rows])


def _named(channel: ContinuousChannel, row: Amended, instrument: Reference, made: datetime) -> Amendment:
    reading = row.reading
    unit = reading.reference_unit or channel.unit
    said = referenced(channel, reading.reference, unit, instrument, reading.captured.date())
    named = NamedReference(
        instrument=instrument.id, value=said.value, unit=said.unit, read=said.read, standard=said.standard,
        note=said.note,
    )  # fmt: skip
    return Amendment(reading=reading.id, made=made, kind="correct", named=named)
