"""Units carried through sums: what a sum, a product, a power of quantities is measured in, and by which gain."""

from typing import Any, NamedTuple

from ..words.errors import UnitMismatch
from .conversion import parse_unit


class Measured(NamedTuple):
    """What a number is measured in: the registry's own unit of a step, and the words it was written in.

    None stands for a plain number, which takes the unit of what it is added to.
    """

    unit: Any
    text: str


def measured_in(written: str) -> Measured:
    """A unit as it was written; the views of flue-gas oxygen are plain percents, ratios. Raises: UnitMismatch."""
    from .conversion import registry_unit

    parsed = parse_unit(written)
    return Measured(registry_unit(parsed), written)


def gain_between(one: Measured, other: Measured, act: str) -> float:
    """How many of `one` a step of `other` is. Raises: UnitMismatch that names both and what was to be done."""
    if one.unit == other.unit:
        return 1.0
    try:
        return float((1.0 * other.unit).to(one.unit).magnitude)
    except Exception as error:  # the registry raises unrelated classes
        raise UnitMismatch(
            f"{one.text} and {other.text} cannot be {act}: they measure different things.",
            found=other.text, expected=one.text,
        ) from error  # fmt: skip


def product_of(one: Measured | None, other: Measured | None) -> Measured | None:
    """The unit of a product."""
    if one is None or other is None:
        return one or other
    return Measured(one.unit * other.unit, f"{one.text}·{other.text}")


def quotient_of(one: Measured | None, other: Measured | None) -> Measured | None:
    """The unit of a quotient; a plain number over a share is taken for a share as well."""
    if other is None:
        return one
    if one is None:
        return None if other.unit.dimensionless else Measured(other.unit**-1, f"1/({other.text})")
    return Measured(one.unit / other.unit, f"{one.text}/({other.text})")
