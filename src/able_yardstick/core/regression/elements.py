"""The coefficients of thermistors and platinum elements, found from resistances and temperatures.

1/T = a + b ln R + c (ln R)^3 (Steinhart and Hart), 1/T = 1/T25 + ln(R/R25)/beta, R = R0 (1 + A t + B t^2) (IEC 60751):
the sum of the squared errors in the temperature is made least.
"""

from collections.abc import Callable
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve, ComposedCurve, PlatinumCurve, ThermistorCurve
from ..standards import platinum
from ..standards.thermistors import ICE_POINT_K
from ..words.errors import DegenerateReadings, OutOfRange, TooFewReadings, YardstickError
from .repeats import stop_means
from .search import covariance_of, differences, searched

Array = NDArray[np.float64]
ElementModel = Literal["steinhart-hart", "beta", "platinum"]
_WARM = 1 / (25 + ICE_POINT_K)
_IMPOSSIBLE_K = 1e6  # the error of coefficients that no element has
_TRUSTED_BEYOND = 0.25  # of the temperatures gathered: as far a thermistor's law is drawn beyond them


class ElementFit(NamedTuple):
    """The element's curve from ohms to °C, its coefficients by name, their covariance, and what was held."""

    curve: ThermistorCurve | PlatinumCurve
    names: tuple[str, ...]
    values: Array
    covariance: Array | None
    residual_sd: float | None
    dof: int
    remark: str = ""


class _Law(NamedTuple):
    names: tuple[str, ...]
    start: Array
    curve: ThermistorCurve | PlatinumCurve
    remark: str = ""


def fit_element(ohms: Array, celsius: Array, model: ElementModel, root_weight: Array) -> ElementFit:
    """The law of a kind closest to readings, ohms (n,) and °C (n,), each with the root of its weight.

    Raises: OutOfRange, TooFewReadings, DegenerateReadings or NotConverged with what to do.
    """
    if np.any(ohms <= 0):
        raise OutOfRange(
            f"{float(ohms.min()):.6g} Ω is no element's resistance: expected more than 0. Check columns and wiring.",
            found=float(ohms.min()),
        )
    law = _law_of(model, ohms, celsius)

    def residuals(coefficients: Array) -> Array:
        try:
            found = with_coefficients(law.curve, law.names, coefficients).value(ohms)
        except (YardstickError, ValueError):
            return np.full(len(ohms), _IMPOSSIBLE_K)
        return np.asarray(np.where(np.isfinite(found), found - celsius, _IMPOSSIBLE_K) * root_weight)

    best = searched(residuals, law.start, law.names)
    dof = len(ohms) - len(best)
    spread = float(np.sqrt(np.sum(residuals(best) ** 2) / dof)) if dof > 0 else None
    covariance = None if spread is None else covariance_of(differences(residuals, best), spread)
    curve = with_coefficients(law.curve, law.names, best)
    assert isinstance(curve, ThermistorCurve | PlatinumCurve)  # as it was begun with
    return ElementFit(curve, law.names, best, covariance, spread, dof, law.remark)


def with_coefficients(curve: AnyCurve, names: tuple[str, ...], values: Array) -> AnyCurve:
    """An element's curve, or one seen through a signal path, with other coefficients (p,), in the law's own units."""
    if isinstance(curve, ComposedCurve):
        return curve.with_(curve=with_coefficients(curve.curve, names, values))
    return curve.with_(**_fields(dict(zip(names, values.tolist(), strict=True))))


def _fields(named: dict[str, float]) -> dict[str, float]:
    """The fields of a curve that coefficients stand for."""
    if "R25" in named:
        return {"a": _WARM - float(np.log(named["R25"])) / named["beta"], "b": 1 / named["beta"], "c": 0.0}
    if "R0" in named:
        return {{"R0": "r0_ohm", "A": "a", "B": "b"}[name]: value for name, value in named.items()}
    return named


def element_slopes(curve: AnyCurve, names: tuple[str, ...], values: Array, signal: Array) -> Array:
    """How a curve moves with each coefficient at signals (n,): shape (n, p)."""
    return differences(lambda at: with_coefficients(curve, names, at).value(signal), values)


def _law_of(model: ElementModel, ohms: Array, celsius: Array) -> _Law:
    stops = len(stop_means(ohms, celsius)[0])
    makers: dict[ElementModel, tuple[int, Callable[[Array, Array, int], _Law]]] = {
        "steinhart-hart": (3, _steinhart_hart),
        "beta": (2, _beta),
        "platinum": (2, _platinum),
    }
    needed, make = makers[model]
    if stops < needed:
        raise TooFewReadings(
            f"{needed} coefficients need readings at {needed} temperatures, found {stops}. Take more, further apart.",
            needed=needed,
            found=stops,
        )
    return make(ohms, celsius, stops)


def _steinhart_hart(ohms: Array, celsius: Array, _stops: int) -> _Law:
    """Begun where 1/T, which is linear in the coefficients, fits best."""
    logs = np.log(ohms)
    columns = np.stack([np.ones_like(logs), logs, logs**3], axis=1)
    start = np.linalg.lstsq(columns, 1 / (celsius + ICE_POINT_K), rcond=None)[0]
    if start[1] <= 0 or start[2] <= 0:
        raise DegenerateReadings(
            "The readings do not tell three coefficients apart: one comes out below 0, which no thermistor has. "
            "Fit the beta law, or take readings over a wider range of temperatures."
        )
    return _Law(("a", "b", "c"), start, _thermistor(ohms, celsius, start))


def _beta(ohms: Array, celsius: Array, _stops: int) -> _Law:
    """Begun where the line of 1/T over ln R fits best."""
    rise, height = np.polyfit(np.log(ohms), 1 / (celsius + ICE_POINT_K), 1)
    if rise <= 0:
        raise DegenerateReadings(
            "The resistance does not fall as it warms, as a thermistor's does. Are the two columns swapped?"
        )
    start = np.array([np.exp((_WARM - height) / rise), 1 / rise])
    return _Law(("R25", "beta"), start, _thermistor(ohms, celsius, np.array([height, rise, 0.0])))


def _thermistor(ohms: Array, celsius: Array, terms: Array) -> ThermistorCurve:
    a, b, c = terms.tolist()
    margin = _TRUSTED_BEYOND * float(np.ptp(celsius))
    low, high = float(celsius.min()) - margin, float(celsius.max()) + margin
    return ThermistorCurve(a=a, b=b, c=c, low_c=low, high_c=high, domain=_domain(ohms))


def _platinum(ohms: Array, celsius: Array, stops: int) -> _Law:
    """R0, then A, then B, as far as the stops tell them apart; the others are the standard's."""
    free = min(stops, 3)
    r0 = float(np.median(ohms / platinum.resistance_ohm(celsius, 1.0)))
    start = np.array([r0, platinum.A, platinum.B][:free])
    held = "B as in IEC 60751" if free == 2 else ""
    return _Law(("R0", "A", "B")[:free], start, PlatinumCurve(r0_ohm=r0, domain=_domain(ohms)), held)


def _domain(ohms: Array) -> tuple[float, float]:
    return float(ohms.min()), float(ohms.max())
