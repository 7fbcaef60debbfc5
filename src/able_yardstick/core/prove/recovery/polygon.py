"""The straight lines that pass all gates: the convex polygon of their slopes and heights."""

from collections.abc import Iterable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
_WIDE = 1e7  # steps: further than any display goes
_SLIVER = 1e-6  # of a step


class Gate(NamedTuple):
    """A line passes at `at` between `low` and `high`, in steps of the display."""

    at: float
    low: float
    high: float


class LineSet(NamedTuple):
    """All lines slope x + height that pass the gates: the corners of their polygon, (m, 2)."""

    corners: Array

    @property
    def slopes(self) -> tuple[float, float]:
        """The least and greatest slope, in steps for each count."""
        return float(self.corners[:, 0].min()), float(self.corners[:, 0].max())

    @property
    def heights(self) -> tuple[float, float]:
        """The least and greatest height at count 0, in steps."""
        return float(self.corners[:, 1].min()), float(self.corners[:, 1].max())

    @property
    def centre(self) -> tuple[float, float]:
        """A line in the middle of them: slope and height."""
        slope, height = self.corners.mean(axis=0).tolist()
        return slope, height

    def at(self, x: float) -> tuple[float, float]:
        """The least and greatest value at a count, in steps."""
        values = self.corners[:, 0] * x + self.corners[:, 1]
        return float(values.min()), float(values.max())

    def slopes_at_height(self, height: float) -> tuple[float, float] | None:
        """The slopes of the lines with a height, in steps for each count; None where there are none."""
        found = []
        for (a, b), (c, d) in zip(self.corners, np.roll(self.corners, -1, axis=0), strict=True):
            if min(b, d) - _SLIVER <= height <= max(b, d) + _SLIVER:
                found += [a, c] if abs(d - b) <= _SLIVER else [a + (c - a) * (height - b) / (d - b)]
        return (float(min(found)), float(max(found))) if found else None

    def drawn(self, count: int) -> Array:
        """LineSet drawn evenly from the polygon, by a fixed seed: slopes and heights, shape (count, 2)."""
        draw = np.random.default_rng(0)
        first, rest = self.corners[0], self.corners[1:]
        if len(rest) < 2:
            return np.repeat(first[None, :], count, axis=0)
        one, two = rest[:-1] - first, rest[1:] - first
        areas = np.abs(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0])
        total = float(areas.sum())
        if total <= 0:
            return np.repeat(first[None, :], count, axis=0)
        which = draw.choice(len(areas), count, p=areas / total)
        u, v = draw.uniform(size=(2, count))
        over = u + v > 1
        u, v = np.where(over, 1 - u, u), np.where(over, 1 - v, v)
        return np.asarray(first + u[:, None] * one[which] + v[:, None] * two[which])


def lines_through(gates: Iterable[Gate]) -> LineSet | None:
    """The lines that pass all gates; None where none does."""
    corners = np.array([[-_WIDE, -_WIDE * 1e5], [_WIDE, -_WIDE * 1e5], [_WIDE, _WIDE * 1e5], [-_WIDE, _WIDE * 1e5]])
    for gate in sorted(gates, key=lambda one: -abs(one.at)):
        corners = _clipped(corners, gate.at, gate.low, 1.0)
        corners = _clipped(corners, gate.at, gate.high, -1.0)
        if len(corners) < 3:
            return None
    return LineSet(corners)


def _clipped(corners: Array, at: float, bound: float, side: float) -> Array:
    """The part of a convex polygon where side · (slope · at + height − bound) is not below 0 (Sutherland, Hodgman)."""
    if not len(corners):
        return corners
    over = side * (corners[:, 0] * at + corners[:, 1] - bound)
    found = []
    for n in range(len(corners)):
        m = (n + 1) % len(corners)
        if over[n] >= 0:
            found.append(corners[n])
        if (over[n] > 0 > over[m]) or (over[n] < 0 < over[m]):
            share = over[n] / (over[n] - over[m])
            found.append(corners[n] + share * (corners[m] - corners[n]))
    return np.array(found)
