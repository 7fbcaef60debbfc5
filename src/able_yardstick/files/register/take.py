"""Records taken into the register: each once, whole, and never changed."""

import json
import re
import zlib
from collections.abc import Iterator, Mapping
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any, NamedTuple

from sqlalchemy import Connection, Table, exists, insert, select, update

from ...core.document.channel import ContinuousChannel, SignableChannel
from ...core.job.job import Job
from ...core.sign.kinds.registry import kind_of_record
from ...core.sign.kinds.signed_kind import RecordData
from ...core.words.errors import BadTable
from ..records.printed import read_held
from ..records.signed import read_record, verified
from .schema import CERTIFICATES, INSTRUMENTS, RECORDS, UNITS, USES, WORDS
from .store import Register

_LONGEST_WORD = 64


class TakenRecord(NamedTuple):
    """What became of a file: its record's hash, and whether it was new to the register."""

    sha256: str
    is_new: bool


def take_file(register: Register, path: Path) -> TakenRecord:
    """Take the record of a file, JSON or PDF. Raises: BadTable for one that is not whole, RegisterAway."""
    return take_record(register, read_held(path).record)


def is_known(path: Path, known: Mapping[str, int]) -> bool:
    """Whether a file's record is known by its hash with as many signatures. Raises: BadTable for no record."""
    sealed = read_record(path)
    return known.get(sealed["sha256"], -1) >= len(sealed["signatures"])


def take_record(register: Register, sealed: dict[str, Any]) -> TakenRecord:
    """Take a sealed record; one that is there already is left, but for a signature that was added to it since.

    Raises: BadTable for one that is not whole, RegisterAway.
    """
    found = verified(sealed)
    if not found.is_whole:
        why = found.changes[0] if found.changes else "it is not signed"
        raise BadTable(f"This record is not whole, and is not taken: {why}.")
    try:
        with register.transaction() as connection:
            return put_into(connection, sealed)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise BadTable(f"This record lacks something that every record has, and is not taken: {error}.") from error


def put_into(connection: Connection, sealed: dict[str, Any]) -> TakenRecord:
    """Take a record that is whole, within a transaction."""
    sha256, record = sealed["sha256"], sealed["record"]
    body = packed(sealed)
    signatures = len(sealed["signatures"])
    kept = connection.execute(select(RECORDS.c.signatures).where(RECORDS.c.sha256 == sha256)).scalar()
    if kept is not None:
        if kept < signatures:
            more = {"body": body, "signatures": signatures}
            connection.execute(update(RECORDS).where(RECORDS.c.sha256 == sha256).values(**more))
        return TakenRecord(sha256, is_new=False)
    key = unit_key(record)
    put_new(connection, UNITS, {"key": key}, _unit_row(record))
    row = {**_record_row(record), "sha256": sha256, "unit": key, "body": body, "signatures": signatures}
    if not put_new(connection, RECORDS, {"sha256": sha256}, row):
        return TakenRecord(sha256, is_new=False)  # another bench was quicker
    later = exists().where(RECORDS.c.unit == key, RECORDS.c.signed > row["signed"])
    connection.execute(update(UNITS).where(UNITS.c.key == key, ~later).values(**_unit_row(record)))
    words = sorted(words_of(record))
    connection.execute(insert(WORDS), [{"word": word, "record": sha256} for word in words])
    for reference in record["references"]:
        _take_reference(connection, sha256, reference)
    return TakenRecord(sha256, is_new=True)


def packed(sealed: dict[str, Any]) -> bytes:
    """A sealed record as the register keeps it."""
    return zlib.compress(json.dumps(sealed, ensure_ascii=False).encode())


def unpacked(body: bytes) -> dict[str, Any]:
    """A sealed record out of what the register keeps."""
    found: dict[str, Any] = json.loads(zlib.decompress(body))
    return found


def put_new(connection: Connection, table: Table, key: dict[str, Any], row: dict[str, Any]) -> bool:
    """Put a row in unless its key is there; whether it was put. Two benches at once put it once."""
    if connection.dialect.name == "postgresql":
        from sqlalchemy.dialects.postgresql import insert as insert_new
    else:
        from sqlalchemy.dialects.sqlite import insert as insert_new  # type: ignore[assignment]
    asked = insert_new(table).values(**key | row).on_conflict_do_nothing().returning(table.c[next(iter(key))])
    return connection.execute(asked).first() is not None


