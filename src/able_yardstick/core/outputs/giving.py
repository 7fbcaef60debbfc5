"""From a wanted quantity to the count that is written, and what that count then gives."""

from typing import NamedTuple

import numpy as np

from ..document.output import OutputChannel
from ..path.driver import Array, Counts

PLAN_SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)  # of the range: where an output is checked


class Given(NamedTuple):
    """Values asked for, in the channel's unit, and what each becomes: arrays (n,).

    `wanted` is held within the range; `signals` are wanted and `delivered` are given, in the driver's unit; `values`
    are what is delivered, in the channel's unit.
    """

    wanted: Array
    signals: Array
    counts: Counts
    delivered: Array
    values: Array
    is_held: Array


def signals_for(channel: OutputChannel, values: "Array | float") -> Array:
    """The signals, in the driver's unit, that stand for values in the channel's unit, shape kept."""
    return channel.signal_low + (np.asarray(values, dtype=float) - channel.value_low) * channel.gain


def values_of(channel: OutputChannel, signals: "Array | float") -> Array:
    """The values, in the channel's unit, that signals in the driver's unit stand for, shape kept."""
    return channel.value_low + (np.asarray(signals, dtype=float) - channel.signal_low) / channel.gain


def given(channel: OutputChannel, values: "Array | float") -> Given:
    """What values (n,) in the channel's unit become; those beyond the range are held at its end."""
    asked = np.atleast_1d(np.asarray(values, dtype=float))
    wanted = np.clip(asked, *channel.ends)
    signals = signals_for(channel, wanted)
    counts = channel.driver.count_for(signals)
    delivered = channel.driver.signal_of(counts)
    return Given(wanted, signals, counts, delivered, values_of(channel, delivered), (wanted != asked).astype(float))


def count_of(channel: OutputChannel, value: float) -> int:
    """The count that is written for a value in the channel's unit."""
    return int(given(channel, value).counts[0])


def plan_of(channel: OutputChannel) -> tuple[float, ...]:
    """The values, in the channel's unit, at which it is checked: both ends, and between them."""
    return tuple(channel.value_low + share * (channel.value_high - channel.value_low) for share in PLAN_SHARES)
