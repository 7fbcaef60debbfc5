"""Breakpoints joined by straight lines."""

from functools import cached_property
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..units.conditions import NOMINAL, Conditions
from ..words.errors import ConflictingReadings, NotMonotonic
from ..words.record import Reckoned
from .base import Array, Curve

_STEEPEST = 1e100  # value per signal: steeper than that is upright


class Table(Curve):
    """Values at rising signals, joined by straight lines; its end stretches go on beyond the domain."""

    name: ClassVar[str] = "table"
    kind: Literal["table"] = "table"
    signals: tuple[Reckoned, ...] = Field(min_length=2)
    values: tuple[Reckoned, ...] = Field(min_length=2)

    @model_validator(mode="after")
    def _signals_rise(self) -> Self:
        if len(self.signals) != len(self.values):
            raise ValueError(f"{len(self.signals)} signals cannot pair with {len(self.values)} values")
        steps = np.diff(self.signals)
        if np.any(steps <= 0):
            row = int(np.argmax(steps <= 0)) + 1
            raise ValueError(
                f"signals must rise from row to row: row {row + 1} ({self.signals[row]:g}) does not lie above "
                f"row {row} ({self.signals[row - 1]:g})"
            )
        steep = np.abs(np.diff(self.values)) > _STEEPEST * steps
        if np.any(steep):
            row = int(np.argmax(steep)) + 1
            raise ValueError(f"rows {row} and {row + 1} lie so close that the curve between them stands upright")
        return self

    @classmethod
    def through(cls, signals: Array, values: Array) -> Self:
        """The table through points in any order, shape (n,) each.

        Raises: ConflictingReadings if one signal has two values; equal rows are taken once.
        """
        order = np.lexsort((values, signals))
        x, y = np.asarray(signals, dtype=float)[order], np.asarray(values, dtype=float)[order]
        again = np.flatnonzero(np.diff(x) == 0)
        for row in again:
            if y[row] != y[row + 1]:
                raise ConflictingReadings(
                    f"The signal {x[row]:.6g} stands twice, for {y[row]:.6g} and for {y[row + 1]:.6g}. "
                    "Exclude one of the two.",
                    rows=(int(order[row]), int(order[row + 1])),
                )
        x, y = np.delete(x, again + 1), np.delete(y, again + 1)
        return cls(signals=tuple(x.tolist()), values=tuple(y.tolist()), domain=(float(x[0]), float(x[-1])))

    def refuse_turns(self) -> Self:
        """The table itself, if it rises or falls throughout.

        Raises: NotMonotonic that names the row at which it turns.
        """
        turns = self.turning_points()
        if turns:
            row = self.signals.index(turns[0])
            raise NotMonotonic(
                f"The table turns at a signal of {turns[0]:.6g} (value {self.values[row]:.6g}): one value would belong "
                "to several signals. Correct or exclude the row that goes the wrong way.",
                at=turns[0],
            )
        return self

    @cached_property
    def _arrays(self) -> tuple[Array, Array, Array]:
        x, y = np.array(self.signals), np.array(self.values)
        return x, y, np.diff(y) / np.diff(x)

    def _stretch(self, signal: Array) -> "np.ndarray[tuple[int, ...], np.dtype[np.intp]]":
        x, _, slopes = self._arrays
        return np.clip(np.searchsorted(x, signal, side="right") - 1, 0, len(slopes) - 1)

    def value(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Values at signals, shape kept; exact at the breakpoints."""
        x, y, slopes = self._arrays
        points = np.asarray(signal, dtype=float)
        found = np.interp(points, x, y)
        below, above = points < x[0], points > x[-1]
        found = np.where(below, y[0] + slopes[0] * (points - x[0]), found)
        return np.asarray(np.where(above, y[-1] + slopes[-1] * (points - x[-1]), found))

    def slope(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Slope of the stretch each signal lies in (the right-hand one at a breakpoint), shape kept."""
        points = np.asarray(signal, dtype=float)
        return np.asarray(self._arrays[2][self._stretch(points)])

    def signal(self, value: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Signals that give the values, shape kept, on the end stretches beyond the domain too; all of them at once.

        Raises: NotMonotonic if the table turns, OutOfRange for what is no number.
        """
        numbers = np.asarray(value, dtype=float)
        if np.any(np.isnan(numbers)):
            return super().signal(value, conditions)
        self.refuse_if_it_turns()
        x, y, slopes = self._arrays
        way = np.sign(slopes[0])
        row = np.clip(np.searchsorted(way * y, way * numbers, side="right") - 1, 0, len(slopes) - 1)
        return np.asarray(x[row] + (numbers - y[row]) / slopes[row])

    def turning_points(self) -> tuple[float, ...]:
        """Breakpoints at which the value stops rising or falling, flat stretches included."""
        x, _, slopes = self._arrays
        signs = np.sign(slopes)
        if signs[0] == 0:
            return (
                float(x[0]),
                *(float(x[i + 1]) for i in range(len(signs) - 1) if signs[i] != signs[i + 1]),
            )
        return tuple(float(x[i + 1]) for i in range(len(signs) - 1) if signs[i] != signs[i + 1])

    def branches(self, value: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """Every signal that gives the value, rising, on the end stretches beyond the domain too."""
        x, y, slopes = self._arrays
        found: list[float] = []
        for row, slope in enumerate(slopes):
            if slope == 0:
                if value == y[row]:
                    found.append(float(x[row]))
                continue
            at = float(x[row] + (value - y[row]) / slope)
            low = -np.inf if row == 0 else x[row]
            high = np.inf if row == len(slopes) - 1 else x[row + 1]
            if low <= at <= high and not (found and np.isclose(at, found[-1], rtol=0, atol=1e-12 * (x[-1] - x[0]))):
                found.append(at)
        return tuple(found)

    def converted(self, gain: float, offset: float) -> Self:
        """The same table in another unit of value."""
        return self.with_(values=tuple(gain * value + offset for value in self.values))

    def stretched(self, factor: float) -> Self:
        """The same table of a signal `factor` times as large."""
        return self.through(factor * np.array(self.signals), np.array(self.values))
