"""Numbers on the steps that a controller takes."""

import numpy as np
from numpy.typing import NDArray

from ..words.errors import OutOfRange
from .spec import Rounding

Array = NDArray[np.float64]


def whole_steps(values: Array, decimals: int, rounding: Rounding) -> Array:
    """How many steps of 10^-decimals values are, shape kept, as integer arithmetic brings them there.

    A value that is one of the steps but for the last digits of the reckoning is that step.
    """
    steps = values * 10.0**decimals
    near = np.round(steps)
    slack = 1e-9 * np.maximum(1.0, np.abs(steps))
    if rounding == "nearest":
        brought = np.sign(steps) * np.floor(np.abs(steps) + 0.5 + slack)
    else:
        brought = np.floor(steps) if rounding == "floor" else np.trunc(steps)
    return np.asarray(np.where(np.abs(steps - near) <= slack, near, brought) + 0.0)  # + 0.0: no negative zero


def on_step(values: Array, step: float | None) -> Array:
    """`values` settled on multiples of a step, shape kept; as decimal numbers, so that 0.1 x 3 is 0.3.

    Raises: OutOfRange if the step is too fine for their size.
    """
    if step is None:
        return values
    if np.any(np.abs(values) / step > 2**53):
        raise OutOfRange(f"A step of {step:g} is too fine for values of this size. Choose a coarser one.", found=step)
    decimals = min(max(0, int(np.ceil(-np.log10(step))) + 6), 300)
    return np.asarray(np.round(np.round(values / step) * step, decimals) + 0.0)  # + 0.0: no negative zero
