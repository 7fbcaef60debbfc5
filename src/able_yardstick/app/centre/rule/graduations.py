"""Which graduations a scale gets at a width: 1-2-5 steps whose labels never touch."""

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ....core.state.scales import Scale, signals_of
from ....core.words.numerals import decimals_for, fixed

Array = NDArray[np.float64]
Placing = Callable[[Array], Array]  # values (n,) to pixels (n,)
LABEL_GAP = 10.0
TICK_GAP = 5.0
_MOST_TICKS = 2000
_CROWDED = 10.0  # ends further apart than this factor, with hardly a label, ask for decades
_FEWEST_LABELS = 3


class Mark(NamedTuple):
    """A graduation: where it stands in pixels, and its label (empty where there is no room for one)."""

    x: float
    text: str


class Graduations(NamedTuple):
    """The long marks with their labels, and the short ones between them."""

    major: tuple[Mark, ...]
    minor: tuple[float, ...]


class Ends(NamedTuple):
    """A linear map from signal to pixels: the axis."""

    low: float
    high: float
    left: float
    right: float

    def x(self, signal: Array | float) -> Array:
        """Pixels at signals, shape kept."""
        share = (np.asarray(signal, dtype=float) - self.low) / (self.high - self.low)
        return np.asarray(self.left + share * (self.right - self.left))

    def signal(self, x: float) -> float:
        """The signal at a pixel."""
        return self.low + (x - self.left) / (self.right - self.left) * (self.high - self.low)


def steps_from(smallest: float) -> list[float]:
    """1-2-5 steps from the first at or above `smallest`, over five decades."""
    power = math.floor(math.log10(smallest))
    steps = [factor * 10.0**exponent for exponent in range(power, power + 6) for factor in (1, 2, 5)]
    return [step for step in steps if step >= smallest * (1 - 1e-9)]


def made_by(grade: Callable[[Array], Array]) -> tuple[object, object] | None:
    """What a scale's law comes from, to be compared with another's: a record and its method, or a plain function.

    None where nothing can be said, so that it is never the same as another.
    """
    record = getattr(grade, "__self__", None)
    if record is not None:
        return record, getattr(grade, "__func__", None)
    return (None, grade) if getattr(grade, "__closure__", None) is None else None


def graduate(scale: Scale, ends: Ends, width_of: Callable[[str], float]) -> Graduations:
    """The graduations of a scale over the axis in view; `width_of` measures a label in pixels."""
    stretch = (max(scale.usable[0], ends.low), min(scale.usable[1], ends.high))
    if not stretch[0] < stretch[1]:
        return Graduations((), ())
    low, high = sorted(float(v) for v in scale.grade(np.array(stretch)))
    if not high - low > 1e-12 * max(abs(low), abs(high)):
        return Graduations((), ())
    signals = signals_of(scale)

    def place(values: Array) -> Array:
        return ends.x(signals(values))

    steps = steps_from((high - low) / 400)
    major = next((step for step in steps if _roomy(place, low, high, step, width_of)), steps[-1])
    values = _multiples(low, high, major)
    marks = _without_collisions(place(values), values, major, width_of)
    found = Graduations(marks, _minor(place, low, high, major))
    crowded = low > 0 and high > _CROWDED * low and sum(bool(mark.text) for mark in marks) < _FEWEST_LABELS
    return _by_decades(place, low, high, width_of) if crowded else found


def _by_decades(place: Placing, low: float, high: float, width_of: Callable[[str], float]) -> Graduations:
    """Graduations at 1, 2 and 5 of every decade: for a scale so bent that even steps would all crowd at one end."""
    decades = range(math.floor(math.log10(low)), math.floor(math.log10(high)) + 1)
    every = np.array([digit * 10.0**decade for decade in decades for digit in range(1, 10)])
    every = every[(every >= low) & (every <= high)]
    leading = np.round(every / 10.0 ** np.floor(np.log10(every) + 1e-9))
    values = every[np.isin(leading, (1, 2, 5))]
    marks = _without_collisions(place(values), values, 10.0 ** decades[0], width_of)
    return Graduations(marks, tuple(place(every).tolist()))


def _multiples(low: float, high: float, step: float) -> Array:
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    return np.asarray(np.arange(first, last + 1) * step, dtype=np.float64)


def _roomy(place: Placing, low: float, high: float, step: float, width_of: Callable[[str], float]) -> bool:
    values = _multiples(low, high, step)
    if len(values) > _MOST_TICKS:
        return False
    if len(values) < 2:
        return True
    widest = max(width_of(_label(values[0], step)), width_of(_label(values[-1], step)))
    return _usual_gap(place(values)) >= widest + LABEL_GAP


def _usual_gap(pixels: Array) -> float:
    """The (upper) median distance from mark to mark, of several."""
    gaps = np.abs(np.diff(pixels))
    return float(np.partition(gaps, len(gaps) // 2)[len(gaps) // 2])


def _label(value: float, step: float) -> str:
    return fixed(value, decimals_for(step))


def _without_collisions(
    pixels: Array, values: Array, step: float, width_of: Callable[[str], float]
) -> tuple[Mark, ...]:
    """Marks from left to right; one whose label would touch the one before it stays without."""
    taken = -math.inf
    marks = []
    for x, value in sorted(zip(pixels.tolist(), values.tolist(), strict=True)):
        text = _label(value, step)
        half = width_of(text) / 2
        if x - half < taken:
            text = ""
        else:
            taken = x + half + LABEL_GAP / 2
        marks.append(Mark(x, text))
    return tuple(marks)


def _minor(place: Placing, low: float, high: float, major: float) -> tuple[float, ...]:
    leading = round(major / 10.0 ** math.floor(math.log10(major) + 1e-9))
    for parts in {1: (10, 5, 2), 2: (10, 4, 2), 5: (10, 5)}[leading]:
        values = _multiples(low, high, major / parts)
        if 1 < len(values) <= _MOST_TICKS:
            pixels = place(values)
            if _usual_gap(pixels) >= TICK_GAP:
                return tuple(pixels.tolist())
    return ()
