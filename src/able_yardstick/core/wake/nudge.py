"""The nudge: the sensor is disturbed on purpose, and the signal moves, or does not."""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..job.nodes import range_pins
from ..job.pins import pins_of
from ..journal.sample import Series
from .figures import Figures, allowed_noise

Array = NDArray[np.float64]
NudgeOutcome = Literal["moved", "moved the wrong way", "moved slowly", "did not move"]
_CLEAR = 6.0
_LEAST = 4  # samples on either side
_SMOOTHED = 9  # samples, where there are many
_LEAST_COUNTS = 3.0
_SETTLING = 6.0  # response times after which a sensor has done all but 0.3 % of a step
_HAND_S = 3.0  # until a person's hand is there
_LEAST_S = 5.0
_RISE = 2.2  # response times from 10 to 90 % of a step, for a first-order sensor: ln 9
_SLOW = 2.0  # how many times longer than that is slow
_QUICK_HAND_S = 1.0  # what a quick hand and the plant may take of it


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


def nudge_seconds(channel: WiredChannel, rate_hz: float = 0.0) -> float:
    """How long to look after a disturbance, in s: until the sensor has answered, and enough samples came of it."""
    response = _response_s(channel)
    return max(_LEAST_S, _SETTLING * response + _HAND_S, samples_s(rate_hz))


def samples_s(rate_hz: float) -> float:
    """How long a few more samples than are needed take, in s, at a rate that was measured; 0 where none was."""
    return (_LEAST + 2) / rate_hz if rate_hz > 0 else 0.0


def nudge_of(channel: WiredChannel, before: Series, after: Series, rises: bool) -> Nudge | None:
    """What the signal did, from raw samples before and after the start; None while there is too little of them.

    `rises` says which way the signal at the pin should go. The greatest movement counts, so that a sensor that was
    let go again has moved; it is slow if it took more than twice as long from a tenth to nine tenths of the way as the
    stated response would, and a second for the hand.
    """
    if len(before.good) < _LEAST or len(after.good) < _LEAST:
        return None
    rest, pins = pins_of(channel, before.good).values, pins_of(channel, after.good).values
    start = float(np.median(rest))
    width = min(_SMOOTHED, max(len(pins) // 3, 1))
    smooth = np.convolve(pins, np.ones(width) / width, mode="valid")
    moves = smooth - start
    movement = float(moves[np.argmax(np.abs(moves))])
    found = _moved(channel, movement, float(rest.std()), rises)._replace(seconds=after.length_s)
    if found.outcome != "moved":
        return found
    took = _rise_s(after.good.times_s, moves / movement)
    steps_s = 2 / after.good.rate_hz if after.good.rate_hz else 0.0  # nothing is seen between two samples
    is_slow = took > _SLOW * _RISE * _response_s(channel) + _QUICK_HAND_S + steps_s
    return found._replace(outcome="moved slowly") if is_slow else found


def nudge_by_hand(channel: WiredChannel, before: Figures, after: Figures, rises: bool) -> Nudge:
    """What the signal did from values typed before and after; how long it took is not known."""
    return _moved(channel, after.level - before.level, max(before.noise, after.noise), rises)


def _moved(channel: WiredChannel, movement: float, spread: float, rises: bool) -> Nudge:
    """A movement at the pin, in its unit, against the spread of the signal at rest and the counts."""
    converter = channel.path.converter
    least = _CLEAR * max(spread, allowed_noise(channel)) / 3 + _LEAST_COUNTS * converter.per_count
    share = movement / (converter.end - converter.start)
    if abs(movement) < least:
        return Nudge("did not move", movement, share, 0.0)
    return Nudge("moved" if (movement > 0) == rises else "moved the wrong way", movement, share, 0.0)


def _response_s(channel: WiredChannel) -> float:
    stated = channel.transducer.response_s if isinstance(channel, ContinuousChannel) else None
    return stated or 0.3


def _rise_s(times_s: Array, shares: Array) -> float:
    """From the last time below a tenth to the first above nine tenths of the movement, in s."""
    high = int(np.argmax(shares >= 0.9))
    below = np.flatnonzero(shares[: high + 1] <= 0.1)
    low = int(below[-1]) if len(below) else 0
    return float(times_s[high] - times_s[low])
