"""References found in nature: the air, gravity, ice, steam, a known mass; each with its uncertainty."""

from typing import NamedTuple

import numpy as np

from ..words.errors import OutOfRange
from ..words.numerals import significant

STANDARD_GRAVITY = 9.80665  # m/s2, 3rd CGPM (1901)
AIR_DENSITY = 1.2  # kg/m3, by convention (OIML D 28)
# ISO 2533:1975, 2.1 and 2.3: the standard atmosphere below 11 km
_SEA_TEMPERATURE_K = 288.15
_LAPSE_K_M = 0.0065
_EXPONENT = 5.25588
_HIGHEST_M = 11_000.0
# IAPWS-IF97 (2007), table 34: coefficients of the saturation line, region 4
_N = (
    0.11670521452767e4, -0.72421316703206e6, -0.17073846940092e2, 0.12020824702470e5, -0.32325550322333e7,
    0.14915108613530e2, -0.48232657361591e4, 0.40511340542057e6, -0.23855557567849, 0.65017534844798e3,
)  # fmt: skip


class NaturalValue(NamedTuple):
    """An expected value in its unit, its standard uncertainty, and where both come from."""

    value: float
    unit: str
    standard_uncertainty: float
    says: str


def ambient_pressure(
    sea_level_kpa: float, altitude_m: float, sea_level_doubt_kpa: float = 0.05, altitude_doubt_m: float = 5.0
) -> NaturalValue:
    """The air's pressure at an altitude, in kPa absolute, from one reduced to sea level as weather pages give it.

    ISO 2533:1975, 2.7, eq. (12): p = p0 (1 - L h / T0)^5.25588. The real air is not the standard one: a quarter of a
    percent of the reduction counts for that. Raises: OutOfRange above 11 km.
    """
    if not -500 <= altitude_m <= _HIGHEST_M:
        raise OutOfRange(
            f"Expected an altitude from −500 to 11 000 m, found {significant(altitude_m)} m.", found=altitude_m
        )
    share = 1 - _LAPSE_K_M * altitude_m / _SEA_TEMPERATURE_K
    value = sea_level_kpa * share**_EXPONENT
    per_metre = value * _EXPONENT * _LAPSE_K_M / _SEA_TEMPERATURE_K / share
    other_air = 0.0025 * abs(sea_level_kpa - value)
    doubt = float(np.sqrt((sea_level_doubt_kpa * share**_EXPONENT) ** 2 + (per_metre * altitude_doubt_m) ** 2
                          + other_air**2))  # fmt: skip
    says = (
        f"{significant(sea_level_kpa, 5)} kPa reduced to sea level, taken back to {significant(altitude_m, 4)} m: "
        f"{significant(value, 5)} kPa absolute"
    )
    return NaturalValue(value, "kPa(a)", doubt, says)


def gravity(latitude_deg: float, altitude_m: float = 0.0) -> NaturalValue:
    """Free fall at a latitude and altitude, in m/s2.

    Normal gravity of the ellipsoid GRS 80 (Moritz 2000, J. Geodesy 74, closed formula of Somigliana), less 3.086e-6
    a metre of height. Real places differ by some 3e-4 m/s2. Raises: OutOfRange for no latitude.
    """
    if not -90 <= latitude_deg <= 90:
        raise OutOfRange(
            f"Expected a latitude from −90 to 90 degrees, found {significant(latitude_deg)}.", found=latitude_deg
        )
    square = np.sin(np.radians(latitude_deg)) ** 2
    value = float(9.7803267715 * (1 + 0.001931851353 * square) / np.sqrt(1 - 0.0066943800229 * square))
    value -= 3.086e-6 * altitude_m
    says = f"{significant(value, 6)} m/s² at {significant(latitude_deg, 4)}° and {significant(altitude_m, 4)} m"
    return NaturalValue(value, "m/s^2", 3e-4, says)


def ice_point() -> NaturalValue:
    """Finely crushed ice of clean water, drained and packed: 0 °C, to some hundredths (ASTM E563 gives the way)."""
    return NaturalValue(0.0, "°C", 0.01, "crushed ice of clean water, well packed and drained: 0 °C")


def steam_point(pressure_kpa: float, pressure_doubt_kpa: float = 0.1) -> NaturalValue:
    """The temperature of boiling water's steam at a pressure in kPa absolute, in °C.

    IAPWS-IF97 (2007), eq. (31), the backward equation of the saturation line. Raises: OutOfRange outside 0.7 kPa to
    22 MPa.
    """
    value = _saturation_c(pressure_kpa)
    step = 0.001 * pressure_kpa * (1 if pressure_kpa < 100 else -1)  # away from the nearer end of the equation
    slope = (_saturation_c(pressure_kpa + step) - value) / step
    doubt = float(np.hypot(slope * pressure_doubt_kpa, 0.02))
    return NaturalValue(
        value, "°C", doubt, f"steam at {significant(pressure_kpa, 5)} kPa absolute: {significant(value, 5)} °C"
    )


def _saturation_c(pressure_kpa: float) -> float:
    if not 0.7 <= pressure_kpa <= 22_000:
        raise OutOfRange(
            f"Expected an absolute pressure from 0.7 to 22 000 kPa, found {significant(pressure_kpa)} kPa.",
            found=pressure_kpa,
        )
    beta = (pressure_kpa / 1000) ** 0.25
    e = beta**2 + _N[2] * beta + _N[5]
    f = _N[0] * beta**2 + _N[3] * beta + _N[6]
    g = _N[1] * beta**2 + _N[4] * beta + _N[7]
    d = 2 * g / (-f - np.sqrt(f**2 - 4 * e * g))
    return float((_N[9] + d - np.sqrt((_N[9] + d) ** 2 - 4 * (_N[8] + _N[9] * d))) / 2 - 273.15)


def weight_of(
    mass_kg: float, gravity_m_s2: float, mass_doubt_kg: float = 0.0, density_kg_m3: float = 8000.0
) -> NaturalValue:
    """The force of a known mass in air, in N: m g (1 - air / density), by the definition of conventional mass."""
    value = mass_kg * gravity_m_s2 * (1 - AIR_DENSITY / density_kg_m3)
    doubt = float(np.hypot(mass_doubt_kg * gravity_m_s2, mass_kg * 3e-4))
    says = f"{significant(mass_kg, 6)} kg at {significant(gravity_m_s2, 6)} m/s²: {significant(value, 6)} N"
    return NaturalValue(value, "N", doubt, says)
