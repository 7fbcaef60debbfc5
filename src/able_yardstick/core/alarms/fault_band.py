"""Which signals are a fault and no value, and where that comes from."""

from typing import NamedTuple

from ..document.channel import ContinuousChannel
from ..document.once import once_per_record
from ..document.sound_band import sound_band, stated_ends

_LIVE_ZERO = 0.01  # of the span: a sound signal that starts above this has a live zero


class FaultBand(NamedTuple):
    """The signals at the pin between which a value is believed, and where they come from, in words."""

    low: float
    high: float
    source: str


@once_per_record
def fault_band(channel: ContinuousChannel) -> FaultBand | None:
    """The controller's own limits where they are stated, else what the sensor can put out; None where nothing says it.

    A live zero comes first: a signal below it is a fault, and never a small value.
    """
    converter, rule = channel.path.converter, channel.fault_rule
    if rule.stated:
        low = converter.start if rule.low is None else rule.low
        high = converter.end if rule.high is None else rule.high
        return FaultBand(low, high, "the controller's own limits")
    band = sound_band(channel)
    if band is None:
        return None
    sheet = any(end is not None for end in stated_ends(channel))
    converter_span = converter.end - converter.start
    live = channel.path.source in ("V", "mA") and band[0] - converter.start > _LIVE_ZERO * converter_span
    source = "the sensor's signal limits" if sheet else "the range and 1 % of the input more"
    return FaultBand(*band, f"{source}{'; a live zero: below it is a fault' if live else ''}")
