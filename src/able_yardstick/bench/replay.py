"""A log played back: at any speed, held, or line by line."""

import time
from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np

from ..core.document.sources import ReplaySource
from ..core.words.errors import BadTable
from ..core.words.numerals import counted
from .errors import BadAnswer, NoLink
from .source import LISTEN_S, Array, Batch, OpenSource

_LEAP, _LEAP_S = 100, 10.0  # times the usual step, and never less than that


class Replay(OpenSource):
    """Gives each line of a log when its time has come."""

    keeps_orders = True

    def __init__(self, spec: ReplaySource) -> None:
        self.spec: ReplaySource = spec
        self.speed = spec.speed
        self._columns: dict[str, Array] = {}
        self._due_s = np.zeros(0)  # when each line is due at speed 1, from the first
        self._next = 0
        self._played_s = 0.0  # how far the log has been played
        self._before_s = 0.0
        self.is_held = False

    @property
    def period_s(self) -> float:
        """Lines come when they are due."""
        return LISTEN_S

    def open(self) -> str:
        """Read the log. Raises: NoLink if there is none, BadAnswer for one without the columns asked for."""
        from ..files.tables import parse_grid, pick, read_text

        path = Path(self.spec.path)
        wanted = [name for name in (*(feed.column for feed in self.spec.feeds), self.spec.time_column) if name]
        wanted = list(dict.fromkeys(wanted))
        try:
            grid = parse_grid(read_text(path))
            picked = pick(grid, [grid.column_named(name) for name in wanted])
        except BadTable as error:
            raise NoLink(str(error)) from error
        if not picked.numbers:
            raise BadAnswer(f"{path.name} has no row of numbers in the columns {', '.join(wanted)}.")
        self._columns = dict(zip(wanted, np.array(picked.numbers, dtype=float).T, strict=True))
        count = len(next(iter(self._columns.values()))) if self._columns else 0
        stated = self._columns.get(self.spec.time_column)
        due_s = stated - stated[0] if stated is not None and count else np.arange(count) / self.spec.rate_hz
        self._due_s = np.maximum.accumulate(due_s)
        self._next, self._played_s, self._before_s = 0, 0.0, time.monotonic()
        bad = len(picked.problems)
        told = [f"{bad} bad lines left out"] if bad else []
        told += _odd_steps(due_s, picked.lines)
        return ", ".join([f"{counted(count, 'line')} over {self._due_s[-1] if count else 0:g} s", *told])

    def poll(self) -> Iterator[Batch]:
        """The lines due since the last poll; none while it is held."""
        now = time.monotonic()
        if not self.is_held:
            self._played_s += (now - self._before_s) * self.speed
        self._before_s = now
        end = int(np.searchsorted(self._due_s, self._played_s, side="right"))
        yield from self._lines(end)

    def hold(self, held: bool) -> None:
        """Stop where it is, or go on from there."""
        self.is_held = held
        self._before_s = time.monotonic()

    def step(self) -> None:
        """Give the next line now; it stays held."""
        self.hold(True)
        if self._next < len(self._due_s):
            self._played_s = float(self._due_s[self._next])

    @property
    def is_over(self) -> bool:
        """Whether the last line was given."""
        return self._next >= len(self._due_s)

    def _lines(self, end: int) -> Iterator[Batch]:
        if end <= self._next:
            return
        rows = slice(self._next, end)
        self._next = end
        times = time.monotonic() + (self._due_s[rows] - self._due_s[end - 1]) / self.speed
        numbers = np.arange(rows.start + 1, rows.stop + 1)
        for feed in self.spec.feeds:
            yield Batch(feed.name, times, self._columns[feed.column][rows], numbers)

    def close(self) -> None:
        """Let go of the log."""
        self._columns = {}


def _odd_steps(times_s: Array, lines: Sequence[int]) -> list[str]:
    """Where the time of a log goes back, or leaps, in words."""
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
