"""What a record holds: everything that is needed to check a calibration without the program."""

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any, Literal, NamedTuple

import numpy as np

from ..curves import Curve
from ..document.channel import ContinuousChannel
from ..document.reference import Reference
from ..fit.budget import fit_budget
from ..fit.inputs import fit_inputs
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..journal.reading import Amended
from ..lookout.certain import certainty_of
from ..prove.checks import as_found, proof_of
from ..words.errors import NotApplicable, YardstickError
from .open_points import OpenPoint, open_points
from .rule_read import rule_read
from .sheet import SHEET_VERSION

FORMAT, VERSION = "able-yardstick-record", 1
RecordScope = Literal["this unit", "every unit of the type"]
_STOPS = 11  # places along the range at which U is told


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


def contents_of(job: Job, channel: ContinuousChannel, signing: Signing, program: str) -> dict[str, Any]:
    """All of a record as plain JSON data.

    Raises: NotApplicable where something is open and nothing says why it is accepted, or where what was measured on one
    unit would be signed for the type.
    """
    points = open_points(job, channel, signing.at.date())
    _refuse_points(channel, points, signing.accepted)
    _refuse_scope(job, channel, signing)
    return draft_of(job, channel, signing, program)


def draft_of(job: Job, channel: ContinuousChannel, signing: Signing, program: str) -> dict[str, Any]:
    """What a record would hold now, whatever is open: to be looked at, not to be signed."""
    points = open_points(job, channel, signing.at.date())
    device = next((one for one in job.devices if one.id == channel.device), None)
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
        **{name: part(job, channel) for name, part in _PARTS.items()},
    }  # fmt: skip


def _refuse_points(channel: ContinuousChannel, points: Sequence[OpenPoint], accepted: str) -> None:
    must = next((point for point in points if point.must), None)
    if must is not None:
        raise NotApplicable(f"{channel.tag} cannot be signed yet: {must.says}.")
    if points and not accepted.strip():
        told = "; ".join(point.says for point in points[:3])
        more = f"; and {len(points) - 3} more" if len(points) > 3 else ""
        raise NotApplicable(f"{channel.tag} has open points: {told}{more}. Mend them, or say why they are accepted.")


def _refuse_scope(job: Job, channel: ContinuousChannel, signing: Signing) -> None:
    measured = [row for row in job.amended(channel.id, "gather") if row.is_used and row.reading.origin == "measured"]
    if signing.scope == "every unit of the type" and measured:
        raise NotApplicable(
            f"{channel.tag} was measured on one unit ({len(measured)} readings): its numbers cannot be signed for "
            "every unit of the type. Sign it for this unit."
        )


def _controller(job: Job, channel: ContinuousChannel) -> Any:
    landing = channel.landing
    found = next((one for one in job.controllers if landing is not None and one.id == landing.controller), None)
    return None if found is None else found.model_dump(mode="json")


def _references(job: Job, channel: ContinuousChannel) -> Any:
    used = {reading.reference_id for reading in job.readings if reading.channel == channel.id}
    known: list[Reference] = [one for one in job.references if one.id in used]
    return [one.model_dump(mode="json") for one in known]


def _readings(job: Job, channel: ContinuousChannel) -> Any:
    rows: list[Amended] = [*job.amended(channel.id, "gather"), *job.amended(channel.id, "prove")]
    return [
        {**row.reading.model_dump(mode="json"), "left out because": row.excluded, "was corrected": row.corrected}
        for row in rows
    ]


def _amendments(job: Job, channel: ContinuousChannel) -> Any:
    own = {reading.id for reading in job.readings if reading.channel == channel.id}
    return [one.model_dump(mode="json") for one in job.amendments if one.reading in own]


def _fit(job: Job, channel: ContinuousChannel) -> Any:
    record = job.fit_of(channel.id)
    return None if record is None else record.model_dump(mode="json")


