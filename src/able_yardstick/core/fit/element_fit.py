"""A thermistor's or a platinum element's coefficients, fitted to a channel's readings through its signal path."""

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve, Curve
from ..regression.choice import Candidate
from ..regression.doubt import Doubts
from ..regression.fitted import FitSpec, Fitted
from ..regression.models import fit
from ..regression.repeats import Stops
from ..words.errors import YardstickError
from .inputs import Element

Array = NDArray[np.float64]


def element_candidate(
    element: Element, signal: Array, reference: Array, spec: FitSpec, doubts: Doubts | None, stops: Stops
) -> Candidate:
    """A law fitted to points, signal at the pin (n,) and value (n,) in the channel's unit; a refusal stays in words."""
    try:
        return Candidate(spec.model, fit_through_path(element, signal, reference, spec, doubts, stops))
    except YardstickError as error:
        return Candidate(spec.model, None, str(error))


def fit_through_path(
    element: Element,
    signal: Array,
    reference: Array,
    spec: FitSpec,
    doubts: Doubts | None,
    stops: Stops | None = None,
) -> Fitted:
    """A law found for the ohms that the path makes of signals (n,), and then seen from the pin.

    Raises: what `fit` refuses.
    """
    gain, offset = element.gain, element.offset
    ohms = element.path.output(signal, element.around)
    found = fit(ohms, (reference - offset) / gain, spec, _at_element(element, ohms, doubts), stops)
    curve = _at_pin(element, found.curve.converted(gain, offset), signal)
    return found.with_(
        curve=curve,
        errors=tuple((curve.value(signal) - reference).tolist()),
        signals=tuple(signal.tolist()),
        residual_sd=None if found.residual_sd is None else found.residual_sd * abs(gain),
    )


def _at_element(element: Element, ohms: Array, doubts: Doubts | None) -> Doubts | None:
    """Uncertainties of references in the channel's unit and of signals at the pin as those in °C and in ohms."""
    if doubts is None:
        return None
    reference = None if doubts.reference is None else doubts.reference / abs(element.gain)
    slope = np.abs(element.path.slope(ohms, element.around))
    signal = None if doubts.signal is None or np.any(slope == 0) else doubts.signal / slope
    return doubts._replace(reference=reference, signal=signal)


def _at_pin(element: Element, law: Curve, signal: Array) -> AnyCurve:
    """The element's curve seen from the pin, over the signals gathered."""
    seen = element.path.at_pin(law, element.around)
    return seen.with_(domain=(float(signal.min()), float(signal.max())))  # type: ignore[return-value]  # one of ours
