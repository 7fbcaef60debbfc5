"""What the readings gathered so far lack: pairs that contradict each other, and where the next one helps most."""

from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..job.job import Job
from ..journal.reading import Amended
from ..path.pin import pin_per_raw
from ..words.numerals import significant
from .points import points_of

Array = NDArray[np.float64]
_CLEAR = 4.0
_COUNTS = 2.0  # of the converter: what one signal may hide
_NEAR_SHARE = 0.05  # of the span: how near two readings lie to be compared
_ALLOWED_SHARE = 0.005  # of the span, where no tolerance is stated
_END_WEIGHT = 1.6  # a gap at an end of the range is bridged by extrapolation
_ENOUGH_SHARE = 0.12


class Conflict(NamedTuple):
    """Two readings that cannot both be right, and why."""

    first: str
    second: str
    says: str


class NextStop(NamedTuple):
    """Where a reading would help most, in the channel's unit, and why."""

    value: float
    says: str


@once_per_slice
def conflicts_of(job: Job, channel: ContinuousChannel) -> tuple[Conflict, ...]:
    """Pairs of readings in use with one signal and two references, or with one reference and two signals.

    Compared are neighbours in the order of the signal, and of the reference; what the tolerance and the readings' own
    spread allow is no contradiction. Readings on the way up and on the way down may differ by hysteresis: by twice
    that. One and the same signal with two references is a contradiction whatever the tolerance.
    """
    points = points_of(job, channel)
    if len(points.rows) < 2:
        return ()
    slope = _slope(points.signal, points.reference)
    if slope == 0:
        return ()
    numbers = {row.reading.id: n for n, row in enumerate(job.amended(channel.id, "gather"), 1)}
    seen = [
        _Seen(
            row.reading.id, numbers[row.reading.id], row.reading.direction, float(pin), float(value),
            _noise_value(channel, row, abs(slope)),
        )
        for row, pin, value in zip(points.rows, points.signal, points.reference, strict=True)
    ]  # fmt: skip
    allowed = channel.allowed_error() or _ALLOWED_SHARE * channel.span
    found: dict[tuple[str, str], Conflict] = {}
    for ordered in (sorted(seen, key=lambda one: one.pin), sorted(seen, key=lambda one: one.value)):
        for one, two in pairwise(ordered):
            conflict = _between(channel, one, two, slope, allowed)
            if conflict is not None:
                found.setdefault((conflict.first, conflict.second), conflict)
    return tuple(found.values())


class _Seen(NamedTuple):
    """A reading: its row, its signal at the pin, its reference, and its noise in the channel's unit."""

    id: str
    row: int
    direction: str
    pin: float
    value: float
    noise: float


def _slope(pins: Array, values: Array) -> float:
    centred = pins - pins.mean()
    square = float(centred @ centred)
    return float(centred @ (values - values.mean())) / square if square else 0.0


def _noise_value(channel: ContinuousChannel, row: Amended, slope: float) -> float:
    raw, spread = row.reading.raw, row.reading.reference_spread or 0.0
    if raw is None or raw.spread is None:
        return spread
    per = pin_per_raw(channel.path, raw.mean, raw.met, channel.around)
    return float(np.hypot(raw.spread * per * slope, spread))


def _between(channel: ContinuousChannel, one: _Seen, two: _Seen, slope: float, allowed: float) -> Conflict | None:
    """The conflict of two neighbours: how far their references differ from what their signals differ by."""
    by_signal, by_reference = (two.pin - one.pin) * slope, two.value - one.value
    same = one.pin == two.pin
    near = min(abs(by_signal), abs(by_reference)) < _NEAR_SHARE * channel.span
    turned = {one.direction, two.direction} == {"up", "down"}
    if same and not turned:
        allowed = _COUNTS * channel.path.converter.resolution * abs(slope)
    limit = max(allowed * (2 if turned else 1), _CLEAR * float(np.hypot(one.noise, two.noise)))
    if not near or abs(by_reference - by_signal) <= limit:
        return None
    unit, pin_unit = channel.unit, channel.path.pin_unit
    if same:
        return Conflict(
            one.id, two.id,
            f"Rows {one.row} and {two.row} have the same signal, {significant(one.pin, 5)} {pin_unit}, but the "
            f"reference said {significant(one.value, 5)} and {significant(two.value, 5)} {unit}",
        )  # fmt: skip
    says = (
        f"Rows {one.row} and {two.row}: {significant(one.pin, 5)} and {significant(two.pin, 5)} {pin_unit} are as far "
        f"apart as {significant(abs(by_signal), 3)} {unit}, but the reference said {significant(one.value, 5)} and "
        f"{significant(two.value, 5)} {unit}"
    )
    return Conflict(one.id, two.id, says)


def next_stop(job: Job, channel: ContinuousChannel) -> NextStop | None:
    """Where the next reading would help most; None once the range is covered closely.

    It goes into the widest gap, where a curve is known least; a gap at an end counts more.
    """
    low, high = channel.range
    stops = np.unique(np.clip(points_of(job, channel).reference, low, high))
    unit = channel.unit
    if not len(stops):
        return NextStop(low, f"Begin at the lower end, {significant(low)} {unit}: the zero is seen there.")
    best, chosen = 0.0, None
    for weight, value, says in _gaps(stops.tolist(), low, high, unit):
        if weight > best:
            best, chosen = weight, NextStop(value, says)
    return chosen if best > _ENOUGH_SHARE * (high - low) else None


def _gaps(stops: list[float], low: float, high: float, unit: str) -> Iterator[tuple[float, float, str]]:
    first, last = stops[0], stops[-1]
    yield (
        _END_WEIGHT * (first - low), low,
        f"Nothing below {significant(first, 4)} {unit}: the curve is only carried on there.",
    )  # fmt: skip
    yield (
        _END_WEIGHT * (high - last), high,
        f"Nothing above {significant(last, 4)} {unit}: the curve is only carried on there.",
    )  # fmt: skip
    for one, two in pairwise(stops):
        words = f"The widest gap is {significant(one, 4)} to {significant(two, 4)} {unit}."
        yield two - one, float(f"{(one + two) / 2:.4g}"), words