def _uncertainty(job: Job, channel: ContinuousChannel) -> Any:
    """U along the range, and where it is from."""
    known = certainty_of(job, channel)
    if known is None:
        return None
    low, high = sorted(channel.range)
    stops = np.linspace(low, high, _STOPS, dtype=np.float64)
    rows = [{"value": float(x), "expanded": float(u)} for x, u in zip(stops, known.at(stops), strict=True)]
    return {"unit": channel.unit, "coverage": "k = 2", "origin": known.origin, "rows": rows}


def _budget(job: Job, channel: ContinuousChannel) -> Any:
    """What U is made of in the middle of the reach."""
    record = job.fit_of(channel.id)
    if record is None:
        return None
    low, high = record.fitted.curve.domain
    try:
        found = fit_budget(fit_inputs(job, channel), record.fitted, (low + high) / 2)
    except YardstickError:
        return None
    if found is None:
        return None
    rows = [{"name": row.name, "standard": float(row.standard)} for row in found.rows]
    return {
        "signal": (low + high) / 2,
        "rows": rows,
        "expanded": float(found.interval.expanded),
        "remarks": [*found.remarks],
    }


def _packings(job: Job, channel: ContinuousChannel) -> Any:
    return [pack.model_dump(mode="json") for pack in job.journal.of(channel.id).packs]


def _writes(job: Job, channel: ContinuousChannel) -> Any:
    return [one.model_dump(mode="json") for one in job.journal.of(channel.id).writes]


def _proof(job: Job, channel: ContinuousChannel) -> Any:
    try:
        return proof_of(job, channel).model_dump(mode="json")
    except YardstickError as error:
        return {"not proven": str(error)}


def _found(job: Job, channel: ContinuousChannel) -> Any:
    found = as_found(job, channel)
    return None if found is None else found.model_dump(mode="json")


def _allowed(job: Job, channel: ContinuousChannel) -> Any:
    """The error allowed along the range, and where each place lies on the axis of the pin (None: nothing says)."""
    if not channel.tolerance.is_stated:
        return []
    use = curve_in_use(job, channel)
    low, high = sorted(channel.range)
    values = np.linspace(low, high, _STOPS, dtype=np.float64)
    allowed = channel.tolerance.at(values, channel.span)
    pins = [None] * _STOPS if use is None else [_pin_of(use.curve, float(value)) for value in values]
    rows = zip(values, np.broadcast_to(allowed, values.shape), pins, strict=True)
    return [{"value": float(value), "allowed": float(most), "pin": pin} for value, most, pin in rows]


def _pin_of(curve: Curve, value: float) -> float | None:
    """The signal at which a curve has a value; None where none or several have."""
    try:
        found = curve.branches(value)
    except YardstickError:
        return None
    return float(found[0]) if len(found) == 1 else None


def _decision(_job: Job, channel: ContinuousChannel) -> Any:
    return channel.decision.words


def _numbers(job: Job, channel: ContinuousChannel) -> Any:
    """The numbers of the packing in force, as they are typed or loaded."""
    pack = job.pack_of(channel.id)
    if pack is None:
        return None
    cells = pack.form.cells(channel.path.pin_unit, pack.unit)
    return {"form": pack.form.title, "headings": [*cells.headings], "rows": [[*row] for row in cells.rows]}


def _judgements(job: Job, channel: ContinuousChannel) -> Any:
    return [one.model_dump(mode="json") for one in job.journal.of(channel.id).judgements]


def _rehearsals(job: Job, channel: ContinuousChannel) -> Any:
    return [one.model_dump(mode="json") for one in job.journal.of(channel.id).rehearsals]


_PARTS: dict[str, Callable[[Job, ContinuousChannel], Any]] = {
    "controller": _controller,
    "references": _references,
    "readings": _readings,
    "amendments": _amendments,
    "fit": _fit,
    "uncertainty": _uncertainty,
    "budget": _budget,
    "packings": _packings,
    "writes": _writes,
    "proof": _proof,
    "as found": _found,
    "allowed": _allowed,
    "decision": _decision,
    "numbers": _numbers,
    "judgements": _judgements,
    "rehearsals": _rehearsals,
}
