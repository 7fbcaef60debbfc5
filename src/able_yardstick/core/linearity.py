"""A sensor's accuracy in the standard's terms, from readings of its signal up and down.

The definitions are those of IEC 61298-2:2008, 4.1 (accuracy-related factors): errors are taken at each stop as the mean
of its upward and of its downward readings, in percent of the output's span. They concern the transducer as the nominal
line has it: the ideal value of a signal is the line's between the two ends of the range.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .fit.stops import stop_numbers
from .packing.worst import best_slope, deciding

Array = NDArray[np.float64]
_CYCLES_WANTED = 3
_STOPS_WANTED = 5


class Term(NamedTuple):
    """One figure in the unit of the value; None with the reason why the readings cannot give it."""

    name: str
    value: float | None
    why_not: str = ""


class Linearity(NamedTuple):
    """Every figure, in the unit of the value and, by `span`, in percent of it; and how much the readings carry."""

    terms: tuple[Term, ...]
    span: float
    cycles: int
    stops: int

    def percent(self, term: Term) -> float | None:
        """A figure in percent of the span."""
        return None if term.value is None else 100 * term.value / self.span

    @property
    def says(self) -> str:
        """How far the readings fall short of what the standard asks for."""
        if self.cycles >= _CYCLES_WANTED and self.stops >= _STOPS_WANTED:
            return f"{self.cycles} cycles of {self.stops} stops."
        return (
            f"{self.cycles} cycle{'s' if self.cycles != 1 else ''} of {self.stops} stops; "
            f"the standard's test takes {_CYCLES_WANTED} of at least {_STOPS_WANTED}."
        )


def linearity_of(signal: Array, reference: Array, directions: list[str], span: float) -> Linearity:
    """The figures for points, signal and reference (n,) each, with the direction each was reached in.

    Signals are turned into values by the terminal-based line, so that all figures are in the unit of the value.
    """
    numbers = stop_numbers(reference)
    stops = int(numbers.max()) + 1
    up, down = (np.array([d == way for d in directions]) for way in ("up", "down"))
    cycles = _cycles(numbers, up, down, stops)
    if stops < 2:
        return Linearity((), span, cycles, stops)
    x = np.bincount(numbers, weights=reference) / np.bincount(numbers)
    mean = np.bincount(numbers, weights=signal) / np.bincount(numbers)
    gain = (x[-1] - x[0]) / (mean[-1] - mean[0])
    value = x[0] + gain * (signal - mean[0])  # what the terminal-based line makes of each reading
    average = x[0] + gain * (mean - mean[0])
    terms = [*_linearities(x, average, stops), *_directional(value, numbers, up, down, stops)]
    terms.append(_repeatability(value, numbers, up, down))
    return Linearity(tuple(terms), span, cycles, stops)


def _cycles(numbers: NDArray[np.int64], up: NDArray[np.bool_], down: NDArray[np.bool_], stops: int) -> int:
    """How often the inner stops were passed both ways; of readings in one direction how often that way."""
    counts = [np.bincount(numbers[way], minlength=stops) for way in (up, down)]
    inner = slice(1, -1) if stops > 2 else slice(None)
    both = np.minimum(*counts)[inner]
    return int(both.min()) if both.size and both.min() > 0 else 0


def _linearities(x: Array, average: Array, stops: int) -> list[Term]:
    """Deviations of the average curve from three straight lines: of least largest deviation, through both ends, and
    through the lower end with the slope that makes the largest deviation least.
    """
    if stops < 3:
        why = "two stops always lie on a line: one between them would show a bend"
        return [Term(name, None, why) for name in ("independent", "terminal-based", "zero-based")]
    points = deciding(x, average)
    slope = best_slope(points)
    away = (x - x[0])[1:]
    rise = (average - average[0])[1:]
    return [
        Term("independent", points.bound(slope)),
        Term("terminal-based", float(np.max(np.abs(average - x)))),
        Term("zero-based", _zero_based(away, rise)),
    ]


def _zero_based(away: Array, rise: Array) -> float:
    """The least largest deviation from lines through the lower end: it is convex in the slope, and found by thirds."""
    slopes = rise / away
    low, high = float(slopes.min()), float(slopes.max())
    for _ in range(200):
        first, second = low + (high - low) / 3, high - (high - low) / 3
        if np.max(np.abs(rise - first * away)) <= np.max(np.abs(rise - second * away)):
            high = second
        else:
            low = first
    return float(np.max(np.abs(rise - (low + high) / 2 * away)))


def _directional(
    value: Array, numbers: NDArray[np.int64], up: NDArray[np.bool_], down: NDArray[np.bool_], stops: int
) -> list[Term]:
    """Hysteresis: the largest difference at one stop between the mean of the upward and of the downward readings."""
    gaps = [
        abs(float(value[up & (numbers == n)].mean() - value[down & (numbers == n)].mean()))
        for n in range(stops)
        if (up & (numbers == n)).any() and (down & (numbers == n)).any()
    ]
    if not gaps:
        return [Term("hysteresis", None, "no stop was reached both going up and coming down")]
    return [Term("hysteresis", max(gaps))]


def _repeatability(value: Array, numbers: NDArray[np.int64], up: NDArray[np.bool_], down: NDArray[np.bool_]) -> Term:
    """The largest difference between readings of one stop reached in one direction."""
    ranges = [
        float(np.ptp(value[way & (numbers == n)]))
        for way in (up, down)
        for n in range(int(numbers.max()) + 1)
        if (way & (numbers == n)).sum() > 1
    ]
    if not ranges:
        return Term("repeatability", None, "no stop was reached twice in one direction")
    return Term("repeatability", max(ranges))
