"""Units as people write them, and how to get from one to another.

A conversion is a gain and an offset wherever the two scales are straight lines of each other; only the three
views of flue-gas oxygen are not. The unit registry is built at the first conversion between two different units,
never at start-up.
"""

import re
from functools import cache
from typing import TYPE_CHECKING, Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..words.errors import UnitMismatch
from ..words.numerals import shortened
from .definitions import GAS_WORDS, LINES, TAKEN_FOR

if TYPE_CHECKING:
    from collections.abc import Iterable

    from .oxygen import Fuel, OxygenView

PressureReference = Literal["gauge", "absolute", "differential"]
Array = NDArray[np.float64]

_OXYGEN_WORDS: "dict[str, OxygenView]" = {
    "%o2": "% O2", "%o₂": "% O2", "o2%": "% O2", "vol%o2": "% O2", "%volo2": "% O2", "lambda": "lambda", "λ": "lambda",
    "afr": "AFR", "air/fuel": "AFR",
}  # fmt: skip
_PERCENTS = {"%", "%rh", "%h", "%level", "percent", "%fs"}
_WORDS = {
    "°c": "degC", "degc": "degC", "c": "degC", "℃": "degC", "°f": "degF", "degf": "degF", "℉": "degF",
    "ω": "ohm", "kω": "kiloohm", "mω": "milliohm", "l/min": "liter/minute", "lpm": "liter/minute",
    "l/h": "liter/hour", "l/s": "liter/second", "gpm": "gallon/minute", "cfm": "foot**3/minute",
    "mmh2o": "mmWC", "mmwc": "mmWC", "cmh2o": "cmWC", "inh2o": "inWC", "inwc": "inWC", "mmhg": "mmHgCol",
    "inhg": "inHgCol", "kgf": "kilogram_force", "lbf": "pound_force", "lb": "pound", "lbs": "pound",
    "t": "tonne", "psi": "psi", "kpa": "kilopascal", "mpa": "megapascal", "pa": "pascal", "hpa": "hectopascal",
    "mbar": "millibar", "bar": "bar", "atm": "standard_atmosphere", "counts": "count", "count": "count",
    "rpm": "revolution/minute", "1/min": "1/minute", "r/min": "revolution/minute", "mv/v": "millivolt/volt",
    "ma": "milliampere",
    "hz": "hertz", "khz": "kilohertz", "v": "volt", "mv": "millivolt", "a": "ampere", "kg/h": "kilogram/hour",
    "l": "liter", "f": "farad", "k": "kelvin",
}  # fmt: skip
_CASE_MATTERS = {
    "MΩ": "megaohm", "mΩ": "milliohm", "C": "degC", "F": "degF", "MPa": "megapascal", "mPa": "millipascal",
    "T": "tonne", "MHz": "megahertz", "MV": "megavolt", "MA": "megaampere", "MW": "megawatt", "mW": "milliwatt",
}  # fmt: skip
_REFERENCE_ENDING = re.compile(r"^(?P<unit>.+?)\s*(?:\((?P<bracket>g|a|d|gauge|abs|absolute|diff|e)\))$", re.IGNORECASE)
_PRESSURE_LETTER = re.compile(r"^(?P<unit>bar|mbar|psi|kpa|mpa|pa|hpa)(?P<letter>[ga])$", re.IGNORECASE)
_REFERENCES: dict[str, PressureReference] = {"g": "gauge", "e": "gauge", "a": "absolute", "d": "differential"}


class Unit(NamedTuple):
    """A unit that was understood: its canonical name, and what a pressure is measured against, if stated.

    `note` says what was made of a word that could mean something else.
    """

    text: str
    canonical: str
    reference: PressureReference | None = None
    oxygen: "OxygenView | None" = None
    note: str = ""


