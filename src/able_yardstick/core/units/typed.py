"""A number as it is typed, with or without a unit of its own."""

import re
from statistics import fmean, stdev
from typing import NamedTuple

from ..words.errors import BadTable, UnitMismatch
from ..words.numerals import last_digit, parse_number, shortened
from .conversion import affine, parse_unit

_LONGEST = 100
_NUMBER_AND_UNIT = re.compile(
    r"\s*([+\-−–]?(?:\d[\d\u2009\u202f\u00a0 '’.,]*|[.,]\d+)(?:[eE][+\-−]?\d{1,3})?)\s*((?:[^\W\d_]|[%°µΩ‰]).*?)?\s*"
)


class TypedRow(NamedTuple):
    """The mean of values typed in a row, their spread (None of one), how many, and the step of their last digit."""

    mean: float
    spread: float | None
    samples: int
    digit: float


class Typed(NamedTuple):
    """A number in the unit asked for, and the step of its last digit there."""

    value: float
    digit: float


def number_and_unit(text: str) -> tuple[str, str]:
    """The two parts of a typed text; the unit is empty where none stands there.

    Raises: BadTable if there is no number before it.
    """
    found = _NUMBER_AND_UNIT.fullmatch(text) if len(text) <= _LONGEST else None
    if found is None:
        raise BadTable(f"Expected a number, with or without its unit, found “{shortened(text.strip(), _LONGEST)}”.")
    return found[1].strip(), found[2] or ""


def row_in(text: str, unit: str) -> TypedRow:
    """Values typed in a row with semicolons between them, in a unit. Raises: what `typed_in` does."""
    found = [typed_in(part, unit) for part in text.split(";") if part.strip()] or [typed_in(text, unit)]
    values = [one.value for one in found]
    spread = stdev(values) if len(values) > 1 else None
    return TypedRow(fmean(values), spread, len(values), min(one.digit for one in found))


def number_in(text: str, unit: str) -> str:
    """A typed text with a number and another unit as the number alone in `unit`; any other text as it is.

    Raises: UnitMismatch if the two measure different things, or begin at different zeros.
    """
    found = _NUMBER_AND_UNIT.fullmatch(text) if len(text) <= _LONGEST else None
    if found is None or not found[2] or found[2] == unit or not _is_unit(unit) or not _is_unit(found[2]):
        return found[1] if found is not None and found[2] == unit else text
    _refuse_offset(found[2], unit)
    return f"{typed_in(text, unit).value:.15g}"


def _refuse_offset(written: str, unit: str) -> None:
    """A field may hold a difference, and a difference in K or °F is none in °C: only multiples are taken."""
    try:
        offset = affine(written, unit)[1]
    except UnitMismatch:
        return  # which says why by itself
    if offset != 0.0:
        raise UnitMismatch(
            f"“{written}” and {unit} begin at different zeros, and this may be a difference. Type it in {unit}.",
            found=written,
            expected=unit,
        )


def _is_unit(text: str) -> bool:
    try:
        parse_unit(text)
    except UnitMismatch:
        return False
    return True


def typed_in(text: str, unit: str) -> Typed:
    """A typed number in a unit: 956 mV in V is 0.956. Raises: BadTable, UnitMismatch with the unit that would fit."""
    number, written = number_and_unit(text)
    value, digit = parse_number(number), last_digit(number)
    if not written or written == unit:
        return Typed(value, digit)
    try:
        gain, offset = affine(written, unit)
    except UnitMismatch as error:
        raise UnitMismatch(
            f"“{written}” was typed where {unit} is expected: {error}", found=written, expected=unit
        ) from error
    return Typed(gain * value + offset, abs(gain) * digit)
