"""What a raw signal comes to by the described curve, beside what the controller makes of it."""

from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve


def reckoned_value(channel: ContinuousChannel, pin: float) -> float | None:
    """The value of a signal at the pin by the described curve, held to its ends; None where nothing is described."""
    curve = nominal_curve(channel)
    if curve is None:
        return None
    low, high = curve.limits
    return float(curve.value(min(max(pin, low), high)))
