"""What a replay plays: a table of lines, or a log; each gives what is due between two moments, at speed 1."""

from abc import ABC, abstractmethod
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..core.document.sources import ColumnFeed, ReplaySource
from ..core.job.job import Job
from ..core.journal.sample import BAD
from ..core.words.errors import BadTable
from ..core.words.numerals import counted
from ..files.log.schema import LOG_ENDING
from .errors import BadAnswer, NoLink
from .source import Array, Batch

if TYPE_CHECKING:
    from ..files.log.reader import LogFile

_LEAP, _LEAP_S = 100, 10.0  # times the usual step, and never less than that
_LOOK_AHEAD_S = 2.0


class Tape(ABC):
    """Moments are seconds from its beginning."""

    says: str  # what it holds, in words
    length_s: float

    @abstractmethod
    def between(self, start_s: float, end_s: float) -> Iterator[Batch]:
        """What is due after the one moment up to the other; times of a batch are such moments. Raises: BadAnswer."""

    @abstractmethod
    def next_after(self, moment_s: float) -> float | None:
        """When the next value is due; None at the end."""

    def close(self) -> None:  # noqa: B027  # a table holds nothing
        """Let go of the file."""


def replay_of(log: "LogFile", job: Job, start_s: float = 0.0, speed: float = 1.0) -> ReplaySource:
    """A source that plays a log into a job: series find their channels by id, else by tag."""
    by_id, by_tag = job.document.by_id, {channel.tag: channel.id for channel in job.channels}
    feeds = []
    for one in log.series():
        channel = one.feed.channel if one.feed.channel in by_id else by_tag.get(one.feed.tag, "")
        told = {"name": f"{one.feed.name} {one.number}", "role": one.feed.role, "channel": channel,
                "node": one.feed.node, "unit": one.feed.unit, "column": str(one.number)}  # fmt: skip
        feeds.append(ColumnFeed.model_validate(told))
    rate_hz = max((one.samples / max(one.last_s - one.first_s, 1e-3) for one in log.series()), default=10.0)
    return ReplaySource(
        id="replayed log", name=log.path.name, rate_hz=min(max(rate_hz, 1e-3), 1000.0), path=str(log.path),
        speed=speed, start_s=start_s, feeds=tuple(feeds),
    )  # fmt: skip


def tape_of(spec: ReplaySource) -> Tape:
    """The tape of a source. Raises: NoLink where its file cannot be read, BadAnswer without what is asked of it."""
    return LogTape(spec) if Path(spec.path).suffix == LOG_ENDING else LineTape(spec)


class LineTape(Tape):
    """A table with one column a feed; all of a line is due at once."""

    def __init__(self, spec: ReplaySource) -> None:
        from ..files.tables import parse_grid, pick, read_text

        path = Path(spec.path)
        wanted = [name for name in (*(feed.column for feed in spec.feeds), spec.time_column) if name]
        wanted = list(dict.fromkeys(wanted))
        try:
            grid = parse_grid(read_text(path))
            picked = pick(grid, [grid.column_named(name) for name in wanted])
        except BadTable as error:
            raise NoLink(str(error)) from error
        if not picked.numbers:
            raise BadAnswer(f"{path.name} has no row of numbers in the columns {', '.join(wanted)}.")
        self._feeds = [(feed.name, feed.column) for feed in spec.feeds]
        self._columns = dict(zip(wanted, np.array(picked.numbers, dtype=float).T, strict=True))
        count = len(next(iter(self._columns.values()))) if self._columns else 0
        stated = self._columns.get(spec.time_column)
        due_s = stated - stated[0] if stated is not None and count else np.arange(count) / spec.rate_hz
        self._due_s = np.maximum.accumulate(due_s)
        self.length_s = float(self._due_s[-1]) if count else 0.0
        bad = len(picked.problems)
        told = [f"{bad} bad lines left out"] if bad else []
        told += _odd_steps(due_s, picked.lines)
        self.says = ", ".join([f"{counted(count, 'line')} over {self.length_s:g} s", *told])

    def between(self, start_s: float, end_s: float) -> Iterator[Batch]:
        rows = slice(*(int(np.searchsorted(self._due_s, at, side="right")) for at in (start_s, end_s)))
        if rows.stop <= rows.start:
            return
        numbers = np.arange(rows.start + 1, rows.stop + 1)
        for name, column in self._feeds:
            yield Batch(name, self._due_s[rows], self._columns[column][rows], numbers)

    def next_after(self, moment_s: float) -> float | None:
        at = int(np.searchsorted(self._due_s, moment_s, side="right"))
        return float(self._due_s[at]) if at < len(self._due_s) else None


class LogTape(Tape):
    """A log: every series comes at its own times and with its own numbers, so that what was missed stays missed."""

    def __init__(self, spec: ReplaySource) -> None:
        from ..files.log.reader import LogFile

        try:
            self._log = LogFile(Path(spec.path))
        except BadTable as error:
            raise NoLink(str(error)) from error
        known = {one.number: one for one in self._log.series()}
        self._series = {feed.name: known[int(feed.column)] for feed in spec.feeds if _number(feed.column) in known}
        if not self._series:
            self._log.close()
            raise BadAnswer(f"{Path(spec.path).name} has nothing of what is asked of it.")
        self._first_s = min(one.first_s for one in known.values())
        self.length_s = max(one.last_s for one in known.values()) - self._first_s
        self.says = f"{counted(len(self._series), 'series')} over {self.length_s:.4g} s"

    def between(self, start_s: float, end_s: float) -> Iterator[Batch]:
        low, high = (float(np.nextafter(self._first_s + at, np.inf)) for at in (start_s, end_s))
        for name, one in self._series.items():
            try:
                found = self._log.read(one, low, high)
            except BadTable as error:
                raise BadAnswer(str(error)) from error
            if len(found):
                values = np.where(found.states == BAD, np.nan, found.values)
                yield Batch(name, found.times_s - self._first_s, values, found.sequences)

    def next_after(self, moment_s: float) -> float | None:
        width = _LOOK_AHEAD_S
        while moment_s < self.length_s:
            times = [batch.times_s[0] for batch in self.between(moment_s, moment_s + width)]
            if times:
                return float(min(times))
            moment_s, width = moment_s + width, 2 * width
        return None

    def close(self) -> None:
        self._log.close()


def _number(text: str) -> int:
    return int(text) if text.isdecimal() else -1


def _odd_steps(times_s: Array, lines: "Sequence[int] | NDArray[np.int64]") -> list[str]:
    """Where the time of a table goes back, or leaps, in words."""
    steps = np.diff(times_s)
    back = np.flatnonzero(steps < 0)
    usual = float(np.median(steps[steps > 0])) if np.any(steps > 0) else 0.0
    leaps = np.flatnonzero(steps > max(_LEAP * usual, _LEAP_S))
    told = []
    if len(back):
        where = f"first at line {lines[back[0] + 1]}"
        told.append(f"its time goes back {counted(len(back), 'time')}, {where}: those lines come at once")
    if len(leaps):
        told.append(f"its time leaps by {steps[leaps[0]]:g} s at line {lines[leaps[0] + 1]}")
    return told
