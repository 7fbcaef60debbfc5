"""Knots on the grids that a controller takes: searched for, never rounded to.

Level by level, from each place and value that can be reached with so many pieces, the places and values that one piece
more can reach within an error: a straight piece from a fixed point through gates has a lowest and a highest slope that
narrow as it goes. The places worth looking at with the k-th knot are bounded from both ends by the broken line of
fewest links (`funnel`). So an error that cannot be kept is proven to be so. Where there would be too much to look
through, the search ends with what it has proven by then.
"""

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ...words import pace
from ...words.errors import OutOfRange
from .funnel import links_through, reaches
from .polish import Steps, polished
from .reduce import Placed, values_at
from .room import ROUNDING, Grid, Room, Tier, room_of
from .target import Sieve, Target

Array = NDArray[np.float64]

_CLOSE = 3e-3  # how near to the bound is near enough, as a share of it
_TRIES = 80
_FIRST_STRIDE = 0.004  # of the bound
_TINY = 1e-9  # of the span: where the bound is nothing
_STEEP = 1e300
_MOST_VALUES = 60  # looked at for one knot; beyond that any value is taken first
_CLOSE_ROWS = 32  # to begin with, for each knot: the closer they lie, the closer the places are bounded
_A_STRETCH = 30.0  # values that a stretch of them counts for: it is followed one by one
_MOST_WORK = 6.5e7  # pairs of knots looked at on a grid of very many places
_MOST_FIXED = 4000  # values for one knot where its place is fixed


_Way = tuple[Array, Array]
_Knot = tuple[float, float]
_NEAR = 1e-7  # of the error


