"""What stands above a column: a name and a unit, however people write the two together."""

import re
from typing import NamedTuple

from ..core.units.conversion import parse_unit
from ..core.words.errors import UnitMismatch

_LONGEST = 200
_IN_BRACKETS = re.compile(r"(?P<name>.*?)\s*[(\[](?P<unit>[^()\[\]]*(?:\([gad]\))?)[)\]]")
_AFTER_COMMA = re.compile(r"(?P<name>.*),\s*(?P<unit>[^,]+)")
_SINGLE = ("V", "Ω", "%")  # other single letters number sensors as often as they are units


class Heading(NamedTuple):
    """What stands above a column."""

    name: str
    unit: str = ""


def split_heading(text: str) -> Heading:
    """Name and unit of a heading.

    "Pressure (kPa)", "Pressure [kPa]", "Pressure, kPa", "p / kPa", "signal mV/V", "Druck / pressure [kPa]", "T_degC".
    """
    bare = text.strip()
    if len(bare) > _LONGEST:
        return Heading(bare)
    for shape in (_IN_BRACKETS, _AFTER_COMMA):
        match = shape.fullmatch(bare)
        if match and match["name"]:
            return Heading(match["name"].strip(), match["unit"].strip())
    for mark in (" ", "_"):
        name, _, last = bare.rpartition(mark)
        if name and last and _is_unit(last):
            return Heading(name.strip(" /"), last)
    name, slash, rest = bare.partition("/")
    if slash and name.strip() and _is_unit(rest.strip()) and not _is_unit(bare):
        return Heading(name.strip(), rest.strip())
    return Heading(bare)


def _is_unit(text: str) -> bool:
    if len(text) == 1 and text not in _SINGLE:
        return False
    if not any(sign.isalpha() or sign in "%°Ω" for sign in text):
        return False
    try:
        parse_unit(text)
    except UnitMismatch:
        return False
    return True
