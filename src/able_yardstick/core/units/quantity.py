"""What can be measured, and which units fit it."""

from typing import Literal, get_args

from ..words.errors import UnitMismatch
from .conversion import PressureReference, dimension, parse_unit

Quantity = Literal[
    "gauge pressure", "absolute pressure", "differential pressure", "temperature", "force or mass",
    "electric current", "voltage", "oxygen", "flow", "level", "humidity", "frequency", "other",
]  # fmt: skip
QUANTITIES: tuple[Quantity, ...] = get_args(Quantity)

# For each quantity: the unit offered first, then others, whose dimensions are the ones allowed.
SUGGESTED_UNITS: dict[Quantity, tuple[str, ...]] = {
    "gauge pressure": ("kPa", "bar(g)", "psi", "mbar", "Pa", "MPa", "mmH2O"),
    "absolute pressure": ("kPa(a)", "bar(a)", "psia", "mbar", "hPa"),
    "differential pressure": ("Pa", "kPa", "mbar", "mmH2O", "inH2O"),
    "temperature": ("°C", "°F", "K"),
    "force or mass": ("kg", "N", "kN", "g", "t", "lb"),
    "electric current": ("A", "mA"),
    "voltage": ("V", "mV"),
    "oxygen": ("% O2", "lambda", "AFR"),
    "flow": ("m³/h", "l/min", "l/s", "kg/h", "kg/s", "Nm³/h", "slpm", "scfm"),
    "level": ("mm", "m", "%", "l"),
    "humidity": ("% RH", "g/kg", "g/m³"),
    "frequency": ("Hz", "rpm"),
    "other": ("%",),
}
PRESSURE_KINDS: dict[Quantity, PressureReference] = {
    "gauge pressure": "gauge",
    "absolute pressure": "absolute",
    "differential pressure": "differential",
}


def check_unit(unit: str, quantity: Quantity) -> str:
    """`unit` without blanks around it, when it can measure the quantity.

    "Other" takes any text. Raises: UnitMismatch that names units that would fit.
    """
    text = unit.strip()
    if quantity == "other":
        return text
    suggested = SUGGESTED_UNITS[quantity]
    if text in suggested:
        return text
    parsed = parse_unit(text)
    if dimension(text) not in {dimension(known) for known in suggested}:
        raise UnitMismatch(
            f"“{text}” does not measure {quantity}: expected a unit such as {', '.join(suggested[:3])}.",
            found=text,
        )
    wanted = PRESSURE_KINDS.get(quantity)
    if wanted and parsed.reference not in (None, wanted):
        raise UnitMismatch(
            f"“{text}” is {parsed.reference} pressure, the channel measures {quantity}. Change one of the two.",
            found=text,
        )
    return text
