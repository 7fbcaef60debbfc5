"""Numbers with their units, as a command is given them."""

import re

QUANTITY = re.compile(r"\s*([+\-−]?(?:\d[\d\s.,'’]*)?\d(?:[eE][+-]?\d+)?)\s*(.*?)\s*")


def measured(text: str, option: str) -> tuple[float, str]:
    """A number with its unit, as a person writes it: 80kPa, 2.5 V, −40 °C."""
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    match = QUANTITY.fullmatch(text)
    if not match:
        raise BadTable(f"Expected a number with its unit for {option}, such as 2.5V, found “{text}”.")
    return parse_number(match[1]), match[2]


def in_unit(text: str, option: str, unit: str) -> float:
    from ..core.units.conversion import convert

    value, written = measured(text, option)
    return float(convert(value, written or unit, unit))
