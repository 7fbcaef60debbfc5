"""When two sensors of one quantity began to part: a change-point test of their difference, with its doubt.

The difference is put together into means over stretches so long that they are as good as independent. Two courses are
held against one that stays: a step, and a slope that begins. Whether there is a change at all is told by permuting the
stretches, which is exact whatever their distribution is, as long as they are exchangeable (Good, Permutation,
Parametric and Bootstrap Tests, 3rd ed., 3.1). The interval of a step's moment holds all moments whose likelihood ratio
stays below the quantile of Hansen (2000, Econometrica 68, 575; table I), that of a slope's beginning all that a
regression on its moment cannot tell apart (Seber & Wild, Nonlinear Regression, 9.3.2).
"""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Course = Literal["step", "slope"]
CONFIDENCE = 0.95
_STEP_QUANTILE = 7.35  # of the likelihood ratio at 95 %: -2 ln(1 - sqrt(0.95))
_MOST_BLOCKS = 120
_FEWEST_BLOCKS = 24
_PERMUTATIONS = 399
_CHANCE = 0.025  # a little below 5 %: neighbouring stretches are never quite independent
_EDGE = 0.05  # of the stretches, at either end: no change is looked for there
_MOST_REMEMBERED = 4000  # means by which memory is told: of more samples, means of neighbours
_TIMES_APART = 10.0  # a stretch against the time over which the difference remembers itself


class Parting(NamedTuple):
    """When it began, with the interval that holds it at 95 % (times in s as given); the course, and its size.

    `size` is the step, or how far they are apart at the end; both in the unit of the difference. `p` is the chance that
    such a change is seen where there is none.
    """

    at_s: float
    low_s: float
    high_s: float
    course: Course
    size: float
    p: float


class _Blocks(NamedTuple):
    """Means over stretches: their middles in s, and values; shapes (n,)."""

    times_s: Array
    values: Array


def parted(times_s: Array, difference: Array, seed: int = 1) -> Parting | None:
    """When a difference (n,) at times in s (n,), rising, began to change; None where nothing tells that it did."""
    blocks = _blocks(times_s, difference)
    if blocks is None:
        return None
    found = _strongest(blocks.values[None, :])
    draw = np.random.default_rng(seed)
    shuffled = draw.permuted(np.tile(blocks.values, (_PERMUTATIONS, 1)), axis=1)
    by_chance = _strongest(shuffled).best
    p = (1 + int((by_chance >= found.best[0]).sum())) / (1 + _PERMUTATIONS)
    if p > _CHANCE:
        return None
    steps, slopes = found.steps[0], found.slopes[0]
    is_step = steps.min() <= slopes.min()
    return _told(blocks, steps if is_step else slopes, "step" if is_step else "slope", p)


def _told(blocks: _Blocks, rests: Array, course: Course, p: float) -> Parting:
    """The moment with the least rest, and all that are as good at 95 %."""
    from scipy.special import fdtri

    places = _places(len(blocks.values))
    at = int(np.argmin(rests))
    dof = len(blocks.values) - 3
    ratio = (rests - rests[at]) / (rests[at] / dof)
    bound = _STEP_QUANTILE if course == "step" else float(fdtri(1, dof, CONFIDENCE))
    bound *= _likeness(_rest(blocks, int(places[at]), course))
    kept = places[ratio <= bound]
    half = float(np.median(np.diff(blocks.times_s))) / 2
    moment = float(blocks.times_s[places[at]]) - (half if course == "step" else 0.0)
    low, high = float(blocks.times_s[kept[0]]), float(blocks.times_s[kept[-1]])
    low, high = (low - 2 * half, high) if course == "step" else (low - half, high + half)
    size = _size(blocks, int(places[at]), course)
    return Parting(moment, min(low, moment), max(high, moment), course, size, p)


def _course_at(blocks: _Blocks, at: int, course: Course) -> Array:
    """A change of size 1 for each stretch, (n,): from `at` on, a step or a slope."""
    steps = np.arange(len(blocks.values)) - at
    return (steps >= 0).astype(float) if course == "step" else np.clip(steps, 0, None).astype(float)


def _rest(blocks: _Blocks, at: int, course: Course) -> Array:
    """What a change at a place leaves, (n,)."""
    shape = _course_at(blocks, at, course)
    return blocks.values - np.polyval(np.polyfit(shape, blocks.values, 1), shape)


