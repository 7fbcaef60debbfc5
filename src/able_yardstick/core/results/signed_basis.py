"""What a signed record of a channel went into, part by part, and what of it has changed since."""

from ..document.channel import SignableChannel
from ..document.once import once_per_slice
from ..job.job import Job
from ..journal.records import SignedRecord
from ..words.record import AT_DEFAULT, digest, digests
from .basis import Basis

_PARTS = {
    "device": "the unit",
    "fit": "the curve",
    "readings": "the readings",
    "checks": "the checks",
    "packs": "the numbers kept",
    "writes": "what was written",
    "judgements": "how the checks are judged",
    "rehearsals": "what was rehearsed",
    "references": "a reference instrument",
    "controller": "the controller",
}


def signed_basis(job: Job, channel: SignableChannel) -> Basis:
    """Everything of a channel that goes into its record, by its name."""
    entries, device = job.journal.of(channel.id), job.document.device_by_id.get(channel.device)
    used = {reading.reference_id for reading in entries.rows.readings}
    landing = channel.landing
    parts = {
        "device": device,
        "fit": job.fit_of(channel.id),
        "readings": _readings(job, channel, "gather"),
        "checks": _readings(job, channel, "prove"),
        "packs": entries.packs,
        "writes": entries.writes,
        "judgements": entries.judgements,
        "rehearsals": entries.rehearsals,
        "references": [one for one in job.references if one.id in used],
        "controller": [one for one in job.controllers if landing is not None and one.id == landing.controller],
    }
    return {**digests(channel), **{f"its {name}": digest(part) for name, part in parts.items()}}


def _readings(job: Job, channel: SignableChannel, purpose: str) -> list[object]:
    rows = job.journal.of(channel.id).rows
    own = [one for one in rows.readings if one.purpose == purpose]
    ids = {one.id for one in own}
    return [*own, *(one for one in rows.amendments if one.reading in ids)]


@once_per_slice
def signatures_of(job: Job, channel: SignableChannel) -> tuple[SignedRecord, ...]:
    """The records signed of a channel, in that order; one that was approved since as it is now."""
    found = {one.sha256: one for one in job.journal.of(channel.id).signatures}
    return tuple(found.values())


@once_per_slice
def changed_since_signed(job: Job, channel: SignableChannel) -> tuple[str, ...]:
    """What changed since the last record was signed, in words; empty where nothing did, or none was signed."""
    signed = signatures_of(job, channel)
    if not signed:
        return ()
    basis, now = signed[-1].basis, signed_basis(job, channel)
    fields = [name for name in now if basis.get(name, AT_DEFAULT) != now[name]]
    parts = [_PARTS[name.removeprefix("its ")] for name in fields if name.startswith("its ")]
    own = [] if all(name.startswith("its ") for name in fields) else ["the description or the wiring"]
    return (*own, *parts)