@cache
def parse_unit(text: str) -> Unit:
    """What a unit written by a person means: "kPa", "bar(g)", "°C", "psi", "l/min", "% O2".

    Raises: UnitMismatch if it is unknown.
    """
    written = text.strip()
    bare, reference = _split_reference(written)
    squeezed = bare.lower().replace(" ", "")
    if squeezed in _OXYGEN_WORDS:
        view = _OXYGEN_WORDS[squeezed]
        return Unit(text=written, canonical=view, oxygen=view)
    if squeezed in _PERCENTS:
        return Unit(text=written, canonical="percent")
    gas, _, per = squeezed.partition("/")
    if gas in GAS_WORDS:
        rest = _registry_name(f"1/{per}", written).removeprefix("1 ") if per else ""
        return Unit(text=written, canonical=f"{GAS_WORDS[gas][0]} {rest}".strip(), note=taken_for(written))
    canonical = _CASE_MATTERS.get(bare) or _word(bare, squeezed) or _registry_name(bare, written)
    return Unit(text=written, canonical=canonical, reference=reference, note=taken_for(written))


def _word(bare: str, squeezed: str) -> str | None:
    """A word that many write in any capitals; where a capital is a prefix of its own (mV, MV) the case is kept."""
    found = _WORDS.get(squeezed)
    return None if found and bare[0] == "M" and found.startswith("milli") else found


def taken_for(written: str) -> str:
    """What is made of a unit whose words could mean something else, as a sentence; empty for a plain one."""
    gas = written.strip().lower().partition("/")[0]
    if gas in GAS_WORDS:
        return f"{written.strip()}: {GAS_WORDS[gas][1]}."
    words = re.split(r"[/*·\s]", written.strip())
    return next((TAKEN_FOR[word] for word in words if word in TAKEN_FOR), "")


def _split_reference(written: str) -> tuple[str, PressureReference | None]:
    match = _REFERENCE_ENDING.match(written)
    if match:
        return match["unit"], _REFERENCES[match["bracket"][0].lower()]
    match = _PRESSURE_LETTER.match(written)
    if match:
        return match["unit"], _REFERENCES[match["letter"].lower()]
    return written, None


_LONGEST = 40
_POWER = re.compile(r"(?<=[A-Za-zΩ°])(?:\*\*|\^)?(-?[1-9])(?![0-9])")


def _registry_name(bare: str, written: str) -> str:
    cleaned = bare.replace("³", "3").replace("²", "2").replace("·", "*").replace("µ", "u").replace("μ", "u")
    powered = _POWER.sub(r"**\1", cleaned)
    shape = r"(?:1|[A-Za-z_%‰Ω°][A-Za-z_%‰Ω°]*(?:\*\*-?[1-9])?)(?:\s?[*/ ]\s?[A-Za-z_%‰Ω°]+(?:\*\*-?[1-9])?)*"
    if len(powered) > _LONGEST or not re.fullmatch(shape, powered):
        raise _unknown(written)
    try:
        return str(_registry().parse_units(powered))
    except Exception as error:  # the registry raises half a dozen kinds, its own and builtin
        raise _unknown(written) from error


def _unknown(written: str) -> UnitMismatch:
    found = f"“{shortened(written, _LONGEST)}”" if written else "nothing"
    return UnitMismatch(
        f"Expected a unit such as kPa, bar(g), °C, psi, l/min or % O2, found {found}. Check its spelling.",
        found=written,
    )


@cache
def _registry() -> Any:
    import pint  # a third of a second

    registry = pint.UnitRegistry(None)
    registry.load_definitions(LINES)
    return registry


def are_units_loaded() -> bool:
    """Whether sums with units can be made at once; the first one takes a third of a second longer."""
    return _registry.cache_info().currsize > 0


def affine(
    source: str, target: str, *, barometer_kpa: float | None = None, pressure: PressureReference | None = None
) -> tuple[float, float]:
    """Gain and offset with `target value = gain * source value + offset`.

    Gauge to absolute needs the barometer's reading; `pressure` is what a pressure unit without a word for it means.

    Raises: UnitMismatch if the two measure different things, or are no straight line of each other.
    """
    if source.strip() == target.strip():
        return 1.0, 0.0
    one, two = parse_unit(source), parse_unit(target)
    if one.oxygen or two.oxygen:
        if one.oxygen == two.oxygen:
            return 1.0, 0.0
        raise UnitMismatch(
            f"{source} and {target} are no straight line of each other: only points can be converted, not a curve.",
            found=source,
            expected=target,
        )
    gain, offset = _registry_affine(one, two)
    return gain, offset + _barometer_step(_meant(one, pressure), _meant(two, pressure), barometer_kpa)


def _meant(unit: Unit, pressure: PressureReference | None) -> Unit:
    return unit if unit.reference or pressure is None else unit._replace(reference=pressure)


