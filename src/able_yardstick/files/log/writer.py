"""Writes a log: what came is on disk within half a second, and small blocks become whole ones as they fill up."""

import sqlite3
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple, Self

import numpy as np
from numpy.typing import NDArray

from ...core.journal.sample import BAD, Series
from ...core.words.errors import BadTable
from .columns import packed_times, packed_values, packed_whole
from .schema import BLOCK, FORMAT, STEP, TABLES, VERSION

Array = NDArray[np.float64]


class LoggedFeed(NamedTuple):
    """One number that is logged: the channel's tag and id, its role, name and source, where it is met and its unit."""

    tag: str
    channel: str
    role: str
    name: str
    source: str
    node: str
    unit: str


class LogEvent(NamedTuple):
    """Something that happened: when by both clocks, in s, what kind, of which channel (its id), in words."""

    wall_s: float
    time_s: float
    kind: str
    channel: str
    says: str


class LoggedCalibration(NamedTuple):
    """The numbers of a channel (its id) that are in force from then on: their revision, and the record as JSON."""

    wall_s: float
    time_s: float
    channel: str
    revision: str
    record: str


class _Tail(NamedTuple):
    """The small blocks at the end of a series that do not make a whole one yet: their ids, and their samples."""

    blocks: tuple[int, ...]
    pieces: tuple[Series, ...]

    @property
    def samples(self) -> int:
        """How many samples they hold."""
        return sum(len(piece) for piece in self.pieces)


class LogWriter:
    """One log, open for writing; one thread at a time uses it."""

    def __init__(self, path: Path, feeds: Sequence[LoggedFeed], about: dict[str, str]) -> None:
        """Begin a new log. Raises: BadTable where the file is there already, or cannot be made."""
        if path.exists():
            raise BadTable(f"{path} is there already: a log never writes over anything. Choose another name.")
        try:
            self._base = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
            self._base.execute("PRAGMA auto_vacuum = INCREMENTAL")  # what small blocks took is given back at the end
            self._base.execute("PRAGMA journal_mode = WAL")
            self._base.execute("PRAGMA synchronous = NORMAL")  # a power cut loses the last moments, never the file
            self._base.executescript(TABLES)
        except sqlite3.Error as error:
            raise BadTable(f"{path} cannot be made: {error}. See that its folder may be written.") from error
        self._tails: dict[int, _Tail] = {}
        self.kept = 0
        with self._base:
            self._base.execute("BEGIN")
            rows = {"format": FORMAT, "version": str(VERSION), **about}
            self._base.executemany("INSERT INTO about VALUES (?, ?)", rows.items())
            self._base.executemany(
                "INSERT INTO series VALUES (?, ?, ?, ?, ?, ?, ?, ?)", [(n, *feed) for n, feed in enumerate(feeds)]
            )

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_what: object) -> None:
        self.close()

    def append(
        self,
        samples: dict[int, Series],
        events: Sequence[LogEvent] = (),
        calibrations: Sequence[LoggedCalibration] = (),
    ) -> None:
        """Keep what came since the last call, by the series' numbers, in one transaction. Raises: BadTable."""
        try:
            with self._base:
                self._base.execute("BEGIN")
                for number, series in samples.items():
                    if len(series):
                        self._take(number, series)
                self._base.executemany("INSERT INTO event VALUES (NULL, ?, ?, ?, ?, ?)", events)
                self._base.executemany("INSERT INTO calibration VALUES (NULL, ?, ?, ?, ?, ?)", calibrations)
        except sqlite3.Error as error:
            raise BadTable(f"The log cannot be written further: {error}. What was kept so far is whole.") from error
        self.kept += sum(len(series) for series in samples.values())

    def _take(self, number: int, series: Series) -> None:
        """Add a small block to a series; as soon as such blocks make a whole one, it takes their place."""
        self._tell_gaps(series)
        tail = self._tails.pop(number, _Tail((), ()))
        if tail.samples + len(series) < BLOCK:
            made = self._put(number, series, is_whole=False)
            self._tails[number] = _Tail((*tail.blocks, made), (*tail.pieces, series))
            return
        joined = _joined((*tail.pieces, series))
        self._base.executemany("DELETE FROM block WHERE id = ?", [(one,) for one in tail.blocks])
        for start in range(0, len(joined) - BLOCK + 1, BLOCK):
            self._put(number, _part(joined, start, start + BLOCK), is_whole=True)
        rest = _part(joined, len(joined) - len(joined) % BLOCK, len(joined))
        if len(rest):
            self._tails[number] = _Tail((self._put(number, rest, is_whole=False),), (rest,))

    def _tell_gaps(self, series: Series) -> None:
        """Why samples are bad, as events of their own: a block holds numbers only."""
        for at in np.flatnonzero(series.states == BAD).tolist():
            says = series.reasons.get(int(series.sequences[at]), "")
            if says:
                row = (float(series.walls_s[at]), float(series.times_s[at]), "gap", "", says)
                self._base.execute("INSERT INTO event VALUES (NULL, ?, ?, ?, ?, ?)", row)

    def _put(self, number: int, series: Series, *, is_whole: bool) -> int:
        lows, highs = envelope(series.values)
        row = self._base.execute(
            "INSERT INTO block VALUES (NULL, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (
                number, float(series.times_s[0]), float(series.times_s[-1]), len(series), int(is_whole),
                *_ends(lows, highs), *(_packed(series) if is_whole else _plain(series)),
                lows.astype("<f4").tobytes(), highs.astype("<f4").tobytes(),
            ),
        )  # fmt: skip
        assert row.lastrowid is not None  # a row was just put in
        return row.lastrowid

    def close(self) -> None:
        """End it: small blocks are put together, and what waits beside the file goes into it."""
        with self._base:
            self._base.execute("BEGIN")
            for number, tail in self._tails.items():
                self._base.executemany("DELETE FROM block WHERE id = ?", [(one,) for one in tail.blocks])
                self._put(number, _joined(tail.pieces), is_whole=True)
        self._tails.clear()
        self._base.executescript("PRAGMA incremental_vacuum;")  # execute would free one page only
        self._base.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._base.execute("PRAGMA journal_mode = DELETE")  # so that whoever reads it leaves nothing beside it
        self._base.close()


