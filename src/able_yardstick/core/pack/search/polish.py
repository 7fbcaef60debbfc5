"""The last digits of a table on a fine grid: the best way through many candidates for each knot at once.

Around each knot stand some of the grid's places, each with some of its values. The error of a piece depends on its two
knots alone, so the way with the least largest error is found knot by knot (R. Bellman, Dynamic Programming, 1957),
exactly for the rows and candidates looked at; it is done anew around what was found until nothing is gained.
"""

from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...words import pace
from .reduce import Placed
from .target import Target

Array = NDArray[np.float64]
_PLACES, _VALUES = 11, 3  # looked at for each knot
_ROWS = 48  # of the truth for each piece
_ROUNDS = 12
_NEXT_TO_NOTHING = 1e-12


class Steps(NamedTuple):
    """The places (p,) that a knot may have, rising, the step of values if any, and the values allowed."""

    places: Array
    value_step: float | None
    lowest: float
    highest: float


class _Choice(NamedTuple):
    """Candidates (c,) for one knot."""

    places: Array
    values: Array


def polished(target: Target, steps: Steps, start: Placed) -> Placed:
    """The best table on the grid found from a start, which may lie off it; its first and last place are kept."""
    best = _round(target, steps, start, 1)
    for stride in (1, 3):
        for _ in range(_ROUNDS):
            pace.step(best.bound, best.reached)
            found = _round(target, steps, best, stride)
            if found.reached >= best.reached * (1 - _NEXT_TO_NOTHING):
                break
            best = found
    return best


def _round(target: Target, steps: Steps, now: Placed, stride: int) -> Placed:
    choices = [_around(target, steps, now, knot, stride) for knot in range(len(now.signals))]
    costs = [_costs(_rows_between(target, *pair), *pair) for pair in pairwise(choices)]
    reached = np.zeros(len(choices[0].places))
    came: list[NDArray[np.int64]] = []
    for cost in costs:
        through = np.maximum(reached[:, None], cost)
        came.append(np.argmin(through, axis=0))
        reached = np.min(through, axis=0)
    at = int(np.argmin(reached))
    if not np.isfinite(reached[at]):
        return now._replace(reached=np.inf)  # no knots one behind the other
    way = [at]
    for before in reversed(came):
        way.append(int(before[way[-1]]))
    way.reverse()
    signals = np.array([choice.places[n] for choice, n in zip(choices, way, strict=True)])
    values = np.array([choice.values[n] for choice, n in zip(choices, way, strict=True)])
    return Placed(signals, values, target.worst(signals, values), now.bound)


def _around(target: Target, steps: Steps, now: Placed, knot: int, stride: int) -> _Choice:
    """Places near a knot, each with the values nearest to as far off the truth as the knot is now."""
    here = int(np.argmin(np.abs(steps.places - now.signals[knot])))
    ends = knot in (0, len(now.signals) - 1)
    reach = 0 if ends else _PLACES // 2
    rows = np.unique(np.clip(here + stride * np.arange(-reach, reach + 1), 0, len(steps.places) - 1))
    places = steps.places[rows]
    off = now.values[knot] - target.at(now.signals[knot : knot + 1], target.middle)[0]
    wanted = target.at(places, target.middle) + off
    count = _VALUES * (3 if ends else 1)
    apart = np.arange(count) - count // 2
    if steps.value_step is None:
        values = wanted[:, None] + apart * stride * 0.01 * now.reached
    else:
        values = (np.round(wanted / steps.value_step)[:, None] + apart) * steps.value_step
    values = np.clip(values, steps.lowest, steps.highest)
    return _Choice(np.repeat(places, count), values.ravel())


def _rows_between(target: Target, first: _Choice, last: _Choice) -> Target:
    """Rows that decide a piece between two knots: some evenly, those where the truth turns most, and those at its ends,
    where its error is largest.
    """
    x = target.signal
    low, high = np.searchsorted(x, [first.places.min(), last.places.max()]).tolist()
    inside = target.picked(np.arange(max(low - 1, 0), min(high + 1, len(x))))
    bends = np.abs(np.diff(inside.middle, 2))
    picked = [_evenly(0, len(inside.signal) - 1), np.argsort(bends)[-_ROWS // 4 :] + 1]
    for places in (first.places, last.places):
        begin, end = np.searchsorted(inside.signal, [places.min(), places.max()]).tolist()
        picked.append(_evenly(max(begin - 2, 0), min(end + 2, len(inside.signal) - 1)))
    return inside.picked(np.unique(np.concatenate(picked)))


def _evenly(low: int, high: int) -> NDArray[np.int64]:
    return np.linspace(low, high, min(_ROWS, high - low + 1)).round().astype(np.int64)


def _costs(rows: Target, first: _Choice, last: _Choice) -> Array:
    """The largest error of the piece from each candidate to each of the next knot, shape (c, d)."""
    x = rows.signal
    width = last.places[None, :] - first.places[:, None]
    share = (x - first.places[:, None])[:, None, :] / np.where(width > 0, width, np.inf)[:, :, None]
    line = first.values[:, None, None] + (last.values[None, :] - first.values[:, None])[:, :, None] * share
    error = np.maximum(line - rows.lowest, rows.highest - line)
    on = (x >= first.places[:, None, None]) & (x <= last.places[None, :, None])
    worst = np.max(np.where(on, error, 0.0), axis=2, initial=0.0)
    return np.where(width > 0, worst, np.inf)
