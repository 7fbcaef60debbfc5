"""Fits and proofs of a job that rest on an instrument and stand in no record: what moves with it as well."""

from collections.abc import Iterator
from datetime import datetime

from ..document.channel import SignableChannel
from ..document.reference import Reference
from ..job.job import Job
from ..results.signed_basis import changed_since_signed, signatures_of
from ..sign.contents import resting_parts
from .resting import Corrections, ShiftedRecord, shifted


def unsigned_resting(job: Job, instrument: str, since: datetime, corrections: Corrections) -> tuple[ShiftedRecord, ...]:
    """What rests on an instrument (by serial, or id without one) with readings since a moment, and is not signed so."""
    known = next((one for one in job.references if (one.serial or one.id) == instrument), None)
    if known is None:
        return ()
    return tuple(
        shifted(resting_parts(job, channel), "", instrument, known.certificate or "not stated", corrections)
        for channel in _resting(job, known, since)
    )


def _resting(job: Job, instrument: Reference, since: datetime) -> Iterator[SignableChannel]:
    for channel in job.channels:
        if not isinstance(channel, SignableChannel):
            continue
        rows = (*job.amended(channel.id, "gather"), *job.amended(channel.id, "prove"))
        rests = any(row.reading.reference_id == instrument.id and row.reading.captured >= since for row in rows)
        is_signed = bool(signatures_of(job, channel)) and not changed_since_signed(job, channel)
        if rests and not is_signed:
            yield channel
