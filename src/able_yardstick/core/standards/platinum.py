"""Industrial platinum resistance thermometers, IEC 60751:2022 (clause 4.2: the Callendar-Van Dusen equations).

R(t) = R0 (1 + A t + B t^2)                          0 to 850 °C
R(t) = R0 (1 + A t + B t^2 + C (t - 100) t^3)     -200 to   0 °C
"""

from typing import Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from ..words.errors import OutOfRange
from ..words.numerals import significant

Array = NDArray[np.float64]
A, B, C = 3.9083e-3, -5.775e-7, -4.183e-12  # IEC 60751:2022, 4.2
LOWEST_C, HIGHEST_C = -200.0, 850.0
_NEWTON_STEPS = 8
_SETTLED_C = 1e-12

ToleranceClass = Literal["AA", "A", "B", "C"]
Element = Literal["wire-wound", "film"]
ELEMENTS: tuple[Element, ...] = get_args(Element)
CLASSES: tuple[ToleranceClass, ...] = get_args(ToleranceClass)


class ClassLimits(NamedTuple):
    """A tolerance of constant_k + share |t|, and the temperatures in °C over which it holds."""

    constant_k: float
    share: float
    from_c: float
    to_c: float


# IEC 60751:2022, table 3: the same tolerance holds over less of a film element than of a wire-wound one
CLASS_LIMITS: dict[Element, dict[ToleranceClass, ClassLimits]] = {
    "wire-wound": {
        "AA": ClassLimits(0.10, 0.0017, -50, 250),
        "A": ClassLimits(0.15, 0.002, -100, 450),
        "B": ClassLimits(0.30, 0.005, -196, 600),
        "C": ClassLimits(0.60, 0.010, -196, 600),
    },
    "film": {
        "AA": ClassLimits(0.10, 0.0017, 0, 150),
        "A": ClassLimits(0.15, 0.002, -30, 300),
        "B": ClassLimits(0.30, 0.005, -50, 500),
        "C": ClassLimits(0.60, 0.010, -50, 600),
    },
}


class Terms(NamedTuple):
    """A and B of one element; C is the standard's."""

    a: float = A
    b: float = B


STANDARD = Terms()


def resistance_ohm(temperature_c: Array | float, r0_ohm: float = 100.0, terms: Terms = STANDARD) -> Array:
    """Resistance in ohms at temperatures in °C, shape kept. Raises: OutOfRange beyond -200 to 850 °C."""
    t = np.asarray(temperature_c, dtype=float)
    outside = (t < LOWEST_C) | (t > HIGHEST_C)
    if np.any(outside):
        wrong = float(t[outside].ravel()[0])
        raise OutOfRange(
            f"{significant(wrong)} °C is beyond IEC 60751, which runs from −200 to 850 °C. Enter one inside.",
            found=wrong,
        )
    return r0_ohm * _ratio(t, terms)


def _ratio(t: Array, terms: Terms) -> Array:
    cold = np.where(t < 0, C * (t - 100) * t * t * t, 0.0)
    return np.asarray(1 + terms.a * t + terms.b * t**2 + cold)


def _ratio_slope(t: Array, terms: Terms) -> Array:
    cold = np.where(t < 0, C * (4 * t - 300) * t * t, 0.0)
    return np.asarray(terms.a + 2 * terms.b * t + cold)


def slope_ohm_k(temperature_c: Array | float, r0_ohm: float = 100.0, terms: Terms = STANDARD) -> Array:
    """Change of resistance in ohms per kelvin at temperatures in °C, shape kept."""
    return r0_ohm * _ratio_slope(np.asarray(temperature_c, dtype=float), terms)


def temperature_c(resistance: Array | float, r0_ohm: float = 100.0, terms: Terms = STANDARD) -> Array:
    """Temperatures in °C at resistances in ohms, shape kept; exact above 0 °C, solved by Newton's method below.

    Raises: OutOfRange for a resistance that no temperature of the standard gives.
    """
    ratio = np.asarray(resistance, dtype=float) / r0_ohm
    low, high = (float(_ratio(np.asarray(end), terms)) for end in (LOWEST_C, HIGHEST_C))
    outside = (ratio < low * (1 - 1e-12)) | (ratio > high * (1 + 1e-12))
    if np.any(outside):
        wrong = float(ratio[outside].ravel()[0]) * r0_ohm
        raise OutOfRange(
            f"{significant(wrong)} Ω is beyond IEC 60751: {significant(r0_ohm)} Ω at 0 °C gives "
            f"{significant(low * r0_ohm)} to {significant(high * r0_ohm)} Ω. Check element and leads.",
            found=wrong,
        )
    a, b = terms
    warm = 2 * (ratio - 1) / (a + np.sqrt(a * a - 4 * b * (1 - ratio)))  # keeps its digits where B is next to nothing
    if np.all(ratio >= 1):
        return np.asarray(warm)
    t = np.minimum(warm, 0.0)
    for _ in range(_NEWTON_STEPS):
        step = (_ratio(t, terms) - ratio) / _ratio_slope(t, terms)
        t = t - step
        if np.all(np.abs(step) < _SETTLED_C):
            break
    return np.asarray(np.where(ratio >= 1, warm, t))


def tolerance_k(tolerance_class: ToleranceClass, temperature: Array | float, element: Element = "wire-wound") -> Array:
    """Tolerance in K either way at temperatures in °C, shape kept; NaN where the class does not hold.

    Source: IEC 60751:2022, table 3.
    """
    limits = CLASS_LIMITS[element][tolerance_class]
    t = np.asarray(temperature, dtype=float)
    inside = (t >= limits.from_c) & (t <= limits.to_c)
    return np.asarray(np.where(inside, limits.constant_k + limits.share * np.abs(t), np.nan))
