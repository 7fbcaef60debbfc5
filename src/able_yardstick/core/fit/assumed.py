"""Whether the readings prove a straight line, or it is only assumed; and what one more would prove, and where."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..job.job import Job
from ..words.numerals import significant
from .inputs import FitInputs, fit_inputs

Array = NDArray[np.float64]
_COVERAGE = 2.0  # standard uncertainties: less is no more than chance


class Standing(NamedTuple):
    """`assumed` says why linearity is only assumed, empty where it is tested; `more` what one more would prove."""

    assumed: str
    more: str


def assumed_of(inputs: FitInputs) -> str:
    """Why the shape of a curve is only assumed; empty where the readings bear it out."""
    if not inputs.stops:
        return "nothing was gathered"
    if inputs.assumed_rows:
        count = len(inputs.assumed_rows)
        return "one reading is itself assumed" if count == 1 else f"{count} readings are themselves assumed"
    stops = max(inputs.stops) + 1
    if stops < 3:
        return "there is only one stop" if stops == 1 else "two stops lie on any line"
    return "no stop was repeated" if stops == len(inputs.stops) else ""


def standing_of(job: Job, channel: ContinuousChannel) -> Standing:
    """How far the gathered readings bear out the shape of a curve."""
    inputs = fit_inputs(job, channel)
    assumed = assumed_of(inputs)
    if not inputs.stops or not assumed:
        return Standing(assumed, "")
    stops = max(inputs.stops) + 1
    return Standing(assumed, _too_few(channel, inputs, stops) if stops < 3 else _repeat(channel, inputs))


def _too_few(channel: ContinuousChannel, inputs: FitInputs, stops: int) -> str:
    _, reference = inputs.points
    if stops == 1:
        low, high = channel.range
        here = float(reference[0])
        far = low if abs(here - low) > abs(high - here) else high
        return f"One stop gives no slope: a reading at {_place(channel, far)}, the far end, would give it."
    middle = float(f"{(reference.min() + reference.max()) / 2:.4g}")
    blur = _bend_blur(inputs)
    size = "" if blur is None else f" of more than {significant(blur, 2)} {channel.unit}"
    return f"One reading half-way between them, at {_place(channel, middle)}, would show a bend{size}."


def _bend_blur(inputs: FitInputs) -> float | None:
    """How far off the chord a reading half-way must lie to be no chance; None where the readings' doubts are unknown.

    Its own doubt and half of each end's add up: u^2 (1 + 1/4 + 1/4) where all are alike.
    """
    doubts = inputs.doubts
    if doubts is None or doubts.reference is None or doubts.signal is None:
        return None
    signal, reference = inputs.points
    slope = float(np.ptp(reference) / np.ptp(signal)) if np.ptp(signal) > 0 else 0.0
    each = np.hypot(doubts.reference, slope * doubts.signal)
    return _COVERAGE * float(np.sqrt(1.5) * each.max())


def _repeat(channel: ContinuousChannel, inputs: FitInputs) -> str:
    _, reference = inputs.points
    middle = (reference.min() + reference.max()) / 2
    nearest = float(reference[np.argmin(np.abs(reference - middle))])
    return (
        f"One reading more at {_place(channel, nearest)}, taken already, would show the scatter, and with it whether a "
        "bend is more than chance."
    )


def _place(channel: ContinuousChannel, value: float) -> str:
    return f"{significant(value, 4)} {channel.unit}"
