"""Thermistors: the beta law and the three-term Steinhart-Hart equation (Deep-Sea Research 15, 1968, 497-503).

1/T = 1/T0 + ln(R/R0) / beta            1/T = a + b ln R + c (ln R)^3            T in kelvin, R in ohms
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..words.errors import DegenerateReadings, OutOfRange
from ..words.numerals import significant

Array = NDArray[np.float64]
ICE_POINT_K = 273.15


class SteinhartHart(NamedTuple):
    """Coefficients of 1/T = a + b ln R + c (ln R)^3; the beta law is the case c = 0."""

    a: float
    b: float
    c: float

    @classmethod
    def from_beta(cls, r0_ohm: float, t0_c: float, beta_k: float) -> "SteinhartHart":
        """The beta law in these terms."""
        return cls(1 / (t0_c + ICE_POINT_K) - np.log(r0_ohm) / beta_k, 1 / beta_k, 0.0)

    @classmethod
    def through(cls, ohms: tuple[float, float, float], temperatures_c: tuple[float, float, float]) -> "SteinhartHart":
        """The curve through three pairs.

        Raises: DegenerateReadings if they are not three different ones of a thermistor that falls as it warms.
        """
        if len(set(ohms)) < 3 or len(set(temperatures_c)) < 3 or min(ohms) <= 0:
            raise DegenerateReadings("Three different resistances above 0 at three different temperatures are needed.")
        logs = np.log(np.array(ohms))
        matrix = np.column_stack([np.ones(3), logs, logs**3])
        found = cls(*(float(x) for x in np.linalg.solve(matrix, 1 / (np.array(temperatures_c) + ICE_POINT_K))))
        if np.any(found.b + 3 * found.c * np.linspace(logs.min(), logs.max(), 101) ** 2 <= 0):
            raise DegenerateReadings(
                "No thermistor whose resistance falls steadily as it warms passes through these three pairs. "
                "Check that each resistance stands beside its own temperature."
            )
        return found


def temperature_c(law: SteinhartHart, resistance_ohm: Array | float) -> Array:
    """Temperatures in °C at resistances in ohms, shape kept. Raises: OutOfRange at 0 Ω and below."""
    ohms = np.asarray(resistance_ohm, dtype=float)
    if np.any(ohms <= 0):
        raise OutOfRange(
            f"{significant(float(ohms.min()))} Ω is no thermistor: expected more than 0. Look for a short.",
            found=float(ohms.min()),
        )
    logs = np.log(ohms)
    return np.asarray(1 / (law.a + law.b * logs + law.c * logs**3) - ICE_POINT_K)


def slope_k_ohm(law: SteinhartHart, resistance_ohm: Array | float) -> Array:
    """Change of temperature in K per ohm at resistances in ohms, shape kept."""
    ohms = np.asarray(resistance_ohm, dtype=float)
    logs = np.log(ohms)
    inverse = law.a + law.b * logs + law.c * logs**3
    return np.asarray(-(law.b + 3 * law.c * logs**2) / ohms / inverse**2)


def resistance_ohm(law: SteinhartHart, temperature: Array | float) -> Array:
    """Resistances in ohms at temperatures in °C, shape kept.

    The cubic is solved in closed form (Cardano), then polished by Newton's method. Raises: OutOfRange.
    """
    kelvin = np.asarray(temperature, dtype=float) + ICE_POINT_K
    if np.any(kelvin <= 0):
        raise OutOfRange("A temperature below absolute zero was asked for.", found=float(kelvin.min()) - ICE_POINT_K)
    target = 1 / kelvin - law.a
    if law.c == 0:
        with np.errstate(over="ignore"):  # of a law that no part follows: an endless resistance is told from others
            return np.asarray(np.exp(target / law.b))
    # c L^3 + b L - target = 0 with b, c > 0 has one real root
    half, third = target / (2 * law.c), law.b / (3 * law.c)
    with np.errstate(invalid="ignore"):
        root = np.sqrt(third**3 + half**2)
    logs = np.asarray(np.cbrt(half + root) + np.cbrt(half - root))
    for _ in range(3):
        logs = logs - (law.b * logs + law.c * logs**3 - target) / (law.b + 3 * law.c * logs**2)
    if not np.all(np.isfinite(logs)):
        raise OutOfRange("These coefficients give no resistance at that temperature. Check their signs.")
    return np.asarray(np.exp(logs))
