"""The count whose pair would tell most: first over the whole range, then where what is still possible differs."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from .candidates import LAWS, Recovered
from .pairs import SeenPairs

Array = NDArray[np.float64]
_COVERED = 5  # pairs over the range before anything is refined
_OUTCOMES = 6  # beyond so many steps apart it matters no more by how much
_EVERY, _MANY = 512, 768  # counts near 0, where the height shows, are all looked at, then so many
_LIKE = 0.02  # of the range: a count so near to one that was taken covers nothing new


def next_count(pairs: SeenPairs, found: Sequence[Recovered], full_count: int) -> int | None:
    """The next count to try; None where every count is known to show what it would."""
    taken = set(pairs.counts.astype(int).tolist())
    for end in (0, full_count):
        if end not in taken:
            return end
    if _covered(pairs, full_count) < _COVERED:
        return _widest(pairs)
    table = next((one for one in found if one.kind == "table"), None)
    held = next((one for one in found if one.kind == "held straight"), None)
    if held is not None:
        inside = _in_held_part(pairs, held, full_count)
        if inside is not None and inside not in taken:
            return inside
    if table is not None:
        return _in_widest_gap(table, taken) or _widest(pairs)
    return _most_told(found, full_count, taken)


def _covered(pairs: SeenPairs, full_count: int) -> int:
    """How many pairs stand apart from each other."""
    apart = np.diff(pairs.counts) > _LIKE * full_count
    return 1 + int(apart.sum())


def _widest(pairs: SeenPairs) -> int:
    gaps = np.diff(pairs.counts)
    n = int(np.argmax(gaps))
    return int(pairs.counts[n] + gaps[n] // 2)


def _in_held_part(pairs: SeenPairs, held: Recovered, full_count: int) -> int | None:
    """A count between where a limit begins to hold and the end, on the side where fewer pairs are held."""
    low, high = held.held
    sides = [side for side, n in (("low", low), ("high", high)) if n == 1]
    if not sides or held.inside is None:
        return None
    slope, height = held.inside.centre
    if slope == 0:
        return None
    limit = pairs.steps[0] if sides[0] == "low" else pairs.steps[-1]
    corner = float(np.clip((limit + 0.5 - height) / slope, 0, full_count))
    end = pairs.counts[0] if sides[0] == "low" else pairs.counts[-1]
    return round((corner + float(end)) / 2)


def _in_widest_gap(table: Recovered, taken: set[int]) -> int | None:
    for low, high in sorted(table.gaps, key=lambda gap: gap[0] - gap[1]):
        inside = [n for n in range(int(low) + 1, int(high)) if n not in taken]
        if inside:
            known = [low, *(float(n) for n in sorted(taken) if low < n < high), high]
            widths = np.diff(known)
            n = int(np.argmax(widths))
            return int(known[n] + widths[n] // 2)
    return None


def _most_told(found: Sequence[Recovered], full_count: int, taken: set[int]) -> int | None:
    """Where forms that are still possible differ most, or else what is open within the first."""
    near = [*range(min(_EVERY, full_count)), *range(_EVERY, full_count + 1, max(full_count // _MANY, 1))]
    counts = np.array([n for n in near if n not in taken], dtype=float)
    shown = [one.laws(counts) for one in found]
    base = np.min([rows.min(axis=0) for rows in shown], axis=0)
    straight = next((one for one in found if one.kind == "straight"), None)
    towards = any(one.kind == "straight, cut towards 0" for one in found)
    if straight is not None and straight.inside is not None and not towards:
        return _height_told(straight.inside.drawn(LAWS)[:, 1], straight.laws(counts), counts)
    shares = [_shares(rows - base) for rows in shown]
    told = np.zeros(len(counts))
    for n, one in enumerate(shares):
        told += 1 - (one**2).sum(axis=0)  # the chance that two of the possible laws differ there
        for other in shares[n + 1 :]:
            told += 8 * np.abs(one - other).sum(axis=0) / 2
    best = int(np.argmax(told))
    return int(counts[best]) if told[best] > 0 else None


def _height_told(heights: Array, shown: Array, counts: Array) -> int:
    """The count whose value leaves least open of the height, (laws,), which tells whole numbers from others."""
    outcomes = np.minimum(shown - shown.min(axis=0), _OUTCOMES - 1)
    left = np.zeros(len(counts))
    for n in range(_OUTCOMES):
        here = outcomes == n
        many = np.maximum(here.sum(axis=0), 1)
        mean = (here * heights[:, None]).sum(axis=0) / many
        left += (here * (heights[:, None] - mean) ** 2).sum(axis=0)
    return int(counts[int(np.argmin(left))])


def _shares(steps: Array) -> Array:
    """Which share of the laws gives each outcome, shape (outcomes, counts)."""
    held = np.minimum(steps, _OUTCOMES - 1)
    return np.stack([(held == n).mean(axis=0) for n in range(_OUTCOMES)])
