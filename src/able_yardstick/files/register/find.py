"""What is asked of the register: found as it is typed, a unit's visits, what is due, what rests on an instrument."""

import json
from collections.abc import Sequence
from datetime import UTC, date, datetime
from typing import Any, NamedTuple

from sqlalchemy import ColumnElement, Connection, and_, exists, func, or_, select

from ...core.sign.chain import LastRecord
from ...core.words.errors import NoSuchThing
from .schema import CERTIFICATES, DUES, INSTRUMENTS, RECORDS, UNITS, USES, WORDS
from .store import Register
from .take import split_words, unpacked

_MOST = 50
_FEW = 2000  # records with a word: so few are sorted, of more the newest are looked through
_LAST = "\U0010ffff"


class FoundRecord(NamedTuple):
    """A record as a line of what was found."""

    sha256: str
    unit: str
    tag: str
    serial: str
    name: str
    place: str
    person: str
    signed: datetime
    number: int
    found: str
    left: str


_LINE = (
    RECORDS.c.sha256, RECORDS.c.unit, RECORDS.c.tag, UNITS.c.serial, UNITS.c.name, RECORDS.c.title, RECORDS.c.person,
    RECORDS.c.signed, RECORDS.c.number, RECORDS.c.found, RECORDS.c["left"],
)  # fmt: skip


def find(register: Register, typed: str, most: int = _MOST) -> list[FoundRecord]:
    """The newest records that have every word typed, or begin of one. Raises: RegisterAway."""
    words = sorted(set(split_words(typed)), key=len, reverse=True)
    with register.transaction() as connection:
        conditions = _conditions(connection, words)
        joined = RECORDS.join(UNITS, UNITS.c.key == RECORDS.c.unit)
        asked = select(*_LINE).select_from(joined).where(*conditions)
        rows = connection.execute(asked.order_by(RECORDS.c.signed.desc(), RECORDS.c.sha256).limit(most)).all()
    return [_line(tuple(row)) for row in rows]


def _conditions(connection: Connection, words: Sequence[str]) -> list[ColumnElement[bool]]:
    """A condition a word: the rarest gives the records, each other one is looked up in those."""
    counted = sorted((_count(connection, word), word) for word in words)
    found: list[ColumnElement[bool]] = []
    for place, (count, word) in enumerate(counted):
        if place == 0 and count <= _FEW:
            found.append(RECORDS.c.sha256.in_(select(WORDS.c.record).where(_begins(word))))
        else:
            found.append(exists().where(and_(WORDS.c.record == RECORDS.c.sha256, _begins(word))))
    return found


def _begins(word: str) -> ColumnElement[bool]:
    return and_(WORDS.c.word >= word, WORDS.c.word < word + _LAST)


def _count(connection: Connection, word: str) -> int:
    """How many rows begin so, counted no further than a few."""
    few = select(WORDS.c.record).where(_begins(word)).limit(_FEW + 1).subquery()
    return int(connection.execute(select(func.count()).select_from(few)).scalar() or 0)


def _line(row: Sequence[Any]) -> FoundRecord:
    made = FoundRecord(*row)
    signed = made.signed if made.signed.tzinfo else made.signed.replace(tzinfo=UTC)
    return made._replace(signed=signed)


def unit_named(register: Register, name: str) -> str:
    """The key of the unit with a serial, tag or key. Raises: NoSuchThing where none or several have it."""
    with register.transaction() as connection:
        tagged = select(RECORDS.c.unit).where(func.lower(RECORDS.c.tag) == name.lower())
        asked = select(UNITS.c.key).where(
            (UNITS.c.key == name) | (func.lower(UNITS.c.serial) == name.lower()) | UNITS.c.key.in_(tagged)
        )
        keys = [row[0] for row in connection.execute(asked.limit(5))]
    if len(keys) != 1:
        found = "none" if not keys else f"several: {'; '.join(keys)}"
        raise NoSuchThing(f"Expected one unit of serial or tag {name} in the register, found {found}.")
    return str(keys[0])


def history(register: Register, unit: str) -> list[dict[str, Any]]:
    """The sealed records of a unit by its key, the first first. Raises: RegisterAway."""
    with register.transaction() as connection:
        asked = select(RECORDS.c.body).where(RECORDS.c.unit == unit).order_by(RECORDS.c.signed, RECORDS.c.number)
        return [unpacked(row[0]) for row in connection.execute(asked)]


def all_hashes(register: Register) -> dict[str, int]:
    """The hashes of all records, and how many signatures each has. Raises: RegisterAway."""
    with register.transaction() as connection:
        rows = connection.execute(select(RECORDS.c.sha256, RECORDS.c.signatures))
        return {str(sha256): int(count) for sha256, count in rows}


def unit_of_record(register: Register, sha256: str) -> str:
    """The key of the unit that a record is of. Raises: NoSuchThing, RegisterAway."""
    with register.transaction() as connection:
        key = connection.execute(select(RECORDS.c.unit).where(RECORDS.c.sha256 == sha256)).scalar()
    if key is None:
        raise NoSuchThing(f"No record {sha256[:8]} is in the register.")
    return str(key)


