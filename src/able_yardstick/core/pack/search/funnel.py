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
from itertools import islice, pairwise
from math import inf, isnan, nan
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

    def tangent(self, at: float, height: float) -> float:
        """The slope of the line from the hull to a point on the right of it that keeps to its side of all ends."""
        x, y, hull, sign, first = self._x, self._y, self._hull, self._sign, self._first
        slope = (height - y[hull[first]]) / (at - x[hull[first]])
        for end in islice(hull, first + 1, None):
            other = (height - y[end]) / (at - x[end])
            if (other - slope) * sign > 0:
                break
            slope = other
            first += 1
        self._first = first
        return slope

    def add(self, gate: int) -> None:
        """Take the end of one more gate."""
        x, y, hull, sign = self._x, self._y, self._hull, self._sign
        at, height, least = x[gate], y[gate], self._first + 2
        while len(hull) >= least:
            a, b = hull[-2], hull[-1]
            from_x, from_y = x[a], y[a]
            if ((x[b] - from_x) * (height - from_y) - (y[b] - from_y) * (at - from_x)) * sign < 0:
                break
            hull.pop()
        hull.append(gate)


class _Extreme:
    """The steepest or the flattest line through all gates so far, once there is one: a foot, a slope, a gate.

    It is asked at every gate, so it is plain numbers.
    """

    __slots__ = ("gate", "slope", "x", "y")

    def __init__(self) -> None:
        self.x, self.y, self.slope, self.gate = 0.0, 0.0, nan, -1

    def turn(self, x: float, y: float, slope: float, gate: int) -> None:
        """It now ends at this gate."""
        self.x, self.y, self.slope, self.gate = x, y, slope, gate

    def at(self, x: float) -> float:
        """Its value at a signal; not a number, which is neither above nor below anything, before there is a line."""
        return self.y + self.slope * (x - self.x)

    @property
    def piece(self) -> Piece | None:
        """The line as a piece that misses the next gate."""
        return None if self.gate < 0 else Piece(self.x, self.y, self.slope, self.gate, self.gate + 1)


class _Funnel:
    """The lines through all gates so far: the steepest and the flattest, once there are such."""

    def __init__(self, x: Row, low: Row, high: Row) -> None:
        self._x, self._low, self._high = x, low, high
        self._feet, self._tops = _Side(x, low, 1.0), _Side(x, high, -1.0)
        self.steepest, self.flattest = _Extreme(), _Extreme()
        self._has_foot = self._has_top = False

    def add(self, gate: int, has_low: bool = True, has_high: bool = True) -> Literal["below", "above"] | None:
        """Take one more gate, or say that every line passes below or above it."""
        at, below, above = self._x[gate], self._low[gate], self._high[gate]
        steepest, flattest = self.steepest, self.flattest
        up = steepest.y + steepest.slope * (at - steepest.x)
        down = flattest.y + flattest.slope * (at - flattest.x)
        if has_low and up < below:
            return "below"
        if has_high and down > above:
            return "above"
        # before there is a line, `up` and `down` are no numbers: neither above nor below anything
        if has_high and self._has_foot and not up <= above:
            steepest.turn(at, above, self._feet.tangent(at, above), gate)
        if has_low and self._has_top and not down >= below:
            flattest.turn(at, below, self._tops.tangent(at, below), gate)
        if has_high:
            self._tops.add(gate)
            self._has_top = True
        if has_low:
            self._feet.add(gate)
            self._has_foot = True
        return None


def _link(x: Row, low: Row, high: Row, low_from: int, high_from: int) -> tuple[Piece, int, int]:
    """The link that goes furthest, and from where its successor owes the lower and the upper ends of gates.

    At the end of the row the successor's places are both beyond it.
    """
    funnel, count = _Funnel(x, low, high), len(x)
    for gate in range(min(low_from, high_from), count):
        missed = funnel.add(gate, gate >= low_from, gate >= high_from)
        if missed is None:
            continue
        ridden = (funnel.steepest if missed == "below" else funnel.flattest).piece
        assert ridden is not None  # a line passed below or above the gate
        ends = (gate, ridden.touches) if missed == "below" else (ridden.touches, gate)
        return ridden._replace(misses=gate), *ends
    return _middle(x, low, high, funnel.steepest.piece, funnel.flattest.piece), count, count


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
        lowest, highest = funnel.flattest.at(place), funnel.steepest.at(place)
        found.append((-inf if isnan(lowest) else lowest, inf if isnan(highest) else highest))
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