def _likeness(rest: Array) -> float:
    """How much wider an interval is because neighbours are still a little alike: (1 + r) / (1 - r), at least 1."""
    alike = float(rest[1:] @ rest[:-1] / (rest @ rest)) if rest.any() else 0.0
    alike = min(max(alike, 0.0), 0.8)
    return (1 + alike) / (1 - alike)


def _size(blocks: _Blocks, at: int, course: Course) -> float:
    shape = _course_at(blocks, at, course)
    return float(np.polyfit(shape, blocks.values, 1)[0] * shape[-1])


class _Rests(NamedTuple):
    """Sums of squares left by a step and by a slope at each place, shapes (k, places); and how much the best explains,
    over what it leaves, (k,)."""

    steps: Array
    slopes: Array
    best: Array


def _places(count: int) -> NDArray[np.int64]:
    """The stretches at which a change is looked for: it begins with that one."""
    edge = max(round(_EDGE * count), 2)
    return np.arange(edge, count - edge)


def _strongest(rows: Array) -> _Rests:
    """Of courses (k, n) the rests of both kinds of change at every place."""
    count = rows.shape[1]
    places = _places(count)
    centred = rows - rows.mean(axis=1, keepdims=True)
    total = (centred**2).sum(axis=1)
    sums = np.cumsum(centred, axis=1)[:, places - 1]  # of the stretches before each place
    steps = total[:, None] - sums**2 * count / (places * (count - places))
    ramps = np.clip(np.arange(count)[None, :] - places[:, None], 0, None).astype(float)
    ramps -= ramps.mean(axis=1, keepdims=True)
    slopes = total[:, None] - (centred @ ramps.T) ** 2 / (ramps**2).sum(axis=1)
    least = np.minimum(steps.min(axis=1), slopes.min(axis=1))
    return _Rests(steps, slopes, (total - least) / np.maximum(least, 1e-300))


def _blocks(times_s: Array, difference: Array) -> _Blocks | None:
    """Means over even stretches of time; None where there is too little for a test."""
    good = np.isfinite(difference)
    times, values = times_s[good], difference[good]
    if len(values) < _FEWEST_BLOCKS or not times[-1] > times[0]:
        return None
    wanted = min(_MOST_BLOCKS, len(values) // 2 if len(values) >= 2 * _MOST_BLOCKS else len(values))
    memory_s = _memory_s(times, values)
    wanted = int(min(wanted, (times[-1] - times[0]) / max(_TIMES_APART * memory_s, 1e-12)))
    if wanted < _FEWEST_BLOCKS:
        return None
    edges = np.linspace(times[0], times[-1], wanted + 1)
    number = np.clip(np.searchsorted(edges, times, side="right") - 1, 0, wanted - 1)
    counts = np.bincount(number, minlength=wanted)
    filled = counts > 0
    sums = np.bincount(number, weights=values, minlength=wanted)
    middles = (edges[:-1] + edges[1:]) / 2
    return _Blocks(middles[filled], sums[filled] / counts[filled])


def _memory_s(times: Array, values: Array) -> float:
    """The time over which the quick part of a difference remembers itself: by its autocorrelation, to its first zero.

    What is slow is taken off by differences to a running median, which follows a drift and a step alike, so that
    neither is taken for memory.
    """
    from scipy.ndimage import median_filter

    by = -(-len(values) // _MOST_REMEMBERED)
    if by > 1:
        whole = len(values) // by * by
        times, values = (column[:whole].reshape(-1, by).mean(axis=1) for column in (times, values))
    width = max(len(values) // 20, 3) | 1
    quick = (values - median_filter(values, size=width, mode="nearest"))[width:-width]
    if len(quick) < 8 or not quick.any():
        return 0.0
    quick = quick - quick.mean()
    most = min(len(quick) // 2, 400)
    spectrum = np.fft.rfft(quick, 2 * len(quick))
    correlation = np.fft.irfft(spectrum * np.conj(spectrum))[:most]
    correlation = correlation / correlation[0]
    below = np.flatnonzero(correlation <= 0.1)
    last = int(below[0]) if len(below) else most
    step = float(np.median(np.diff(times)))
    return step * 2 * float(correlation[1:last].sum()) if last > 1 else 0.0
