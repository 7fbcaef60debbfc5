"""What a plot shows, as plain data: lines, marks, bands and words."""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ....core.curves import AnyCurve
from ....core.document.channel import ContinuousChannel

Array = NDArray[np.float64]
_CURVE_SAMPLES = 513
MarkKind = Literal[
    "up",
    "down",
    "plain",
    "rated",
    "assumed",
    "excluded",
    "knot",
    "found",
    "found failed",
    "left",
    "failed",
    "stale",
    "worst",
]


class DrawnLine(NamedTuple):
    """A drawn line: `style` names its look."""

    x: Array
    y: Array
    style: Literal[
        "curve",
        "beyond",
        "described",
        "shift",
        "error",
        "even",
        "bound",
        "further",
        "accepted",
        "accepted beyond",
        "mistake",
    ]


class Marks(NamedTuple):
    """Points of one kind."""

    kind: MarkKind
    x: Array
    y: Array


class Whiskers(NamedTuple):
    """How far readings spread within their windows, about points: twice the standard deviation either way."""

    x: Array
    y: Array
    half_x: Array
    half_y: Array


class Band(NamedTuple):
    """An area between two lines."""

    x: Array
    low: Array
    high: Array
    style: Literal["tolerance", "confidence", "missed"]


class PlotContent(NamedTuple):
    """Everything one plot shows. `y_range` is what must be in view; `words` say what is plotted."""

    lines: tuple[DrawnLine, ...]
    marks: tuple[Marks, ...]
    bands: tuple[Band, ...]
    reach: tuple[float, float] | None
    y_range: tuple[float, float]
    words: str
    stems: bool = False
    whiskers: Whiskers | None = None


def samples(axis: tuple[float, float], curve: AnyCurve) -> Array:
    """Signals to draw a curve at, rising, some of them twice: even, with its breakpoints among them."""
    even = np.linspace(*axis, _CURVE_SAMPLES)
    knots = getattr(curve, "signals", ())
    return np.sort(np.concatenate([even, np.asarray(knots, dtype=float), np.array(curve.domain)]))


def grouped(rows: list[tuple[MarkKind, float, float]]) -> list[Marks]:
    """Points with their kinds as marks, one for each kind."""
    kinds = dict.fromkeys(kind for kind, _, _ in rows)
    return [
        Marks(kind, np.array([x for k, x, _ in rows if k == kind]), np.array([y for k, _, y in rows if k == kind]))
        for kind in kinds
    ]


def tolerance_band(channel: ContinuousChannel, axis: tuple[float, float], curve: AnyCurve | None) -> list[Band]:
    """What is allowed along the axis; none where nothing is stated."""
    if not channel.tolerance.is_stated:
        return []
    signal = samples(axis, curve) if curve else np.array(axis)
    value = curve.value(signal) if curve else np.zeros(2)
    allowed = np.broadcast_to(channel.tolerance.at(value, channel.span), signal.shape)
    return [Band(signal, -allowed, allowed, "tolerance")]


def even_range(marks: list[Marks], bands: list[Band], *more: float) -> tuple[float, float]:
    """A range even about zero that holds the tolerance and every error."""
    sizes = [float(np.max(np.abs(mark.y))) for mark in marks if len(mark.y)]
    sizes += [float(np.max(band.high)) for band in bands if band.style == "tolerance"]
    if not any(band.style == "tolerance" for band in bands):
        sizes += [float(np.median(band.high)) for band in bands]
    sizes += [abs(number) for number in more]
    largest = max(sizes, default=0.0) or 1.0
    return -1.2 * largest, 1.2 * largest
