"""What a proof would miss: for each kind of error the largest that these checks would still let through.

An error a φ(v) passes all checks with the probability Π P(|a φ(vᵢ) + noise| ≤ Aᵢ), where Aᵢ is the largest error that
the rule accepts and the noise is normal with the check's standard uncertainty. The largest missed is the a at which
that is the stated share; it is told by its largest effect on the shown value anywhere in the range.
"""

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..journal.reading import Direction

Array = NDArray[np.float64]
SHARE = 0.05  # of the proofs in which a missed error may pass
_PLACES = 201  # along the range
_NEXT_PLACES = 41
_HALVINGS = 60
_ENDLESS = 1e12  # times the error allowed: nothing stands in its way
_BETWEEN = 0.5


class PlannedCheck(NamedTuple):
    """Where a check is or will be: the value, the largest error accepted there, its standard uncertainty, its way."""

    value: float
    accepted: float
    standard: float
    direction: Direction = "not stated"


class Missed(NamedTuple):
    """The largest error of a kind that passes, where it is largest, and the one further check that shrinks it most.

    `largest` is infinite where no check sees such an error at all; `next_stop` is None where none would.
    """

    shape: str
    largest: float
    at: float
    next_stop: float | None
    largest_then: float


class Shape(NamedTuple):
    """A kind of error: its course along the range, at most 1 in size, and on the way down where that differs."""

    name: str
    course: Callable[[Array, Array], Array]  # of values and ways (+1 up, -1 down, 0 not stated)


def shapes(low: float, high: float, stops: Sequence[float]) -> tuple[Shape, ...]:
    """Every kind of error over a range: shift, gain, bend, hysteresis, between two checks, outside them."""
    span = high - low
    inside = np.unique(np.clip(np.asarray(stops, dtype=float), low, high)) if len(stops) else np.array([low])
    edges = np.unique(np.concatenate([[low], inside, [high]]))
    widest = int(np.argmax(np.diff(edges)))
    a, b = float(edges[widest]), float(edges[widest + 1])
    first, last = float(inside[0]), float(inside[-1])
    below, above = max(first - low, 0.0), max(high - last, 0.0)
    upward = above >= below
    reach = (above if upward else below) or span

    def outside(v: Array, _way: Array) -> Array:
        beyond = v - last if upward else first - v
        return np.asarray(np.clip(beyond / reach, 0, 1))

    return (
        Shape("zero shift", lambda v, _way: np.ones_like(v)),
        Shape("gain", lambda v, _way: (v - low) / span),
        Shape("bend", lambda v, _way: 4 * (v - low) * (high - v) / span**2),
        Shape("hysteresis", lambda v, way: 4 * (v - low) * (high - v) / span**2 * way),
        Shape("one segment", lambda v, _way: np.clip(1 - np.abs(v - (a + b) / 2) / ((b - a) * _BETWEEN), 0, 1)),
        Shape("outside the checks", outside),
    )


def missed_by(checks: Sequence[PlannedCheck], low: float, high: float, share: float = SHARE) -> tuple[Missed, ...]:
    """What checks over a range, in the channel's unit, would miss, kind by kind."""
    kinds = shapes(low, high, [check.value for check in checks])
    return tuple(_missed(shape, checks, low, high, share) for shape in kinds)


def _missed(shape: Shape, checks: Sequence[PlannedCheck], low: float, high: float, share: float) -> Missed:
    along = np.linspace(low, high, _PLACES)
    ways = (np.ones_like(along), -np.ones_like(along))
    sizes = np.maximum(*(np.abs(shape.course(along, way)) for way in ways))
    top, at = float(sizes.max()), float(along[int(np.argmax(sizes))])
    if top == 0:  # nothing of the range lies outside the checks
        return Missed(shape.name, 0.0, at, None, 0.0)
    now = largest_passing(shape, checks, share)
    best, then = None, now
    usual = _usual(checks)
    for value in np.linspace(low, high, _NEXT_PLACES).tolist():
        for direction in ("up", "down") if shape.name == "hysteresis" else ("not stated",):
            more = PlannedCheck(value, usual.accepted, usual.standard, direction)
            found = largest_passing(shape, (*checks, more), share)
            if found < then * (1 - 1e-6):
                best, then = value, found
    return Missed(shape.name, now * top, at, best, then * top)


def _usual(checks: Sequence[PlannedCheck]) -> PlannedCheck:
    """A check like those there are, for one that is not planned yet."""
    accepted = float(np.median([check.accepted for check in checks]))
    return PlannedCheck(0.0, accepted, float(np.median([check.standard for check in checks])))


def largest_passing(shape: Shape, checks: Sequence[PlannedCheck], share: float) -> float:
    """The size at which a kind of error passes every check in this share of the proofs; infinite if it always does."""
    values = np.array([check.value for check in checks])
    ways = np.array([{"up": 1.0, "down": -1.0, "not stated": 0.0}[check.direction] for check in checks])
    course = shape.course(values, ways)
    accepted = np.array([check.accepted for check in checks])
    standard = np.array([check.standard for check in checks])
    if not np.any(course):
        return float("inf")
    if passing(0.0, course, accepted, standard) <= share:
        return 0.0
    low, high = 0.0, float(np.max(accepted + 10 * standard)) or 1.0
    while passing(high, course, accepted, standard) > share:
        high *= 2
        if high > _ENDLESS * float(np.max(accepted) + np.max(standard)):
            return float("inf")
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if passing(middle, course, accepted, standard) > share:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def passing(size: float, course: Array, accepted: Array, standard: Array) -> float:
    """The probability that an error of a size passes all checks; arrays (n,), in the channel's unit."""
    from scipy.special import ndtr

    error = size * course
    with np.errstate(divide="ignore", invalid="ignore"):
        within = np.where(
            standard > 0,
            ndtr((accepted - error) / standard) - ndtr((-accepted - error) / standard),
            np.abs(error) <= accepted,
        )
    return float(np.prod(np.where(accepted >= 0, within, 0.0)))
