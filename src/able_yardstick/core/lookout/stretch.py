"""Figures of a stretch of a course: least, mean, largest, and what it does between two moments."""

from typing import NamedTuple

import numpy as np

from ..journal.sample import Series


class StretchFigures(NamedTuple):
    """Of the good samples of a stretch, in the course's unit; `samples` of them, NaN where there is none."""

    samples: int
    least: float
    mean: float
    largest: float
    spread: float


def figures_of(series: Series) -> StretchFigures:
    """What a stretch comes to."""
    values = series.good.values
    if not len(values):
        return StretchFigures(0, *[float("nan")] * 4)
    spread = float(values.std(ddof=1)) if len(values) > 1 else 0.0
    return StretchFigures(len(values), float(values.min()), float(values.mean()), float(values.max()), spread)


def value_near(series: Series, time_s: float, within_s: float) -> float:
    """The good sample nearest a moment in s, no further off than that; NaN where there is none."""
    good = series.good
    if not len(good):
        return float("nan")
    at = int(np.argmin(np.abs(good.times_s - time_s)))
    return float(good.values[at]) if abs(good.times_s[at] - time_s) <= within_s else float("nan")
