"""What the pin should see in a state of the plant that a person knows: nothing on the scale, room air, fan stopped."""

from typing import Literal, NamedTuple

import numpy as np

from ..document.channel import ContinuousChannel, PlantState, TwoStateChannel, WiredChannel
from ..document.nominal import nominal_curve
from ..stages import Leads
from ..wire.error_budget import budget_at
from ..words.errors import NotApplicable, YardstickError

_UNKNOWN_SHARE = 0.01  # of the span, where no tolerance is known
_LEAST_COUNTS = 3.0


class Expected(NamedTuple):
    """The signal that a state should make at the pin, and how far off it may be, both in the pin's unit."""

    name: str
    value: float
    pin: float
    allowed: float

    def holds(self, pin: float) -> bool:
        """Whether a signal is as expected."""
        return abs(pin - self.pin) <= self.allowed


def expected_at(channel: WiredChannel, state: PlantState) -> Expected:
    """What a state of the plant should make at the pin.

    Allowed are the state's own doubt and the larger of the channel's tolerance and the sum of all limits of its error
    budget. Raises: NotApplicable without a described curve, OutOfRange for a value that has no signal.
    """
    if isinstance(channel, TwoStateChannel):
        return _of_contact(channel, state)
    curve = nominal_curve(channel)
    if curve is None:
        raise NotApplicable(f"{channel.tag} is not described yet: nothing can be expected. Describe its data sheet.")
    pin = float(curve.signal(state.value))
    allowed_value = state.within + _doubt(channel, state.value)
    slope = abs(float(curve.slope(pin)))
    converter = channel.path.converter
    least = _LEAST_COUNTS * converter.per_count + _lead_error(channel)
    return Expected(state.name, state.value, pin, max(allowed_value / slope if slope else 0.0, least))


def _doubt(channel: ContinuousChannel, value: float) -> float:
    try:
        worst = budget_at(channel, value).worst
    except YardstickError:
        worst = 0.0
    return max(channel.allowed_error(value), worst if np.isfinite(worst) else 0.0) or _UNKNOWN_SHARE * channel.span


def _lead_error(channel: ContinuousChannel) -> float:
    leads = next((stage for stage in channel.path.stages if isinstance(stage, Leads)), None)
    return 0.0 if leads is None else leads.wire_ohm * 0.1


def _of_contact(channel: TwoStateChannel, state: PlantState) -> Expected:
    closed, opened = channel.pin_levels
    is_closed = state.value < _HALF
    pin = closed if is_closed else opened
    return Expected(state.name, state.value, pin, 0.5 * abs(pin - channel.threshold))


_HALF = 0.5
ContactState = Literal["closed", "open"]


def state_of_contact(state: PlantState) -> ContactState:
    """A contact's plant state: 0 stands for closed, 1 for open."""
    return "closed" if state.value < _HALF else "open"
