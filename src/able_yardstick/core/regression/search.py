"""The numbers that bring a law closest to readings: Levenberg and Marquardt's search, and the proof that it arrived."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ..words.errors import NotConverged, TooFewReadings

Array = NDArray[np.float64]
_STEP = 6e-6  # of a parameter: the third root of the last digit, for central differences
_SETTLED = 1e-8
_BLURRED = 1e-6  # of the largest: less is beyond what differences of a step can tell


def searched(residuals: Callable[[Array], Array], start: Array, names: tuple[str, ...]) -> Array:
    """The parameters, shape (p,), each in its own unit, that make the sum of squared residuals (n,) least.

    Raises: TooFewReadings, NotConverged.
    """
    from scipy.optimize import least_squares  # most of a second to import

    first = residuals(start)
    if not np.all(np.isfinite(first)):
        raise NotConverged("There is no value at some of the readings with these starts. Choose other starts.")
    if len(first) < len(start):
        raise TooFewReadings(
            f"{len(start)} parameters need as many readings, found {len(first)}.", needed=len(start), found=len(first)
        )
    scale = np.where(start != 0, np.abs(start), 1e-3)

    def jacobian(at: Array) -> Array:
        return differences(residuals, at)

    try:
        found = least_squares(
            residuals, start, jac=jacobian, method="lm", x_scale=scale, xtol=1e-15, ftol=1e-15,
            gtol=1e-15, max_nfev=2000,
        )  # fmt: skip
    except ValueError as error:
        raise NotConverged("The search left the numbers for which there is a value. Try other starts.") from error
    return _arrived(residuals, found.x, names)


def _arrived(residuals: Callable[[Array], Array], found: Array, names: tuple[str, ...]) -> Array:
    """The parameters after Newton's steps, once those have become next to nothing, or move the curve by next to nothing
    beside the residuals (D. M. Bates, D. G. Watts, A relative offset orthogonality convergence criterion,
    Technometrics 23 (1981), 179-183).
    """
    for _ in range(8):
        jacobian, left = differences(residuals, found), residuals(found)
        if not (np.all(np.isfinite(jacobian)) and np.all(np.isfinite(found))):
            break
        _refuse_blurred(jacobian, names)
        lengths = np.linalg.norm(jacobian, axis=0)
        step = np.linalg.lstsq(jacobian / lengths, -left, rcond=None)[0] / lengths
        found = found + step
        little = np.linalg.norm(jacobian @ step) <= _SETTLED * np.linalg.norm(left)
        if little or np.all(np.abs(step) <= _SETTLED * np.maximum(np.abs(found), 1e-12)):
            return np.asarray(found)
    raise NotConverged("The fit did not converge. Try other starts, or a curve with fewer parameters.")


def _refuse_blurred(jacobian: Array, names: tuple[str, ...]) -> None:
    """Parameters that the readings cannot tell apart make columns that are nearly one another's multiples."""
    lengths = np.linalg.norm(jacobian, axis=0)
    sizes = np.linalg.svd(jacobian / np.where(lengths > 0, lengths, 1.0), compute_uv=False)
    if not np.all(lengths > 0) or sizes[-1] < _BLURRED:
        raise NotConverged(
            f"The readings do not tell the parameters {', '.join(names)} apart, so the fit does not converge. "
            "Leave one out, or take readings where the curve bends."
        )


def covariance_of(jacobian: Array, spread: float) -> Array:
    """Covariance (p, p) of parameters in their units: spread^2 (J^T J)^-1, with the residuals' slopes J (n, p).

    By the triangular factor of the columns brought to one length.
    """
    lengths = np.linalg.norm(jacobian, axis=0)
    factor = np.linalg.inv(np.linalg.qr(jacobian / lengths, mode="r")) / lengths[:, None]
    return np.asarray(spread**2 * factor @ factor.T)


def differences(residuals: Callable[[Array], Array], at: Array) -> Array:
    """How (n,) values move with each parameter, by central differences: shape (n, p)."""
    columns = []
    for n, number in enumerate(at):
        step = _STEP * max(abs(number), 1e-6)
        high, low = at.copy(), at.copy()
        high[n] += step
        low[n] -= step
        columns.append((residuals(high) - residuals(low)) / (high[n] - low[n]))
    return np.stack(columns, axis=1)