def envelope(values: Array) -> tuple[Array, Array]:
    """The least and the largest of every `STEP` values, shapes (m,); NaN where there is none of them."""
    short = -len(values) % STEP
    padded = np.concatenate([values, np.full(short, np.nan)]).reshape(-1, STEP)
    empty = np.isnan(padded).all(axis=1)
    lows = np.where(empty, np.nan, np.fmin.reduce(padded, axis=1))
    return lows, np.where(empty, np.nan, np.fmax.reduce(padded, axis=1))


def _packed(series: Series) -> tuple[bytes, ...]:
    """Times, clock, numbers, states and values of a whole block."""
    return (
        packed_times(series.times_s), packed_times(series.walls_s - series.times_s), packed_whole(series.sequences, 2),
        packed_whole(series.states.astype(np.int64), 1), packed_values(series.values),
    )  # fmt: skip


def _plain(series: Series) -> tuple[bytes, ...]:
    """The same of a small block, as they lie in memory: it is soon put together with others."""
    columns = ((series.times_s, "<f8"), (series.walls_s, "<f8"), (series.sequences, "<i8"), (series.states, "u1"),
               (series.values, "<f8"))  # fmt: skip
    return tuple(np.asarray(column).astype(kind).tobytes() for column, kind in columns)


def _ends(lows: Array, highs: Array) -> tuple[float | None, float | None]:
    """The least and the largest of all; none where there is no value at all."""
    if np.isnan(lows).all():
        return None, None
    return float(np.nanmin(lows)), float(np.nanmax(highs))


def _part(series: Series, start: int, end: int) -> Series:
    chosen = np.zeros(len(series), dtype=bool)
    chosen[start:end] = True
    return series.where(chosen)


def _joined(pieces: Sequence[Series]) -> Series:
    """Stretches of one series, one after the other."""
    return Series(
        np.concatenate([one.times_s for one in pieces]), np.concatenate([one.walls_s for one in pieces]),
        np.concatenate([one.values for one in pieces]), np.concatenate([one.sequences for one in pieces]),
        np.concatenate([one.states for one in pieces]), {}, pieces[0].met,
    )  # fmt: skip
