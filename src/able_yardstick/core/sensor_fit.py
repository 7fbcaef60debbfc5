"""A thermistor's or a platinum element's coefficients, fitted to a channel's readings through its signal path."""

import numpy as np
from numpy.typing import NDArray

from .channel import ContinuousChannel
from .curves import AnyCurve, Curve
from .errors import YardstickError
from .fit import Candidate, Doubts, FitSpec, Fitted, ModelName, fit
from .rating import Platinum, Thermistor
from .units import affine

Array = NDArray[np.float64]
_CELSIUS = "°C"


def sensor_models(channel: ContinuousChannel) -> tuple[ModelName, ...]:
    """The laws whose coefficients can be found for the channel's kind of element."""
    rating = channel.transducer.rating
    if isinstance(rating, Thermistor):
        return "steinhart-hart", "beta"
    return ("platinum",) if isinstance(rating, Platinum) else ()


def sensor_candidate(
    channel: ContinuousChannel, signal: Array, reference: Array, model: ModelName, doubts: Doubts | None
) -> Candidate:
    """A law fitted to points, signal at the pin (n,) and value (n,) in the channel's unit; a refusal stays in words."""
    try:
        return Candidate(model, fit_through_path(channel, signal, reference, FitSpec(model=model), doubts))
    except YardstickError as error:
        return Candidate(model, None, str(error))


def fit_through_path(
    channel: ContinuousChannel, signal: Array, reference: Array, spec: FitSpec, doubts: Doubts | None
) -> Fitted:
    """A law found for the ohms that the path makes of signals (n,), and then seen from the pin.

    Raises: what `fit` refuses.
    """
    gain, offset = affine(_CELSIUS, channel.unit)
    ohms = channel.path.output(signal, channel.around)
    weights = None if doubts is None else Doubts(reference=doubts.reference)  # a law's ohms are not the pin's signal
    found = fit(ohms, (reference - offset) / gain, spec, weights)
    curve = _at_pin(channel, found.curve.converted(gain, offset), signal)
    return found.with_(
        curve=curve,
        errors=tuple((curve.value(signal) - reference).tolist()),
        signals=tuple(signal.tolist()),
        residual_sd=None if found.residual_sd is None else found.residual_sd * abs(gain),
    )


def _at_pin(channel: ContinuousChannel, element: Curve, signal: Array) -> AnyCurve:
    """The element's curve seen from the pin, over the signals gathered."""
    seen = channel.path.at_pin(element, channel.around)
    return seen.with_(domain=(float(signal.min()), float(signal.max())))  # type: ignore[return-value]  # one of ours
