"""What a record holds: everything that is needed to check a calibration without the program."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any, Literal, NamedTuple

from ..document.channel import SignableChannel
from ..document.reference import Reference
from ..job.job import Job
from ..journal.reading import Amended
from ..outputs.wiring_list import wiring_of
from ..words.errors import NotApplicable
from .kinds.registry import SIGNED_KINDS
from .kinds.signed_kind import OpenPoint, SignedPart
from .open_points import open_points
from .rule_read import rule_read
from .sheet import SHEET_VERSION

FORMAT, VERSION = "able-yardstick-record", 1
RecordScope = Literal["this unit", "every unit of the type"]


class Signing(NamedTuple):
    """What a person says as they sign: who, in which role, when, for what, and why in spite of what is open.

    `previous` is the hash of the unit's last record, `corrects` that of one that this one corrects, and why.
    """

    name: str
    role: str
    at: datetime
    scope: RecordScope = "this unit"
    accepted: str = ""
    previous: str = ""
    corrects: str = ""
    correction: str = ""
    number: int = 1  # of the unit's records
    read_at: float | None = None  # where the Rule is read, in the pin's unit
    asks: tuple[str, ...] = ()  # the roles that must sign; empty: one signature is enough


def contents_of(job: Job, channel: SignableChannel, signing: Signing, program: str) -> dict[str, Any]:
    """All of a record as plain JSON data.

    Raises: NotApplicable where something is open and nothing says why it is accepted, or where what was measured on one
    unit would be signed for the type.
    """
    points = open_points(job, channel, signing.at.date())
    _refuse_points(channel, points, signing.accepted)
    _refuse_scope(job, channel, signing)
    return draft_of(job, channel, signing, program)


def draft_of(job: Job, channel: SignableChannel, signing: Signing, program: str) -> dict[str, Any]:
    """What a record would hold now, whatever is open: to be looked at, not to be signed."""
    points, kind = open_points(job, channel, signing.at.date()), SIGNED_KINDS[channel.kind]
    device = job.document.device_by_id.get(channel.device)
    return {
        "format": FORMAT, "version": VERSION, "program": program, "sheet": SHEET_VERSION,
        "number": signing.number, "scope": signing.scope, "signed": signing.at.isoformat(),
        "by": {"name": signing.name, "role": signing.role}, "asks": [*signing.asks],
        "job": {"id": job.id, "title": job.title, "revision": job.revision},
        "unit": None if device is None else device.model_dump(mode="json"),
        "channel": channel.model_dump(mode="json"),
        "open points": [point.says for point in points], "accepted because": signing.accepted.strip(),
        "previous": signing.previous, "corrects": signing.corrects, "correction": signing.correction.strip(),
        "rule": rule_read(job, channel, signing.read_at),
        **{name: part(job, channel) for name, part in (*_PARTS.items(), *kind.parts.items())},
    }  # fmt: skip


def resting_parts(job: Job, channel: SignableChannel) -> dict[str, Any]:
    """Of what a record would hold now only what rests on its references: readings, checks and their outcomes."""
    device = job.document.device_by_id.get(channel.device)
    return {
        "signed": "", "unit": None if device is None else device.model_dump(mode="json"),
        "channel": channel.model_dump(mode="json"), "references": _references(job, channel),
        "readings": _readings(job, channel), "proof": SIGNED_KINDS[channel.kind].parts["proof"](job, channel),
    }  # fmt: skip


def _refuse_points(channel: SignableChannel, points: Sequence[OpenPoint], accepted: str) -> None:
    must = next((point for point in points if point.must), None)
    if must is not None:
        raise NotApplicable(f"{channel.tag} cannot be signed yet: {must.says}.")
    if points and not accepted.strip():
        told = "; ".join(point.says for point in points[:3])
        more = f"; and {len(points) - 3} more" if len(points) > 3 else ""
        raise NotApplicable(f"{channel.tag} has open points: {told}{more}. Mend them, or say why they are accepted.")


def _refuse_scope(job: Job, channel: SignableChannel, signing: Signing) -> None:
    measured = [row for row in job.amended(channel.id, "gather") if row.is_used and row.reading.origin == "measured"]
    if signing.scope == "every unit of the type" and measured:
        raise NotApplicable(
            f"{channel.tag} was measured on one unit ({len(measured)} readings): its numbers cannot be signed for "
            "every unit of the type. Sign it for this unit."
        )


def _controller(job: Job, channel: SignableChannel) -> Any:
    landing = channel.landing
    found = next((one for one in job.controllers if landing is not None and one.id == landing.controller), None)
    return None if found is None else found.model_dump(mode="json")


def _wiring(job: Job, channel: SignableChannel) -> Any:
    """Every lead with its terminal in all its names."""
    return [row._asdict() for row in wiring_of(job, channel)]


def _references(job: Job, channel: SignableChannel) -> Any:
    used = {reading.reference_id for reading in job.readings if reading.channel == channel.id}
    known: list[Reference] = [one for one in job.references if one.id in used]
    return [one.model_dump(mode="json") for one in known]


def _readings(job: Job, channel: SignableChannel) -> Any:
    rows: list[Amended] = [*job.amended(channel.id, "gather"), *job.amended(channel.id, "prove")]
    return [
        {**row.reading.model_dump(mode="json"), "left out because": row.excluded, "was corrected": row.corrected}
        for row in rows
    ]


def _amendments(job: Job, channel: SignableChannel) -> Any:
    own = {reading.id for reading in job.readings if reading.channel == channel.id}
    return [one.model_dump(mode="json") for one in job.amendments if one.reading in own]


def _fit(job: Job, channel: SignableChannel) -> Any:
    record = job.fit_of(channel.id)
    return None if record is None else record.model_dump(mode="json")


def _packings(job: Job, channel: SignableChannel) -> Any:
    return [pack.model_dump(mode="json") for pack in job.journal.of(channel.id).packs]


def _writes(job: Job, channel: SignableChannel) -> Any:
    return [one.model_dump(mode="json") for one in job.journal.of(channel.id).writes]


def _judgements(job: Job, channel: SignableChannel) -> Any:
    return [one.model_dump(mode="json") for one in job.journal.of(channel.id).judgements]


def _rehearsals(job: Job, channel: SignableChannel) -> Any:
    return [one.model_dump(mode="json") for one in job.journal.of(channel.id).rehearsals]


# what every record has; the rest is of the channel's kind
_PARTS: dict[str, SignedPart] = {
    "controller": _controller,
    "wiring": _wiring,
    "references": _references,
    "readings": _readings,
    "amendments": _amendments,
    "fit": _fit,
    "packings": _packings,
    "writes": _writes,
    "judgements": _judgements,
    "rehearsals": _rehearsals,
}
