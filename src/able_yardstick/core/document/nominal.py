"""The described curve of a channel, seen from its pin, in the channel's unit."""

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve, Curve, OxygenViewCurve, Table
from ..units.conversion import parse_unit
from ..units.oxygen import OxygenView
from .channel import ContinuousChannel
from .once import once_per_record

Array = NDArray[np.float64]


@once_per_record
def nominal_curve(channel: ContinuousChannel) -> AnyCurve | None:
    """From the signal at the pin to the described value, in the channel's unit; None where nothing is rated."""
    curve = channel.transducer.nominal(channel.around)
    if curve is None:
        return None
    at_pin = channel.path.at_pin(curve, channel.around)
    return curve_in_unit(at_pin, channel.transducer.unit, channel)


def curve_in_unit(curve: Curve, unit: str, channel: ContinuousChannel) -> AnyCurve:
    """A curve of values in `unit`, with values in the channel's.

    Raises: UnitMismatch if the two are no straight line of each other and the curve is no table.
    """
    if unit.strip() in ("", channel.unit.strip()):
        return curve  # type: ignore[return-value]  # every kind there is
    if isinstance(curve, Table):
        return curve.with_(values=tuple(channel.in_unit(list(curve.values), unit)))
    views = parse_unit(unit).oxygen, parse_unit(channel.unit).oxygen
    if views[0] and views[1] and views[0] != views[1]:
        return _in_view(curve, views[0], views[1], channel)
    gain, offset = channel.affine(unit, channel.unit)
    return curve.converted(gain, offset)  # type: ignore[return-value]


def _in_view(curve: Curve, source: OxygenView, target: OxygenView, channel: ContinuousChannel) -> AnyCurve:
    """A curve of one view of oxygen in another, trusted where both say something."""
    if isinstance(curve, OxygenViewCurve):  # which is one of a third view already: that is where it is taken from
        inner = curve.curve.stretched(curve.signal_factor)
        return inner if curve.source == target else _in_view(inner, curve.source, target, channel)
    made = OxygenViewCurve(curve=curve, source=source, target=target, fuel=channel.fuel, domain=curve.domain)
    low, high = max(curve.domain[0], made.limits[0]), min(curve.domain[1], made.limits[1])
    return made.with_(domain=(low, high))


def zero_of(channel: ContinuousChannel) -> tuple[float, float]:
    """The signal and value a line through a given zero is held to: the channel's own, else where the described
    curve reads 0 (or its lower end, if it never does), else 0 and 0.
    """
    if channel.zero is not None:
        return channel.zero
    curve = nominal_curve(channel)
    if curve is None:
        return 0.0, 0.0
    at_zero = [signal for signal in curve.branches(0.0) if curve.within(signal)]
    signal = at_zero[0] if at_zero else curve.domain[0]
    return signal, float(curve.value(signal))
