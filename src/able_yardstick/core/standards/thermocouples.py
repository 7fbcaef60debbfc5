"""Thermocouples by the ITS-90 reference functions (IEC 60584-1:2013): emf from temperature and back.

The emf is that with the reference junction at 0 °C. A cold junction elsewhere is dealt with in emf, never in
degrees: E(t hot, t cold) = E(t hot) - E(t cold).
"""

from functools import cache
from typing import Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from ..words.errors import OutOfRange
from ..words.numerals import significant
from .thermocouple_functions import FUNCTIONS

Array = NDArray[np.float64]
Letter = Literal["A", "B", "C", "E", "J", "K", "N", "R", "S", "T"]
LETTERS: tuple[Letter, ...] = get_args(Letter)
_GUESSES = 1025
_NEWTON_STEPS = 8
ToleranceClass = Literal["1", "2", "3"]
TOLERANCE_CLASSES: tuple[ToleranceClass, ...] = get_args(ToleranceClass)


class ClassLimits(NamedTuple):
    """A tolerance of the greater of `constant_k` and `share` |t|, and the temperatures in °C over which it holds.

    Class 1 of types R and S grows by `share` per degree above `grows_from_c` instead.
    """

    constant_k: float
    share: float
    from_c: float
    to_c: float
    grows_from_c: float | None = None

    def at(self, t: Array) -> Array:
        """The tolerance in K at temperatures in °C, shape kept; NaN where the class does not hold."""
        if self.grows_from_c is None:
            found = np.maximum(self.constant_k, self.share * np.abs(t))
        else:
            found = self.constant_k + self.share * np.maximum(t - self.grows_from_c, 0.0)
        return np.asarray(np.where((t >= self.from_c) & (t <= self.to_c), found, np.nan))


# IEC 60584-1:2013, table 1
CLASS_LIMITS: dict[ToleranceClass, dict[Letter, ClassLimits]] = {
    "1": {
        "E": ClassLimits(1.5, 0.004, -40, 800), "J": ClassLimits(1.5, 0.004, -40, 750),
        "K": ClassLimits(1.5, 0.004, -40, 1000), "N": ClassLimits(1.5, 0.004, -40, 1000),
        "R": ClassLimits(1.0, 0.003, 0, 1600, grows_from_c=1100), "S": ClassLimits(1.0, 0.003, 0, 1600, 1100),
        "T": ClassLimits(0.5, 0.004, -40, 350),
    },
    "2": {
        "A": ClassLimits(0.0, 0.01, 1000, 2500), "B": ClassLimits(0.0, 0.0025, 600, 1700),
        "C": ClassLimits(0.0, 0.01, 426, 2315), "E": ClassLimits(2.5, 0.0075, -40, 900),
        "J": ClassLimits(2.5, 0.0075, -40, 750), "K": ClassLimits(2.5, 0.0075, -40, 1200),
        "N": ClassLimits(2.5, 0.0075, -40, 1200), "R": ClassLimits(1.5, 0.0025, 0, 1600),
        "S": ClassLimits(1.5, 0.0025, 0, 1600), "T": ClassLimits(1.0, 0.0075, -40, 350),
    },
    "3": {
        "B": ClassLimits(4.0, 0.005, 600, 1700), "E": ClassLimits(2.5, 0.015, -200, 40),
        "K": ClassLimits(2.5, 0.015, -200, 40), "N": ClassLimits(2.5, 0.015, -200, 40),
        "T": ClassLimits(1.0, 0.015, -200, 40),
    },
}  # fmt: skip


class _Piece(NamedTuple):
    low_c: float
    high_c: float
    powers: tuple[float, ...]
    bump: tuple[float, float, float] | None
    derived: tuple[float, ...]

    def emf(self, t: Array) -> Array:
        total = _horner(self.powers, t)
        if self.bump:
            a0, a1, a2 = self.bump
            total = total + a0 * np.exp(a1 * (t - a2) ** 2)
        return np.asarray(total)

    def slope(self, t: Array) -> Array:
        total = _horner(self.derived, t)
        if self.bump:
            a0, a1, a2 = self.bump
            total = total + a0 * np.exp(a1 * (t - a2) ** 2) * 2 * a1 * (t - a2)
        return np.asarray(total)


def _horner(powers: tuple[float, ...], t: Array) -> Array:
    total = np.full_like(t, powers[-1])
    for coefficient in reversed(powers[:-1]):
        total = total * t + coefficient
    return total


@cache
def _pieces(letter: Letter) -> tuple[_Piece, ...]:
    return tuple(
        _Piece(low, high, powers, bump, tuple(n * c for n, c in enumerate(powers))[1:])
        for low, high, powers, bump in FUNCTIONS[letter]
    )


def defined_c(letter: Letter) -> tuple[float, float]:
    """Temperatures over which the reference function is given, °C."""
    pieces = _pieces(letter)
    return pieces[0].low_c, pieces[-1].high_c


def emf_mv(letter: Letter, temperature_c: Array | float) -> Array:
    """Emf in mV at temperatures in °C, shape kept.

    Raises: OutOfRange beyond the temperatures the standard gives.
    """
    t = np.asarray(temperature_c, dtype=float)
    low, high = defined_c(letter)
    if np.any((t < low) | (t > high)):
        wrong = float(t[(t < low) | (t > high)].ravel()[0])
        raise OutOfRange(
            f"{significant(wrong)} °C is beyond type {letter}, whose reference function runs from {significant(low)} "
            f"to {significant(high)} °C. Choose another type, or a temperature inside.",
            found=wrong,
        )
    return _by_piece(letter, t, "emf")


