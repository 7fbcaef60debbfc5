"""A curve written out, so that somebody with the sheet alone comes to the very numbers that the program shows."""

from typing import NamedTuple

import numpy as np

from ..curves import Curve, FormulaCurve, Line, MonotoneCubic, Polynomial, Table
from ..formula.horner import formula_text

_ROWS = 33  # of a curve without a formula of its own
_DIGITS = 10


class Spelled(NamedTuple):
    """A formula of x, the signal at the pin; or rows of signal and value, and what lies between them."""

    formula: str = ""
    rows: tuple[tuple[float, float], ...] = ()
    between: str = ""

    @property
    def lines(self) -> list[str]:
        """As it is printed."""
        if self.formula:
            return [f"y = {self.formula}"]
        return [*(f"{x!r} → {y!r}" for x, y in self.rows), f"Between the rows: {self.between}."]


def spelled(curve: Curve) -> Spelled:
    """A curve in full: exact formulas and tables as they are, any other at many places."""
    if isinstance(curve, Line):
        return Spelled(formula_text((curve.height, curve.gradient), _shifted(curve.centre, 1.0)))
    if isinstance(curve, Polynomial):
        return Spelled(formula_text(curve.coefficients, _shifted(curve.centre, curve.scale)))
    if isinstance(curve, Table):
        return Spelled(rows=tuple(zip(curve.signals, curve.values, strict=True)), between="straight lines")
    if isinstance(curve, MonotoneCubic):
        rows = tuple(zip(curve.signals, curve.values, strict=True))
        return Spelled(rows=rows, between="a monotone cubic, which the program reckons")
    if isinstance(curve, FormulaCurve) and curve.name_of_signal == "x" and curve.is_plain:
        return Spelled(curve.text)
    low, high = curve.domain
    signals = [float(f"{signal:.6g}") for signal in np.linspace(low, high, _ROWS)]
    values = [float(f"{value:.{_DIGITS}g}") for value in curve.value(np.array(signals)).tolist()]
    return Spelled(rows=tuple(zip(signals, values, strict=True)), between=f"the {curve.name}, which bends little there")


def _shifted(centre: float, scale: float) -> str:
    """x less a centre, over a scale."""
    name = "x" if centre == 0 else f"(x {'-' if centre > 0 else '+'} {abs(float(centre))!r})"
    return name if scale == 1 else f"({name}/{float(scale)!r})"
