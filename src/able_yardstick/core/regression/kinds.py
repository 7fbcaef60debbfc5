"""Every kind of curve that can be fitted: its words, how many numbers it takes, and how well it is known.

A kind says all of it or is none: there is no default that a new one could fall into. Its maker is in `models.MAKERS`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal, Protocol, get_args

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve
from .elements import element_slopes
from .free_formula import slopes_of
from .least_squares import Solution

Array = NDArray[np.float64]
ModelName = Literal[
    "nominal", "two-point", "terminal", "through-zero", "line", "poly2", "poly3", "poly4", "poly5", "table", "pchip",
    "formula", "steinhart-hart", "beta", "platinum",
]  # fmt: skip
MODEL_NAMES: tuple[ModelName, ...] = get_args(ModelName)


class _Number(Protocol):
    @property
    def name(self) -> str: ...

    @property
    def value(self) -> float: ...


class _Asked(Protocol):
    @property
    def formula(self) -> str: ...


class FitResult(Protocol):
    """What a fit came to, as far as its kind looks at it (see `fitted.Fitted`)."""

    @property
    def spec(self) -> _Asked: ...

    @property
    def curve(self) -> AnyCurve: ...

    @property
    def solution(self) -> Solution | None: ...

    @property
    def parameters(self) -> Sequence[_Number]: ...

    @property
    def parameter_covariance(self) -> tuple[tuple[float, ...], ...] | None: ...

    @property
    def anchors(self) -> tuple[tuple[float, int], ...]: ...

    @property
    def residual_sd(self) -> float | None: ...


@dataclass(frozen=True)
class Kind:
    """One kind of curve. `numbers` counts what was found from the readings; `spread` is the curve's standard deviation
    at signals (n,), None where it is not known. One that goes `through_points` cannot trust some of them less. `law` is
    the equation that its parameters stand in; empty where its coefficients are written out.
    """

    title: str
    caption: str
    numbers: Callable[[FitResult], int]
    spread: Callable[[FitResult, Array], Array | None]
    degree: int | None = None
    through_points: bool = False
    law: Callable[[FitResult], str] = lambda _fit: ""


def _solved(fit: FitResult) -> int:
    assert fit.solution is not None  # it was solved for
    return len(fit.solution.coefficients) - fit.solution.first_power


def _solved_spread(fit: FitResult, signal: Array) -> Array | None:
    return None if fit.solution is None else fit.solution.curve_spread(signal)


def _anchored(fit: FitResult) -> int:
    return len(fit.anchors)


def _anchored_spread(fit: FitResult, signal: Array) -> Array | None:
    return None if fit.residual_sd is None else fit.residual_sd * anchored_spread(fit.anchors, signal)


def _parameters(fit: FitResult) -> int:
    return len(fit.parameters)


def _by_slopes(fit: FitResult, slopes: Array) -> Array:
    return np.asarray(np.sqrt(np.einsum("ni,ij,nj->n", slopes, np.array(fit.parameter_covariance), slopes)))


def _formula_spread(fit: FitResult, signal: Array) -> Array | None:
    if fit.parameter_covariance is None:
        return None
    return _by_slopes(fit, slopes_of(fit.spec.formula, *_named(fit), signal))


def _element_spread(fit: FitResult, signal: Array) -> Array | None:
    if fit.parameter_covariance is None:
        return None
    return _by_slopes(fit, element_slopes(fit.curve, *_named(fit), signal))


def _named(fit: FitResult) -> tuple[tuple[str, ...], Array]:
    return tuple(one.name for one in fit.parameters), np.array([one.value for one in fit.parameters])


def anchored_spread(anchors: tuple[tuple[float, int], ...], signal: Array) -> Array:
    """How far lines from anchor to anchor, and on beyond the last two, stray at signals (n,), in deviations of one.

    Each anchor is the mean of its readings: its variance is theirs divided by their number.
    """
    at = np.array([anchor for anchor, _ in anchors])
    spreads = 1 / np.sqrt(np.array([count for _, count in anchors], dtype=float))
    piece = np.clip(np.searchsorted(at, signal, side="right") - 1, 0, len(at) - 2)
    share = (signal - at[piece]) / (at[piece + 1] - at[piece])
    return np.asarray(np.hypot((1 - share) * spreads[piece], share * spreads[piece + 1]))


def _polynomial(title: str, caption: str, degree: int) -> Kind:
    return Kind(title, caption, _solved, _solved_spread, degree=degree)


def _law(title: str, caption: str, equation: str) -> Kind:
    return Kind(title, caption, _parameters, _element_spread, law=lambda _fit: equation)


def _pinned(title: str, caption: str) -> Kind:
    return Kind(title, caption, _anchored, _anchored_spread, through_points=True)


KINDS: dict[ModelName, Kind] = {
    "nominal": Kind("As described", "as described", lambda _fit: 0, lambda _fit, _signal: None),
    "two-point": _pinned("Two-point line", "two points"),
    "terminal": _pinned("Terminal-based line", "terminal-based"),
    "through-zero": Kind("Line through a zero", "through a zero", _solved, _solved_spread),
    "line": _polynomial("Least-squares line", "least squares", 1),
    "poly2": _polynomial("Second order", "second order", 2),
    "poly3": _polynomial("Third order", "third order", 3),
    "poly4": _polynomial("Fourth order", "fourth order", 4),
    "poly5": _polynomial("Fifth order", "fifth order", 5),
    "table": _pinned("Lookup table", "lookup table"),
    "pchip": _pinned("Monotone cubic", "monotone cubic"),
    "formula": Kind("Formula", "formula", _parameters, _formula_spread, law=lambda fit: f"y = {fit.spec.formula}"),
    "steinhart-hart": _law("Three coefficients", "own coefficients", "1/T = a + b ln R + c (ln R)³, T in K"),
    "beta": _law("R25 and beta", "own beta", "1/T = 1/298.15 + ln(R/R25)/beta, T in K"),
    "platinum": _law("Platinum's own R0, A, B", "own R0, A, B", "R = R0 (1 + A t + B t²), t in °C"),
}
TITLES: dict[ModelName, str] = {name: kind.title for name, kind in KINDS.items()}
CAPTIONS: dict[ModelName, str] = {name: kind.caption for name, kind in KINDS.items()}
DEGREES: dict[ModelName, int] = {name: kind.degree for name, kind in KINDS.items() if kind.degree is not None}
