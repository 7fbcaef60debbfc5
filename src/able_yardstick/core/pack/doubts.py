"""What speaks against keeping numbers for a controller, in words."""

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.saturation import saturation_words
from ..fit.inputs import fit_inputs
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..words.numerals import decimals_for, fixed, significant
from .packed import Packed

_REACHED = 0.1  # of the span: how far from an end of the range the calibration may stop without a word


def doubts_about(job: Job, channel: ContinuousChannel, packed: Packed) -> tuple[str, ...]:
    """An error above the one allowed and by how much, a range that is not covered, readings that nobody took."""
    found = (
        _too_large(job, channel, packed), _too_short(job, channel), _assumed(job, channel), saturation_words(channel),
    )  # fmt: skip
    return tuple(text for text in found if text)


def _assumed(job: Job, channel: ContinuousChannel) -> str:
    record = job.fit_of(channel.id)
    if record is None or record.fitted.spec.model == "nominal" or not fit_inputs(job, channel).assumed_rows:
        return ""
    return "The curve rests on a reading that was only assumed."


def _too_large(job: Job, channel: ContinuousChannel, packed: Packed) -> str:
    use = curve_in_use(job, channel)
    if use is None or not channel.tolerance.is_stated:
        return ""
    error = abs(packed.worst.error)
    allowed = channel.allowed_error(float(use.curve.value(packed.worst.signal)))
    if error <= allowed:
        return ""
    unit, decimals = channel.unit, decimals_for(allowed / 20)
    return (
        f"The packing alone errs by up to {fixed(error, decimals)} {unit}, {fixed(error - allowed, decimals)} more "
        f"than the {fixed(allowed, decimals)} allowed for everything together."
    )


def _too_short(job: Job, channel: ContinuousChannel) -> str:
    """Where the calibration, as far as the converter reaches it, stops short of the range."""
    use, converter = curve_in_use(job, channel), channel.path.converter
    if use is None:
        return ""
    low, high = max(use.curve.domain[0], converter.start), min(use.curve.domain[1], converter.end)
    if not low < high:
        return ""
    reached = sorted(use.curve.value(np.array([low, high])).tolist())
    first, last = sorted(channel.range)
    if reached[0] - first <= _REACHED * channel.span and last - reached[1] <= _REACHED * channel.span:
        return ""
    return (
        f"The calibration holds from {significant(reached[0])} to {significant(reached[1])} {channel.unit}, the range "
        f"goes from {significant(first)} to {significant(last)}: what is shown beyond rests on nothing that was seen."
    )
