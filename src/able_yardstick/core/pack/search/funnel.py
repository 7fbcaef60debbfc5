"""The broken line of fewest links through a row of gates.

A gate is an upright gap at one signal that the line must pass. Links are drawn as far as they go: the steepest and the
flattest line through all gates so far are kept, and when a gate can be reached by neither, the next link starts on the
one that came closest (H. Imai, M. Iri, An optimal algorithm for approximating a piecewise linear function, Journal of
Information Processing 9 (1986), 159-162; for separate gates L. J. Guibas et al., Approximating polygons and
subdivisions with minimum-link paths, Int. J. Computational Geometry & Applications 3 (1993), 383-415). No line of
fewer links passes.

Where a link ends too low, riding on the upper ends of its gates, its successor crosses it somewhere behind the last
upper end it touches: so the successor owes the upper ends from there on, and the lower ends only from the missed gate
on. Where it ends too high, the other way round.
"""

from collections.abc import Sequence
from itertools import pairwise
from math import inf
from typing import Literal, NamedTuple

Row = Sequence[float]


class Piece(NamedTuple):
    """A straight piece: it passes (`x`, `y`) with `slope`, and ends between the gates `touches` and `misses`."""

    x: float
    y: float
    slope: float
    touches: int
    misses: int

    def at(self, x: float) -> float:
        """Its value at a signal."""
        return self.y + self.slope * (x - self.x)


class _Side:
    """One side of the funnel: the ends of the gates on it, as the hull that lines from the right are tangent to."""

    def __init__(self, x: Row, y: Row, sign: float) -> None:
        self._x, self._y, self._sign = x, y, sign
        self._hull: list[int] = []
        self._first = 0  # those before are behind every later tangent

    def __bool__(self) -> bool:
        return bool(self._hull)

    def tangent(self, at: float, height: float) -> float:
        """The slope of the line from the hull to a point on the right of it that keeps to its side of all ends."""
        x, y, hull, sign = self._x, self._y, self._hull, self._sign
        slope = (height - y[hull[self._first]]) / (at - x[hull[self._first]])
        while self._first + 1 < len(hull):
            end = hull[self._first + 1]
            other = (height - y[end]) / (at - x[end])
            if (other - slope) * sign > 0:
                break
            slope = other
            self._first += 1
        return slope

    def add(self, gate: int) -> None:
        """Take the end of one more gate."""
        x, y, hull, sign = self._x, self._y, self._hull, self._sign
        while len(hull) - self._first >= 2:
            a, b = hull[-2], hull[-1]
            turn = (x[b] - x[a]) * (y[gate] - y[a]) - (y[b] - y[a]) * (x[gate] - x[a])
            if turn * sign < 0:
                break
            hull.pop()
        hull.append(gate)


class _Funnel:
    """The lines through all gates so far: the steepest and the flattest, once there are such."""

    def __init__(self, x: Row, low: Row, high: Row) -> None:
        self._x, self._low, self._high = x, low, high
        self._feet, self._tops = _Side(x, low, 1.0), _Side(x, high, -1.0)
        self.steepest: Piece | None = None
        self.flattest: Piece | None = None

    def add(self, gate: int, has_low: bool = True, has_high: bool = True) -> Literal["below", "above"] | None:
        """Take one more gate, or say that every line passes below or above it."""
        at, below, above = self._x[gate], self._low[gate], self._high[gate]
        if has_low and self.steepest is not None and self.steepest.at(at) < below:
            return "below"
        if has_high and self.flattest is not None and self.flattest.at(at) > above:
            return "above"
        if has_high and self._feet and (self.steepest is None or self.steepest.at(at) > above):
            self.steepest = Piece(at, above, self._feet.tangent(at, above), gate, gate + 1)
        if has_low and self._tops and (self.flattest is None or self.flattest.at(at) < below):
            self.flattest = Piece(at, below, self._tops.tangent(at, below), gate, gate + 1)
        if has_high:
            self._tops.add(gate)
        if has_low:
            self._feet.add(gate)
        return None


def _link(x: Row, low: Row, high: Row, low_from: int, high_from: int) -> tuple[Piece, int, int]:
    """The link that goes furthest, and from where its successor owes the lower and the upper ends of gates.

    At the end of the row the successor's places are both beyond it.
    """
    funnel, count = _Funnel(x, low, high), len(x)
    for gate in range(min(low_from, high_from), count):
        missed = funnel.add(gate, gate >= low_from, gate >= high_from)
        if missed == "below" and funnel.steepest is not None:
            return funnel.steepest._replace(misses=gate), gate, funnel.steepest.touches
        if missed == "above" and funnel.flattest is not None:
            return funnel.flattest._replace(misses=gate), funnel.flattest.touches, gate
    return _middle(x, low, high, funnel.steepest, funnel.flattest), count, count


def reaches(x: Row, low: Row, high: Row, places: Row) -> list[tuple[float, float]]:
    """The lowest and highest value at rising places of the lines through all gates up to there.

    The list ends before the first place that no line reaches. The places lie behind the first gate.
    """
    funnel, gate, count = _Funnel(x, low, high), 0, len(x)
    found: list[tuple[float, float]] = []
    for place in places:
        while gate < count and x[gate] <= place:
            if funnel.add(gate) is not None:
                return found
            gate += 1
        steepest, flattest = funnel.steepest, funnel.flattest
        found.append(
            (-inf if flattest is None else flattest.at(place), inf if steepest is None else steepest.at(place))
        )
    return found


def _middle(x: Row, low: Row, high: Row, steepest: Piece | None, flattest: Piece | None) -> Piece:
    """The last link, for which there is room: midway between the extreme ones, both of which pass."""
    at, last = x[-1], len(x) - 1
    if steepest is None and flattest is None:
        return Piece(at, (low[-1] + high[-1]) / 2, 0.0, last, last + 1)
    first, second = steepest or flattest, flattest or steepest
    assert first is not None
    assert second is not None
    return Piece(at, (first.at(at) + second.at(at)) / 2, (first.slope + second.slope) / 2, last, last + 1)


def links_through(x: Row, low: Row, high: Row, most: int) -> list[Piece] | None:
    """The fewest links through gates at rising signals, shapes (n,) each; None if more than `most` are needed."""
    found: list[Piece] = []
    low_from = high_from = 0
    while low_from < len(x) and high_from < len(x):
        if len(found) == most:
            return None
        link, low_from, high_from = _link(x, low, high, low_from, high_from)
        found.append(link)
    return found


def corners(x: Row, links: Sequence[Piece]) -> list[tuple[float, float]]:
    """The ends and corners of a broken line over the whole row."""
    found = [(x[0], links[0].at(x[0]))]
    for first, second in pairwise(links):
        turn = first.slope - second.slope
        low, high = x[first.touches], x[min(first.misses, len(x) - 1)]
        at = second.x if turn == 0 else (second.y - second.slope * second.x - first.y + first.slope * first.x) / turn
        at = min(max(at, low), high)
        found.append((at, first.at(at)))
    found.append((x[-1], links[-1].at(x[-1])))
    return found
