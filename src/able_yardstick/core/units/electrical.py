"""The electrical kinds a signal can have on its way, each with the one unit the program reckons in."""

from typing import Literal

from ..words.errors import UnitMismatch
from .conversion import affine_gain

SignalUnit = Literal["V", "mV", "mA", "Ω", "mV/V", "Hz", "%", "counts"]

KIND_NAMES: dict[SignalUnit, str] = {
    "V": "voltage",
    "mV": "millivolts",
    "mA": "current",
    "Ω": "resistance",
    "mV/V": "bridge ratio",
    "Hz": "frequency",
    "%": "duty cycle",
    "counts": "counts",
}


def signal_gain(written: str, unit: SignalUnit) -> float:
    """How many of `unit` one of the unit a person wrote is: mV to V gives 0.001.

    Raises: UnitMismatch if they are of different kinds.
    """
    if written.strip().lower() == unit.lower():
        return 1.0
    try:
        return affine_gain(written, unit)
    except UnitMismatch as error:
        raise UnitMismatch(
            f"“{written}” is no unit of {KIND_NAMES[unit]}: expected {unit}.", found=written, expected=unit
        ) from error


def is_signal_in(written: str, unit: SignalUnit) -> bool:
    """Whether a unit a person wrote is one of the same kind of signal."""
    try:
        return bool(signal_gain(written, unit))
    except UnitMismatch:
        return False
