"""A channel's raw values as true signals at its pin, by the one road there is."""

import numpy as np

from ..document.channel import ContinuousChannel, WiredChannel
from ..journal.sample import Series
from ..path.node import COUNTS, Met
from ..path.pin import true_pin
from ..units.conditions import NOMINAL


def pins_of(channel: WiredChannel, raw: Series) -> Series:
    """Raw samples as true signals at the pin, in its unit. Raises: UnitMismatch."""
    around = channel.around if isinstance(channel, ContinuousChannel) else NOMINAL
    return raw.scaled(true_pin(channel.path, raw.values, raw.met, around), Met("pin", channel.path.pin_unit))


def counts_of(channel: WiredChannel, raw: Series) -> Series:
    """Raw samples as counts of the converter: as they came, else the continuous ones of their signals.

    Raises: UnitMismatch.
    """
    if raw.met.node == "counts":
        return raw
    return raw.scaled(np.asarray(channel.path.converter.forward(pins_of(channel, raw).values)), COUNTS)