def _registry_affine(one: Unit, two: Unit) -> tuple[float, float]:
    if one.canonical == two.canonical:
        return 1.0, 0.0
    registry = _registry()
    try:
        offset = registry.Quantity(0.0, one.canonical).to(two.canonical).magnitude
        gain = registry.Quantity(1.0, _step_unit(one)).to(_step_unit(two)).magnitude
    except Exception as error:  # dimension, offset and definition errors are unrelated classes
        raise UnitMismatch(
            f"{one.text} cannot be turned into {two.text}: they measure different things.",
            found=one.text,
            expected=two.text,
        ) from error
    return float(gain), float(offset)


def _step_unit(unit: Unit) -> str:
    """The unit of a difference: a temperature step is no temperature."""
    return {"degC": "delta_degC", "degree_Celsius": "delta_degC", "degF": "delta_degF",
            "degree_Fahrenheit": "delta_degF"}.get(unit.canonical, unit.canonical)  # fmt: skip


def _barometer_step(one: Unit, two: Unit, barometer_kpa: float | None) -> float:
    pair = (one.reference, two.reference)
    if set(pair) == {"absolute", "differential"}:
        raise UnitMismatch(
            f"{one.text} is {one.reference} pressure and {two.text} {two.reference}: no barometer leads from one to "
            "the other. Take a reading of the difference itself.",
            found=one.text,
            expected=two.text,
        )
    if pair not in (("gauge", "absolute"), ("absolute", "gauge")):
        return 0.0
    if barometer_kpa is None:
        raise UnitMismatch(
            f"{one.text} to {two.text} needs the barometer's reading: gauge and absolute pressure differ by it.",
            found=one.text,
            expected=two.text,
        )
    step, _ = _registry_affine(Unit(text="kPa", canonical="kilopascal"), two)
    return step * barometer_kpa * (1 if one.reference == "gauge" else -1)


def convert(
    values: "Iterable[float] | float | Array",
    source: str,
    target: str,
    *,
    barometer_kpa: float | None = None,
    fuel: "Fuel | None" = None,
    pressure: PressureReference | None = None,
) -> Array:
    """`values` in another unit, shape kept; `pressure` is what a pressure unit without a word for it means.

    Raises: UnitMismatch, or OutOfRange where the views of oxygen diverge.
    """
    numbers = np.asarray(values, dtype=float)
    if source.strip() == target.strip():
        return numbers
    one, two = parse_unit(source), parse_unit(target)
    if one.oxygen and two.oxygen:
        from .oxygen import Fuel, convert_oxygen  # records, which a plain conversion does without

        return convert_oxygen(numbers, one.oxygen, two.oxygen, fuel or Fuel())
    gain, offset = affine(source, target, barometer_kpa=barometer_kpa, pressure=pressure)
    return np.asarray(gain * numbers + offset)


def affine_gain(source: str, target: str) -> float:
    """How many of `target` one step of `source` is; gauge and absolute have the same step."""
    if source.strip() == target.strip():
        return 1.0
    one, two = parse_unit(source), parse_unit(target)
    if one.oxygen or two.oxygen:
        return affine(source, target)[0]
    return _registry_affine(one, two)[0]


def dimension(text: str) -> str:
    """What a unit measures, as a comparable word; the oxygen views have one of their own."""
    unit = parse_unit(text)
    if unit.oxygen:
        return "oxygen"
    return str(_registry().get_dimensionality(unit.canonical))


def registry_unit(unit: Unit) -> Any:
    """The registry's own unit of a step in a unit; of the views of oxygen a percent, or a plain ratio."""
    name = {"% O2": "percent", "lambda": "dimensionless", "AFR": "dimensionless"}.get(unit.canonical, _step_unit(unit))
    return _registry().Unit(name)


def quantity_of(value: float, written: str) -> Any:
    """A value with its unit, for sums that carry units; a plain number where none is written.

    Raises: UnitMismatch for an unknown unit.
    """
    unit = parse_unit(written) if written.strip() else None
    if unit is not None and unit.oxygen:
        raise UnitMismatch(
            f"{written} is a view of flue-gas oxygen, which no sum can be made with. Give a plain number instead.",
            found=written,
        )
    return _registry().Quantity(value, unit.canonical if unit else "dimensionless")
