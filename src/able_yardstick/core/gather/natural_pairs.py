"""Readings out of a log: steady moments of a reference and a sensor while the plant does what it does.

The log is cut into windows as long as Gather's rule wants. What looks quiet is chosen so that the whole of the range
that was visited has readings, and each is then judged by the very rule that a live reading is.
"""

from collections.abc import Callable
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.reference import Reference
from ..journal.reading import Direction, Reading
from ..words.errors import TooFewReadings, YardstickError
from ..words.numerals import fixed
from .gathering import Circumstances, WindowPair, in_value, reading_of, reference_in_value, watch
from .steady import SteadyRule, rule_for

Array = NDArray[np.float64]
_BINS = 24  # of the range: in each so many readings
_EACH = 2
_TRIED = 6  # windows looked at closely for each reading
_GAP = 0.2  # of the range: so much without a reading is told
_MOVED = 0.02  # of the span, from before: then it came up, or down


class NaturalReadings(NamedTuple):
    """Readings by rising reference; windows looked at, those that were quiet; what of the range was not visited."""

    readings: tuple[Reading, ...]
    windows: int
    quiet: int
    unvisited: tuple[tuple[float, float], ...]

    def words(self, channel: ContinuousChannel) -> str:
        """What was found, in sentences."""
        told = f"{len(self.readings)} readings from {self.windows} windows, {self.quiet} of them quiet."
        if not self.unvisited:
            return f"{told} The whole range was visited."
        parts = ", ".join(f"{fixed(low, 0)} to {fixed(high, 0)}" for low, high in self.unvisited)
        return f"{told} Not visited: {parts} {channel.unit}."


class _Windows(NamedTuple):
    """Of each window its beginning in s, and mean and spread of sensor and reference in the channel's unit; (n,)."""

    starts_s: Array
    sensor: tuple[Array, Array]
    reference: tuple[Array, Array]


def natural_readings(
    channel: ContinuousChannel, pair: WindowPair, instrument: Reference | None,
    about: Callable[[float], Circumstances], rule: SteadyRule | None = None,
) -> NaturalReadings:  # fmt: skip
    """Readings out of two long series; `about` says of a moment in s what is to be said of a reading then.

    Raises: TooFewReadings where the two hardly overlap, UnitMismatch.
    """
    rates = [one.rate_hz for one in (pair.raw, pair.reference) if one is not None and one.rate_hz]
    steady = rule or rule_for(channel, min(rates, default=0.0))
    windows = _windows(channel, pair, instrument, steady.window_s)
    quiet = _quiet(windows, steady)
    readings: list[Reading] = []
    for chosen in _spread_out(channel, windows, quiet):
        readings += _taken(channel, pair, instrument, about, steady, windows, chosen)
    readings.sort(key=lambda one: one.reference)
    return NaturalReadings(tuple(readings), len(windows.starts_s), len(quiet), _unvisited(channel, readings))


def _windows(channel: ContinuousChannel, pair: WindowPair, instrument: Reference | None, width_s: float) -> _Windows:
    """Both series cut into windows of one width."""
    sensor = in_value(channel, pair.raw.good)
    assert pair.reference is not None  # a log's pair has one
    reference = reference_in_value(channel, pair.reference.good, instrument, pair.reference_unit)
    if not len(sensor) or not len(reference):
        raise TooFewReadings("The sensor or its reference was not logged in this stretch.", needed=1, found=0)
    start = max(float(sensor.times_s[0]), float(reference.times_s[0]))
    end = min(float(sensor.times_s[-1]), float(reference.times_s[-1]))
    count = int((end - start) / width_s)
    if count < 1:
        raise TooFewReadings(
            f"Sensor and reference were logged together for {max(end - start, 0.0):.3g} s; a window takes "
            f"{width_s:.3g} s. Choose a longer stretch.", needed=1, found=0,
        )  # fmt: skip
    edges = start + width_s * np.arange(count + 1, dtype=np.float64)
    return _Windows(edges[:-1], _figures(sensor.times_s, sensor.values, edges),
                    _figures(reference.times_s, reference.values, edges))  # fmt: skip


def _figures(times_s: Array, values: Array, edges: Array) -> tuple[Array, Array]:
    """Mean and standard deviation of each window, (n,); NaN where it has fewer than two samples."""
    count = len(edges) - 1
    number = np.searchsorted(edges, times_s, side="right") - 1
    inside = (number >= 0) & (number < count)
    number, values = number[inside], values[inside]
    middle = float(values.mean()) if len(values) else 0.0
    size = np.bincount(number, minlength=count).astype(float)
    with np.errstate(invalid="ignore", divide="ignore"):
        mean = np.bincount(number, values - middle, count) / size
        square = np.bincount(number, (values - middle) ** 2, count) / size - mean**2
        spread = np.sqrt(np.maximum(square, 0.0) * size / (size - 1))
    return np.where(size > 1, mean + middle, np.nan), np.where(size > 1, spread, np.nan)


def _quiet(windows: _Windows, rule: SteadyRule) -> NDArray[np.int64]:
    """The windows in which neither spreads by more than is allowed."""
    spreads = (windows.sensor[1], windows.reference[1])
    return np.flatnonzero((spreads[0] <= rule.spread) & (spreads[1] <= rule.spread))


def _spread_out(channel: ContinuousChannel, windows: _Windows, quiet: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """For each part of the range that was visited its windows, the quietest first."""
    low = min(channel.range)
    part = np.floor((windows.reference[0][quiet] - low) / channel.span * _BINS).astype(int)
    found = []
    for one in np.unique(part):
        mates = quiet[part == one]
        found.append(mates[np.argsort(windows.sensor[1][mates] + windows.reference[1][mates])][: _EACH * _TRIED])
    return found


def _taken(
    channel: ContinuousChannel, pair: WindowPair, instrument: Reference | None,
    about: Callable[[float], Circumstances], rule: SteadyRule, windows: _Windows, chosen: NDArray[np.int64],
) -> list[Reading]:  # fmt: skip
    """Up to a few readings out of the windows of one part of the range."""
    found: list[Reading] = []
    for at in chosen.tolist():
        if len(found) == _EACH:
            break
        start = float(windows.starts_s[at])
        end = start + rule.window_s
        near = WindowPair(
            pair.raw.since(start - rule.window_s, end),
            None if pair.reference is None else pair.reference.since(start - rule.window_s, end), pair.reference_unit,
        )  # fmt: skip
        try:
            if watch(channel, near, instrument, rule, end).is_steady:
                said = about(end)._replace(direction=_came(channel, windows, at))
                found.append(reading_of(channel, near, instrument, (start, end), said))
        except YardstickError:
            continue  # a window that is broken is only this one
    return found


def _came(channel: ContinuousChannel, windows: _Windows, at: int) -> Direction:
    """Whether the reference came up to a window, or down; not stated where it stood still."""
    before = windows.reference[0][max(at - 5, 0) : at]
    step = float(windows.reference[0][at] - before[0]) if len(before) else 0.0
    if not abs(step) > _MOVED * channel.span:
        return "not stated"
    return "up" if step > 0 else "down"


def _unvisited(channel: ContinuousChannel, readings: list[Reading]) -> tuple[tuple[float, float], ...]:
    """Parts of the range, in the channel's unit, that no reading is near."""
    low, high = sorted(channel.range)
    values = [channel.in_unit(one.reference, one.reference_unit)[0] for one in readings]
    edges = [low, *sorted(min(max(value, low), high) for value in values), high]
    wide = _GAP * (high - low)
    return tuple((a, b) for a, b in pairwise(edges) if b - a > wide)
