"""Several sensors of one quantity as one value: each rule says what it takes, its U, and what it does when one dies."""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.watched import CombineRule

Array = NDArray[np.float64]
Combine = Callable[[Array, Array, int], tuple[Array, Array]]


class Combining(NamedTuple):
    """A rule: its words, what it does when an input dies, how many it needs, and its arithmetic.

    `act` takes values (k, n) with NaN where there is none, expanded uncertainties (k, n) with NaN where not known, and
    the row of the chosen one; it gives values and expanded uncertainties, (n,) each.
    """

    says: str
    when_one_dies: str
    fewest: int
    act: Combine


def _mean(values: Array, expanded: Array, _chosen: int) -> tuple[Array, Array]:
    """The mean of those that live; independent uncertainties in it (JCGM 100:2008, 5.1.2)."""
    there = np.isfinite(values)
    count = there.sum(axis=0)
    return _shared(np.where(there, values, 0.0).sum(axis=0), count), _shared(
        np.sqrt((np.where(there, expanded, 0.0) ** 2).sum(axis=0)), count
    )


def _shared(total: Array, count: NDArray[np.int64]) -> Array:
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)


def _weighted(values: Array, expanded: Array, _chosen: int) -> tuple[Array, Array]:
    """The mean weighted by 1/U² (JCGM 100:2008, 5.1.2 for its uncertainty)."""
    there = np.isfinite(values)
    unknown = there & ~np.isfinite(expanded)
    with np.errstate(divide="ignore", invalid="ignore"):
        weights = np.where(there, 1.0 / expanded**2, 0.0)
        total = weights.sum(axis=0)
        mean = (weights * np.where(there, values, 0.0)).sum(axis=0) / total
        found = np.where(unknown.any(axis=0), np.nan, mean)
        return found, np.where(np.isfinite(found), 1.0 / np.sqrt(total), np.nan)


def _ranked(place: Callable[[NDArray[np.int64]], NDArray[np.int64]]) -> Combine:
    """One of those that live, by its place in their order, with its own uncertainty."""

    def act(values: Array, expanded: Array, _chosen: int) -> tuple[Array, Array]:
        order = np.argsort(values, axis=0)  # what is not there comes last
        count = np.isfinite(values).sum(axis=0)
        at = np.take_along_axis(order, place(count)[None, :].clip(0), axis=0)
        found, doubt = (np.take_along_axis(rows, at, axis=0)[0] for rows in (values, expanded))
        return found, np.where(np.isfinite(found), doubt, np.nan)

    return act


def _middle(values: Array, expanded: Array, chosen: int) -> tuple[Array, Array]:
    """The middle one of those that live; of two their mean."""
    middle, doubt = _ranked(lambda count: (count - 1) // 2)(values, expanded, chosen)
    mean, mean_doubt = _mean(values, expanded, chosen)
    is_two = np.isfinite(values).sum(axis=0) == 2
    return np.where(is_two, mean, middle), np.where(is_two, mean_doubt, doubt)


def _one(values: Array, expanded: Array, chosen: int) -> tuple[Array, Array]:
    return values[chosen], np.where(np.isfinite(values[chosen]), expanded[chosen], np.nan)


COMBINING: dict[CombineRule, Combining] = {
    "mean": Combining("the mean of all", "the mean of those left stands in for it", 2, _mean),
    "weighted by U": Combining(
        "the mean, each weighted by 1/U²", "the weighted mean of those left stands in for it", 2, _weighted
    ),
    "lower": Combining("the lowest of all", "the lowest of those left stands in for it", 2, _ranked(np.zeros_like)),
    "higher": Combining(
        "the highest of all", "the highest of those left stands in for it", 2, _ranked(lambda count: count - 1)
    ),
    "middle": Combining(
        "the middle one of three or more", "of two left their mean is taken, of one left that one", 3, _middle
    ),
    "one chosen": Combining(
        "the chosen one alone", "the value is dead as soon as the chosen one is: no other takes its place", 2, _one
    ),
}
