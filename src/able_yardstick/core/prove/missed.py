"""What a proof would miss: for each kind of error the largest that these checks would still let through.

An error a φ(v) passes all checks with the probability Π P(|a φ(vᵢ) + noise| ≤ Aᵢ), where Aᵢ is the largest error that
the rule accepts and the noise is normal with the check's standard uncertainty. The largest missed is the a at which
that is the stated share; it is told by its largest effect on the shown value anywhere in the range.
"""

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..journal.reading import Direction

Array = NDArray[np.float64]
SHARE = 0.05  # of the proofs in which a missed error may pass
_PLACES = 201  # along the range
_NEXT_PLACES = 41
_HALVINGS = 40
_ENDLESS = 1e12  # times the error allowed: nothing stands in its way
_BETWEEN = 0.5
_WAYS: dict[Direction, float] = {"up": 1.0, "down": -1.0, "not stated": 0.0}


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


@lru_cache(maxsize=128)
def missed_by(checks: tuple[PlannedCheck, ...], low: float, high: float, share: float = SHARE) -> tuple[Missed, ...]:
    """What checks over a range, in the channel's unit, would miss, kind by kind."""
    kinds = shapes(low, high, [check.value for check in checks])
    return tuple(_missed(shape, checks, low, high, share) for shape in kinds)


def _missed(shape: Shape, checks: tuple[PlannedCheck, ...], low: float, high: float, share: float) -> Missed:
    along = np.linspace(low, high, _PLACES)
    ways = (np.ones_like(along), -np.ones_like(along))
    sizes = np.maximum(*(np.abs(shape.course(along, way)) for way in ways))
    top, at = float(sizes.max()), float(along[int(np.argmax(sizes))])
    if top == 0:  # nothing of the range lies outside the checks
        return Missed(shape.name, 0.0, at, None, 0.0)
    added = _further(checks, low, high, "up" if shape.name == "hysteresis" else "not stated")
    (now,) = largest_passing(shape, [checks], share).tolist()
    then = largest_passing(shape, [(*checks, one) for one in added], share)
    best = int(np.argmin(then))
    if not then[best] < now * (1 - 1e-6):
        return Missed(shape.name, now * top, at, None, now * top)
    return Missed(shape.name, now * top, at, added[best].value, float(then[best]) * top)


def envelope(checks: tuple[PlannedCheck, ...], low: float, high: float, values: Array, share: float = SHARE) -> Array:
    """The largest error of any kind that would be missed, at values (n,), in the channel's unit.

    It has no end wherever a kind that no check sees has a share in it. Shape (n,).
    """
    most = np.zeros(len(values))
    ways = np.ones(len(values))
    found = {one.shape: one for one in missed_by(checks, low, high, share)}
    for shape in shapes(low, high, [check.value for check in checks]):
        course = np.abs(shape.course(values, ways))
        seen = course > 0
        most[seen] = np.maximum(most[seen], course[seen] * found[shape.name].largest)
    return most


def _further(checks: tuple[PlannedCheck, ...], low: float, high: float, way: Direction) -> list[PlannedCheck]:
    """Checks like those there are, all along the range; which way they are taken is the same to an error's size."""
    accepted = float(np.median([check.accepted for check in checks]))
    standard = float(np.median([check.standard for check in checks]))
    return [PlannedCheck(value, accepted, standard, way) for value in np.linspace(low, high, _NEXT_PLACES).tolist()]


def largest_passing(shape: Shape, plans: Sequence[Sequence[PlannedCheck]], share: float) -> Array:
    """The size at which a kind of error passes every check of a plan in this share of the proofs, for each plan.

    Shape (m,), in the channel's unit; infinite if it always does. All plans have as many checks.
    """
    values, accepted, standard = (
        np.array([[getattr(check, name) for check in plan] for plan in plans])
        for name in ("value", "accepted", "standard")
    )
    ways = np.array([[_WAYS[check.direction] for check in plan] for plan in plans])
    course = shape.course(values, ways)

    def passes(size: Array) -> NDArray[np.bool_]:
        return passing(size[:, None], course, accepted, standard) > share

    low, high = np.zeros(len(plans)), np.max(accepted + 10 * standard, axis=1)
    high = np.where(high > 0, high, 1.0)
    endless = _ENDLESS * (accepted.max(axis=1) + standard.max(axis=1))
    while np.any(growing := passes(high) & (high <= endless)):
        high = np.where(growing, 2 * high, high)
    is_unseen = ~np.any(course, axis=1)
    is_endless = is_unseen | (high > endless)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        still = passes(middle)
        low, high = np.where(still, middle, low), np.where(still, high, middle)
    found = np.where(is_endless, np.inf, (low + high) / 2)
    return np.where(is_unseen | passes(np.zeros(len(plans))), found, 0.0)


def passing(size: Array | float, course: Array, accepted: Array, standard: Array) -> Array:
    """The probability that an error of a size passes all checks; arrays of shape (m, n), in the channel's
    unit, and sizes (m, 1) give shape (m,).
    """
    from scipy.special import ndtr

    error = size * course
    with np.errstate(divide="ignore", invalid="ignore"):
        within = np.where(
            standard > 0,
            ndtr((accepted - error) / standard) - ndtr((-accepted - error) / standard),
            np.abs(error) <= accepted,
        )
    return np.asarray(np.prod(np.where(accepted >= 0, within, 0.0), axis=-1))
