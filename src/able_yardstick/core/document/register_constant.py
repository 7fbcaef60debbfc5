"""A constant for a register: a formula of named inputs with units that yields an integer, and its words."""

import math
from collections.abc import Callable
from typing import Any, Literal, NamedTuple, Self

import numpy as np
from pydantic import Field, model_validator

from ..formula import FormulaError, names_in, parse
from ..units.conversion import quantity_of
from ..words.errors import OutOfRange, UnitMismatch
from ..words.numerals import significant
from ..words.record import Finite, Frozen

Rounding = Literal["nearest, half to even", "nearest, half up", "down", "up", "towards zero"]
_WORD = 0xFFFF


class NamedInput(Frozen):
    """A value with its unit that the formula names."""

    name: str = Field(pattern=r"^[^\W\d]\w*$")
    value: Finite
    unit: str = ""
    source: str = ""


class BitField(Frozen):
    """Some bits of another register whose code must stand for the value of an input: a gain, say.

    `codes` pairs each code with the value it stands for.
    """

    name: str
    register_value: int = Field(ge=0, le=0xFFFF_FFFF)
    lowest_bit: int = Field(ge=0, le=31)
    width: int = Field(ge=1, le=16)
    codes: tuple[tuple[int, Finite], ...]
    must_equal: str

    @property
    def code(self) -> int:
        """The code that stands in the register."""
        return (self.register_value >> self.lowest_bit) & ((1 << self.width) - 1)

    @property
    def stands_for(self) -> float | None:
        """The value of that code; None if it is reserved."""
        return next((value for code, value in self.codes if code == self.code), None)


class RegisterConstant(Frozen):
    """A register's formula, its inputs, how it is rounded, and how wide the register is."""

    formula: str = "1"
    inputs: tuple[NamedInput, ...] = ()
    unit: str = ""
    rounding: Rounding = "nearest, half to even"
    bits: Literal[16, 32] = 32
    signed: bool = False
    high_word_first: bool = True
    fields: tuple[BitField, ...] = ()

    @model_validator(mode="after")
    def _names_are_given(self) -> Self:
        names = [one.name for one in self.inputs]
        if len(set(names)) != len(names):
            raise ValueError("two inputs have the same name: rename one of them")
        try:
            asked = set(names_in(parse(self.formula)))
        except FormulaError as error:
            raise ValueError(str(error)) from error
        missing = asked - set(names)
        if missing:
            raise ValueError(f"the formula asks for {', '.join(sorted(missing))}: add it to the inputs")
        return self

    @property
    def limits(self) -> tuple[int, int]:
        """The least and greatest number the register holds."""
        if self.signed:
            return -(1 << (self.bits - 1)), (1 << (self.bits - 1)) - 1
        return 0, (1 << self.bits) - 1


class RegisterValue(NamedTuple):
    """What a formula comes to: exact and rounded, in hexadecimal, as words in the order they are sent."""

    exact: float
    integer: int
    hexadecimal: str
    words: tuple[int, ...]
    rounding_error: float
    fields: tuple["FieldVerdict", ...]


class FieldVerdict(NamedTuple):
    """Whether a bit field agrees with its input."""

    name: str
    code: int
    stands_for: float | None
    wanted: float
    agrees: bool
    says: str


def reckon(constant: RegisterConstant) -> RegisterValue:
    """The register's value.

    Raises: FormulaError, UnitMismatch where the units do not come out, OutOfRange where the register is too small.
    """
    exact = _exact(constant)
    integer = _rounded(exact, constant.rounding)
    low, high = constant.limits
    if not low <= integer <= high:
        raise OutOfRange(
            f"The constant comes to {integer}, but a register of {constant.bits} bits "
            f"({'signed' if constant.signed else 'unsigned'}) holds {low} to {high}. "
            "Check the inputs, or take a wider register.",
            found=float(integer),
        )
    plain = integer & ((1 << constant.bits) - 1)
    return RegisterValue(
        exact=exact,
        integer=integer,
        hexadecimal=f"0x{plain:0{constant.bits // 4}X}",
        words=words_of(plain, constant.bits, constant.high_word_first),
        rounding_error=(integer - exact) / exact if exact else 0.0,
        fields=tuple(_verdict(field, constant) for field in constant.fields),
    )


def words_of(plain: int, bits: int, high_word_first: bool) -> tuple[int, ...]:
    """An unsigned integer cut into 16-bit words."""
    if bits == 16:
        return (plain & _WORD,)
    words = (plain >> 16 & _WORD, plain & _WORD)
    return words if high_word_first else words[::-1]


def _exact(constant: RegisterConstant) -> float:
    values: dict[str, Any] = {one.name: quantity_of(one.value, one.unit) for one in constant.inputs}
    tree = parse(constant.formula)
    try:
        found = tree.evaluate(values)
        number = quantity_of(1.0, constant.unit)
        plain = (found / number).to("").magnitude if hasattr(found / number, "to") else found / number
        result = float(plain)
    except FormulaError as error:
        raise FormulaError(error.reason, text=constant.formula, at=error.at) from error
    except Exception as error:  # the unit registry raises half a dozen kinds of its own
        if type(error).__module__.startswith("pint"):
            wanted = constant.unit or "a plain number"
            raise UnitMismatch(f"The units of the inputs do not come out as {wanted}: {error}.") from error
        if isinstance(error, ArithmeticError | TypeError | ValueError):  # too large, or no real number
            raise FormulaError(
                "The formula comes to no real number that can be held.", text=constant.formula
            ) from error
        raise
    if not np.isfinite(result):
        raise FormulaError("The formula comes to no number: something is divided by 0.", text=constant.formula)
    return result


def _rounded(exact: float, rounding: Rounding) -> int:
    if rounding == "nearest, half to even":
        return round(exact)
    act: dict[Rounding, Callable[[float], float]] = {
        "nearest, half up": lambda number: math.floor(number + 0.5),
        "down": math.floor,
        "up": math.ceil,
        "towards zero": math.trunc,
    }
    return int(act[rounding](exact))


def _verdict(field: BitField, constant: RegisterConstant) -> FieldVerdict:
    wanted = next((one.value for one in constant.inputs if one.name == field.must_equal), float("nan"))
    stands_for = field.stands_for
    agrees = stands_for is not None and stands_for == wanted
    bits = (
        f"bits {field.lowest_bit + field.width - 1} to {field.lowest_bit}"
        if field.width > 1
        else (f"bit {field.lowest_bit}")
    )
    code = f"{bits} hold {field.code:0{field.width}b}"
    if stands_for is None:
        says = f"{field.name}: {code}, a code that stands for nothing"
    elif agrees:
        says = f"{field.name}: {code}, which is {significant(stands_for)}, as the formula's {field.must_equal}"
    else:
        says = (
            f"{field.name}: {code}, which is {significant(stands_for)}, but the formula reckons with "
            f"{field.must_equal} = {significant(wanted)}: make them the same"
        )
    return FieldVerdict(field.name, field.code, stands_for, wanted, agrees, says)
