"""Where it is worth looking for the knots of a table: the values that a knot can have at a place within an error."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .target import Target

Array = NDArray[np.float64]
ROUNDING = 1e-9  # of a step: two sums of the same grid
_SHARES = (0.25, 0.5, 1.0)  # of the counts that a piece passes: pairs of them that bound it
_WIDER = 30.0  # errors: how far to look further where two counts bound nothing


class Grid(NamedTuple):
    """What a controller takes: places (p,) rising, the step of values if any, and the values it allows.

    Every place is a knot where `fixed`; else knots are chosen among them, the first and the last for certain.
    """

    places: Array
    value_step: float | None
    lowest: float = -np.inf
    highest: float = np.inf
    fixed: bool = False


class Tier(NamedTuple):
    """Places (p,) for one knot, values (p, v) looked at for each, rising, and which of them are reached (p, v).

    Where any value will do there are two, the lowest and the highest of a stretch that is reached whole; a place with
    several stretches stands once for each.
    """

    places: Array
    values: Array
    reached: NDArray[np.bool_]


class Room(NamedTuple):
    """Places (p,) for one knot with the lowest and highest value worth looking at.

    It is `sure` where no other value can keep the error.
    """

    places: Array
    low: Array
    high: Array
    sure: bool = True

    @property
    def wide(self) -> Array:
        """How wide the stretches of values are that are looked at, (p,)."""
        return np.maximum(self.high - self.low, 0.0)

    def opened(self, step: float | None) -> Tier:
        """All values worth looking at; the ends of their stretch where any will do."""
        if step is None:
            both = np.stack([self.low <= self.high] * 2, axis=1)
            return Tier(self.places, np.stack([self.low, self.high], axis=1), both)
        base = np.ceil(self.low / step - ROUNDING)
        width = max(int(np.max(self.high / step - base)) + 2, 1)
        values = np.asarray((base[:, None] + np.arange(width)) * step, dtype=np.float64)
        return Tier(self.places, values, values <= self.high[:, None] + ROUNDING * step)


def room_of(target: Target, grid: Grid, windows: list[Array], knot: int, error: float) -> Room:
    """The values worth looking at for a knot at each place of its window (p,), in the target's unit.

    The piece on either side of it passes all counts up to the window of the next knot, or to the grid's next place,
    so that two of them bound it at the knot. Where there are not two, one of both pieces is taken to pass the next two
    counts on its side: so it is unless knots stand closer than counts, as they may at fixed places.
    """
    places = windows[knot]
    foot, top = target.highest - error, target.lowest + error
    at = np.searchsorted(grid.places, places)
    onward = grid.places[np.minimum(at + 1, len(grid.places) - 1)]
    backward = grid.places[np.maximum(at - 1, 0)]
    if knot + 1 < len(windows) and len(windows[knot + 1]):
        onward = np.maximum(onward, windows[knot + 1][0])
    if knot > 0 and len(windows[knot - 1]):
        backward = np.minimum(backward, windows[knot - 1][-1])
    after = _Side(target.signal, foot, top).at(places, onward)
    before = _Side(-target.signal[::-1], foot[::-1], top[::-1]).at(-places, -backward)
    low, high = np.maximum(after.low, before.low), np.minimum(after.high, before.high)
    known = np.isfinite(low) & np.isfinite(high)
    further = _WIDER * error if grid.fixed else 0.0
    low = np.where(known, low, np.minimum(after.loose_low, before.loose_low) - further)
    high = np.where(known, high, np.maximum(after.loose_high, before.loose_high) + further)
    free = ~np.isfinite(low) | ~np.isfinite(high)  # not even two counts on either side
    low = np.where(free, foot.min() - _WIDER * error, low)
    high = np.where(free, top.max() + _WIDER * error, high)
    sure = bool(known.all()) if grid.fixed else not free.any()
    return Room(places, np.maximum(low, grid.lowest), np.minimum(high, grid.highest), sure)


class _Bounds(NamedTuple):
    """Lowest and highest values (p,) that a piece has at places, infinite where too few counts bound it; the loose ones
    are those of a piece that passes the next two counts, of the other infinity where there are not even two.
    """

    low: Array
    high: Array
    loose_low: Array
    loose_high: Array


class _Side(NamedTuple):
    """Counts (n,), rising, with the lowest and highest value that a piece may have there."""

    x: Array
    foot: Array
    top: Array

    def at(self, places: Array, ends: Array) -> _Bounds:
        """Bounds, values at signals (p,), of a piece that goes on to the right, at least to the ends (p,)."""
        count = len(self.x)
        first = np.searchsorted(self.x, places)
        last = np.searchsorted(self.x, ends, side="right") - 1
        here = np.minimum(first, count - 1)
        on = (first < count) & (self.x[here] == places)
        low, high = np.where(on, self.foot[here], -np.inf), np.where(on, self.top[here], np.inf)
        for share in _SHARES:
            other = first + np.maximum((share * (last - first)).astype(np.int64), 1)
            lowest, highest = self._through(places, first, other, other <= last)
            low, high = np.maximum(low, lowest), np.minimum(high, highest)
        loose = self._through(places, first, first + 1, first + 1 < count)
        return _Bounds(low, high, *(np.where(np.isfinite(bound), bound, -bound) for bound in loose))

    def _through(
        self, places: Array, first: NDArray[np.int64], other: NDArray[np.int64], known: NDArray[np.bool_]
    ) -> tuple[Array, Array]:
        """Lowest and highest value at places of lines through two counts, infinite where these are not known."""
        one, two = (np.minimum(row, len(self.x) - 1) for row in (first, other))
        away = self.x[one] - places
        share = away / np.where(known, self.x[two] - self.x[one], 1.0)
        low = self.foot[one] - share * (self.top[two] - self.foot[one])
        high = self.top[one] + share * (self.top[one] - self.foot[two])
        return np.where(known, low, -np.inf), np.where(known, high, np.inf)
