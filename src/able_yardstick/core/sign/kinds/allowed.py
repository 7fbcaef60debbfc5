"""The error allowed along a range, as a record keeps it."""

from collections.abc import Callable
from typing import Any

import numpy as np

from ...words.tolerance import Tolerance

STOPS = 11  # places along the range at which what holds along it is told


def allowed_along(
    tolerance: Tolerance, ends: tuple[float, float], pin_of: Callable[[float], float | None]
) -> list[dict[str, Any]]:
    """The error allowed at places of the range, in its unit, and where each lies on the axis of the pin.

    A place is None where nothing says; without a tolerance there are none.
    """
    if not tolerance.is_stated:
        return []
    low, high = sorted(ends)
    values = np.linspace(low, high, STOPS, dtype=np.float64)
    allowed = np.broadcast_to(tolerance.at(values, high - low), values.shape)
    rows = zip(values, allowed, strict=True)
    return [{"value": float(value), "allowed": float(most), "pin": pin_of(float(value))} for value, most in rows]