def instruments(register: Register) -> list[tuple[str, str]]:
    """The keys and names of the reference instruments, those that most rests on first. Raises: RegisterAway."""
    uses = select(func.count()).select_from(USES).where(USES.c.instrument == INSTRUMENTS.c.key).scalar_subquery()
    asked = select(INSTRUMENTS.c.key, INSTRUMENTS.c.name).order_by(uses.desc(), INSTRUMENTS.c.name)
    with register.transaction() as connection:
        rows = connection.execute(asked).all()
    return [(str(key), f"{name}, {key}" if key not in name else name) for key, name in rows]


class FoundUnit(NamedTuple):
    """A unit of which no record is signed yet, as a line of what was found."""

    unit: str
    tag: str
    serial: str
    name: str
    place: str


def find_unsigned(register: Register, typed: str, most: int = _MOST) -> list[FoundUnit]:
    """The units without a record that have every word in tag, serial, name or place. Raises: RegisterAway."""
    parts = (UNITS.c.tag, UNITS.c.serial, UNITS.c.name, UNITS.c.place)
    words = typed.lower().split()
    has_word = [or_(*(func.lower(part).contains(word, autoescape=True) for part in parts)) for word in words]
    none = ~exists().where(RECORDS.c.unit == UNITS.c.key)
    asked = select(UNITS.c.key, *parts).where(none, *has_word).order_by(UNITS.c.tag, UNITS.c.key).limit(most)
    with register.transaction() as connection:
        return [FoundUnit(*tuple(row)) for row in connection.execute(asked)]


def last_record(register: Register, unit: str) -> LastRecord:
    """The last record of a unit by its key. Raises: RegisterAway."""
    asked = select(RECORDS.c.sha256, RECORDS.c.number).where(RECORDS.c.unit == unit)
    with register.transaction() as connection:
        row = connection.execute(asked.order_by(RECORDS.c.signed.desc(), RECORDS.c.number.desc()).limit(1)).first()
    return LastRecord() if row is None else LastRecord(str(row[0]), int(row[1]))


class DueUnit(NamedTuple):
    """When a unit is due, by which rule, and how it stands by a day."""

    unit: str
    tag: str
    serial: str
    name: str
    place: str
    due: date
    months: int
    rule: str
    reason: str
    in_use: bool

    def state(self, on: date, soon_days: int = 30) -> str:
        """Overdue, in use though overdue, due soon, or later."""
        left = (self.due - on).days
        if left < 0:
            return "in use though overdue" if self.in_use else "overdue"
        return "due soon" if left <= soon_days else "later"


def due_units(register: Register, until: date | None = None) -> list[DueUnit]:
    """The units that are due, the earliest first; those of later than a day are left out. Raises: RegisterAway."""
    columns = (
        UNITS.c.key, UNITS.c.tag, UNITS.c.serial, UNITS.c.name, UNITS.c.place, DUES.c.due, DUES.c.months,
        DUES.c.rule, DUES.c.reason, DUES.c.in_use,
    )  # fmt: skip
    asked = select(*columns).select_from(DUES.join(UNITS, UNITS.c.key == DUES.c.unit)).order_by(DUES.c.due, UNITS.c.key)
    if until is not None:
        asked = asked.where(DUES.c.due <= until)
    with register.transaction() as connection:
        return [DueUnit(*tuple(row)) for row in connection.execute(asked)]


class Resting(NamedTuple):
    """A record that rests on an instrument, with the certificate it was then known by."""

    record: dict[str, Any]
    certificate: str


def instrument_named(register: Register, name: str) -> str:
    """The key of the instrument with a serial or id, or with a name that has this in it. Raises: NoSuchThing."""
    with register.transaction() as connection:
        named = (INSTRUMENTS.c.key == name) | (func.lower(INSTRUMENTS.c.name).contains(name.lower()))
        keys = [str(row[0]) for row in connection.execute(select(INSTRUMENTS.c.key).where(named))]
        known = [row[0] for row in connection.execute(select(INSTRUMENTS.c.name).limit(20))]
    if name in keys:
        return name
    if len(keys) != 1:
        raise NoSuchThing(f"Expected one instrument named {name}, known are: {', '.join(known) or 'none'}.")
    return keys[0]


def resting_on(register: Register, instrument: str, since: datetime) -> list[Resting]:
    """The records signed since a moment that rest on an instrument, by its key. Raises: RegisterAway."""
    joined = USES.join(RECORDS, RECORDS.c.sha256 == USES.c.record)
    asked = select(RECORDS.c.body, USES.c.certificate).select_from(joined)
    asked = asked.where(USES.c.instrument == instrument, RECORDS.c.signed >= since).order_by(RECORDS.c.signed)
    with register.transaction() as connection:
        return [Resting(unpacked(body), certificate) for body, certificate in connection.execute(asked)]


def certificates_of(register: Register, instrument: str) -> list[dict[str, Any]]:
    """All that is known of an instrument's certificates, by its key, as they were stated. Raises: RegisterAway."""
    with register.transaction() as connection:
        asked = select(CERTIFICATES.c.body).where(CERTIFICATES.c.instrument == instrument)
        return [json.loads(row[0]) for row in connection.execute(asked.order_by(CERTIFICATES.c.calibrated))]
