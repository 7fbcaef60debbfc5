"""A formula over numbers that have units: reckoned in them, every sum checked, unlike units of one kind converted."""

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..units.walking import Measured, gain_between, measured_in, product_of, quotient_of
from .tree import FUNCTIONS, Call, Expression, FormulaError, Name, Negative, Number, Operation

Array = NDArray[np.float64]
_KEEP = ("abs", "min", "max")


class MeasuredValue(NamedTuple):
    """Numbers, shape (n,) or (), and what they are measured in; None for plain ones."""

    values: Array
    unit: Measured | None


def reckon_measured(node: Expression, names: Mapping[str, MeasuredValue]) -> MeasuredValue:
    """A formula's numbers with their unit. Plain numbers in a sum have the unit of what they are added to.

    Raises: UnitMismatch where unlike things are added, FormulaError for a name that is not given or a part that must
    be a plain number.
    """
    if isinstance(node, Number):
        return MeasuredValue(np.asarray(node.value, dtype=float), None)
    if isinstance(node, Name):
        return _named(node, names)
    if isinstance(node, Negative):
        part = reckon_measured(node.part, names)
        return MeasuredValue(-part.values, part.unit)
    if isinstance(node, Call):
        return _called(node, names)
    return _joined(node, reckon_measured(node.left, names), reckon_measured(node.right, names))


def _named(node: Name, names: Mapping[str, MeasuredValue]) -> MeasuredValue:
    if node.name not in names:
        known = ", ".join(names) or "none"
        raise FormulaError(f"“{node.name}” is no channel. Known: {known}.", at=node.at)
    return names[node.name]


def _joined(node: Operation, left: MeasuredValue, right: MeasuredValue) -> MeasuredValue:
    with np.errstate(all="ignore"):
        if node.sign in ("+", "-"):
            unit, right = _alike(left, right, "added" if node.sign == "+" else "subtracted")
            total = left.values + right.values if node.sign == "+" else left.values - right.values
            return MeasuredValue(np.asarray(total), unit)
        if node.sign == "*":
            return MeasuredValue(np.asarray(left.values * right.values), product_of(left.unit, right.unit))
        if node.sign == "/":
            right = _alike(left, right, "divided")[1] if _are_alike(left, right) else right
            unit = quotient_of(left.unit, right.unit)
            return MeasuredValue(np.asarray(np.true_divide(left.values, right.values)), unit)
        return _powered(node, left, right)


def _are_alike(left: MeasuredValue, right: MeasuredValue) -> bool:
    return left.unit is not None and right.unit is not None and left.unit.unit.is_compatible_with(right.unit.unit)


def _alike(left: MeasuredValue, right: MeasuredValue, act: str) -> tuple[Measured | None, MeasuredValue]:
    """The unit of two that are put together, and the second in it."""
    if left.unit is None or right.unit is None:
        return left.unit or right.unit, right
    gain = gain_between(left.unit, right.unit, act)
    return left.unit, MeasuredValue(gain * right.values, left.unit)


def _powered(node: Operation, left: MeasuredValue, right: MeasuredValue) -> MeasuredValue:
    if right.unit is not None:
        raise FormulaError(f"An exponent is a plain number, found one in {right.unit.text}.", at=node.at)
    values = np.asarray(np.power(left.values, right.values))
    if left.unit is None:
        return MeasuredValue(values, None)
    if right.values.ndim:
        raise FormulaError("What has a unit is raised to a written number only.", at=node.at)
    power = float(right.values)
    return MeasuredValue(values, Measured(left.unit.unit**power, f"({left.unit.text})^{power:g}"))


def _called(node: Call, names: Mapping[str, MeasuredValue]) -> MeasuredValue:
    parts = [reckon_measured(part, names) for part in node.parts]
    act = FUNCTIONS[node.function].act
    if node.function in _KEEP:
        first = next((part for part in parts if part.unit is not None), parts[0])
        alike = [_alike(first, part, "compared")[1] if part.unit is not None else part for part in parts]
        return MeasuredValue(np.asarray(act(*(part.values for part in alike))), first.unit)
    if node.function == "sqrt" and parts[0].unit is not None:
        unit = parts[0].unit
        return MeasuredValue(np.asarray(act(parts[0].values)), Measured(unit.unit**0.5, f"√({unit.text})"))
    parts = [_plain(part) for part in parts]
    with_unit = next((part.unit for part in parts if part.unit is not None), None)
    if with_unit is not None:
        raise FormulaError(
            f"{node.function} takes plain numbers, found one in {with_unit.text}. A ratio of two alike is one.",
            at=node.at,
        )
    return MeasuredValue(np.asarray(act(*(part.values for part in parts))), None)


def _plain(part: MeasuredValue) -> MeasuredValue:
    """A ratio of two alike, or a share, as a plain number; all else as it is."""
    if part.unit is None or not part.unit.unit.dimensionless:
        return part
    return MeasuredValue(part.values * gain_between(measured_in("1"), part.unit, "taken for a number"), None)
