"""The arithmetics that make exactly what was shown, each with what the pairs leave open of its numbers.

A display that rounds and one that cuts differ by half a step in the height only, so no pair tells them apart: they are
one candidate. Cutting towards 0 differs on either side of it. Whole numbers A, B and C make a straight line whose
height is a whole or half step: a special case of it, told with the chance that any line would look so.
"""

from collections.abc import Callable, Iterator
from fractions import Fraction
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...forms.integer import Ratio
from ...forms.spec import Rounding
from .pairs import SeenPairs
from .polygon import Gate, LineSet, lines_through

Array = NDArray[np.float64]
FormKind = Literal["straight", "straight, cut towards 0", "integer ratio", "held straight", "table"]
Laws = Callable[[Array], Array]  # of counts (m,): what possible numbers show, in steps, (laws, m)
LAWS = 100
_LARGEST = 32767
_LARGEST_DIVISOR = 4096
_END = 1e-9
_FUZZ = 1e-6  # of a step
_FAR = 1e12
_LEAST_INSIDE = 3
_SURE_INSIDE, _SURE_HELD = 4, 2


class OpenNumber(NamedTuple):
    """A number of a form, and between which values the pairs leave it open."""

    name: str
    value: float
    low: float
    high: float


class Recovered(NamedTuple):
    """A form that makes every pair: its numbers, per count and in units shown, and laws drawn from what is open."""

    kind: FormKind
    numbers: tuple[OpenNumber, ...]
    laws: Laws
    rounding: Rounding | None = None
    inside: LineSet | None = None
    held: tuple[int, int] = (0, 0)  # how many pairs are held at either end
    gaps: tuple[tuple[float, float], ...] = ()  # counts between each of which a table has a knot
    special_of: FormKind | None = None
    chance: float = 1.0  # that the general form looks like this one


def recovered(pairs: SeenPairs) -> tuple[Recovered, ...]:
    """Every form that makes all pairs; never none, since a table makes anything."""
    straight = _straight(pairs)
    towards = _towards_zero(pairs)
    if straight or towards:
        return (*straight, *_ratios(pairs, straight), *towards)
    held = _held(pairs)
    if held is not None and _is_sure(held, pairs):
        return (held,)
    table = _table(pairs)
    return (table,) if held is None else (held, table)


# -- straight -------------------------------------------------------------------------------------------------------


def _straight(pairs: SeenPairs) -> list[Recovered]:
    lines = lines_through(pairs.gates())
    return [] if lines is None else [_of_lines("straight", lines, pairs, np.floor)]


def _of_lines(kind: FormKind, lines: LineSet, pairs: SeenPairs, whole: Callable[[Array], Array]) -> Recovered:
    drawn = lines.drawn(LAWS)

    def laws(counts: Array) -> Array:
        return whole(drawn[:, :1] * counts[None, :] + drawn[:, 1:])

    return Recovered(kind, _numbers(lines, pairs), laws, None, lines)


def _numbers(lines: LineSet, pairs: SeenPairs) -> tuple[OpenNumber, ...]:
    """Slope and height of the lines as cut values; a controller that rounds has half a step less of height."""
    step, (slope, height) = pairs.step, lines.centre
    (a, b), (c, d) = lines.slopes, lines.heights
    return (
        OpenNumber("slope", slope * step, a * step, b * step),
        OpenNumber("offset, rounded", (height - 0.5) * step, (c - 0.5) * step, (d - 0.5) * step),
        OpenNumber("offset, cut", height * step, c * step, d * step),
    )


def _towards_zero(pairs: SeenPairs) -> list[Recovered]:
    """Values cut towards 0, where there are such on either side of it."""
    if not (pairs.steps.min() < 0 <= pairs.steps.max()):
        return []
    gates = [
        gate._replace(low=gate.low - (1.0 if step <= 0 else 0.0), high=gate.high - (1.0 if step < 0 else 0.0))
        for gate, step in zip(pairs.gates(), pairs.steps.tolist(), strict=True)
    ]
    lines = lines_through(gates)
    if lines is None:
        return []
    one = _of_lines("straight, cut towards 0", lines, pairs, np.trunc)
    return [one._replace(numbers=(one.numbers[0], one.numbers[2]))]


