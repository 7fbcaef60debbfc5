"""What of a channel is shown: its stretch of the pin's signal, and the decimals of its values."""

import numpy as np

from ..document.channel import ContinuousChannel, WiredChannel
from ..document.watched import AnyWatched
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..words.numerals import decimals_for
from .suspects import expanded_at

_SIGNIFICANT = 5.0  # the last digit shown against what may be wrong


def shown_pins(job: Job, channel: WiredChannel) -> tuple[float, float]:
    """The stretch of the pin's signal to show, rising: that of the range asked for, else all that can come."""
    converter = channel.path.converter
    whole = (converter.start, converter.end)
    row = job.watch.row(channel.id)
    use = curve_in_use(job, channel) if isinstance(channel, ContinuousChannel) else None
    if use is None or (row.low is None and row.high is None):
        return whole
    values = np.sort(np.asarray(use.curve.value(np.array(whole))))
    asked = (float(values[0]) if row.low is None else row.low, float(values[1]) if row.high is None else row.high)
    pins = np.sort(np.clip(np.asarray(use.curve.signal(np.clip(asked, values[0], values[1]))), *whole))
    return (float(pins[0]), float(pins[1])) if pins[1] > pins[0] else whole


def shown_decimals(job: Job, channel: ContinuousChannel, value: float) -> int:
    """As set; else what U supports, or the error allowed, or a thousandth of the span."""
    row = job.watch.row(channel.id)
    if row.decimals is not None:
        return row.decimals
    expanded = expanded_at(job, channel, value)
    off = expanded if expanded > 0 else channel.allowed_error(value) or channel.span / 200
    return decimals_for(off / _SIGNIFICANT)


def watched_decimals(job: Job, value: AnyWatched, number: float, expanded: float) -> int:
    """The same of a value made of channels."""
    row = job.watch.row(value.id)
    if row.decimals is not None:
        return row.decimals
    return decimals_for((expanded if expanded > 0 else max(abs(number), 1e-9) / 200) / _SIGNIFICANT)
