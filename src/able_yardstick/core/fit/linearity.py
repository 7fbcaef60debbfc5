"""A sensor's accuracy in the standard's terms, from readings of its signal up and down.

The factors are those of IEC 61298-2:2008, 4.1: the means of the upward and of the downward readings are taken at each
stop, and their deviations are given in percent of the span. Signals are turned into values by the terminal-based line,
so that every figure is in the unit of the value. Zero and span error are those of the described curve.
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..regression.repeats import Stops, stops_or_near
from ..regression.worst_error import HullPoints, best_slope, deciding

Array = NDArray[np.float64]
Rows = NDArray[np.bool_]
CYCLES_WANTED = 3
STOPS_WANTED = 5
_AT_AN_END = 0.01  # of the range: so near to an end a stop is at it


class Term(NamedTuple):
    """One figure in the unit of the value; None with the reason why the readings cannot give it."""

    name: str
    means: str
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
        if self.cycles >= CYCLES_WANTED and self.stops >= STOPS_WANTED:
            return f"From {self.cycles} cycles up and down of {self.stops} stops (IEC 61298-2, 4.1)."
        had = "no whole cycle" if self.cycles == 0 else f"{self.cycles} cycle{'s' if self.cycles > 1 else ''}"
        return (
            f"{had} up and down, {self.stops} stops; the standard's test (IEC 61298-2, 4.1) takes at least "
            f"{CYCLES_WANTED} cycles of {STOPS_WANTED} stops. Linearity needs three stops, hysteresis one cycle, "
            "repeatability two passes in one direction."
        )


class ReadingRun(NamedTuple):
    """Readings (n,) with the direction each was reached in, over a range; `nominal` is the described curve.

    `stops` (n,) are the stops that the readings repeat; without it those that lie together are taken as one.
    """

    signal: Array
    reference: Array
    directions: tuple[str, ...]
    range: tuple[float, float]
    nominal: Curve | None = None
    stops: Stops | None = None


class _Sorted(NamedTuple):
    """What the terminal-based line makes of each reading, by stop and direction."""

    values: Array
    numbers: NDArray[np.int64]
    up: Rows
    down: Rows

    @property
    def stops(self) -> int:
        return int(self.numbers.max()) + 1

    def at(self, stop: int, way: Rows) -> Array:
        """The values (k,) of one stop reached in one direction, in the order they were taken."""
        return np.asarray(self.values[way & (self.numbers == stop)])

    def both_ways(self) -> list[tuple[Array, Array]]:
        """The values going up (k,) and coming down (l,), of each stop reached both ways."""
        pairs = [(self.at(stop, self.up), self.at(stop, self.down)) for stop in range(self.stops)]
        return [(up, down) for up, down in pairs if len(up) and len(down)]

    def cycles(self) -> int:
        """How often the inner stops were passed both ways."""
        counts = [np.bincount(self.numbers[way], minlength=self.stops) for way in (self.up, self.down)]
        inner = slice(1, -1) if self.stops > 2 else slice(None)
        return int(np.minimum(*counts)[inner].min())


def linearity_of(run: ReadingRun) -> Linearity:
    """The figures for a run of readings; without any at two stops there are none."""
    span = abs(run.range[1] - run.range[0])
    if len(run.signal) == 0 or np.ptp(run.reference) == 0:
        return Linearity((), span, 0, len(np.unique(run.reference)))
    numbers = stops_or_near(run.reference, run.stops)
    up, down = (np.array([direction == way for direction in run.directions]) for way in ("up", "down"))
    x, mean = (_average(column, numbers, up, down) for column in (run.reference, run.signal))
    if mean[-1] == mean[0]:
        return Linearity((), span, 0, len(x))
    gain = (x[-1] - x[0]) / (mean[-1] - mean[0])
    found = _Sorted(x[0] + gain * (run.signal - mean[0]), numbers, up, down)
    terms = [*_linearities(x, x[0] + gain * (mean - mean[0])), *_directional(found), _repeatability(found)]
    return Linearity((*terms, *_against_nominal(run, x, mean)), span, found.cycles(), found.stops)


def _average(column: Array, numbers: Stops, up: Rows, down: Rows) -> Array:
    """Of each stop the mean of the upscale and the downscale mean, where it was reached both ways; else of all.

    Not the mean of all readings, which would give the direction with more passes more weight (IEC 61298-2:2008, 4.1).
    """
    found = []
    for stop in range(int(numbers.max()) + 1):
        at = numbers == stop
        ways = [column[at & way] for way in (up, down) if np.any(at & way)]
        found.append(np.mean([way.mean() for way in ways]) if len(ways) == 2 else column[at].mean())
    return np.array(found)


_STRAIGHT = {
    "independent": "largest deviation from the line that makes it least",
    "terminal-based": "largest deviation from the line through the means of the lowest and the highest stop",
    "zero-based": "largest deviation from the line through the lowest stop whose slope makes it least",
}


def _linearities(x: Array, average: Array) -> list[Term]:
    """Deviations of the average curve from three straight lines."""
    if len(x) < 3:
        why = "two stops always lie on a line: one between them would show a bend"
        return [Term(name, means, None, why) for name, means in _STRAIGHT.items()]
    points = deciding(x, average)
    figures = (
        points.bound(best_slope(points)),
        float(np.max(np.abs(average - x))),
        _zero_based(deciding((x - x[0])[1:], (average - average[0])[1:])),
    )
    return [Term(name, means, figure) for (name, means), figure in zip(_STRAIGHT.items(), figures, strict=True)]


def _zero_based(points: HullPoints) -> float:
    """The least largest deviation from lines through the lower end, of points further up, away from it and risen.

    Of each two points the line between them makes both deviations equal, and no line makes the larger one less; the
    pair for which that is largest decides (the deviations are linear in the slope, the least of their maximum is where
    a falling and a rising one cross).
    """
    away, rise = points
    crossing = np.outer(rise, away) - np.outer(away, rise)
    return float(np.max(crossing / np.add.outer(away, away)))


def _directional(found: _Sorted) -> list[Term]:
    """Hysteresis between the means of the two directions, reversibility between single passes of one cycle."""
    meanings = {
        "hysteresis": "largest difference at one stop between the mean going up and the mean coming down",
        "reversibility": "largest difference at one stop between going up and coming down in one cycle",
    }
    pairs = found.both_ways()
    if not pairs:
        why = "no stop was reached both going up and coming down"
        return [Term(name, means, None, why) for name, means in meanings.items()]
    hysteresis = _between_ways(pairs)
    single = max(float(np.max(np.abs(up[: len(down)] - down[: len(up)]))) for up, down in pairs)
    figures = (hysteresis, single)
    return [Term(name, means, figure) for (name, means), figure in zip(meanings.items(), figures, strict=True)]


def _between_ways(pairs: list[tuple[Array, Array]]) -> float:
    """The largest difference between the means up and down (IEC 61298-2:2008, 4.1.7)."""
    return max(abs(float(up.mean() - down.mean())) for up, down in pairs)


def hysteresis_of(values: Array, numbers: Stops, directions: Sequence[str]) -> float | None:
    """The hysteresis of values (n,), in their unit, at numbered stops (n,); None without a stop reached both ways."""
    up, down = (np.array([direction == way for direction in directions]) for way in ("up", "down"))
    pairs = _Sorted(values, numbers, up, down).both_ways()
    return _between_ways(pairs) if pairs else None


def _repeatability(found: _Sorted) -> Term:
    means = "largest difference between readings of one stop reached in one direction"
    groups = [found.at(stop, way) for way in (found.up, found.down) for stop in range(found.stops)]
    ranges = [float(np.ptp(group)) for group in groups if len(group) > 1]
    if not ranges:
        return Term("repeatability", means, None, "no stop was reached twice in one direction")
    return Term("repeatability", means, max(ranges))


def _against_nominal(run: ReadingRun, x: Array, mean: Array) -> tuple[Term, Term]:
    """How far the described curve is off at the lower range value, and over the whole range."""
    zero = "what the described curve indicates at the lower range value, less the reference"
    width = "the span that the described curve indicates, less the true one"
    if run.nominal is None:
        why = "no curve is described to compare with"
        return Term("zero error", zero, None, why), Term("span error", width, None, why)
    limit = _AT_AN_END * abs(run.range[1] - run.range[0])
    off = run.nominal.value(mean) - x
    low, high = sorted(run.range)
    at_low, at_high = abs(x[0] - low) <= limit, abs(x[-1] - high) <= limit
    why_low = "" if at_low else f"no reading at the lower range value, {low:g}"
    why_high = why_low or ("" if at_high else f"no reading at the upper range value, {high:g}")
    return (
        Term("zero error", zero, None if why_low else float(off[0]), why_low),
        Term("span error", width, None if why_high else float(off[-1] - off[0]), why_high),
    )
