"""Three earlier visits to the kiln's gas pressure transmitter, signed: the script that their records come from."""

import json
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from hashlib import sha256
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from ..core.job.entries import capture
from ..core.job.job import Job
from ..core.journal.reading import Reading
from ..core.results.choices import keep_packing, use_curve
from ..core.sign.contents import Signing, contents_of
from . import demo_text

FOLDER = Path(__file__).parent / "records"
_TAG, _PROGRAM, _SEED = "PT-201", "able-yardstick 0.1.0", 201
_ZERO, _GAIN = 0.2, 0.0045  # kPa a year, and kPa a year for each kPa: how the demo's transmitter drifts
_DAYS_A_YEAR = 365.25


class EarlierVisit(NamedTuple):
    """A visit by its day, the certificate of the reference then, and when that was due."""

    day: date
    certificate: str
    calibrated: date
    due: date


VISITS = (
    EarlierVisit(date(2024, 5, 14), "C-071", date(2024, 4, 22), date(2025, 4, 30)),
    EarlierVisit(date(2025, 1, 21), "C-071", date(2024, 4, 22), date(2025, 4, 30)),
    EarlierVisit(date(2025, 11, 18), "C-096", date(2025, 4, 24), date(2026, 4, 30)),
)


def earlier_records() -> Iterator[tuple[str, dict[str, Any]]]:
    """The records by the names of their files, the first first; each names the one before it."""
    from ..files.records.keys import key_of_seed
    from ..files.records.signed import Signer, sealed

    demo, draw, previous = Job.model_validate_json(demo_text()), np.random.default_rng(_SEED), ""
    key = key_of_seed(sha256(b"the demo's technician").digest())
    for number, visit in enumerate(VISITS, 1):
        before = VISITS[number - 2].day if number > 1 else None
        job, at = _visited(demo, visit, before, draw), _at(visit.day, 12)
        signing = Signing(
            "R. Adeyemi", "technician", at, accepted="a diaphragm shows no hysteresis", previous=previous, number=number
        )
        contents = contents_of(job, job.continuous(job.tagged(_TAG).id), signing, _PROGRAM)
        record = sealed(contents, key, Signer("R. Adeyemi", "technician", at.isoformat()))
        previous = record["sha256"]
        yield f"{_TAG} {visit.day} {previous[:8]}.record.json", record


def _at(day: date, hour: int) -> datetime:
    return datetime(day.year, day.month, day.day, hour, tzinfo=UTC)


def _visited(demo: Job, visit: EarlierVisit, before: date | None, draw: np.random.Generator) -> Job:
    """The demo as it was at a visit: found drifted since the one before, and left right."""
    channel = demo.continuous(demo.tagged(_TAG).id)
    rows = [one for one in demo.readings if one.channel == channel.id]
    gathered = [one for one in rows if one.purpose == "gather"][:6]
    checks = [one for one in rows if one.purpose == "prove"]
    references = tuple(
        one.with_(certificate=visit.certificate, calibrated=visit.calibrated, due=visit.due)
        if one.id == "RP-12"
        else one
        for one in demo.references
    )
    job = demo.with_(
        references=references, readings=(), amendments=(), looks=(), packs=(), writes=(), judgements=(), rehearsals=(),
        title="Quillstone Tileworks, Kiln 2", id=f"kiln-2-{visit.day}", fits=(),
    )  # fmt: skip
    years = 0.0 if before is None else (visit.day - before).days / _DAYS_A_YEAR
    common = float(draw.normal(0, 0.03))
    found = [_found(one, n, visit.day, years, common, draw) for n, one in enumerate(gathered)]
    if before is None:
        found = [one.with_(shown=None) for one in found]
    job = keep_packing(
        use_curve(capture(job, found), channel.id, "line", _at(visit.day, 10)), channel.id, _at(visit.day, 11)
    )
    pack = job.pack_of(channel.id)
    assert pack is not None
    return capture(job, [_left(one, n, visit.day, pack.revision, common, draw) for n, one in enumerate(checks)])


def _found(one: Reading, n: int, day: date, years: float, common: float, draw: np.random.Generator) -> Reading:
    error = years * (_ZERO + _GAIN * one.reference) + common + float(draw.normal(0, 0.02))
    shown = round(one.reference + error, 2)
    return one.with_(captured=_at(day, 9) + timedelta(minutes=4 * n), shown=shown, source="demo script")


def _left(one: Reading, n: int, day: date, basis: str, common: float, draw: np.random.Generator) -> Reading:
    shown = round(one.reference + common + float(draw.normal(0, 0.02)), 2)
    return one.with_(captured=_at(day, 11) + timedelta(minutes=4 * n), shown=shown, basis=basis)


def main() -> None:
    """Write the records beside this script."""
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.glob("*.record.json"):
        old.unlink()
    for name, record in earlier_records():
        FOLDER.joinpath(name).write_text(json.dumps(record, ensure_ascii=False, separators=(",", ":")), "utf-8")


if __name__ == "__main__":
    main()
