"""How wide an interval must be to hold the truth as often as it says.

Contributions found by scatter are added as JCGM 100:2008 has it, with effective degrees of freedom after G.4.1,
eq. (G.2b). Where limits (rectangular ones) make up much of the sum, its distribution is not Student's: then the
quantile is that of Student's part and the limits together, as JCGM 101:2008, 5.9 would draw it, by integration instead
of draws.
"""

from collections.abc import Callable
from functools import lru_cache
from typing import Literal, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Distribution = Literal["normal", "rectangular"]
ROOT_OF_THREE = float(np.sqrt(3))
_MUCH = 0.15  # of the combined variance: below it limits are as good as normal
_NODES = {
    True: (24, 8),
    False: (96, 24),
}  # of the widest limit and of the others; by whether there is scatter
_SMOOTH = 0.1  # of the widest limit: with more scatter the distribution has no corners that need many nodes
_CELLS = 1024  # of the whole width of a sum of three limits or more
_WITHIN_A_CELL = 0.25  # with less scatter than that the cells themselves show
_NEXT_TO_NOTHING = 1e-6  # of the widest limit
_CLOSE = 1e-7
_TRIES = 100
_ENDLESS = 1e6  # degrees of freedom


class Contribution(NamedTuple):
    """One row of a budget, in the unit of the result: standard uncertainty, degrees of freedom, and how it is spread.

    It came from `size` in `unit`, divided by `divisor` and times `sensitivity`; `size` is None where it was found in
    the unit of the result.
    """

    name: str
    standard: float
    dof: float = float("inf")
    distribution: Distribution = "normal"
    size: float | None = None
    unit: str = ""
    divisor: float = 1.0
    sensitivity: float = 1.0

    @classmethod
    def limit(cls, name: str, size: float, unit: str = "", sensitivity: float = 1.0) -> Self:
        """A limit either way, anything within it being as likely (JCGM 100:2008, 4.3.7)."""
        standard = abs(sensitivity) * size / ROOT_OF_THREE
        return cls(name, standard, float("inf"), "rectangular", size, unit, ROOT_OF_THREE, abs(sensitivity))

    @classmethod
    def stated(cls, name: str, size: float, divisor: float, unit: str = "", sensitivity: float = 1.0) -> Self:
        """A certificate's expanded uncertainty with its coverage factor as divisor, or a standard one with 1."""
        return cls(name, abs(sensitivity) * size / divisor, float("inf"), "normal", size, unit, divisor, sensitivity)

    @property
    def half_width(self) -> float:
        """The limit either way of a rectangular one."""
        return self.standard * ROOT_OF_THREE


class Interval(NamedTuple):
    """Combined standard uncertainty, effective degrees of freedom, coverage factor and expanded uncertainty."""

    combined: float
    dof: float
    factor: float
    expanded: float
    by_integration: bool


def interval_of(rows: "list[Contribution]", confidence: float = 0.95) -> Interval:
    """The interval that rows make together, at a confidence."""
    variance = sum(row.standard**2 for row in rows)
    combined = float(np.sqrt(variance))
    if combined == 0:
        return Interval(0.0, float("inf"), 0.0, 0.0, False)
    limits = [row for row in rows if row.distribution == "rectangular" and row.standard > 0]
    others = [row for row in rows if row.distribution != "rectangular"]
    dof = _effective(rows, combined)
    if sum(row.standard**2 for row in limits) <= _MUCH * variance:
        factor = two_sided(confidence, dof)
        return Interval(combined, dof, factor, factor * combined, False)
    rest = float(np.sqrt(sum(row.standard**2 for row in others)))
    expanded = _quantile(rest, _effective(others, rest), [row.half_width for row in limits], confidence)
    return Interval(combined, dof, expanded / combined, expanded, True)


def _effective(rows: "list[Contribution]", combined: float) -> float:
    """Welch and Satterthwaite's degrees of freedom."""
    known = sum(row.standard**4 / row.dof for row in rows if np.isfinite(row.dof) and row.standard > 0)
    return combined**4 / known if known > 0 else float("inf")


def two_sided(confidence: float, dof: float = float("inf")) -> float:
    """How many standard uncertainties on either side hold a share, by Student's distribution (JCGM 100:2008, G.3)."""
    from scipy.special import ndtri, stdtrit  # a second to import: only where an interval is asked for

    share = (1 + confidence) / 2
    return float(ndtri(share) if dof > _ENDLESS else stdtrit(dof, share))


