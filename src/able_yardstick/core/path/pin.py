"""The one road from a raw value to the true signal at the pin.

True is what is there; what a controller believes of its counts, whose reference it takes to be nominal, is another
thing (see `converter.Believed`). Nothing else in the program turns a raw value into a signal.
"""

import numpy as np
from numpy.typing import NDArray

from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import signal_gain
from .node import COUNTS, Met, Node
from .signal_path import Path

Array = NDArray[np.float64]


def met_at(path: Path, node: Node) -> Met:
    """A node of a path with its own unit."""
    return COUNTS if node == "counts" else Met(node, path.pin_unit if node == "pin" else path.source)


def true_pin(path: Path, values: Array | float, met: Met, conditions: Conditions = NOMINAL) -> Array:
    """True signals at the pin, in the pin's unit, of raw values met somewhere along the path, shape kept.

    Raises: UnitMismatch if the unit is none of that node's kind of signal.
    """
    raw = np.asarray(values, dtype=float)
    if met.node == "counts":
        return path.converter.inverse(raw)
    if met.node == "pin":
        return np.asarray(raw * signal_gain(met.unit, path.pin_unit))
    return path.pin(raw * signal_gain(met.unit, path.source), conditions)


def pin_per_raw(path: Path, value: float, met: Met, conditions: Conditions = NOMINAL) -> float:
    """How far the pin moves, in its unit, when a raw value about `value` moves by one of its own; above 0."""
    if met.node == "counts":
        return abs(path.converter.per_count)
    if met.node == "pin":
        return abs(signal_gain(met.unit, path.pin_unit))
    gain = signal_gain(met.unit, path.source)
    return abs(gain * float(path.slope(value * gain, conditions)))


def raw_of_pin(path: Path, pin: Array | float, met: Met, conditions: Conditions = NOMINAL) -> Array:
    """Raw values, in the unit they are written in, that stand for true signals at the pin, shape kept.

    Raises: UnitMismatch if the unit is none of that node's kind of signal.
    """
    signal = np.asarray(pin, dtype=float)
    if met.node == "counts":
        return path.converter.forward(signal)
    if met.node == "pin":
        return np.asarray(signal / signal_gain(met.unit, path.pin_unit))
    return np.asarray(path.output(signal, conditions) / signal_gain(met.unit, path.source))