# -- whole numbers --------------------------------------------------------------------------------------------------


def _ratios(pairs: SeenPairs, straight: list[Recovered]) -> list[Recovered]:
    """A · count / B + C in whole numbers, with each way of dividing."""
    if not straight or straight[0].inside is None or pairs.slack:
        return []
    lines = straight[0].inside
    low, high = lines.heights
    for half in range(int(np.ceil(2 * low - _FUZZ)), int(np.floor(2 * high + _FUZZ)) + 1):
        found = _ratio(pairs, lines, half)
        if found is not None:
            return [found]  # the first height that fits; its neighbours would need fewer pairs than there are
    return []


def _ratio(pairs: SeenPairs, lines: LineSet, half: int) -> Recovered | None:
    """The whole numbers with a height of so many halves: even for cutting, odd for rounding."""
    slopes = lines.slopes_at_height(half / 2)
    if slopes is None:
        return None
    for a, b in _fractions(*slopes):
        for rounding, constant in _constants(half, a):
            form = Ratio(multiplier=a, divisor=b, constant=constant, rounding=rounding)
            if np.array_equal(form.whole(pairs.counts.astype(np.int64)), pairs.steps.astype(np.int64)):
                low, high = lines.heights
                return _of_ratio(form, slopes, min(2 * (high - low), 1.0))  # two heights of each step are such
    return None


