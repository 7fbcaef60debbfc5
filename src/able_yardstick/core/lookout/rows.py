"""The rows of the lookout in their order: channels, pairs below their sensors, values made of channels, group heads."""

from collections.abc import Callable, Mapping
from typing import Literal, NamedTuple

from ..document.watched import RowOrder, SensorPair
from ..job.job import Job

RowKind = Literal["channel", "pair", "value", "group"]
_LEVELS = {"fault": 0, "look": 1}


class LookoutRow(NamedTuple):
    """One row: what it shows by its id (a group: by its name), its words for sorting, and how it stands there."""

    kind: RowKind
    id: str
    words: str
    group: str = ""
    is_pinned: bool = False


def lookout_rows(job: Job, levels: Mapping[str, str], *, with_hidden: bool = False) -> tuple[LookoutRow, ...]:
    """All rows that are shown, pinned ones first; `levels` tell by id how each stands (ok, look, fault)."""
    rows = [row for row in _in_place(job) if with_hidden or not job.watch.row(row.id).is_hidden]
    ordered = _ORDERS[job.watch.order](rows, levels)
    return (*(row for row in rows if row.is_pinned), *(row for row in ordered if not row.is_pinned))


def hidden_rows(job: Job) -> tuple[LookoutRow, ...]:
    """The rows that are hidden."""
    return tuple(row for row in _in_place(job) if job.watch.row(row.id).is_hidden)


def pair_words(job: Job, pair: SensorPair) -> str:
    """A pair by the tags of its sensors."""
    tags = {one.id: one.tag for one in (*job.channels, *job.watch.values)}
    return " · ".join(tags.get(one, "?") for one in pair.channels)


def _in_place(job: Job) -> list[LookoutRow]:
    """As on the tagboard; a pair comes below the last of its sensors."""
    rows = [_row(job, "channel", one.id, one.tag) for one in job.channels]
    for pair in job.watch.pairs:
        at = max((n for n, row in enumerate(rows) if row.id in pair.channels), default=len(rows) - 1)
        rows.insert(at + 1, _row(job, "pair", pair.id, pair_words(job, pair)))
    return [*rows, *(_row(job, "value", one.id, one.tag) for one in job.watch.values)]


def _row(job: Job, kind: RowKind, row_id: str, words: str) -> LookoutRow:
    shown = job.watch.row(row_id)
    return LookoutRow(kind, row_id, words, shown.group, shown.is_pinned)


def _by_group(rows: list[LookoutRow], _levels: Mapping[str, str]) -> list[LookoutRow]:
    """Groups by their names with a head each, what is in none at the end."""
    names = sorted({row.group for row in rows if not row.is_pinned}, key=lambda name: (not name, name.casefold()))
    found: list[LookoutRow] = []
    for name in names:
        mates = [row for row in rows if row.group == name]
        found += [LookoutRow("group", name, name or "in no group", name), *mates] if len(names) > 1 else mates
    return found


_ORDERS: dict[RowOrder, Callable[[list[LookoutRow], Mapping[str, str]], list[LookoutRow]]] = {
    "tagboard": lambda rows, _levels: rows,
    "tag": lambda rows, _levels: sorted(rows, key=lambda row: row.words.casefold()),
    "attention": lambda rows, levels: sorted(rows, key=lambda row: _LEVELS.get(levels.get(row.id, ""), 2)),
    "group": _by_group,
}