def unit_key(record: RecordData) -> str:
    """What names a unit everywhere: its plate with the channel's place in it; without a serial, its job's own id."""
    unit, channel = record.get("unit") or {}, record["channel"]
    axis = channel.get("axis") or ""
    if unit.get("serial"):
        parts = (unit.get("maker", ""), unit.get("model", ""), unit["serial"], axis)
    else:
        parts = ("job", record["job"]["id"], channel["id"], axis)
    return " / ".join(part.strip() for part in parts if part.strip())[:200]


def key_of_channel(job: Job, channel: SignableChannel) -> str:
    """What will name the unit of a channel once it is signed."""
    device = job.document.device_by_id.get(channel.device)
    return unit_key({
        "unit": None if device is None else device.model_dump(mode="json"),
        "channel": {"id": channel.id, "axis": channel.axis if isinstance(channel, ContinuousChannel) else ""},
        "job": {"id": job.id},
    })  # fmt: skip


def _unit_row(record: RecordData) -> dict[str, Any]:
    unit, channel = record.get("unit") or {}, record["channel"]
    return {
        "maker": unit.get("maker", ""), "model": unit.get("model", ""), "serial": unit.get("serial", ""),
        "name": channel["name"], "tag": channel["tag"], "place": record["job"]["title"],
        "quantity": kind_of_record(record).quantity(channel),
    }  # fmt: skip


def _record_row(record: RecordData) -> dict[str, Any]:
    return {
        "tag": record["channel"]["tag"], "job": record["job"]["id"], "title": record["job"]["title"],
        "signed": datetime.fromisoformat(record["signed"]).astimezone(UTC), "person": record["by"]["name"],
        "number": record["number"], "found": outcome(record, "as found"), "left": outcome(record, "proof"),
        "previous": record["previous"], "corrects": record["corrects"],
    }  # fmt: skip


def outcome(record: RecordData, part: str) -> str:
    """Pass, fail, or not known: of the checks as left (“proof”) or as found."""
    found = record.get(part) or {}
    return "not known" if "passed" not in found else "pass" if found["passed"] else "fail"


def words_of(record: RecordData) -> set[str]:
    """What a record is found by: tag, name, plate, place, people, day and outcome, in small letters."""
    unit, channel = record.get("unit") or {}, record["channel"]
    left, found = outcome(record, "proof"), outcome(record, "as found")
    texts = (
        channel["tag"], channel["name"], unit.get("serial", ""), unit.get("model", ""), unit.get("maker", ""),
        record["job"]["title"], record["by"]["name"], record["signed"][:10], left, "found-" + found, "left-" + left,
    )  # fmt: skip
    return {word for text in texts for word in split_words(text)}


def split_words(text: str) -> Iterator[str]:
    """The words of a text, in small letters; what is joined by a stroke is one word, and its parts are too."""
    for word in re.split(r"[\s,;/·]+", text.casefold()):
        parts = [word, *re.split(r"[-.:]", word)] if re.search(r"[-.:]", word) else [word]
        yield from (part[:_LONGEST_WORD] for part in parts if part)


def _take_reference(connection: Connection, sha256: str, reference: RecordData) -> None:
    key = instrument_key(reference)
    certificate = str(reference["certificate"] or "not stated")[:200]
    put_instrument(connection, reference)
    put_certificate(connection, key, reference)
    put_new(connection, USES, {"record": sha256, "instrument": key, "certificate": certificate}, {})


def put_instrument(connection: Connection, reference: RecordData) -> None:
    """Keep an instrument, unless it is known."""
    row = {"name": reference["name"], "serial": reference["serial"]}
    put_new(connection, INSTRUMENTS, {"key": instrument_key(reference)}, row)


def instrument_key(reference: RecordData) -> str:
    """What names a reference instrument everywhere: its serial, or its id where it has none."""
    return str(reference["serial"] or reference["id"])[:200]


def put_certificate(connection: Connection, key: str, reference: RecordData) -> None:
    """Keep a certificate of an instrument, unless it is known."""
    certificate = str(reference["certificate"] or "not stated")[:200]
    row = {
        "calibrated": _day(reference.get("calibrated")), "due": _day(reference.get("due")),
        "expanded": reference.get("expanded_uncertainty"), "unit": reference.get("unit") or "",
        "body": json.dumps(reference, ensure_ascii=False),
    }  # fmt: skip
    put_new(connection, CERTIFICATES, {"instrument": key, "certificate": certificate}, row)


def _day(text: object) -> date | None:
    return date.fromisoformat(str(text)[:10]) if text else None
