"""What the window knows of each kind of source: its settings, and the columns in which its numbers are typed."""

from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from pydantic import ValidationError

from ...core.document.sources import (
    AnySource,
    ColumnFeed,
    Feed,
    LinesSource,
    ManualSource,
    ModbusSource,
    QueryFeed,
    RegisterFeed,
    ReplaySource,
    ScpiSource,
)
from ...core.words.numerals import parse_number
from ...core.words.record import InvalidRecord, first_complaint

TypedCells = Sequence[str]
Common = dict[str, Any]  # name, role, channel and unit of a feed
_TCP = (("host", "Address"), ("port", "Port"))
_SERIAL = (("device", "Serial port"), ("baud", "Speed, baud"), ("parity", "Parity"))
_LINK = (("link", "Link"), *_TCP, *_SERIAL)
_RATE = (("rate_hz", "Readings a second"),)
_ORDERS = {"high": "high word first", "low": "low word first"}
_IN_SCAN = "scan"


def _only_list(_cells: TypedCells) -> str:
    return "feeds"


class SourceKind(NamedTuple):
    """One kind: `fields` are settings and their words, `columns` the headings of its own cells of a number.

    `texts` gives those cells of a number of a source, `feed` the number that they say, and `held_in` the source's field
    that it belongs into, out of `lists`.
    """

    record: type[AnySource]
    adds: str
    help: str
    fields: tuple[tuple[str, str], ...]
    columns: tuple[str, ...]
    blank: tuple[str, ...]
    texts: Callable[[Any, Any], list[str]]
    feed: Callable[[Common, TypedCells], Feed]
    lists: tuple[str, ...] = ("feeds",)
    held_in: Callable[[TypedCells], str] = _only_list


def made(kind: type[Feed], **fields: Any) -> Feed:
    """A number of a source. Raises: InvalidRecord."""
    try:
        return kind(**fields)
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error


def _register_texts(source: ModbusSource, feed: RegisterFeed) -> list[str]:
    where = _IN_SCAN if feed in source.history_feeds else "now"
    return [str(feed.address), feed.type, feed.word_order.split()[0], f"{feed.scale:g}", where]


def _register(common: Common, cells: TypedCells) -> Feed:
    address, type_, order, scale, _ = cells
    return made(
        RegisterFeed, **common, address=int(parse_number(address)), type=type_, word_order=_ORDERS.get(order, order),
        scale=parse_number(scale or "1"),
    )  # fmt: skip


def _query_texts(_source: ScpiSource, feed: QueryFeed) -> list[str]:
    return [feed.query, feed.set_command, feed.reference]


def _query(common: Common, cells: TypedCells) -> Feed:
    query, set_command, reference = cells
    node = "pin" if common["role"] in ("raw", "meter") else "counts"
    return made(QueryFeed, **common, node=node, query=query, set_command=set_command, reference=reference)


def _column_texts(_source: LinesSource | ReplaySource, feed: ColumnFeed) -> list[str]:
    return [feed.column, feed.node]


def _column(common: Common, cells: TypedCells) -> Feed:
    column, node = cells
    return made(ColumnFeed, **common, column=column, node=node or "counts")


def _typed_texts(_source: ManualSource, feed: Feed) -> list[str]:
    return [feed.reference]


def _typed(common: Common, cells: TypedCells) -> Feed:
    return made(Feed, **common, reference=cells[0])


KINDS: tuple[SourceKind, ...] = (
    SourceKind(
        ModbusSource,
        "a controller over Modbus",
        "Is: raw (the count of a channel) or shown (what the controller makes of it). Type: u16, s16, u32, s32, f32. "
        "Words: which comes first, high or low. In: now, or scan for an offset in the ring of scans.",
        (
            *_LINK, ("device_id", "Device number"), ("registers", "Registers"),
            ("history", "Ring of scans: newest, first, stride, slots"), *_RATE,
        ),
        ("Register", "Type", "Words", "Scale", "In"),
        ("0", "u16", "high", "1", "now"),
        _register_texts,
        _register,
        ("feeds", "history_feeds"),
        lambda cells: "history_feeds" if cells[-1] == _IN_SCAN else "feeds",
    ),
    SourceKind(
        ScpiSource,
        "an SCPI instrument",
        "Is: raw, reference or meter. Set by: the command that moves the stimulus, with {value} in it.",
        (*_LINK, ("settle_s", "Settling after a set point, s"), *_RATE),
        ("Query", "Set by", "Reference"),
        ("READ?", "", ""),
        _query_texts,
        _query,
    ),
    SourceKind(
        LinesSource,
        "lines of text",
        "Column: the name found in the first lines. Read at: counts, pin or output.",
        (*_SERIAL, *_RATE),
        ("Column", "Read at"),
        ("", "counts"),
        _column_texts,
        _column,
    ),
    SourceKind(
        ReplaySource,
        "a log to replay",
        "Column: the heading in the log. Read at: counts, pin or output.",
        (("path", "Log file"), ("time_column", "Column of seconds, if any"), ("speed", "Speed"), *_RATE),
        ("Column", "Read at"),
        ("", "counts"),
        _column_texts,
        _column,
    ),
    SourceKind(
        ManualSource,
        "values typed by hand",
        "Each number gets a line in the list of sources, to be typed as it is read off.",
        (),
        ("Reference",),
        ("",),
        _typed_texts,
        _typed,
    ),
)  # fmt: skip


def kind_of(source: AnySource) -> SourceKind:
    """What the window knows of a source."""
    return next(kind for kind in KINDS if isinstance(source, kind.record))
