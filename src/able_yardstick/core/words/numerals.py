"""Numbers as people read them: true minus sign, thin spaces in thousands, no more digits than are known.

And numbers as people type them: decimal comma, thin space and true minus are taken.
"""

import math
import re
from typing import Literal

from .errors import BadTable

MINUS = "−"
THIN_SPACE = "\u2009"
_BLANK_THOUSANDS = re.compile(r"(?<=\d)[\u2009\u202f\u00a0 '’](?=\d{3}(?!\d))")
_EXPONENT_FROM = 1e7
_LONGEST = 100  # characters of a number: the longest double has 24
_PLAIN = re.compile(r"-?\d{1,15}(\.\d{1,17})?", re.ASCII)
_NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,3})?")


def fixed(value: float, decimals: int) -> str:
    """`value` with that many decimals; a zero never carries a sign."""
    if not math.isfinite(value):
        return "—"
    text = f"{abs(value):.{max(decimals, 0)}f}"
    whole, dot, part = text.partition(".")
    if len(whole) > 3:
        whole = f"{int(whole):,}".replace(",", THIN_SPACE)
    negative = value < 0 and any(digit in "123456789" for digit in text)
    return (MINUS if negative else "") + whole + dot + part


def signed(value: float, decimals: int) -> str:
    """As `fixed`, with a plus sign where it is due: for errors and shifts."""
    text = fixed(value, decimals)
    return "+" + text if value > 0 and any(digit in "123456789" for digit in text) else text


def significant(value: float, digits: int = 6) -> str:
    """`value` to so many significant digits, for coefficients; no thousands spaces, true minus."""
    text = f"{value:.{digits}g}"
    if "e+" in text and abs(value) < _EXPONENT_FROM:
        text = f"{float(text):.0f}"
    return text.replace("e-0", "e-").replace("e+0", "e+").replace("-", MINUS)


def counted(count: int, noun: str) -> str:
    """So many of a thing: 1 sample, 2 samples."""
    return f"{count} {noun}" if count == 1 else f"{count} {noun}s"


def decimals_for(resolution: float) -> int:
    """How many decimals show a step of this size without inventing digits: 0.02 gives 2, 5 gives 0."""
    if not math.isfinite(resolution) or resolution <= 0:
        return 3
    return min(max(math.ceil(-math.log10(resolution) - 1e-9), 0), 9)


def plain_decimals(value: float) -> int:
    """How many decimals a number has when written to twelve digits without idle noughts: 3.50 has 1."""
    mantissa, _, exponent = f"{value:.12g}".partition("e")
    return max(len(mantissa.partition(".")[2]) - int(exponent or 0), 0)


def last_digit(text: str) -> float:
    """What one step of the last digit of a typed number is: 0.01 of 2.50, 1 of 250; the number must be one."""
    mantissa, _, exponent = _plain_digits(text.strip(), "either").lower().partition("e")
    return float(10.0 ** (int(exponent or 0) - len(mantissa.partition(".")[2])))


def parse_number(text: str, decimal: Literal[".", ",", "either"] = "either") -> float:
    """The number in `text`, as typed by a person: 1 250,5 or 1'250.5 or −3 or 2.5e-3.

    `decimal` says which mark parts the whole from the rest, where that is known; the other one then only groups
    thousands.

    Raises: BadTable if it is no finite number.
    """
    if decimal != "," and _PLAIN.fullmatch(text):  # nearly all of them, in long tables
        return float(text)
    clean = _plain_digits(text.strip(), decimal) if len(text) <= _LONGEST else ""
    try:
        value = float(clean) if _NUMBER.fullmatch(clean) else math.nan
    except (ValueError, OverflowError):
        value = math.nan
    if not math.isfinite(value):
        raise BadTable(
            f"Expected a number, found “{shortened(text.strip(), _LONGEST)}”."
            if text.strip()
            else "Expected a number, found nothing."
        )
    return value


def shortened(text: str, most: int = 80) -> str:
    """A text that was found, as far as it helps to know it again."""
    return text if len(text) <= most else f"{text[:most]}… ({len(text)} characters)"


def _plain_digits(text: str, decimal: str) -> str:
    clean = text.replace(MINUS, "-").replace("–", "-")
    clean = _BLANK_THOUSANDS.sub("", clean)
    if decimal == "either":
        decimal = "," if clean.rfind(",") > clean.rfind(".") else "."
    group = "." if decimal == "," else ","
    if group in clean:
        clean = re.sub(rf"(?<=\d)\{group}(?=\d{{3}}(?!\d))", "", clean)
    return clean.replace(decimal, ".")
