"""What was seen of a controller: counts with the numbers shown, and the step of its display."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...words.errors import BadTable
from ...words.numerals import plain_decimals
from .polygon import Gate

Array = NDArray[np.float64]


TYPED_SLACK = 0.5  # counts that a typed signal may be off
_FAR_SHARE = 0.02


class SeenPairs(NamedTuple):
    """Counts (n,), rising, with what is shown at each in whole steps of the display; `slack` is what counts may be off.

    `decimals` are those of the display: one step is 10 to the power of minus them.
    """

    counts: Array
    steps: Array
    decimals: int
    slack: float = 0.0

    @property
    def step(self) -> float:
        """One step of the display, in the unit shown."""
        return 10.0**-self.decimals

    def gates(self, low: float = 0.0, high: float = 1.0, chosen: slice = slice(None)) -> list[Gate]:
        """What a line must pass, in steps, where a value is shown from `low` to `high` steps above it."""
        extra = self.slack * self._rough_slope
        rows = zip(self.counts[chosen].tolist(), self.steps[chosen].tolist(), strict=True)
        return [Gate(count, step + low - extra, step + high + extra) for count, step in rows]

    @property
    def _rough_slope(self) -> float:
        """How steep the whole is, in steps for each count, without its sign."""
        rise, run = np.abs(np.diff(self.steps)), np.diff(self.counts)
        far = run >= _FAR_SHARE * (self.counts[-1] - self.counts[0])
        return float(np.max(rise[far] / run[far]))  # between near counts a step of the display would be a slope


def seen_pairs(
    counts: Sequence[float], shown: Sequence[float], decimals: int | None = None, slack: float = 0.0
) -> SeenPairs:
    """Pairs in rising order, each count once; the display's decimals are the most that a value has, unless stated.

    Raises: BadTable with fewer than two counts, for one count that shows two values, for a value between two steps.
    """
    known: dict[float, float] = {}
    for count, value in zip(counts, shown, strict=True):
        if known.setdefault(count, value) != value and not slack:
            raise BadTable(
                f"Count {count:g} shows {known[count]:g} and {value:g}: read it again while it stands still."
            )
    if len(known) < 2:
        raise BadTable(f"Two different counts are needed at least, found {len(known)}. Take another pair.")
    digits = max(plain_decimals(value) for value in known.values()) if decimals is None else decimals
    order = sorted(known)
    steps = np.array([known[count] for count in order]) * 10.0**digits
    whole = np.round(steps)
    off = np.flatnonzero(np.abs(steps - whole) > 1e-6 * np.maximum(np.abs(steps), 1.0))
    if len(off):
        value = known[order[int(off[0])]]
        raise BadTable(f"{value:g} has more than the {digits} decimals stated. Give as many as are shown.")
    return SeenPairs(np.array(order, dtype=float), whole, digits, slack)
