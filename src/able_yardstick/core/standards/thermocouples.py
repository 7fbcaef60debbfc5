"""Thermocouples by the ITS-90 reference functions (IEC 60584-1:2013): emf from temperature and back.

The emf is that with the reference junction at 0 °C. A cold junction elsewhere is dealt with in emf, never in
degrees: E(t hot, t cold) = E(t hot) - E(t cold).
"""

from functools import cache
from importlib import resources
from typing import Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from ..words.errors import OutOfRange
from ..words.numerals import significant

Array = NDArray[np.float64]
Letter = Literal["B", "E", "J", "K", "N", "R", "S", "T"]
LETTERS: tuple[Letter, ...] = get_args(Letter)
_GUESSES = 1025
_NEWTON_STEPS = 8
_TOLERANCE = {  # IEC 60584-1:2013, table 1, class 2 (B: class 2 starts at 600 °C): ± the greater of K, share of |t|
    "B": (1.5, 0.0025), "E": (2.5, 0.0075), "J": (2.5, 0.0075), "K": (2.5, 0.0075), "N": (2.5, 0.0075),
    "R": (1.5, 0.0025), "S": (1.5, 0.0025), "T": (1.0, 0.0075),
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
    return _every_piece()[letter]


@cache
def _every_piece() -> dict[str, tuple[_Piece, ...]]:
    found: dict[str, list[tuple[float, float, list[float], list[float]]]] = {}
    lines = resources.files(__package__).joinpath("thermocouples.txt").read_text("utf-8").splitlines()
    current: tuple[float, float, list[float], list[float]] | None = None
    for words in (line.split() for line in lines if not line.startswith("#")):
        if words[0] == "piece":
            current = (float(words[2]), float(words[3]), [], [])
            found.setdefault(words[1], []).append(current)
        elif current is not None and words[0] == "exp":
            current[3].extend(float(word) for word in words[1:])
        elif current is not None:
            current[2].extend(float(word) for word in words)
    return {
        letter: tuple(
            _Piece(low, high, tuple(powers), _triple(bump), tuple(n * c for n, c in enumerate(powers))[1:])
            for low, high, powers, bump in rows
        )
        for letter, rows in found.items()
    }


def _triple(numbers: list[float]) -> tuple[float, float, float] | None:
    return (numbers[0], numbers[1], numbers[2]) if numbers else None


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


def class_2_k(letter: Letter, temperature_c: Array | float) -> Array:
    """Tolerance of class 2 in K either way, shape kept (IEC 60584-1:2013, table 1)."""
    constant, share = _TOLERANCE[letter]
    return np.asarray(np.maximum(constant, share * np.abs(temperature_c)))
