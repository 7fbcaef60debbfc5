"""The best constants on a grid: searched for with the exact worst error, never each rounded alone.

For a slope s and an offset o the error at x is s·x + o - t. With d = s·x - t the offset that balances the largest
errors up and down is -(max d + min d)/2, and the error then is (max d - min d)/2, which is convex in s. So on a grid of
slopes the best pair lies where this bound is no larger than the best error found, on both sides of its least.
"""

from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..words import pace

Array = NDArray[np.float64]
_MOST = 50_000  # tried on either side: more only where the grid of offsets is coarser than the curve


class LinePair(NamedTuple):
    """A slope and an offset with the largest error they make, and the least that any pair could make."""

    slope: float
    offset: float
    error: float
    bound: float


class HullPoints(NamedTuple):
    """Inputs (n,) and true values (n,): only those that can decide, the corners of their hulls."""

    x: Array
    truth: Array

    def extremes(self, slope: float) -> tuple[float, float]:
        """Least and largest of slope·x - truth."""
        over = slope * self.x - self.truth
        return float(over.min()), float(over.max())

    def bound(self, slope: float) -> float:
        """The least error that a slope can make, with the offset that suits it best."""
        low, high = self.extremes(slope)
        return (high - low) / 2


def deciding(x: Array, truth: Array) -> HullPoints:
    """The points that can make a largest error of a straight line: the corners of the upper and lower hull.

    Inputs rise, shape (n,) each.
    """
    rows = sorted({*_hull(x, truth, 1.0), *_hull(x, truth, -1.0)})
    return HullPoints(x[rows], truth[rows])


def _hull(x: Array, y: Array, sign: float) -> list[int]:
    found: list[int] = []
    px, py = x.tolist(), (sign * y).tolist()
    for n in range(len(px)):
        while len(found) >= 2:
            a, b = found[-2], found[-1]
            if (px[b] - px[a]) * (py[n] - py[a]) - (py[b] - py[a]) * (px[n] - px[a]) < 0:
                break
            found.pop()
        found.append(n)
    return found


def best_slope(points: HullPoints) -> float:
    """The slope of the straight line whose largest error is least (Chebyshev's line).

    The least error that a slope can make falls and then rises with it; it bends only at slopes of the hulls' edges.
    """
    slopes = np.unique(np.concatenate([_edges(points, 1.0), _edges(points, -1.0)]))
    low, high = 0, len(slopes) - 1
    while low < high:
        middle = (low + high) // 2
        if points.bound(float(slopes[middle])) <= points.bound(float(slopes[middle + 1])):
            high = middle
        else:
            low = middle + 1
    return float(slopes[low])


def _edges(points: HullPoints, sign: float) -> Array:
    rows = _hull(points.x, points.truth, sign)
    return np.diff(points.truth[rows]) / np.diff(points.x[rows])


def best_pair(
    points: HullPoints, slopes: Callable[[float, int], Iterator[float]], offset: Callable[[float, float], float]
) -> LinePair | None:
    """The pair with the least largest error out of slopes and offsets on a grid; None if no slope is usable.

    `slopes(near, side)` gives the grid's slopes from one on, downwards (-1) or upwards (+1); `offset(wanted, slope)`
    the nearest offset of the grid, which may be another one for each slope.
    """
    near = best_slope(points)
    best: LinePair | None = None
    for side in (-1, 1):
        for tried, slope in enumerate(slopes(near, side)):
            bound = points.bound(slope)
            pace.step()
            if tried > _MOST or (best is not None and bound >= best.error):
                break
            low, high = points.extremes(slope)
            constant = offset(-(high + low) / 2, slope)
            error = max(abs(low + constant), abs(high + constant))
            if best is None or error < best.error:
                best = LinePair(slope, constant, error, 0.0)
    return None if best is None else best._replace(bound=points.bound(near))