def _quantile(rest: float, dof: float, half_widths: list[float], confidence: float) -> float:
    """The half-width that holds a share of Student's part and the limits together."""
    grid, weights, cell = _sums(sorted(half_widths, reverse=True), rest)
    if rest <= _WITHIN_A_CELL * cell:
        return _within_cells(grid, weights, cell, confidence)
    most = float(sum(half_widths)) + rest * two_sided(0.9999, dof)
    limits = float(weights @ grid**2)  # the variance of their sum: what is sought lies about twice the whole's root
    return _just_enough(
        lambda half: _held(half, rest, dof, grid, weights) - confidence, 2 * float(np.sqrt(rest**2 + limits)), most
    )


def _just_enough(excess: Callable[[float], float], guess: float, most: float) -> float:
    """The half-width, up to `most`, at which a rising excess is 0.

    By false position, the end that stays counted half (M. Dowell, P. Jarratt, A modified regula falsi method, BIT 11
    (1971), 168-174): scipy's root finders cost half a second to import.
    """
    low, high, at = 0.0, most, min(guess, most)
    below, above, before = excess(low), max(excess(high), _CLOSE), 0.0
    for _ in range(_TRIES):
        found = excess(at)
        if found < 0:
            low, below, above = at, found, above / 2 if before < 0 else above
        else:
            high, above, below = at, found, below / 2 if before > 0 else below
        before, last = found, at
        at = (low * above - high * below) / (above - below)
        if abs(at - last) <= _CLOSE * most or found == 0:
            break
    return at


def _sums(ordered: list[float], rest: float) -> tuple[Array, Array, float]:
    """Values of the sum of rectangular parts with their weights, the widest part first, and how wide each value is.

    One or two are taken by Gauss and Legendre's nodes; more are folded into one another on an even grid of cells.
    """
    if len(ordered) > 2:
        return _folded(tuple(width / ordered[0] for width in ordered), ordered[0])
    count, others = _NODES[rest > _SMOOTH * ordered[0]]
    nodes, weights = _nodes(count)
    first = ordered[0] * nodes
    if len(ordered) == 1:
        return first, weights, 0.0
    fewer, their_weights = _nodes(others)
    grid = (first[:, None] + ordered[1] * fewer).ravel()
    return grid, (weights[:, None] * their_weights).ravel(), 0.0


def _folded(shares: tuple[float, ...], widest: float) -> tuple[Array, Array, float]:
    """The sum of many rectangular parts, half-widths given as shares of the widest, on an even grid of cells."""
    weights, cell = _folded_shares(tuple(round(share, 9) for share in shares if share > _NEXT_TO_NOTHING))
    reach = (len(weights) - 1) / 2
    return widest * cell * np.arange(-reach, reach + 1), weights, widest * cell


@lru_cache(maxsize=512)
def _folded_shares(shares: tuple[float, ...]) -> tuple[Array, float]:
    cell = 2 * sum(shares) / _CELLS
    total = np.ones(1)
    for share in shares:
        reach = int(np.ceil(share / cell - 0.5))
        edges = np.clip((np.arange(-reach, reach + 2) - 0.5) * cell, -share, share)
        part = np.diff(edges)
        total = np.convolve(total, part / part.sum())
    return total, cell


def _within_cells(grid: Array, weights: Array, cell: float, confidence: float) -> float:
    """The half-width about 0 that holds a share of values, each spread evenly over its cell (or a point)."""
    far = np.abs(grid)
    order = np.argsort(far)
    held = np.cumsum(weights[order])
    at = int(np.searchsorted(held, confidence))
    if cell == 0:
        return float(np.interp(confidence, held, far[order]))
    before = held[at - 1] if at else 0.0
    share = (confidence - before) / (held[at] - before)
    return float(far[order][at] + (share - 0.5) * cell)


@lru_cache(maxsize=8)
def _nodes(count: int) -> tuple[Array, Array]:
    nodes, weights = np.polynomial.legendre.leggauss(count)
    return nodes, weights / 2


def _held(half: float, rest: float, dof: float, grid: Array, weights: Array) -> float:
    """How much of the sum lies within a half-width either way; grid and weights are even about 0."""
    from scipy.special import ndtr, stdtr

    above = (half - grid) / rest
    return 2 * float(weights @ (ndtr(above) if dof > _ENDLESS else stdtr(dof, above))) - 1
