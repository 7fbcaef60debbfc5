"""Values made of channels: a formula, one of several sensors, a total over time; U and state follow the inputs."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.watched import AnyWatched, CombinedValue, FormulaValue, TotalValue
from ..formula.measured import MeasuredValue, reckon_measured
from ..units.walking import Measured, gain_between, measured_in, product_of
from ..words.errors import NotApplicable, UnitMismatch
from .combining import COMBINING
from .naming import ids_in, tree_of

Array = NDArray[np.float64]


class InputCourse(NamedTuple):
    """An input at common moments: values and expanded uncertainties (n,), NaN where there is none or it is not known.

    `tag` names it in words, `unit` is what both are in.
    """

    tag: str
    unit: str
    values: Array
    expanded: Array


class DerivedCourse(NamedTuple):
    """What comes out, (n,) in its unit: NaN where an input that it needs is dead; `remark` says what to know."""

    values: Array
    expanded: Array
    remark: str = ""


def inputs_of(value: AnyWatched) -> tuple[str, ...]:
    """The ids of the channels that a value is made of."""
    return _IDS[value.kind](value)


def derived(value: AnyWatched, inputs: Mapping[str, InputCourse], times_s: Array) -> DerivedCourse:
    """A value at moments (n,) in s out of its inputs, by the ids of their channels.

    Raises: NotApplicable where an input is gone, UnitMismatch, FormulaError.
    """
    missing = [one for one in inputs_of(value) if one not in inputs]
    if missing:
        raise NotApplicable(f"{value.tag} needs a channel that is not here any more. Change what it is made of.")
    return _ACTS[value.kind](value, inputs, times_s)


def _of_formula(value: FormulaValue, inputs: Mapping[str, InputCourse], _times: Array) -> DerivedCourse:
    tree, ids = tree_of(value.formula)
    courses = [inputs[one] for one in ids]

    def reckoned(moved: int = -1) -> MeasuredValue:
        names = {
            f"c{n}": MeasuredValue(one.values + (one.expanded if n == moved else 0.0), measured_in(one.unit))
            for n, one in enumerate(courses)
        }
        return reckon_measured(tree, names)

    found = reckoned()
    gain = _gain_to(value, found.unit)
    shape = courses[0].values.shape
    square = np.zeros(shape)
    for n in range(len(courses)):
        square = square + (reckoned(n).values - found.values) ** 2  # JCGM 100:2008, 5.1.3, note 2: by differences
    return DerivedCourse(
        np.broadcast_to(gain * found.values, shape).copy(), np.broadcast_to(abs(gain) * np.sqrt(square), shape).copy(),
        _unknown(courses),
    )  # fmt: skip


def _gain_to(value: AnyWatched, unit: Measured | None) -> float:
    """From what the inputs come to, to the unit that is stated. Raises: UnitMismatch."""
    if unit is None or (not value.unit.strip() and unit.unit == measured_in("1").unit):
        return 1.0
    if not value.unit.strip():
        raise UnitMismatch(f"{value.tag} comes to {unit.text}: state a unit such as that.", found="nothing")
    try:
        return gain_between(measured_in(value.unit), unit, "taken for each other")
    except UnitMismatch as error:
        raise UnitMismatch(
            f"{value.tag} comes to {unit.text}, which is no {value.unit}. Change the formula or the unit.",
            found=value.unit, expected=unit.text,
        ) from error  # fmt: skip


def _unknown(courses: Sequence[InputCourse]) -> str:
    names = [one.tag for one in courses if np.isfinite(one.values).any() and not np.isfinite(one.expanded).any()]
    return f"U is not known: that of {', '.join(names)} is not." if names else ""


def _of_combined(value: CombinedValue, inputs: Mapping[str, InputCourse], _times: Array) -> DerivedCourse:
    courses, rule = [inputs[one] for one in value.channels], COMBINING[value.rule]
    if len(courses) < rule.fewest:
        raise NotApplicable(f"{value.tag}: {rule.says} needs {rule.fewest} sensors, found {len(courses)}.")
    if value.rule == "one chosen" and value.chosen not in value.channels:
        raise NotApplicable(f"{value.tag}: say which of its sensors is the chosen one.")
    wanted = measured_in(value.unit or courses[0].unit)
    gains = [gain_between(wanted, measured_in(one.unit), "combined") for one in courses]
    values, expanded = (
        np.stack([gain * getattr(one, name) for gain, one in zip(gains, courses, strict=True)])
        for name in ("values", "expanded")
    )
    chosen = value.channels.index(value.chosen) if value.chosen in value.channels else 0
    found, doubt = rule.act(values, expanded, chosen)
    dead = [one.tag for one in courses if len(one.values) and not np.isfinite(one.values[-1])]
    told = f"{', '.join(dead)} gives no value: {rule.when_one_dies}." if dead else _unknown(courses)
    return DerivedCourse(found, doubt, told)


def _of_total(value: TotalValue, inputs: Mapping[str, InputCourse], times_s: Array) -> DerivedCourse:
    """By the trapezium rule; a gap adds nothing and is told. Its U is that of the rate, taken as one error."""
    course = inputs[value.channel]
    gain = total_gain(value, course.unit)
    there = np.isfinite(course.values)
    steps = np.diff(times_s, prepend=times_s[:1])
    rate = np.where(there, course.values, 0.0)
    both = there & np.concatenate([[False], there[:-1]]) if len(there) else there
    before = np.concatenate([rate[:1], rate[:-1]])
    total = np.cumsum(np.where(both, step_of_total(gain, before, rate, steps), 0.0))
    doubt = abs(gain) * np.cumsum(np.where(both, np.nan_to_num(course.expanded) * steps, 0.0))
    gaps = int((~there).sum())
    told = f"{gaps} of {len(there)} moments have no value: they add nothing." if gaps else _unknown([course])
    known = bool(np.isfinite(course.expanded).any())
    return DerivedCourse(np.where(there, total, np.nan), doubt if known else np.full(len(total), np.nan), told)


def step_of_total(gain: float, before: Array, rate: Array, step_s: Array) -> Array:
    """What steps (n,) of time in s add to a total, (n,) in its unit, from the rate before to that after each."""
    return np.asarray(gain * (before + rate) / 2 * step_s)


def total_gain(value: TotalValue, unit: str) -> float:
    """What a second of one of the rate's unit adds, in the total's unit. Raises: UnitMismatch."""
    second = measured_in("s")
    made = product_of(measured_in(unit), second)
    return _gain_to(value, made)


_IDS: dict[str, Callable[[Any], tuple[str, ...]]] = {
    "formula": lambda value: ids_in(value.formula),
    "combined": lambda value: value.channels,
    "total": lambda value: (value.channel,),
}
_ACTS: dict[str, Callable[[Any, Mapping[str, InputCourse], Array], DerivedCourse]] = {
    "formula": _of_formula,
    "combined": _of_combined,
    "total": _of_total,
}
