"""How much each reading may be trusted: its own uncertainty, in the reference and in the signal."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..words.errors import OutOfRange

Array = NDArray[np.float64]
_FLAT = 1e-6  # of the largest variance: where the curve is flat an uncertain signal weighs no more than that allows
_NEGLIGIBLE = 0.1  # of the reference's: a smaller uncertainty of the signal is left out


class Doubts(NamedTuple):
    """Weights (n,) given outright, or standard uncertainties of the reference and of the signal, (n,) each."""

    weights: Array | None = None
    reference: Array | None = None
    signal: Array | None = None

    @property
    def is_in_both(self) -> bool:
        """Whether the signal's own uncertainty takes part."""
        return self.weights is None and self.signal is not None

    def weights_at(self, slope: Array, count: int) -> Array | None:
        """The weight of each reading where the curve has slopes (n,); None if all weigh the same.

        The effective variance is u(reference)^2 + slope^2 u(signal)^2 (J. Orear, Least squares when both variables
        have uncertainties, Am. J. Phys. 50 (1982), 912-916).
        """
        if self.weights is not None:
            return self.weights
        if self.reference is None and self.signal is None:
            return None
        none = np.zeros(count)
        reference = none if self.reference is None else self.reference
        signal = none if self.signal is None else self.signal
        variance = reference**2 + (slope * signal) ** 2
        if not variance.any():
            return np.ones(count)
        # only where nothing but the signal is doubted, and the curve is flat: uncertainties of references are as given
        least = np.where(reference > 0, 0.0, _FLAT * variance.max())
        return np.asarray(1 / np.maximum(variance, least))

    def matters_in_signal(self, slope: float) -> bool:
        """Whether the signal's uncertainty is not small against the reference's."""
        if self.signal is None:
            return False
        ours = 0.0 if self.reference is None else float(np.median(self.reference))
        return abs(slope) * float(np.median(self.signal)) > _NEGLIGIBLE * ours


def checked(doubts: Doubts, count: int) -> Doubts:
    """The same, once every figure is usable. Raises: OutOfRange."""
    for what, column in (
        ("weight", doubts.weights),
        ("uncertainty of the reference", doubts.reference),
        ("uncertainty of the signal", doubts.signal),
    ):
        if column is None:
            continue
        least = 0.0 if what == "uncertainty of the signal" and doubts.reference is not None else np.nextafter(0, 1)
        bad = ~np.isfinite(column) | (column < least)
        if len(column) != count or bad.any():
            row = int(np.argmax(bad)) if len(column) == count else 0
            raise OutOfRange(
                f"Every {what} must be a number above 0; that of reading {row + 1} is {column[row]:g}. "
                "Correct it, or leave the column out.",
                found=float(column[row]),
            )
    return doubts
