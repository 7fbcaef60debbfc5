"""The plan of a collection: which stops, in which order, and what speaks against going there."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

import numpy as np
from pydantic import Field

from ..words.record import Finite, Frozen

_NEAR_SHARE = 0.05  # of the span


class Stop(NamedTuple):
    """A value to go to, in the channel's unit, and the way it is reached."""

    value: float
    direction: Literal["up", "down", "not stated"]


class StopPlan(Frozen):
    """Stops typed in their order, or so many spread evenly over the range; up and down again, several times."""

    typed: tuple[Finite, ...] = ()
    spread: int = Field(default=6, ge=2, le=50)
    both_ways: bool = True
    cycles: int = Field(default=1, ge=1, le=20)

    def stops(self, low: float, high: float) -> tuple[Stop, ...]:
        """All stops in their order, for a range in the channel's unit."""
        return tuple(self._in_order(low, high))

    def _in_order(self, low: float, high: float) -> Iterator[Stop]:
        if self.typed:
            for _ in range(self.cycles):
                yield from directed(self.typed)
            return
        values = [float(f"{value:.10g}") for value in np.linspace(low, high, self.spread)]
        for _ in range(self.cycles):
            yield from (Stop(value, "up") for value in values)
            if self.both_ways:
                yield from (Stop(value, "down") for value in reversed(values))


def directed(values: tuple[float, ...]) -> Iterator[Stop]:
    """Typed stops with the way each is reached: the first goes the way of the second; a repeat goes on as before.

    A repeat at the turning point is the first one of the way back.
    """
    for n, value in enumerate(values):
        before = next((old for old in reversed(values[:n]) if old != value), None)
        after = next((new for new in values[n + 1 :] if new != value), None)
        is_repeat = n > 0 and values[n - 1] == value
        if (before is None or is_repeat) and after is not None:
            yield Stop(value, "up" if after > value else "down")
        elif before is not None:
            yield Stop(value, "up" if value > before else "down")
        else:
            yield Stop(value, "not stated")


def is_at(stop: Stop, value: float, span: float) -> bool:
    """Whether a value, in the stop's unit, was taken at it: within a share of the span."""
    return abs(value - stop.value) <= _NEAR_SHARE * span


class Refusal(NamedTuple):
    """Why a stop should not be gone to; `is_harm` if something would be damaged."""

    says: str
    is_harm: bool