def _constants(half: int, multiplier: int) -> tuple[tuple[Rounding, int], ...]:
    """How a height of so many halves comes about: by rounding, by cutting; falling products are cut upwards."""
    if half % 2:
        return (("nearest", (half - 1) // 2),)
    return (("floor", half // 2),) if multiplier >= 0 else (("floor", half // 2), ("truncate", half // 2 - 1))


def _fractions(low: float, high: float) -> Iterator[tuple[int, int]]:
    """The simplest fractions between two slopes, the lower of which may be the very one."""
    end = Fraction(low).limit_denominator(_LARGEST_DIVISOR)
    if abs(end - Fraction(low)) < _END * max(abs(low), 1.0):
        yield end.numerator, end.denominator
    edge = _FUZZ * (high - low)
    found = _simplest(low + edge, high - edge)
    if found is not None:
        yield found


def _of_ratio(form: Ratio, slopes: tuple[float, float], chance: float) -> Recovered:
    height = form.constant + (0.5 if form.rounding == "nearest" else 0.0)
    drawn = np.linspace(*slopes, LAWS)

    def laws(counts: Array) -> Array:
        return np.floor(drawn[:, None] * counts[None, :] + height)

    numbers = (
        OpenNumber("A", form.multiplier, form.multiplier, form.multiplier),
        OpenNumber("B", form.divisor, form.divisor, form.divisor),
        OpenNumber("A/B", form.multiplier / form.divisor, slopes[0] - _END, slopes[1] + _END),
        OpenNumber("C", form.constant, form.constant, form.constant),
    )
    return Recovered("integer ratio", numbers, laws, form.rounding, special_of="straight", chance=chance)


def _simplest(low: float, high: float) -> tuple[int, int] | None:
    """The fraction of least divisor strictly between two numbers, by the Stern-Brocot tree; None beyond 16 bits."""
    if low < 0 < high or low == high:
        return (0, 1) if low < 0 < high else None
    if high <= 0:
        found = _simplest(-high, -low)
        return None if found is None else (-found[0], found[1])
    a, b, c, d = 0, 1, 1, 0
    while True:
        p, q = a + c, b + d
        if max(p, q) > _LARGEST:
            return None
        if p <= low * q:
            k = max(int((low * b - a) / (c - low * d)), 1) if c - low * d > 0 else 1
            a, b = a + k * c, b + k * d
        elif p >= high * q:
            k = max(int((c - high * d) / (high * b - a)), 1) if high * b - a > 0 else 1
            c, d = c + k * a, d + k * b
        else:
            return p, q


# -- held at its ends, and tables -----------------------------------------------------------------------------------


def _held(pairs: SeenPairs) -> Recovered | None:
    """A straight line between limits: the fewest pairs held at either end that leave the rest straight."""
    n = len(pairs.counts)
    most_low, most_high = _alike(pairs.steps), _alike(pairs.steps[::-1])
    choices = [(i, j) for i in range(most_low + 1) for j in range(most_high + 1) if n - i - j >= _LEAST_INSIDE]
    found: list[Recovered] = []
    rises = pairs.steps[-1] > pairs.steps[0]
    for low, high in sorted(choices, key=sum):
        lines = lines_through([*pairs.gates(chosen=slice(low, n - high)), *_beyond(pairs, low, high, bool(rises))])
        if lines is not None:
            found.append(_of_limits(pairs, lines, low, high))
    return _together(found) if found else None


def _beyond(pairs: SeenPairs, low: int, high: int, rises: bool) -> list[Gate]:
    """Where pairs are held the line goes on past the limit: below the lower one, above the upper one."""
    counts, steps = pairs.counts.tolist(), pairs.steps.tolist()
    held = [(n, rises) for n in range(low)] + [(len(counts) - 1 - n, not rises) for n in range(high)]
    return [
        Gate(counts[n], -_FAR, steps[n] + 1) if is_least else Gate(counts[n], steps[n], _FAR) for n, is_least in held
    ]


def _together(found: list[Recovered]) -> Recovered:
    """The first of several ways to part the pairs, with what any of them leaves open."""
    numbers = []
    for one in found[0].numbers:
        same = [other for way in found for other in way.numbers if other.name == one.name]
        numbers.append(one._replace(low=min(x.low for x in same), high=max(x.high for x in same)))
    return found[0]._replace(numbers=tuple(numbers))


def _alike(steps: Array) -> int:
    """How many pairs from the start on show one value."""
    other = np.flatnonzero(steps != steps[0])
    return int(other[0]) if len(other) else len(steps)


def _of_limits(pairs: SeenPairs, lines: LineSet, low: int, high: int) -> Recovered:
    drawn = lines.drawn(LAWS)
    first = float(pairs.steps[0]) if low else -np.inf
    last = float(pairs.steps[-1]) if high else np.inf
    least, most = min(first, last), max(first, last)
    if lines.centre[0] < 0:
        least, most = (last if high else -np.inf), (first if low else np.inf)

    def laws(counts: Array) -> Array:
        return np.clip(np.floor(drawn[:, :1] * counts[None, :] + drawn[:, 1:]), least, most)

    step = pairs.step
    numbers = list(_numbers(lines, pairs))
    for name, limit in (("lower limit", least), ("upper limit", most)):
        if np.isfinite(limit):
            numbers.append(OpenNumber(name, limit * step, (limit - 0.5) * step, (limit + 1) * step))
    return Recovered("held straight", tuple(numbers), laws, None, lines, (low, high))


def _is_sure(held: Recovered, pairs: SeenPairs) -> bool:
    """Whether so many pairs are held, and so many not, that a table would hardly look like it."""
    low, high = held.held
    inside = len(pairs.counts) - low - high
    return inside >= _SURE_INSIDE and all(n == 0 or n >= _SURE_HELD for n in (low, high))


def _table(pairs: SeenPairs) -> Recovered:
    """Knots joined: the fewest, each somewhere between two counts on whose way no straight line passes."""
    gaps: list[tuple[float, float]] = []
    start = 0
    for end in range(len(pairs.counts)):
        if lines_through(pairs.gates(-0.5, 1.5, slice(start, end + 1))) is not None:
            continue
        first = max(n for n in range(start, end) if _is_bent(pairs, n, end))
        gaps.append((float(pairs.counts[first]), float(pairs.counts[end])))
        start = end - 1 if first < end - 1 else end
    counts, steps = pairs.counts, pairs.steps + 0.5

    def laws(at: Array) -> Array:
        return np.floor(np.interp(at, counts, steps))[None, :]

    numbers = tuple(OpenNumber(f"knot {n}", (low + high) / 2, low, high) for n, (low, high) in enumerate(gaps, 1))
    return Recovered("table", numbers, laws, gaps=tuple(gaps))


def _is_bent(pairs: SeenPairs, first: int, last: int) -> bool:
    """Whether no line passes the pairs from first to last."""
    return lines_through(pairs.gates(-0.5, 1.5, slice(first, last + 1))) is None
