"""Whether the readings prove a straight line, or it is only assumed; and what one more would prove, and where."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..gather.points import Points, points_of
from ..gather.reading_doubts import doubts_of
from ..job.job import Job
from ..regression.repeats import stop_numbers
from ..words.numerals import significant

Array = NDArray[np.float64]
_COVERAGE = 2.0  # standard uncertainties: less is no more than chance


class Standing(NamedTuple):
    """`assumed` says why linearity is only assumed, empty where it is tested; `more` what one more would prove."""

    assumed: str
    more: str


def standing_of(job: Job, channel: ContinuousChannel) -> Standing:
    """How far the gathered readings bear out the shape of a curve."""
    points = points_of(job, channel)
    if not len(points.rows):
        return Standing("nothing was gathered", "")
    numbers = stop_numbers(points.reference)
    stops = int(numbers.max()) + 1
    if stops < 3:
        return _too_few(job, channel, points, stops)
    if stops == len(points.rows):
        return Standing("no stop was repeated", _repeat(channel, points))
    return Standing("", "")


def _too_few(job: Job, channel: ContinuousChannel, points: Points, stops: int) -> Standing:
    if stops == 1:
        low, high = channel.range
        here = float(points.reference[0])
        far = low if abs(here - low) > abs(high - here) else high
        return Standing(
            "there is only one stop",
            f"One stop gives no slope: a reading at {_place(channel, far)}, the far end, would give it.",
        )
    middle = float(f"{(points.reference.min() + points.reference.max()) / 2:.4g}")
    blur = _bend_blur(job, channel, points)
    size = "" if blur is None else f" of more than {significant(blur, 2)} {channel.unit}"
    return Standing(
        "two stops lie on any line",
        f"One reading half-way between them, at {_place(channel, middle)}, would show a bend{size}.",
    )


def _bend_blur(job: Job, channel: ContinuousChannel, points: Points) -> float | None:
    """How far off the chord a reading half-way must lie to be no chance; None where the readings' doubts are unknown.

    Its own doubt and half of each end's add up: u^2 (1 + 1/4 + 1/4) where all are alike.
    """
    doubts = doubts_of(job, channel, points.rows)
    if doubts is None or doubts.reference is None or doubts.signal is None:
        return None
    slope = float(np.ptp(points.reference) / np.ptp(points.signal)) if np.ptp(points.signal) > 0 else 0.0
    each = np.hypot(doubts.reference, slope * doubts.signal)
    return _COVERAGE * float(np.sqrt(1.5) * each.max())


def _repeat(channel: ContinuousChannel, points: Points) -> str:
    middle = (points.reference.min() + points.reference.max()) / 2
    nearest = float(points.reference[np.argmin(np.abs(points.reference - middle))])
    return (
        f"One reading more at {_place(channel, nearest)}, taken already, would show the scatter, and with it whether a "
        "bend is more than chance."
    )


def _place(channel: ContinuousChannel, value: float) -> str:
    return f"{significant(value, 4)} {channel.unit}"
