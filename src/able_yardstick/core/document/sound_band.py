"""The signals that a sound sensor can make: another thing than how far the readings of it reach."""

import numpy as np

from .channel import ContinuousChannel
from .nominal import nominal_curve

_MARGIN = 1.0  # % of the pin's span: how far beyond the range an unstated limit is taken to lie


def stated_ends(channel: ContinuousChannel) -> tuple[float | None, float | None]:
    """The lowest and the highest signal at the pin that the transducer puts out; None where it is not stated."""
    part, path = channel.transducer, channel.path
    low, high = (
        None if end is None else float(path.pin(end, channel.around)) for end in (part.signal_low, part.signal_high)
    )
    rated = part.nominal(channel.around)
    ends = path.pin(np.array(rated.domain), channel.around) if rated is not None else np.zeros(2)
    return (high, low) if ends[1] < ends[0] else (low, high)


def range_band(channel: ContinuousChannel, margin_percent: float) -> tuple[float, float] | None:
    """The signals at the pin of the range, and so many % of the pin's span more; None where nothing is described."""
    converter, nominal = channel.path.converter, nominal_curve(channel)
    if nominal is None:
        return None
    low, high = np.sort(nominal.signal(np.array(channel.range))).tolist()
    margin = margin_percent / 100 * (converter.end - converter.start)
    return max(low - margin, converter.start), min(high + margin, converter.end)


def sound_band(channel: ContinuousChannel) -> tuple[float, float] | None:
    """The signals at the pin beyond which something is broken, true ones, within the converter's span.

    Where the transducer's own limits are not stated, they are taken to lie a little beyond the range. None where
    nothing is described: then nothing says what a sound signal is.
    """
    band, converter = range_band(channel, _MARGIN), channel.path.converter
    if band is None:
        return None
    stated_low, stated_high = stated_ends(channel)
    low = band[0] if stated_low is None else stated_low
    high = band[1] if stated_high is None else stated_high
    return max(low, converter.start), min(high, converter.end)
