"""What happened, as one record: only ever added to, and never undone."""

from collections import Counter
from collections.abc import Sequence
from functools import cached_property
from typing import Any, ClassVar, NamedTuple, Protocol, Self, TypeVar

from pydantic import model_validator

from ..document.channel import ContinuousChannel
from ..document.chosen import FitRecord
from ..words.record import Frozen, InvalidRecord, added_later
from .reading import Amended, Amendment, Purpose, Reading, amended
from .records import JudgementRecord, PackRecord, RehearsalRecord, SignedRecord, WakeRecord, WriteRecord


class _OfChannel(Protocol):
    @property
    def channel(self) -> str: ...


class Rows(NamedTuple):
    """A channel's readings in the order they were captured, and the amendments beside them."""

    readings: tuple[Reading, ...] = ()
    amendments: tuple[Amendment, ...] = ()

    def amended(self, purpose: Purpose) -> list[Amended]:
        """The readings of a purpose as they stand."""
        changes: dict[str, list[Amendment]] = {}
        for amendment in self.amendments:
            changes.setdefault(amendment.reading, []).append(amendment)
        return [amended(one, changes.get(one.id, ())) for one in self.readings if one.purpose == purpose]


class Entries(NamedTuple):
    """All that happened to one channel: rows, and what else is entered; the latest last."""

    rows: Rows = Rows()
    looks: tuple[WakeRecord, ...] = ()
    packs: tuple[PackRecord, ...] = ()
    writes: tuple[WriteRecord, ...] = ()
    judgements: tuple[JudgementRecord, ...] = ()
    rehearsals: tuple[RehearsalRecord, ...] = ()
    signatures: tuple[SignedRecord, ...] = ()

    @property
    def is_empty(self) -> bool:
        """Whether nothing happened yet."""
        return not (self.rows.readings or any(getattr(self, name) for name in _LISTS))


_LISTS = tuple(name for name in Entries._fields if name != "rows")  # the journal's lists of a channel, by their names
_NOTHING = Entries()
_TWICE = "the reading id {} is used {} times: each must be distinct. Choose another"


class Journal(Frozen):
    """Readings, amendments beside them, looks, packings in force, writes, judgements, rehearsals, signatures.

    A write that goes on (it is read back, a thing is ticked off) is entered again under its id; the latest counts. So
    is a signed record that is approved.
    """

    built_apart: ClassVar[tuple[type[Frozen], ...]] = (ContinuousChannel, FitRecord)
    readings: tuple[Reading, ...] = ()
    amendments: tuple[Amendment, ...] = ()
    looks: tuple[WakeRecord, ...] = ()
    packs: tuple[PackRecord, ...] = ()
    writes: tuple[WriteRecord, ...] = ()
    judgements: tuple[JudgementRecord, ...] = added_later(())
    rehearsals: tuple[RehearsalRecord, ...] = added_later(())
    signatures: tuple[SignedRecord, ...] = added_later(())

    @model_validator(mode="after")
    def _readings_are_distinct(self) -> Self:
        ids = Counter(reading.id for reading in self.readings)
        name, times = ids.most_common(1)[0] if ids else ("", 0)
        if times > 1:
            raise ValueError(_TWICE.format(name, times))
        return self

    def with_more(self, **entries: Sequence[Any]) -> "Journal":
        """The journal with entries added at its end, each list by its name. Raises: InvalidRecord.

        What it held is not looked at again, so that the cost follows what is added.
        """
        added = EMPTY.with_(**{name: tuple(rows) for name, rows in entries.items()})
        known = next((one.id for one in added.readings if one.id in self._channel_of), None)
        if known is not None:
            raise InvalidRecord(_TWICE.format(known, 2))
        grown = Journal.model_construct(
            None, **{name: (*getattr(self, name), *getattr(added, name)) for name in Journal.model_fields}
        )
        grown.__dict__["_channel_of"] = {**self._channel_of, **added._channel_of}
        grown.__dict__["_by_channel"] = self._regrouped(added, grown)
        return grown

    def _regrouped(self, added: "Journal", grown: "Journal") -> dict[str, Entries]:
        """The entries by channel with those of the channels that something was added to made anew."""
        touched = {row.channel for name in ("readings", *_LISTS) for row in getattr(added, name)}
        touched |= {grown._channel_of.get(one.reading, "") for one in added.amendments}
        found = dict(self._by_channel)
        for name in touched:
            old = self.of(name)
            amendments = [one for one in added.amendments if grown._channel_of.get(one.reading, "") == name]
            found[name] = Entries(
                Rows((*old.rows.readings, *_of(added.readings, name)), (*old.rows.amendments, *amendments)),
                **{each: (*getattr(old, each), *_of(getattr(added, each), name)) for each in _LISTS},
            )
        return found

    @cached_property
    def _channel_of(self) -> dict[str, str]:
        """The channel of each reading, by its id."""
        return {reading.id: reading.channel for reading in self.readings}

    @cached_property
    def _by_channel(self) -> dict[str, Entries]:
        readings = _grouped(self.readings)
        lists: dict[str, dict[str, list[Any]]] = {each: _grouped(getattr(self, each)) for each in _LISTS}
        amendments: dict[str, list[Amendment]] = {}
        for one in self.amendments:
            amendments.setdefault(self._channel_of.get(one.reading, ""), []).append(one)
        return {
            name: Entries(
                Rows(tuple(readings.get(name, ())), tuple(amendments.get(name, ()))),
                **{each: tuple(rows.get(name, ())) for each, rows in lists.items()},
            )
            for name in {*readings, *(name for rows in lists.values() for name in rows)}
        }

    def of(self, channel_id: str) -> Entries:
        """All that happened to a channel."""
        return self._by_channel.get(channel_id, _NOTHING)


R = TypeVar("R", bound=_OfChannel)


def _grouped(rows: Sequence[R]) -> dict[str, list[R]]:
    found: dict[str, list[R]] = {}
    for row in rows:
        found.setdefault(row.channel, []).append(row)
    return found


def _of(rows: Sequence[R], channel_id: str) -> tuple[R, ...]:
    return tuple(row for row in rows if row.channel == channel_id)


EMPTY = Journal()
