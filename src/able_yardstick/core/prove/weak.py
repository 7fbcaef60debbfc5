"""Why the checks of a proof are worth little, in words: where they stand and how they were taken.

At a stop where readings were gathered a curve through them agrees by its making.
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..journal.reading import Direction
from ..words.numerals import significant

_LOW_END = 0.2  # of the range
_LITTLE = 0.5
_AT_STOP = 0.02


def weaknesses(
    values: Sequence[float],
    ways: Sequence[Direction],
    gathered: Sequence[float],
    low: float,
    high: float,
) -> tuple[str, ...]:
    """What checks at values (n,), taken those ways, cannot show over a range; `gathered` are the stops of the fit.

    All in one unit.
    """
    span = high - low
    if not len(values):
        return ()
    at = np.asarray(values, dtype=float)
    found = [_place_words(at, low, span)]
    if len(at) > 1 and set(ways) in ({"up"}, {"down"}):
        found.append(f"All were taken going {ways[0]}: a hysteresis shows only in part.")
    if len(gathered):
        nearest = np.abs(at[:, None] - np.asarray(gathered, dtype=float)).min(axis=1)
        if (nearest <= _AT_STOP * span).all():
            found.append("All stand where readings were gathered: nothing is shown between those.")
    return tuple(words for words in found if words)


def _place_words(at: NDArray[np.float64], low: float, span: float) -> str:
    """What the places of the checks, (n,) in the unit of the range, leave unshown; empty where they are spread."""
    covered = float(np.ptp(at)) / span if span > 0 else 0.0
    if covered <= _AT_STOP:
        near_zero = abs(at.mean() - low) <= _LOW_END * span
        return "Checks near zero prove no span." if near_zero else "Checks at one point prove no slope."
    if (at <= low + _LOW_END * span).all():
        return "Checks near zero prove no span."
    if covered < _LITTLE:
        return f"The checks cover {significant(100 * covered, 2)} % of the range only."
    return ""
