"""Resistor values: preferred series, networks of parts, and the divider or shunt for a wanted voltage."""

import math
import re
from typing import Literal, NamedTuple

from ..words.errors import BadTable, OutOfRange
from ..words.numerals import significant

SeriesName = Literal["E12", "E24", "E96"]
# IEC 60063:2015, tables 1 and 2
_E24 = (
    1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2,
    9.1,
)  # fmt: skip
SERIES: dict[SeriesName, tuple[float, ...]] = {
    "E12": _E24[::2],
    "E24": _E24,
    "E96": tuple(round(10 ** (n / 96), 2) for n in range(96)),
}
_PART = re.compile(r"\s*(\d+(?:[.,]\d+)?)\s*(?:([kKMRΩ])(\d*))?\s*(?:Ω|ohm)?\s*")
_TIMES = {"": 1.0, "R": 1.0, "Ω": 1.0, "k": 1e3, "K": 1e3, "M": 1e6}


def parse_network(text: str) -> float:
    """Ohms of parts in series (+) and in parallel (|), brackets allowed: "4k7 + 220 | 1k". | binds tighter.

    Raises: BadTable that says what is wrong and where.
    """
    total, end = _series(text, 0)
    if text[end:].strip():
        raise BadTable(f"Expected + or | between resistors, found “{text[end:].strip()}” at character {end + 1}.")
    if not total > 0:
        raise BadTable("The resistors come to 0 Ω: expected more.")
    return total


def _series(text: str, at: int) -> tuple[float, int]:
    total, at = _parallel(text, at)
    while text[at : at + 1] == "+":
        more, at = _parallel(text, at + 1)
        total += more
    return total, at


def _parallel(text: str, at: int) -> tuple[float, int]:
    total, at = _one(text, at)
    while text[at : at + 1] == "|":
        more, at = _one(text, at + 1 + (text[at + 1 : at + 2] == "|"))
        total = total * more / (total + more) if total + more else 0.0
    return total, at


def _one(text: str, at: int) -> tuple[float, int]:
    start = at + len(text[at:]) - len(text[at:].lstrip())
    if text[start : start + 1] == "(":
        total, end = _series(text, start + 1)
        if text[end : end + 1] != ")":
            raise BadTable(f"The bracket opened at character {start + 1} is not closed.")
        return total, end + 1 + len(text[end + 1 :]) - len(text[end + 1 :].lstrip())
    match = _PART.match(text, at)
    if not match:
        raise BadTable(f"Expected a resistance such as 4k7 or 220, found “{text[start:].strip()}”.")
    whole, times, part = match.groups()
    number = float(f"{whole}.{part}") if part else float(whole.replace(",", "."))
    return number * _TIMES[times or ""], match.end()


class DividerChoice(NamedTuple):
    """Two preferred resistors, the share they leave with their load, and what the pin gets at the top voltage."""

    top_ohm: float
    bottom_ohm: float
    share: float
    pin_v: float
    used: float


def solve_divider(
    top_v: float,
    pin_v: float,
    *,
    impedance_ohm: float = math.inf,
    series: SeriesName = "E24",
    total_ohm: tuple[float, float] = (5e3, 2e5),
) -> DividerChoice:
    """The pair of a series that brings `top_v` nearest to `pin_v` without going over it, the load reckoned in.

    The pair's sum stays within `total_ohm`. Raises: OutOfRange where no divider is needed or none can be found.
    """
    if not 0 < pin_v < top_v:
        raise OutOfRange(
            f"A divider only makes a voltage smaller: {top_v:g} V cannot become {pin_v:g} V. "
            "Give a top voltage above that of the pin.",
            found=top_v,
        )
    values = [round(step * 10.0**decade, 6) for decade in range(1, 6) for step in SERIES[series]]
    best: DividerChoice | None = None
    for bottom in values:
        loaded = bottom if math.isinf(impedance_ohm) else bottom * impedance_ohm / (bottom + impedance_ohm)
        needed = loaded * (top_v / pin_v - 1)
        top = next((value for value in values if value >= needed * (1 - 1e-12)), None)
        if top is None or not total_ohm[0] <= top + bottom <= total_ohm[1]:
            continue
        share = loaded / (top + loaded)
        if best is None or share > best.share + 1e-12:
            best = DividerChoice(top, bottom, share, share * top_v, share * top_v / pin_v)
    if best is None:
        raise OutOfRange(f"No pair of {series} brings {top_v:g} V to {pin_v:g} V. Try a finer series.", found=top_v)
    return best


class ShuntChoice(NamedTuple):
    """The largest preferred shunt that keeps the pin within its top, and what follows from it."""

    resistance_ohm: float
    exact_ohm: float
    pin_low_v: float
    pin_high_v: float
    headroom: float
    watts: float


def solve_shunt(
    low_ma: float, high_ma: float, pin_v: float, *, headroom: float = 0.0, series: SeriesName = "E96"
) -> ShuntChoice:
    """The largest shunt of a series with which (1 + headroom) times the top current stays within the pin's top.

    `headroom` is a share of the top current. Raises: OutOfRange for a loop or pin that makes no sense.
    """
    if not 0 <= low_ma < high_ma or pin_v <= 0 or headroom < 0:
        raise OutOfRange(
            f"Expected a loop that rises, a pin above 0 V and headroom of 0 % or more; found {significant(low_ma)} to "
            f"{significant(high_ma)} mA, {significant(pin_v)} V, {significant(100 * headroom)} %.",
            found=high_ma,
        )
    exact = 1000 * pin_v / (high_ma * (1 + headroom))
    values = [round(step * 10.0**decade, 6) for decade in range(-1, 6) for step in SERIES[series]]
    fitting = [value for value in values if value <= exact * (1 + 1e-12)]
    if not fitting:
        raise OutOfRange(f"No resistor of {series} is as small as {significant(exact)} Ω.", found=exact)
    chosen = max(fitting)
    reach = 1000 * pin_v / chosen / high_ma - 1
    return ShuntChoice(
        chosen, exact, low_ma * chosen / 1000, high_ma * chosen / 1000, reach, (high_ma / 1000) ** 2 * chosen
    )
