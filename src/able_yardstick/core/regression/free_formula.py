"""A formula whose free parameters are found from readings."""

import re
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..formula import FormulaError, names_in, parse
from ..words.errors import BadTable
from ..words.numerals import parse_number
from .least_squares import need_different
from .search import covariance_of, differences, searched

Array = NDArray[np.float64]
SIGNAL = "x"


class FormulaFit(NamedTuple):
    """Parameters by name with their standard errors, the covariance, and the formula with the numbers in it."""

    names: tuple[str, ...]
    values: Array
    covariance: Array | None
    text: str
    residual_sd: float | None
    dof: int


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

    best = searched(residuals, np.array(list(start.values()), dtype=float), names)
    jacobian = differences(residuals, best)
    dof = len(signal) - len(names)
    ssr = float(np.sum(residuals(best) ** 2))
    spread = float(np.sqrt(ssr / dof)) if dof > 0 else None
    covariance = None if spread is None else covariance_of(jacobian, spread)
    return FormulaFit(names, best, covariance, _filled_in(text, names, best), spread, dof)


def starts_for(text: str, before: tuple[tuple[str, float], ...]) -> tuple[tuple[str, float], ...]:
    """Where each parameter of a formula begins: as before if it was there, else at 1. Raises: FormulaError."""
    if not text.strip():
        return ()
    known = dict(before)
    return tuple((name, known.get(name, 1.0)) for name in sorted(set(names_in(parse(text))) - {SIGNAL}))


def starts_of(text: str) -> tuple[tuple[str, float], ...]:
    """Parameters with where they begin, written p=12, q=3. Raises: BadTable."""
    found = []
    for part in (part for part in text.replace(";", ",").split(",") if part.strip()):
        name, equals, number = part.partition("=")
        if not equals or not name.strip().isidentifier():
            raise BadTable(f"Expected starts such as p=12, q=3, found “{part.strip()}”.")
        found.append((name.strip(), parse_number(number)))
    return tuple(found)


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


def slopes_of(text: str, names: tuple[str, ...], values: Array, signal: Array) -> Array:
    """How the formula moves with each parameter at signals (n,): shape (n, p)."""
    tree = parse(text)

    def found(parameters: Array) -> Array:
        known = dict(zip(names, parameters.tolist(), strict=True))
        return np.broadcast_to(np.asarray(tree.evaluate({**known, SIGNAL: signal}), dtype=float), signal.shape)

    return differences(found, values)


def _filled_in(text: str, names: tuple[str, ...], values: Array) -> str:
    """The formula with its parameters as numbers."""
    known = dict(zip(names, values.tolist(), strict=True))
    return re.sub(r"[^\W\d]\w*", lambda match: f"({known[match[0]]!r})" if match[0] in known else match[0], text)
