"""Signing a channel: its record is written first, whole or not at all, and then known to the job."""

import re
from importlib.metadata import version
from pathlib import Path
from typing import Any, NamedTuple

from ...core.document.channel import SignableChannel
from ...core.job.entries import keep_signature
from ...core.job.job import Job
from ...core.journal.records import SignedRecord
from ...core.results.signed_basis import signatures_of, signed_basis
from ...core.sign.contents import Signing, contents_of
from ...core.words.errors import BadTable, NotApplicable
from ..whole import sweep
from .keys import SigningKey
from .signed import Signer, countersigned, read_record, save_record, sealed, verified

_ENDING = ".record.json"


class Signed(NamedTuple):
    """The job that knows of a record, the record as it was written, and where."""

    job: Job
    record: dict[str, Any]
    path: Path


def records_folder(job_path: Path) -> Path:
    """Where the records of a job are kept: beside it."""
    return job_path.with_name(f"{job_path.name.split('.')[0]} records")


def program() -> str:
    """The program by its version."""
    return f"able-yardstick {version('able-yardstick')}"


def next_in_chain(job: Job, channel: SignableChannel, signing: Signing) -> Signing:
    """A signing that follows the record that it names, else the channel's last one in this job."""
    before = signatures_of(job, channel)
    if signing.previous or not before:
        return signing
    return signing._replace(previous=before[-1].sha256, number=before[-1].number + 1)


def sign_channel(
    job: Job, channel: SignableChannel, signing: Signing, key: SigningKey, folder: Path, path: Path | None = None
) -> Signed:
    """Sign a channel; the record is named by tag, day and hash in a folder unless a path is given.

    Raises: NotApplicable for what may not be signed, BadTable where the record cannot be written, or is there already.
    """
    signing = next_in_chain(job, channel, signing)
    record = sealed(contents_of(job, channel, signing, program()), key, _signer(signing))
    place = path or folder / _name(channel, signing, record["sha256"])
    if place.exists():
        raise BadTable(f"{place} is there already: a record is never written over. Choose another name.")
    if path is None:
        place.parent.mkdir(parents=True, exist_ok=True)
        sweep(place.parent)
    save_record(place, record)
    entry = SignedRecord(
        sha256=record["sha256"], channel=channel.id, made=signing.at, name=signing.name, role=signing.role,
        scope=signing.scope, number=signing.number, file=place.name, asks_approval="approver" in signing.asks,
        corrects=signing.corrects, basis=signed_basis(job, channel),
    )  # fmt: skip
    return Signed(keep_signature(job, entry), record, place)


def last_sealed(job: Job, channel: SignableChannel, job_path: Path) -> dict[str, Any] | None:
    """The channel's last record as it was signed; None without one. Raises: BadTable where its file is gone."""
    signed = signatures_of(job, channel)
    return read_record(records_folder(job_path) / signed[-1].file) if signed else None


def approve(job: Job, channel: SignableChannel, signer: Signer, key: SigningKey, folder: Path) -> Signed:
    """Add a second signature to the channel's last record.

    Raises: NotApplicable where none waits for one, or by whoever signed first; BadTable where its file is not whole.
    """
    signed = signatures_of(job, channel)
    if not signed or signed[-1].is_complete:
        raise NotApplicable(f"No record of {channel.tag} waits for a second signature.")
    last = signed[-1]
    place = folder / last.file
    record = read_record(place)
    found = verified(record)
    if not found.is_whole or found.sha256 != last.sha256:
        raise BadTable(f"{place} is not the record that was signed: it cannot be approved. Run verify on it.")
    if signer.name.strip().casefold() == last.name.strip().casefold() or key.public in {
        one.key for one in found.signatures
    }:
        raise NotApplicable("The second signature is another person's, with a key of their own.")
    made = countersigned(record, key, signer)
    save_record(place, made)
    entry = last.with_(approver=signer.name, approved=signer.at)
    return Signed(keep_signature(job, entry), made, place)


def _signer(signing: Signing) -> Signer:
    return Signer(signing.name, signing.role, signing.at.isoformat())


def _name(channel: SignableChannel, signing: Signing, sha256: str) -> str:
    tag = re.sub(r"[^\w.-]+", "_", channel.tag)
    return f"{tag} {signing.at.date()} {sha256[:8]}{_ENDING}"
