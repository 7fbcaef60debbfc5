"""The Rule as a record keeps it: every scale's graduations on the axis of the pin, and what each reads at one place."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document.channel import SignableChannel
from ..job.job import Job
from ..state.scales import Scale, axis_of, first_place, pin_unit
from ..words.numerals import fixed, plain_decimals
from .kinds.registry import SIGNED_KINDS

Array = NDArray[np.float64]
_MOST_GRADUATIONS = 8


def rule_read(job: Job, channel: SignableChannel, pin: float | None = None) -> dict[str, Any]:
    """The axis in the pin's unit, where it is read, and the scales."""
    low, high = axis_of(channel)
    at = first_place(channel) if pin is None else min(max(pin, low), high)
    scales = [_scale(one, at) for one in SIGNED_KINDS[channel.kind].scales(job, channel)]
    return {"axis": [float(low), float(high)], "unit": pin_unit(channel), "at": float(at), "scales": scales}


def _scale(scale: Scale, at: float) -> dict[str, Any]:
    reads = scale.text(at) if scale.reads(at) else ""
    return {"title": scale.title, "unit": scale.unit, "reads": reads, "graduations": _graduations(scale)}


def _graduations(scale: Scale) -> list[dict[str, Any]]:
    if scale.words is not None:
        return [{"at": float(at), "text": text} for at, text in scale.marks]
    ends = scale.of_pin(np.array(scale.usable))
    if not np.isfinite(ends).all():
        return []
    found = []
    values = round_steps(float(ends.min()), float(ends.max()))
    decimals = plain_decimals(float(values[1] - values[0])) if len(values) > 1 else scale.decimals
    for value in values:
        pins = [pin for pin in scale.branches(float(value)) if scale.reads(pin)]
        found += [{"at": float(pin), "text": fixed(float(value), decimals)} for pin in pins[:1]]
    return found


def round_steps(low: float, high: float, most: int = _MOST_GRADUATIONS) -> Array:
    """Round numbers from low to high, in their unit, evenly apart and at most so many; shape (n,)."""
    span = high - low
    if not span > 0:
        return np.array([low])
    size = 10.0 ** np.floor(np.log10(span / most))
    step = float(next(size * factor for factor in (1, 2, 5, 10, 20) if span / (size * factor) <= most))
    first, last = int(np.ceil(low / step - 1e-9)), int(np.floor(high / step + 1e-9))
    return np.arange(first, last + 1, dtype=np.float64) * step
