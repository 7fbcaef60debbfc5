"""What a formula is once it was read: a tree of operations, evaluated over arrays or over quantities with units."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..standards import platinum, thermistors, thermocouples
from ..words.errors import YardstickError


class FormulaError(YardstickError, ValueError):
    """A formula cannot be read or reckoned; `at` is the position of the character it is about, from 0."""

    def __init__(self, message: str, *, text: str = "", at: int = 0) -> None:
        super().__init__(f"{message}\n{text}\n{' ' * at}▲" if text else message)
        self.reason, self.at = message, at


Names = Mapping[str, Any]


@dataclass(frozen=True)
class Number:
    """A number as typed."""

    value: float
    at: int = 0

    def evaluate(self, names: Names) -> Any:
        """The number."""
        return self.value


@dataclass(frozen=True)
class Name:
    """A value that is given when the formula is reckoned."""

    name: str
    at: int = 0

    def evaluate(self, names: Names) -> Any:
        """The value given. Raises: FormulaError for a name that is not."""
        if self.name not in names:
            known = ", ".join(sorted(names)) or "none"
            raise FormulaError(f"“{self.name}” is not given. Known: {known}; functions need brackets.", at=self.at)
        return names[self.name]


@dataclass(frozen=True)
class Operation:
    """Two parts and the sign between them."""

    sign: str
    left: "Expression"
    right: "Expression"
    at: int = 0

    def evaluate(self, names: Names) -> Any:
        """The result; what divides by zero is not a number."""
        left, right = self.left.evaluate(names), self.right.evaluate(names)
        try:
            return _SIGNS[self.sign](left, right)
        except ZeroDivisionError as error:
            raise FormulaError("The formula comes to no number: something is divided by 0.", at=self.at) from error


@dataclass(frozen=True)
class Negative:
    """A part with its sign turned."""

    part: "Expression"
    at: int = 0

    def evaluate(self, names: Names) -> Any:
        """The result."""
        return -self.part.evaluate(names)


@dataclass(frozen=True)
class Call:
    """A function of its parts."""

    function: str
    parts: "tuple[Expression, ...]"
    at: int = 0

    def evaluate(self, names: Names) -> Any:
        """The result."""
        return FUNCTIONS[self.function].act(*(part.evaluate(names) for part in self.parts))


Expression = Number | Name | Operation | Negative | Call


@dataclass(frozen=True)
class Function:
    """A function's arithmetic, how many parts it takes at least and at most, and what it is for."""

    act: Callable[..., Any]
    least: int
    most: int
    says: str


def _divided(left: Any, right: Any) -> Any:
    with np.errstate(divide="ignore", invalid="ignore"):
        plain = isinstance(right, int | float | np.ndarray | np.floating)
        return np.true_divide(left, right) if plain else left / right


def _power(left: Any, right: Any) -> Any:
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        return left**right if not isinstance(left, int | float) else np.float64(left) ** right


_SIGNS: dict[str, Callable[[Any, Any], Any]] = {
    "+": lambda left, right: left + right,
    "-": lambda left, right: left - right,
    "*": lambda left, right: left * right,
    "/": _divided,
    "^": _power,
}


def _quiet(act: Callable[..., Any]) -> Callable[..., Any]:
    def quietly(*parts: Any) -> Any:
        with np.errstate(all="ignore"):
            return act(*parts)

    return quietly


def _beta(resistance: Any, r25: Any, beta: Any) -> Any:
    return thermistors.temperature_c(thermistors.SteinhartHart.from_beta(float(r25), 25.0, float(beta)), resistance)


FUNCTIONS: dict[str, Function] = {
    "sqrt": Function(_quiet(np.sqrt), 1, 1, "square root"),
    "exp": Function(_quiet(np.exp), 1, 1, "e to the power"),
    "ln": Function(_quiet(np.log), 1, 1, "natural logarithm"),
    "log10": Function(_quiet(np.log10), 1, 1, "logarithm to base 10"),
    "abs": Function(np.abs, 1, 1, "size without sign"),
    "min": Function(lambda *parts: _fold(np.minimum, parts), 2, 9, "least of several"),
    "max": Function(lambda *parts: _fold(np.maximum, parts), 2, 9, "greatest of several"),
    "pt100": Function(lambda r: platinum.temperature_c(r, 100.0), 1, 1, "°C of a platinum element of 100 Ω"),
    "pt1000": Function(lambda r: platinum.temperature_c(r, 1000.0), 1, 1, "°C of a platinum element of 1 000 Ω"),
    "ntc": Function(_beta, 3, 3, "°C of a thermistor: resistance, resistance at 25 °C, beta"),
    **{
        f"tc_{letter.lower()}": Function(
            lambda emf, letter=letter: thermocouples.temperature_c(letter, emf), 1, 1, f"°C of mV, type {letter}"
        )
        for letter in thermocouples.LETTERS
    },
}


def _fold(act: Callable[[Any, Any], Any], parts: tuple[Any, ...]) -> Any:
    total = parts[0]
    for part in parts[1:]:
        total = act(total, part)
    return total


def names_in(node: Expression) -> Iterator[str]:
    """Every name a formula asks for, in the order written, repeated ones too."""
    if isinstance(node, Name):
        yield node.name
    elif isinstance(node, Operation):
        yield from names_in(node.left)
        yield from names_in(node.right)
    elif isinstance(node, Negative):
        yield from names_in(node.part)
    elif isinstance(node, Call):
        for part in node.parts:
            yield from names_in(part)
