"""Reads a log: what is in it, stretches of its series, and their envelopes at any width."""

import sqlite3
from pathlib import Path
from typing import Any, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray

from ...core.journal.sample import Series
from ...core.lookout.courses import NOTHING_DRAWN, Envelope, gathered_envelope
from ...core.path.node import Met
from ...core.words.errors import BadTable, NoSuchThing
from .columns import unpacked_times, unpacked_values, unpacked_whole
from .schema import BLOCK, FORMAT, STEP, VERSION
from .writer import LogEvent, LoggedCalibration, LoggedFeed

Array = NDArray[np.float64]
_MOST_KEPT = 128  # blocks: some 40 MB


class LogSeries(NamedTuple):
    """A series of a log: its number, what it is, how many samples it has and between which monotonic times, in s."""

    number: int
    feed: LoggedFeed
    samples: int
    first_s: float
    last_s: float


class LogFile:
    """One log, open for reading; it may be written at the same time."""

    def __init__(self, path: Path) -> None:
        """Raises: BadTable where it cannot be read, or is none."""
        if not path.exists():
            raise BadTable(f"{path} is not there. Expected a log.")
        try:
            self._base = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, check_same_thread=False)
            self.about = dict(self._base.execute("SELECT name, value FROM about"))
        except sqlite3.Error as error:
            raise BadTable(f"{path} is no log that can be read: {error}.") from error
        if self.about.get("format") != FORMAT or self.about.get("version") != str(VERSION):
            found = f"{self.about.get('format', 'nothing')} {self.about.get('version', '')}".strip()
            raise BadTable(f"{path} is no log of this program's version: expected {FORMAT} {VERSION}, found {found}.")
        self.path = path
        self._kept: dict[int, tuple[NDArray[Any], ...]] = {}  # whole blocks that were unpacked last, by their ids

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_what: object) -> None:
        self.close()

    def close(self) -> None:
        """Let go of the file."""
        self._base.close()

    def series(self) -> tuple[LogSeries, ...]:
        """Every series that has samples, in the order of the feeds."""
        rows = self._base.execute(
            "SELECT s.id, s.tag, s.channel, s.role, s.name, s.source, s.node, s.unit, SUM(b.samples), MIN(b.first_s), "
            "MAX(b.last_s) FROM series s JOIN block b ON b.series = s.id GROUP BY s.id ORDER BY s.id"
        )
        return tuple(LogSeries(row[0], LoggedFeed(*row[1:8]), *row[8:]) for row in rows)

    @property
    def first_wall_s(self) -> float:
        """The clock time of the first sample, in s since 1970; 0 in a log without any."""
        first = min(self.series(), key=lambda one: one.first_s, default=None)
        if first is None:
            return 0.0
        return float(self._blocks(first, first.first_s, first.first_s + 1e-3)[0][1][0])

    def of(self, tag: str, role: str) -> LogSeries:
        """The series of a channel in a role, by its tag. Raises: NoSuchThing that names what there is."""
        known = self.series()
        for one in known:
            if one.feed.tag.casefold() == tag.casefold() and one.feed.role == role:
                return one
        there = ", ".join(f"{one.feed.tag} {one.feed.role}" for one in known) or "nothing"
        raise NoSuchThing(f"The log has no {role} of {tag}. It has {there}.")

    def events(self) -> tuple[LogEvent, ...]:
        """What happened, in its order."""
        return tuple(LogEvent(*row) for row in self._base.execute(
            "SELECT wall_s, time_s, kind, channel, says FROM event ORDER BY time_s, id"))  # fmt: skip

    def calibrations(self) -> tuple[LoggedCalibration, ...]:
        """The numbers that were in force, in the order they came to be."""
        return tuple(LoggedCalibration(*row) for row in self._base.execute(
            "SELECT wall_s, time_s, channel, revision, record FROM calibration ORDER BY time_s, id"))  # fmt: skip

    def read(self, one: LogSeries, start_s: float = -np.inf, end_s: float = np.inf) -> Series:
        """The samples of a series over a stretch of monotonic time in s, its start included. Raises: BadTable."""
        pieces = self._blocks(one, start_s, end_s)
        met = Met(one.feed.node, one.feed.unit)  # type: ignore[arg-type]  # as the feed had it
        if not pieces:
            return Series.of(np.zeros(0), np.zeros(0), met)
        columns = [np.concatenate([piece[at] for piece in pieces]) for at in range(5)]
        times, walls, values, numbers, states = columns
        found = Series(times, walls, values, numbers.astype(np.int64), states.astype(np.uint8), {}, met)
        return found.since(start_s, end_s)

    def _blocks(self, one: LogSeries, start_s: float, end_s: float) -> list[tuple[NDArray[Any], ...]]:
        """Times, clock, values, numbers and states of each block of a stretch; whole ones are kept for the next look.

        All in one transaction: a log that is written meanwhile puts blocks together.
        """
        found = []
        self._base.execute("BEGIN")
        try:
            rows = self._base.execute(
                "SELECT id, samples, whole FROM block WHERE series = ? AND last_s >= ? AND first_s < ? "
                "ORDER BY last_s, id", (one.number, _within(start_s), _within(end_s)),
            ).fetchall()  # fmt: skip
            for block, count, whole in rows:
                kept = self._kept.pop(block, None)
                if kept is None:
                    kept = self._unpacked(block, count, bool(whole))
                if whole:
                    self._kept[block] = kept  # the one looked at last comes last
                    if len(self._kept) > _MOST_KEPT:
                        self._kept.pop(next(iter(self._kept)))
                found.append(kept)
        finally:
            self._base.execute("COMMIT")
        return found

    def _unpacked(self, block: int, count: int, whole: bool) -> tuple[NDArray[Any], ...]:
        row = self._base.execute("SELECT times, walls, numbers, states, value FROM block WHERE id = ?", (block,))
        times, walls, numbers, states, value = row.fetchone()
        if not whole:
            kinds = ("<f8", "<f8", "<f8", "<i8", "u1")
            pieces = zip((times, walls, value, numbers, states), kinds, strict=True)
            return tuple(np.frombuffer(piece, kind) for piece, kind in pieces)
        clock = unpacked_times(times, count)
        return (
            clock, clock + unpacked_times(walls, count), unpacked_values(value, count),
            unpacked_whole(numbers, count), unpacked_whole(states, count),
        )  # fmt: skip

    def envelope(self, one: LogSeries, start_s: float, end_s: float, pixels: int) -> Envelope:
        """The least and the largest values over a stretch, for about so many pixels; never every sample of a long one.

        Raises: BadTable.
        """
        per_pixel = one.samples * (end_s - start_s) / max(one.last_s - one.first_s, 1e-9) / max(pixels, 1)
        if per_pixel < STEP:
            series = self.read(one, start_s, end_s)
            return gathered_envelope(series.times_s, series.values, series.values, pixels)
        where = (one.number, _within(start_s), _within(end_s))
        if per_pixel >= BLOCK:
            return self._by_blocks(where, pixels)
        rows = self._base.execute(
            "SELECT first_s, last_s, lows, highs FROM block WHERE series = ? AND last_s >= ? AND first_s < ? "
            "ORDER BY last_s, id", where,
        )  # fmt: skip
        times, lows, highs = [], [], []
        for first_s, last_s, low, high in rows:
            lows.append(np.frombuffer(low, "<f4"))
            highs.append(np.frombuffer(high, "<f4"))
            times.append(np.linspace(first_s, last_s, len(lows[-1]), endpoint=False))
        if not times:
            return NOTHING_DRAWN
        joined = [np.concatenate(column).astype(float) for column in (times, lows, highs)]
        return gathered_envelope(joined[0], joined[1], joined[2], pixels)

    def _by_blocks(self, where: tuple[float, ...], pixels: int) -> Envelope:
        """One entry a block: of the longest stretches not even the envelopes of blocks are looked at."""
        rows = self._base.execute(
            "SELECT first_s, low, high FROM block WHERE series = ? AND last_s >= ? AND first_s < ? ORDER BY last_s",
            where,
        )
        found = np.array(rows.fetchall(), dtype=float).reshape(-1, 3)
        return gathered_envelope(found[:, 0], found[:, 1], found[:, 2], pixels)


def _within(time_s: float) -> float:
    """A time that the file's own comparison knows."""
    return float(np.clip(time_s, -1e300, 1e300))
