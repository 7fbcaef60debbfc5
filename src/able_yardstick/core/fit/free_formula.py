"""A formula whose free parameters are found from readings."""

import re
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..errors import NotConverged, TooFewReadings
from ..formula import FormulaError, names_in, parse
from .least_squares import need_different

Array = NDArray[np.float64]
SIGNAL = "x"
_STEP = 6e-6  # of a parameter: the third root of the last digit, for central differences
_SETTLED = 1e-8
_BLURRED = 1e-6  # of the largest: less is beyond what differences of a step can tell


class FormulaFit(NamedTuple):
    """Parameters by name with their standard errors, the covariance, and the formula with the numbers in it."""

    names: tuple[str, ...]
    values: Array
    covariance: Array | None
    text: str
    residual_sd: float | None
    dof: int

    @property
    def standard_errors(self) -> tuple[float, ...] | None:
        """Of the parameters; None without freedom to know them by."""
        return None if self.covariance is None else tuple(float(v) for v in np.sqrt(np.diag(self.covariance)))


def fit_formula(signal: Array, value: Array, text: str, start: dict[str, float], root_weight: Array) -> FormulaFit:
    """The parameters that bring a formula of x closest to points (n,), each with the root of its weight.

    Levenberg and Marquardt's method, then Newton's step as the proof that it arrived.
    Raises: FormulaError, TooFewReadings, NotConverged.
    """
    tree = parse(text)
    names = tuple(start)
    _refuse_names(text, set(names_in(tree)), names)
    need_different(signal, len(names))

    def residuals(parameters: Array) -> Array:
        known = dict(zip(names, parameters.tolist(), strict=True))
        with np.errstate(all="ignore"):
            found = np.asarray(tree.evaluate({**known, SIGNAL: signal}), dtype=float)
        return np.asarray(np.broadcast_to(found, signal.shape) - value) * root_weight

    best = _searched(residuals, np.array(list(start.values()), dtype=float), names)
    jacobian = _jacobian(residuals, best)
    dof = len(signal) - len(names)
    ssr = float(np.sum(residuals(best) ** 2))
    spread = float(np.sqrt(ssr / dof)) if dof > 0 else None
    covariance = None if spread is None else _covariance(jacobian, spread)
    return FormulaFit(names, best, covariance, _filled_in(text, names, best), spread, dof)


def _refuse_names(text: str, used: set[str], names: tuple[str, ...]) -> None:
    if SIGNAL not in used:
        raise FormulaError(f"The formula does not use {SIGNAL}, which stands for the signal.", text=text)
    missing, unused = used - set(names) - {SIGNAL}, set(names) - used
    if missing:
        raise FormulaError(
            f"No start is given for {', '.join(sorted(missing))}. Give one for each parameter.", text=text
        )
    if unused:
        raise FormulaError(f"{', '.join(sorted(unused))} does not occur in the formula. Leave it out.", text=text)


def _searched(residuals: Callable[[Array], Array], start: Array, names: tuple[str, ...]) -> Array:
    from scipy.optimize import least_squares  # most of a second to import

    first = residuals(start)
    if not np.all(np.isfinite(first)):
        raise NotConverged("The formula has no value at some of the readings with these starts. Choose other starts.")
    if len(first) < len(start):
        raise TooFewReadings(
            f"{len(start)} parameters need as many readings, found {len(first)}.", needed=len(start), found=len(first)
        )
    scale = np.maximum(np.abs(start), 1e-3)

    def jacobian(at: Array) -> Array:
        return _jacobian(residuals, at)

    try:
        found = least_squares(
            residuals, start, jac=jacobian, method="lm", x_scale=scale, xtol=1e-15, ftol=1e-15,
            gtol=1e-15, max_nfev=2000,
        )  # fmt: skip
    except ValueError as error:
        raise NotConverged(
            "The search left the numbers for which the formula has a value. Try other starts."
        ) from error
    return _arrived(residuals, found.x, names)


def _arrived(residuals: Callable[[Array], Array], found: Array, names: tuple[str, ...]) -> Array:
    """The parameters after Newton's steps, once those have become next to nothing beside their standard errors."""
    for _ in range(8):
        jacobian, left = _jacobian(residuals, found), residuals(found)
        if not (np.all(np.isfinite(jacobian)) and np.all(np.isfinite(found))):
            break
        _refuse_blurred(jacobian, names)
        step = np.linalg.lstsq(jacobian, -left, rcond=None)[0]
        found = found + step
        if np.all(np.abs(step) <= _SETTLED * np.maximum(np.abs(found), 1e-12)):
            return np.asarray(found)
    raise NotConverged("The fit of the formula did not converge. Try other starts, or a formula with fewer parameters.")


def _refuse_blurred(jacobian: Array, names: tuple[str, ...]) -> None:
    """Parameters that the readings cannot tell apart make columns that are nearly one another's multiples."""
    lengths = np.linalg.norm(jacobian, axis=0)
    sizes = np.linalg.svd(jacobian / np.where(lengths > 0, lengths, 1.0), compute_uv=False)
    if not np.all(lengths > 0) or sizes[-1] < _BLURRED:
        raise NotConverged(
            f"The readings do not tell the parameters {', '.join(names)} apart, so the fit does not converge. "
            "Leave one out, or take readings where the curve bends."
        )


def _covariance(jacobian: Array, spread: float) -> Array:
    """spread^2 (J^T J)^-1 by the triangular factor of the columns brought to one length."""
    lengths = np.linalg.norm(jacobian, axis=0)
    factor = np.linalg.inv(np.linalg.qr(jacobian / lengths, mode="r")) / lengths[:, None]
    return np.asarray(spread**2 * factor @ factor.T)


def _jacobian(residuals: Callable[[Array], Array], at: Array) -> Array:
    columns = []
    for n, number in enumerate(at):
        step = _STEP * max(abs(number), 1e-6)
        high, low = at.copy(), at.copy()
        high[n] += step
        low[n] -= step
        columns.append((residuals(high) - residuals(low)) / (high[n] - low[n]))
    return np.stack(columns, axis=1)


def slopes_of(text: str, names: tuple[str, ...], values: Array, signal: Array) -> Array:
    """How the formula moves with each parameter at signals (n,): shape (n, p)."""
    tree = parse(text)

    def found(parameters: Array) -> Array:
        known = dict(zip(names, parameters.tolist(), strict=True))
        return np.broadcast_to(np.asarray(tree.evaluate({**known, SIGNAL: signal}), dtype=float), signal.shape)

    return _jacobian(found, values)


def _filled_in(text: str, names: tuple[str, ...], values: Array) -> str:
    """The formula with its parameters as numbers."""
    known = dict(zip(names, values.tolist(), strict=True))
    return re.sub(r"[^\W\d]\w*", lambda match: f"({known[match[0]]!r})" if match[0] in known else match[0], text)
