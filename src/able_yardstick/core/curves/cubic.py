"""Breakpoints joined by cubics that never overshoot."""

from functools import cached_property
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..words.record import Reckoned
from .base import Array
from .defined import DefinedCurve, solved
from .table import Table


class MonotoneCubic(DefinedCurve):
    """Values at rising signals, joined by cubic pieces that rise where the values rise and fall where they fall.

    The slopes at the breakpoints are the weighted harmonic means of the neighbouring ones (F. N. Fritsch, J. Butland,
    A method for constructing local monotone piecewise cubic interpolants, SIAM J. Sci. Stat. Comput. 5 (1984),
    300-304), those at the ends by three points, held to the end's direction.
    """

    name: ClassVar[str] = "monotone cubic"
    kind: Literal["cubic"] = "cubic"
    signals: tuple[Reckoned, ...] = Field(min_length=2)
    values: tuple[Reckoned, ...] = Field(min_length=2)

    @model_validator(mode="after")
    def _runs_one_way(self) -> Self:
        table = Table(signals=self.signals, values=self.values, domain=self.domain)  # refuses signals out of order
        turns = table.turning_points()
        if turns:
            raise ValueError(
                f"the values turn at a signal of {turns[0]:.6g}: a monotone cubic needs values that rise or fall "
                "throughout. Correct or exclude the row that goes the wrong way"
            )
        return self

    @classmethod
    def through(cls, table: Table) -> Self:
        """The cubic through the rows of a table."""
        return cls(signals=table.signals, values=table.values, domain=table.domain)

    @property
    def law_limits(self) -> tuple[float, float]:
        """The first and the last breakpoint."""
        return self.signals[0], self.signals[-1]

    @cached_property
    def _pieces(self) -> tuple[Array, Array, Array, Array, Array]:
        """Breakpoints, values, slopes there, widths and chords."""
        x, y = np.array(self.signals), np.array(self.values)
        widths = np.diff(x)
        chords = np.diff(y) / widths
        return x, y, _slopes(widths, chords), widths, chords

    def _at(self, signal: Array) -> tuple[Array, ...]:
        x, y, slopes, widths, chords = self._pieces
        piece = np.clip(np.searchsorted(x, signal, side="right") - 1, 0, len(widths) - 1)
        first, last, width, chord = slopes[piece], slopes[piece + 1], widths[piece], chords[piece]
        away = signal - x[piece]
        square = (3 * chord - 2 * first - last) / width
        cube = (first + last - 2 * chord) / width**2
        return y[piece], first, square, cube, away

    def law(self, signal: Array) -> Array:
        """Values at signals, shape kept."""
        start, first, square, cube, away = self._at(np.asarray(signal, dtype=float))
        return np.asarray(start + away * (first + away * (square + away * cube)))

    def law_slope(self, signal: Array) -> Array:
        """Change of value per unit of signal, shape kept."""
        _, first, square, cube, away = self._at(np.asarray(signal, dtype=float))
        return np.asarray(first + away * (2 * square + 3 * away * cube))

    def law_inverse(self, value: Array) -> Array:
        """Signals at values, shape kept."""
        return solved(self, value)

    def stretched(self, factor: float) -> Self:
        """The same cubic of a signal `factor` times as large: its breakpoints move with it."""
        signals = tuple(factor * signal for signal in self.signals)
        low, high = (factor * end for end in self.domain)
        return self.with_(signals=signals, domain=(low, high))


def _slopes(widths: Array, chords: Array) -> Array:
    if len(chords) == 1:
        return np.array([chords[0], chords[0]])
    before, after = widths[:-1], widths[1:]
    weights = 2 * after + before, after + 2 * before
    inner = (weights[0] + weights[1]) / (weights[0] / chords[:-1] + weights[1] / chords[1:])
    return np.concatenate([[_end(widths, chords)], inner, [_end(widths[::-1], chords[::-1])]])


def _end(widths: Array, chords: Array) -> float:
    """The slope at an end by its three points; none against the direction, nor more than three times the chord."""
    found = ((2 * widths[0] + widths[1]) * chords[0] - widths[0] * chords[1]) / (widths[0] + widths[1])
    if found * chords[0] <= 0:
        return 0.0
    return float(np.clip(abs(found), 0, 3 * abs(chords[0])) * np.sign(chords[0]))
