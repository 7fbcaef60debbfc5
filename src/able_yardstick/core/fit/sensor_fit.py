"""A thermistor's or a platinum element's coefficients, fitted to a channel's readings through its signal path."""

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve, Curve
from ..document.channel import ContinuousChannel
from ..regression.choice import Candidate
from ..regression.doubt import Doubts
from ..regression.fitted import FitSpec, Fitted, ModelName
from ..regression.models import fit
from ..sensor.rating import Platinum, Thermistor
from ..units.conversion import affine
from ..words.errors import YardstickError

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
    spec = FitSpec(model=model, robust=channel.fit_settings.robust)
    try:
        return Candidate(model, fit_through_path(channel, signal, reference, spec, doubts))
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
    found = fit(ohms, (reference - offset) / gain, spec, _at_element(channel, ohms, doubts, gain))
    curve = _at_pin(channel, found.curve.converted(gain, offset), signal)
    return found.with_(
        curve=curve,
        errors=tuple((curve.value(signal) - reference).tolist()),
        signals=tuple(signal.tolist()),
        residual_sd=None if found.residual_sd is None else found.residual_sd * abs(gain),
    )


def _at_element(channel: ContinuousChannel, ohms: Array, doubts: Doubts | None, gain: float) -> Doubts | None:
    """Uncertainties of references in the channel's unit and of signals at the pin as those in °C and in ohms."""
    if doubts is None:
        return None
    reference = None if doubts.reference is None else doubts.reference / abs(gain)
    slope = np.abs(channel.path.slope(ohms, channel.around))
    signal = None if doubts.signal is None or np.any(slope == 0) else doubts.signal / slope
    return doubts._replace(reference=reference, signal=signal)


def _at_pin(channel: ContinuousChannel, element: Curve, signal: Array) -> AnyCurve:
    """The element's curve seen from the pin, over the signals gathered."""
    seen = channel.path.at_pin(element, channel.around)
    return seen.with_(domain=(float(signal.min()), float(signal.max())))  # type: ignore[return-value]  # one of ours
