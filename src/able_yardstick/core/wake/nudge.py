"""The nudge: the sensor is disturbed on purpose, and the signal moves, or does not."""

from typing import Literal, NamedTuple

import numpy as np

from ..channel import TwoStateChannel, WiredChannel
from ..nodes import range_pins
from ..sample import Series
from .figures import LEAST_SAMPLES, allowed_noise

NudgeOutcome = Literal["moved", "moved the wrong way", "moved slowly", "did not move"]
_CLEAR = 6.0
_LEAST_COUNTS = 3.0
_LATE_SHARE = 0.12  # of the whole movement: more than that in the last third is still under way
_SETTLING = 6.0  # response times after which a sensor has done all but 0.3 % of a step


class Nudge(NamedTuple):
    """What a disturbance did: the movement at the pin, in its unit and as a share of the pin's span."""

    outcome: NudgeOutcome
    movement: float
    share: float
    seconds: float


def signal_rises(channel: WiredChannel) -> bool:
    """Whether the signal at the pin rises with the quantity; for a contact, from closed to open."""
    if isinstance(channel, TwoStateChannel):
        closed, opened = channel.pin_levels
        return opened > closed
    ends = range_pins(channel)
    return ends is None or ends[1] > ends[0]


def nudge_seconds(channel: WiredChannel) -> float:
    """How long to look after a disturbance, in s: until the sensor has answered."""
    response = getattr(getattr(channel, "transducer", None), "response_s", None) or 0.3
    return max(2.0, _SETTLING * response)


def nudge_of(channel: WiredChannel, before: Series, after: Series, rises: bool) -> Nudge | None:
    """What the signal did, from raw counts before and after the start; None while there is too little of them.

    `rises` says which way the signal at the pin should go. The greatest movement counts, so that a sensor that was
    let go again has moved; it is slow if the last third still holds more than an eighth of the way.
    """
    if len(before.good) < LEAST_SAMPLES or len(after.good) < LEAST_SAMPLES:
        return None
    converter = channel.path.converter.nominal
    rest = np.asarray(converter.inverse(before.good.values))
    pins = np.asarray(converter.inverse(after.good.values))
    start = float(np.median(rest))
    smooth = np.convolve(pins, np.ones(9) / 9, mode="valid")
    moves = smooth - start
    movement = float(moves[np.argmax(np.abs(moves))])
    spread = max(float(rest.std()), allowed_noise(channel))
    least = _CLEAR * spread / 3 + _LEAST_COUNTS * converter.per_count
    share = movement / (converter.end - converter.start)
    seconds = after.length_s
    if abs(movement) < least:
        return Nudge("did not move", movement, share, seconds)
    if (movement > 0) != rises:
        return Nudge("moved the wrong way", movement, share, seconds)
    third = max(len(smooth) // 3, 1)
    late = abs(float(smooth[-third // 3 :].mean() - smooth[-third : -third + max(third // 3, 1)].mean()))
    is_late = late > _LATE_SHARE * abs(movement) and abs(moves[-1]) >= 0.9 * abs(movement)
    return Nudge("moved slowly" if is_late else "moved", movement, share, seconds)