def sensitivity_mv_k(letter: Letter, temperature_c: Array | float) -> Array:
    """Slope of the reference function in mV/K, shape kept; beyond its ends that of the end."""
    low, high = defined_c(letter)
    return _by_piece(letter, np.clip(np.asarray(temperature_c, dtype=float), low, high), "slope")


def _by_piece(letter: Letter, t: Array, what: Literal["emf", "slope"]) -> Array:
    """What the piece that holds each temperature gives; only pieces that hold some are worked out."""
    pieces = _pieces(letter)
    starts = np.array([piece.low_c for piece in pieces[1:]])
    which = np.searchsorted(starts, t, side="right")
    first, last = int(np.min(which, initial=len(starts))), int(np.max(which, initial=0))
    total = np.asarray(getattr(pieces[first], what)(t))
    for n in range(first + 1, last + 1):
        total = np.where(which == n, getattr(pieces[n], what)(t), total)
    return np.asarray(total)


@cache
def turning_c(letter: Letter) -> float | None:
    """Where the emf stops falling and starts to rise, °C: type B near 21 °C; None for the others."""
    if letter != "B":
        return None
    low, high = 0.0, 50.0
    for _ in range(80):
        middle = (low + high) / 2
        low, high = (middle, high) if float(sensitivity_mv_k(letter, middle)) < 0 else (low, middle)
    return (low + high) / 2


@cache
def one_to_one_c(letter: Letter) -> tuple[float, float]:
    """The temperatures, °C, over which each emf belongs to one temperature of the whole function."""
    low, high = defined_c(letter)
    turn = turning_c(letter)
    if turn is None:
        return low, high
    return float(_solve(letter, np.array([float(emf_mv(letter, low))]), turn, high)[0]), high


def temperature_c(letter: Letter, emf: Array | float) -> Array:
    """Temperatures in °C at emfs in mV, shape kept: the reference function solved, not approximated.

    Raises: OutOfRange for an emf the type cannot give, or that belongs to two temperatures (see `temperatures_c`).
    """
    wanted = np.asarray(emf, dtype=float)
    low, high = one_to_one_c(letter)
    ends = emf_mv(letter, np.array([low, high]))
    _refuse_emf(letter, wanted, (float(ends[0]), float(ends[1])), low)
    return _solve(letter, wanted, low, high)


def _refuse_emf(letter: Letter, wanted: Array, ends: tuple[float, float], from_c: float) -> None:
    slack = 1e-9
    bad = (wanted < ends[0] - slack) | (wanted > ends[1] + slack)
    if not np.any(bad):
        return
    first = float(wanted[bad].ravel()[0])
    two = temperatures_c(letter, first)
    if len(two) > 1:
        raise OutOfRange(
            f"{significant(first)} mV belongs to two temperatures of type {letter}, {two[0]:.2f} and {two[1]:.2f} °C: "
            f"below {from_c:.1f} °C it cannot tell them apart. Measure above that.",
            found=first,
        )
    raise OutOfRange(
        f"{significant(first)} mV is beyond type {letter}, which gives {significant(ends[0])} to "
        f"{significant(ends[1])} mV. Check type, polarity and cold junction.",
        found=first,
    )


def temperatures_c(letter: Letter, emf: float) -> tuple[float, ...]:
    """Every temperature in °C that gives an emf in mV, rising; empty if none does."""
    low, high = defined_c(letter)
    turn = turning_c(letter)
    spans = [(low, high)] if turn is None else [(low, turn), (turn, high)]
    found = []
    for start, end in spans:
        at_start, at_end = (float(emf_mv(letter, t)) for t in (start, end))
        if min(at_start, at_end) <= emf <= max(at_start, at_end):
            found.append(float(_solve(letter, np.array([emf]), start, end)[0]))
    return tuple(dict.fromkeys(found))


@cache
def _guesses(letter: Letter, low: float, high: float) -> tuple[Array, Array]:
    t = np.linspace(low, high, _GUESSES)
    e = _by_piece(letter, t, "emf")
    return (e, t) if e[-1] > e[0] else (e[::-1].copy(), t[::-1].copy())


def _solve(letter: Letter, emf: Array, low: float, high: float) -> Array:
    """Newton's method from a dense table; held to the bracket where the slope nearly vanishes."""
    known_emf, known_t = _guesses(letter, low, high)
    t = np.interp(emf, known_emf, known_t)
    for _ in range(_NEWTON_STEPS):
        slope = _by_piece(letter, t, "slope")
        error = _by_piece(letter, t, "emf") - emf
        step = np.divide(error, slope, out=np.zeros_like(t), where=np.abs(slope) > 1e-9)
        t = np.clip(t - step, low, high)
        if np.all(np.abs(step) < 1e-11):
            break
    return np.asarray(t)


def tolerance_k(letter: Letter, tolerance_class: ToleranceClass, temperature_c: Array | float) -> Array:
    """Tolerance of a class in K either way, shape kept; NaN where the standard gives that type none.

    Source: IEC 60584-1:2013, table 1.
    """
    t = np.asarray(temperature_c, dtype=float)
    limits = CLASS_LIMITS[tolerance_class].get(letter)
    return np.full_like(t, np.nan) if limits is None else limits.at(t)


def classes_of(letter: Letter) -> tuple[ToleranceClass, ...]:
    """The classes that the standard has for a type."""
    return tuple(name for name, rows in CLASS_LIMITS.items() if letter in rows)
