"""Whether readings scatter about a curve evenly over its range, and by how much where they do not.

The squared errors are tested against the value by the score test of R. D. Cook, S. Weisberg, Diagnostics for
heteroscedasticity in regression, Biometrika 70 (1983), 1-10. Where they grow with it, the scatter at a value is taken
as a constant and a proportional part, s^2 = a^2 + b^2 value^2, found from the squared errors.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..regression.fitted import Fitted
from ..words.numerals import significant

Array = NDArray[np.float64]
_LEAST_READINGS = 10  # with fewer the test tells little
_CHANCE = 0.05
_ROUNDS = 8


class Scatter(NamedTuple):
    """Standard deviation of a reading about the curve: root(constant^2 + (proportional x value)^2), in its unit."""

    constant: float
    proportional: float = 0.0
    says: str = ""

    @property
    def is_uneven(self) -> bool:
        """Whether it grows with the value by more than chance."""
        return self.proportional > 0

    def at(self, value: float) -> float:
        """The standard deviation at a value."""
        return float(np.hypot(self.constant, self.proportional * value))


def scatter_of(fitted: Fitted) -> Scatter:
    """The scatter of a fit's readings, (n,) of them with known errors; its `residual_sd` must be known."""
    assert fitted.residual_sd is not None  # who asks has looked
    errors, signals = np.array(fitted.errors), np.array(fitted.signals)
    even = Scatter(fitted.residual_sd)
    if len(errors) < _LEAST_READINGS or fitted.dof < 1 or not np.any(errors):
        return even
    values = np.asarray(fitted.curve.value(signals))
    squares = np.square(errors) * len(errors) / fitted.dof
    if not _grows(squares, values**2):
        return even
    constant, proportional = _parts(squares, values**2)
    if proportional == 0:
        return even
    low, high = (float(np.hypot(constant, proportional * end)) for end in (np.abs(values).min(), np.abs(values).max()))
    says = (
        f"The readings scatter unevenly, from {significant(low, 2)} to {significant(high, 2)} along the range: U takes "
        "the scatter of each place."
    )
    return Scatter(constant, proportional, says)


def _grows(squares: Array, of: Array) -> bool:
    """Whether squared errors (n,) grow along something (n,) by more than chance."""
    from scipy.special import chdtrc

    relative = squares / squares.mean()
    centred = of - of.mean()
    total = float(centred @ centred)
    if total == 0:
        return False
    slope = float(centred @ relative) / total
    score = 0.5 * slope**2 * total
    return bool(slope > 0 and chdtrc(1, score) < _CHANCE)


def _parts(squares: Array, of: Array) -> tuple[float, float]:
    """The constant and the proportional part, neither below 0, each square weighed by its own variance."""
    from scipy.optimize import nnls

    expected = np.full(len(squares), squares.mean())
    found = np.zeros(2)
    for _ in range(_ROUNDS):
        root = 1 / expected  # a square's standard deviation is as its mean
        design = np.stack([np.ones(len(of)), of], axis=1) * root[:, None]
        found = nnls(design, squares * root)[0]
        expected = np.maximum(found[0] + found[1] * of, 1e-6 * squares.mean())
    return float(np.sqrt(found[0])), float(np.sqrt(found[1]))
