"""Knots that a person puts where they like."""

import numpy as np

from ..curves import Curve
from ..document.channel import ContinuousChannel
from ..forms.any_form import AnyForm
from ..forms.function import CodeFunction
from ..forms.steps import on_step
from ..forms.table import Knots
from ..words.errors import NotApplicable

_APART = 1e-3  # of the table's stretch: how near a knot may come to its neighbour


def knots_in(form: AnyForm) -> Knots | None:
    """The table that a form is, or is made of."""
    made_of = form.of if isinstance(form, CodeFunction) else form
    return made_of if isinstance(made_of, Knots) else None


def even_knots(curve: Curve, count: int) -> tuple[tuple[float, float], ...]:
    """So many knots, signal and value, spread evenly over a curve: to begin with."""
    signals = np.linspace(*curve.domain, count)
    return tuple(zip(signals.tolist(), curve.value(signals).tolist(), strict=True))


def with_moved_knot(
    channel: ContinuousChannel, form: AnyForm, knot: int, signal: float, value: float
) -> ContinuousChannel:
    """The channel with one knot of its table taken elsewhere, on the controller's steps and between its neighbours.

    The first and the last knot keep their signals, and one that its neighbours leave no room. `signal` is one the
    controller believes. Raises: NotApplicable.
    """
    knots = knots_in(form)
    if knots is None or not 0 <= knot < len(knots.signals):
        raise NotApplicable("Only the knots of a table can be moved.")
    spec = channel.pack_spec
    signals, values = list(knots.signals), list(knots.values)
    apart = max(spec.signal_step or 0.0, _APART * (signals[-1] - signals[0]))
    if 0 < knot < len(signals) - 1:
        low, high = signals[knot - 1] + apart, signals[knot + 1] - apart
        if low <= high:  # else there is no room: it only goes up and down
            signals[knot] = _settled(min(max(signal, low), high), spec.signal_step)
    values[knot] = _settled(value, spec.value_step)
    own = tuple(zip(signals, values, strict=True))
    return channel.with_(pack_spec=spec.with_(spacing="own", own_knots=own))


def _settled(number: float, step: float | None) -> float:
    """On a step, or with as many digits as a hand can mean."""
    return float(f"{number:.5g}") if step is None else float(on_step(_array(number), step)[0])


def _array(number: float) -> "np.ndarray[tuple[int, ...], np.dtype[np.float64]]":
    return np.array([number], dtype=np.float64)