class Search:
    """The search for knots on a grid that follow a target."""

    def __init__(self, target: Target, grid: Grid, knots: int, most: float | None = None) -> None:
        self._target, self._grid, self._most = target, grid, most
        self.knots = len(grid.places) if grid.fixed else min(knots, len(grid.places))
        self._sieve = Sieve(target, self.knots, *([] if most is None else [_CLOSE_ROWS]))
        self.too_many = False  # pairs of knots to look through
        self.lost = False  # a way that is there was lost in the last digits: nothing is proven by that
        self.sure = True  # values that were not looked at are no better
        self.work = 0.0  # such pairs so far
        self.off_steps = False  # values beside the controller's steps were taken

    @property
    def _finest(self) -> float:
        """An error to begin with where the bound is next to nothing."""
        return (self._grid.value_step or 0.0) / 8 + _TINY * self._target.span

    # -- one error --------------------------------------------------------------------------------------------------

    def within(self, error: float) -> _Way | None:
        """Knots within an error over the rows that decide; None if there are none."""
        rows = self._sieve.target
        windows = self._windows(rows, error)
        if windows is None:
            return None
        rooms = [room_of(self._target, self._grid, windows, knot, error) for knot in range(len(windows))]
        self.sure = self.sure and all(room.sure for room in rooms)
        wide = float(np.mean(np.concatenate([room.wide for room in rooms])))
        step = self._step_for(wide)
        if self._most is not None:
            values = _A_STRETCH if step is None else wide / step
            self.work += values * sum(len(one) * len(two) for one, two in pairwise(windows))
            if self.work > self._most:
                self.too_many = True
                return None
        levels = [rooms[0].opened(step)]
        for room in rooms[1:]:
            pace.step()
            if not (len(room.places) and levels[-1].reached.any()):
                return None
            levels.append(self._next(rows, levels[-1], room, error, step))
        if not levels[-1].reached.any():
            return None
        way = self._traced(rows, levels, error, step)
        self.lost = way is None
        return way

    def _step_for(self, wide: float) -> float | None:
        """The step of values to look through; None where they are too many, so that any number is taken first."""
        step = self._grid.value_step
        if step is not None and wide <= step * (_MOST_FIXED if self._grid.fixed else _MOST_VALUES):
            return step
        self.off_steps = self.off_steps or step is not None
        return None

    def _windows(self, rows: Target, error: float) -> list[Array] | None:
        """The places worth looking at for each knot; None if no free knots keep the error either."""
        places = self._grid.places
        if self._grid.fixed:
            return [places[n : n + 1] for n in range(len(places))]
        pieces = self.knots - 1
        x, low, high = rows.signal, rows.highest - error, rows.lowest + error
        onward = links_through(x.tolist(), low.tolist(), high.tolist(), pieces)
        backward = links_through((-x[::-1]).tolist(), low[::-1].tolist(), high[::-1].tolist(), pieces)
        if onward is None or backward is None:
            return None
        last, first = [places[0]], [places[-1]]
        for n in range(pieces):
            last.append(x[onward[n].misses] if n < len(onward) and onward[n].misses < len(x) else places[-1])
            first.append(x[-1 - backward[n].misses] if n < len(backward) and backward[n].misses < len(x) else places[0])
        first.reverse()
        found = [places[:1]]
        for n in range(1, pieces):
            found.append(places[(places >= first[n]) & (places <= last[n])])
        return [*found, places[-1:]]

    def _next(self, rows: Target, level: Tier, room: Room, error: float, step: float | None) -> Tier:
        """What one piece more reaches."""
        if step is None:
            return self._stretches(rows, level, room, error)
        places = room.places
        at, value = np.nonzero(level.reached)
        fans = self._fan(rows, level.places[at], level.values[at, value], places, error)
        after = room.opened(step)
        width = after.values.shape[1]
        base = np.round(after.values[:, 0] / step)
        first = np.clip(np.ceil(fans[0] / step - ROUNDING) - base, 0, width).astype(np.int64)
        end = np.clip(np.floor(fans[1] / step + ROUNDING) - base + 1, 0, width).astype(np.int64)
        state, place = np.nonzero(end > first)
        size = len(places) * (width + 1)
        marks = np.bincount(place * (width + 1) + first[state, place], minlength=size)
        marks = marks - np.bincount(place * (width + 1) + end[state, place], minlength=size)
        covered = np.cumsum(marks.reshape(len(places), width + 1), axis=1)[:, :-1] > 0
        return after._replace(reached=after.reached & covered)

    def _stretches(self, rows: Target, level: Tier, room: Room, error: float) -> Tier:
        """What one piece more reaches where any value will do: the stretches of values at each place."""
        places, lowest, highest, _ = room
        x, feet, tops = rows.signal, rows.highest - error, rows.lowest + error
        end = int(np.searchsorted(x, places[-1], side="right"))
        at: list[NDArray[np.int64]] = []
        low: list[Array] = []
        high: list[Array] = []
        for n in np.flatnonzero(level.reached[:, 0]):
            start, first = (
                int(np.searchsorted(x, level.places[n], side="right")),
                int(np.sum(places <= level.places[n])),
            )
            gates = (
                [float(level.places[n]), *x[start:end].tolist()],
                [float(level.values[n, 0]), *feet[start:end].tolist()],
                [float(level.values[n, 1]), *tops[start:end].tolist()],
            )
            found = np.array(reaches(*gates, places[first:].tolist())).reshape(-1, 2)
            behind = np.arange(first, first + len(found), dtype=np.int64)
            at.append(behind)
            low.append(np.maximum(found[:, 0], lowest[behind]))
            high.append(np.minimum(found[:, 1], highest[behind]))
        if not at:
            return Tier(places[:0], np.zeros((0, 2)), np.zeros((0, 2), dtype=bool))
        rows_of, values = _joined(np.concatenate(at), np.concatenate(low), np.concatenate(high))
        return Tier(places[rows_of], values, np.ones(values.shape, dtype=bool))

    @staticmethod
    def _fan(rows: Target, at: Array, values: Array, places: Array, error: float) -> tuple[Array, Array]:
        """Lowest and highest value (s, p) that a straight piece from places and values (s,) has at places (p,)."""
        first = int(np.searchsorted(rows.signal, at.min(), side="right"))
        last = int(np.searchsorted(rows.signal, places[-1], side="right"))
        gates = rows.signal[first:last]
        passed = np.searchsorted(gates, places, side="right")
        ahead = gates - at[:, None]
        behind = ahead <= 0
        ahead[behind] = 1.0
        from_here = values[:, None]
        low = np.full((len(values), len(gates) + 1), -_STEEP)
        high = np.full_like(low, _STEEP)
        low[:, 1:] = np.where(behind, -_STEEP, (rows.highest[first:last] - error - from_here) / ahead)
        high[:, 1:] = np.where(behind, _STEEP, (rows.lowest[first:last] + error - from_here) / ahead)
        np.maximum.accumulate(low, axis=1, out=low)
        np.minimum.accumulate(high, axis=1, out=high)
        away = places - at[:, None]
        found = from_here + low[:, passed] * away, from_here + high[:, passed] * away
        none = (found[0] > found[1] + 1e-12) | (away <= 0)
        return np.where(none, _STEEP, found[0]), np.where(none, -_STEEP, found[1])

    def _traced(self, rows: Target, levels: list[Tier], error: float, step: float | None) -> _Way | None:
        """The knots of one way through the levels, from its end; None if it leads over values that were not reached."""
        last = np.flatnonzero(levels[-1].reached[-1])
        ends = levels[-1].values[-1, last]  # there is one place for the last knot
        places = [float(levels[-1].places[-1])]
        values = [float(ends[len(ends) // 2] if step else ends.mean())]
        back = self._before if step else self._back_to_a_stretch
        for level in reversed(levels[:-1]):
            found = back(rows, level, places[-1], values[-1], error)
            if found is None:
                return None
            places.append(found[0])
            values.append(found[1])
        return np.array(places[::-1]), np.array(values[::-1])

    def _before(self, rows: Target, level: Tier, place: float, value: float, error: float) -> _Knot | None:
        """A knot of a level from which a straight piece leads to a knot of the next."""
        at, number = np.nonzero(level.reached)
        found = level.values[at, number]
        low, high = self._fan(rows, level.places[at], found, np.array([place]), error)
        some = np.flatnonzero((low[:, 0] <= value + _NEAR * error) & (high[:, 0] >= value - _NEAR * error))
        if not len(some):
            return None
        middle = int(some[len(some) // 2])
        return float(level.places[at[middle]]), float(found[middle])

    def _back_to_a_stretch(self, rows: Target, level: Tier, place: float, value: float, error: float) -> _Knot | None:
        """The same where any value will do: the one with the most room around it."""
        mirrored = Target(-rows.signal[::-1], rows.lowest[::-1], rows.highest[::-1])
        behind = level.places[::-1]
        low, high = self._fan(mirrored, np.array([-place]), np.array([value]), -behind, error)
        low = np.maximum(low[0, ::-1], np.where(level.reached[:, 0], level.values[:, 0], np.inf))
        high = np.minimum(high[0, ::-1], np.where(level.reached[:, 1], level.values[:, 1], -np.inf))
        room = np.where(np.isfinite(low) & np.isfinite(high) & (level.places < place), high - low, -np.inf)
        best = int(np.argmax(room))
        if room[best] < -_NEAR * error:
            return None
        return float(level.places[best]), float(low[best] + high[best]) / 2

    # -- the best error ---------------------------------------------------------------------------------------------

    def best(self, bound: float, start: Placed) -> Placed:
        """The knots with the least largest error that can be found between a proven bound and a table that is known.

        Errors just above the bound are tried first: there is little to look through for them.
        """
        best, proven, low, stride = start, bound, max(bound, self._target.spread), _FIRST_STRIDE
        for _ in range(_TRIES):
            if best.reached <= max(low * (1 + _CLOSE), _TINY * self._target.span):
                break
            pace.step(low, best.reached)
            error = min(max(low, self._finest) * (1 + stride), (low + best.reached) / 2)
            found = self.within(error)
            if self.too_many or self.lost:
                break
            if found is None:
                low, stride = error, 2 * stride
                proven = error
                continue
            reached, stride = self._target.worst(*found), stride / 2
            if reached < best.reached:
                best = Placed(*found, reached, bound)
            if reached > error and not self._sieve.widen(*found, error):
                break  # only the last digits are missing
        return best._replace(bound=min(max(proven, bound), best.reached))


def _joined(at: NDArray[np.int64], low: Array, high: Array) -> tuple[NDArray[np.int64], Array]:
    """Stretches (s,) at numbered places, those that overlap made one: numbers (m,), rising, and ends (m, 2)."""
    some = low <= high
    order = np.flatnonzero(some)[np.lexsort((low[some], at[some]))]
    rows: list[int] = []
    ends: list[list[float]] = []
    for place, lowest, highest in zip(at[order].tolist(), low[order].tolist(), high[order].tolist(), strict=True):
        if rows and rows[-1] == place and lowest <= ends[-1][1]:
            ends[-1][1] = max(ends[-1][1], highest)
        else:
            rows.append(place)
            ends.append([lowest, highest])
    return np.array(rows, dtype=np.int64), np.array(ends).reshape(-1, 2)


def settled(target: Target, grid: Grid, knots: int, free: Placed) -> Placed:
    """The best knots on a grid; `free` are those that stand anywhere, whose bound holds for all.

    A table is found close to the free knots first; then lesser errors are proven impossible from below, as far as there
    is not too much to look through.

    Raises: OutOfRange if the values allowed hold no table at all.
    """
    if len(grid.places) < 2:
        raise OutOfRange("The signal step leaves fewer than two places for knots. Choose a finer one.", found=0.0)
    found = _at_places(target, grid, free) if grid.fixed else _among_places(target, grid, knots, free)
    if not np.isfinite(found.reached):
        raise OutOfRange(
            f"No table keeps its values between {grid.lowest:g} and {grid.highest:g} in these steps. "
            "Widen the limits or choose finer steps.",
            found=grid.lowest,
        )
    return found


def _among_places(target: Target, grid: Grid, knots: int, free: Placed) -> Placed:
    """Knots chosen among the places: those near the free knots, improved and bounded by the search among all."""
    start = polished(target, Steps(grid.places, grid.value_step, grid.lowest, grid.highest), free)
    search = Search(target, grid, knots, most=_MOST_WORK)
    better = search.best(free.bound, start._replace(bound=free.bound))
    if not search.sure:
        better = better._replace(bound=free.bound)
    if not search.off_steps:
        return better
    # values beside the controller's steps were looked through: what was proven by them stands, what was found does not
    found = start if np.isfinite(start.reached) else _with_best_values(target, grid, better)
    return found._replace(bound=min(better.bound, found.reached))


def _at_places(target: Target, grid: Grid, free: Placed) -> Placed:
    """A knot at every place, with the best values the controller takes."""
    knots = len(grid.places)
    start = _rounded(target, grid, free)
    search = Search(target, grid, knots)
    if not search.off_steps:
        found = search.best(free.bound, start)
        if not search.off_steps:
            return found if search.sure else found._replace(bound=free.bound)
    search = Search(target, grid._replace(value_step=None), knots)
    found = search.best(free.bound, start._replace(reached=np.inf))
    here = min(_with_best_values(target, grid, found), start, key=lambda placed: placed.reached)
    return here._replace(bound=found.bound if search.sure else free.bound)


def _with_best_values(target: Target, grid: Grid, found: Placed) -> Placed:
    """The best values the controller takes for knots that stay where they are."""
    ideal = values_at(target, found.signals)
    if grid.value_step is None:
        values = np.clip(ideal.values, grid.lowest, grid.highest)
        other = Placed(found.signals, values, target.worst(found.signals, values), found.bound)
        return min(found, other, key=lambda placed: placed.reached)
    fixed = Search(target, grid._replace(places=found.signals, fixed=True), len(found.signals))
    best = fixed.best(max(found.bound, ideal.bound), found._replace(reached=np.inf))
    return best._replace(bound=found.bound, reached=np.inf if fixed.off_steps else best.reached)


def _rounded(target: Target, grid: Grid, free: Placed) -> Placed:
    """Free knots rounded to the grid: only where the search starts from; nothing if two fall on one place."""
    nearest = np.clip(np.searchsorted(grid.places, free.signals), 1, max(len(grid.places) - 1, 1))
    lower, upper = grid.places[nearest - 1], grid.places[np.minimum(nearest, len(grid.places) - 1)]
    signals = (
        grid.places if grid.fixed else np.unique(np.where(free.signals - lower <= upper - free.signals, lower, upper))
    )
    values = target.at(signals, target.middle)
    if grid.value_step is not None:
        values = np.round(values / grid.value_step) * grid.value_step
    values = np.clip(values, grid.lowest, grid.highest)
    ends_kept = signals[0] == grid.places[0] and signals[-1] == grid.places[-1]
    wanted = len(grid.places) if grid.fixed else len(free.signals)
    usable = ends_kept and len(signals) == wanted
    return Placed(signals, values, target.worst(signals, values) if usable else np.inf, free.bound)
