"""Few knots for a curve: where they may stand anywhere, how many an error needs, and the best values at fixed places.

"Best" is the least largest error over every count. Knots may leave the curve, so that the error swings both ways. How
few pieces an error needs is found by `funnel`, the least error of so many by halving between one that is too small and
one that is kept (H. Imai, M. Iri, Polygonal approximations of a curve, in: Computational Morphology, 1988, 71-86).
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...words import pace
from ...words.errors import OutOfRange
from .chebyshev import closest
from .funnel import Piece, corners, links_through
from .target import Sieve, Target

Array = NDArray[np.float64]
_CLOSE = 1e-3  # how near to the proven bound is near enough, as a share of it
_STRAIGHT = 1e-9  # of the span: an error that no controller shows
_LAST_DIGITS = 1e-9  # of an error: so near a table that is the best there is may miss it by rounding
_ROUNDS = 60
MOST_KNOTS = 4096


class Placed(NamedTuple):
    """Knots with the largest error they reach over every count, and a bound that no knots of their kind go below."""

    signals: Array
    values: Array
    reached: float
    bound: float


def _gates(target: Target, error: float) -> tuple[list[float], list[float], list[float]]:
    return target.signal.tolist(), (target.highest - error).tolist(), (target.lowest + error).tolist()


def links_within(target: Target, error: float, most: int) -> list[Piece] | None:
    """The fewest straight pieces within an error; None if more than `most` are needed."""
    return links_through(*_gates(target, error), most)


def even_knots(target: Target, knots: int, ends: tuple[float, float]) -> Placed:
    """Knots on the curve at even distances, the plain way."""
    signals = np.linspace(*ends, knots)
    values = target.at(signals, target.middle)
    return Placed(signals, values, target.worst(signals, values), target.spread)


def free_knots(target: Target, knots: int, ends: tuple[float, float]) -> Placed:
    """The best knots where they may stand anywhere, the first and last at the ends of the stretch."""
    best = even_knots(target, knots, ends)
    floor = max(_STRAIGHT * target.span, target.spread)
    sieve = Sieve(target, knots)
    bound, close = target.spread, 0.02
    for _ in range(_ROUNDS):
        if best.reached <= max(bound * (1 + _CLOSE), floor):
            break
        pace.step(bound)  # what free knots reach is not yet what the controller takes
        rows = sieve.target
        bound, links = _narrowed(rows, knots - 1, (bound, best.reached), close, floor)
        found = _extended(corners(rows.signal.tolist(), links), links, ends)
        signals, values = filled(found, knots)
        reached = target.worst(signals, values)
        if reached < best.reached:
            best = Placed(signals, values, reached, bound)
        close = max(close / 10, _CLOSE / 2)
        if not sieve.widen(signals, values, bound) and close <= _CLOSE / 2:
            break
    return best._replace(bound=min(bound, best.reached))


def _narrowed(
    rows: Target, pieces: int, between: tuple[float, float], close: float, floor: float
) -> tuple[float, list[Piece]]:
    """An error that so many pieces cannot keep, and pieces that keep one hardly larger. They do keep the upper one.

    Below `floor` there is nothing left but the last digits of the reckoning.
    """
    low, high = between[0], between[1] * (1 + _LAST_DIGITS)
    links: list[Piece] | None = None
    stride = close  # more rows move the best error but a little: it is sought just above the lower one first
    while high - low > close * high and high > floor:
        pace.step()
        middle = (low + high) / 2
        error = min(low * (1 + stride), middle) if low > floor else middle
        fewer = links_within(rows, error, pieces)
        if fewer is None:
            low, stride = error, 4 * stride
        else:
            high, links, stride = error, fewer, close
    links = links or links_within(rows, high, pieces)
    assert links is not None  # a table with that error over more rows is known
    return low, links


def _extended(found: list[tuple[float, float]], links: list[Piece], ends: tuple[float, float]) -> Array:
    """Corners with the first and last moved out to the ends of the stretch."""
    found[0] = (ends[0], links[0].at(ends[0]))
    found[-1] = (ends[1], links[-1].at(ends[1]))
    return np.array(found)


def filled(found: Array, knots: int) -> tuple[Array, Array]:
    """Corners (m, 2), signal and value, as so many knots: those missing stand in the widest gaps and change nothing."""
    signals, values = found[:, 0], found[:, 1]
    apart = np.concatenate([[True], np.diff(signals) > 0])
    signals, values = signals[apart], values[apart]
    while len(signals) < knots:
        gap = int(np.argmax(np.diff(signals)))
        middle = (signals[gap] + signals[gap + 1]) / 2
        values = np.insert(values, gap + 1, np.interp(middle, signals, values))
        signals = np.insert(signals, gap + 1, middle)
    return signals, values


def fewest_knots(target: Target, error: float) -> int:
    """How many knots keep within an error, standing anywhere.

    Raises: OutOfRange if the curves that share the table are further apart than that, or it takes too many.
    """
    if error < target.spread:
        raise OutOfRange(
            f"The curves that share the table differ by up to {2 * target.spread:.4g}, so no table keeps within "
            f"{error:.4g}. Allow at least {target.spread:.4g}, or give each a table of its own.",
            found=error,
        )
    links = links_within(target, error, MOST_KNOTS)
    if links is None:
        raise OutOfRange(f"More than {MOST_KNOTS} knots would be needed for {error:.4g}. Allow more.", found=error)
    return max(len(links) + 1, 2)


def values_at(target: Target, positions: Array) -> Placed:
    """The best values at knots that stand at fixed signals (k,), rising.

    A Chebyshev approximation by linear programming.
    """
    sieve = Sieve(target, len(positions))
    bound = target.spread
    best = Placed(positions, target.at(positions, target.middle), np.inf, bound)
    for _ in range(_ROUNDS):
        pace.step(bound)
        values, bound = _chebyshev(sieve.target, positions)
        reached = target.worst(positions, values)
        if reached < best.reached:
            best = best._replace(values=values, reached=reached)
        if best.reached <= bound * (1 + _CLOSE) + _STRAIGHT * target.span:
            break
        if not sieve.widen(positions, values, bound):
            break
    return best._replace(bound=min(max(bound, target.spread), best.reached))


def _chebyshev(rows: Target, positions: Array) -> tuple[Array, float]:
    from scipy.sparse import coo_array

    count, knots = len(rows.signal), len(positions)
    left = np.clip(np.searchsorted(positions, rows.signal, side="right") - 1, 0, knots - 2)
    share = np.clip((rows.signal - positions[left]) / (positions[left + 1] - positions[left]), 0, 1)
    row = np.arange(count)
    places = (np.concatenate([row, row]), np.concatenate([left, left + 1]))
    hats = coo_array((np.concatenate([1 - share, share]), places), shape=(count, knots))
    level = float(rows.lowest.min())
    values, error = closest(hats, rows.lowest - level, rows.highest - level)
    return level + values, error
