"""A controller's terminals as a table of words, one row a terminal: typed, pasted from a manual, or read back."""

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from pydantic import ValidationError

from ..document.controller import DriverKind, InputKind, Terminal
from ..path.converter import Converter
from ..path.driver import Driver
from ..words.errors import BadTable
from ..words.numerals import parse_number, significant
from ..words.record import first_complaint

Texts = Mapping[str, str]


class PinColumn(NamedTuple):
    """A column: its key, its heading, an example, and the words by which a manual's heading is known."""

    key: str
    title: str
    hint: str
    known_by: tuple[str, ...]


COLUMNS = (
    PinColumn("strip", "Terminal", "X4:2", ("terminal", "strip", "screw", "klemme")),
    PinColumn("connector", "Connector", "J2-2", ("connector", "plug", "pin", "stecker")),
    PinColumn("channel", "Channel", "AI 2", ("channel", "input", "kanal", "name")),
    PinColumn("register_address", "Register", "30002", ("register", "address")),
    PinColumn("role", "Is", "input, output, supply, return, shield", ("is", "role", "type")),
    PinColumn(
        "kinds",
        "Takes or gives",
        "0 to 5 V; 4 to 20 mA, 250 Ω; contact, 24 V",
        ("takes", "range", "signal", "function"),
    ),
    PinColumn("bits", "Bits", "12", ("bits", "resolution")),
    PinColumn("safe", "Survives, V", "-0.5 to 6", ("survives", "limit", "absolute", "max")),
    PinColumn("return_terminal", "Return", "X4:5", ("return", "common", "ground", "gnd")),
    PinColumn("supply_v", "Supplies, V", "24", ("supplies", "supply", "output")),
    PinColumn("supply_limit_ma", "at most, mA", "60", ("ma", "current")),
    PinColumn("use", "May", "control, or watched only", ("may", "use")),
    PinColumn("factory_meaning", "Factory calls it", "oil pressure", ("factory", "meaning", "default")),
)
_UNITS = {"v": "V", "mv": "mV", "ma": "mA", "ω": "Ω", "ohm": "Ω", "ohms": "Ω", "hz": "Hz", "khz": "Hz", "kω": "Ω",
          "kohm": "Ω", "counts": "counts", "count": "counts"}  # fmt: skip
_THOUSANDS = ("khz", "kω", "kohm")
_RANGE = re.compile(
    r"(?P<low>[-−±]?\d+(?:[.,]\d+)?)\s*(?:(?:to|\.\.+|…|–|-|bis)\s*(?P<high>[-−]?\d+(?:[.,]\d+)?))?\s*"
    r"(?P<unit>[A-Za-zΩω]+)"
)
_ROLES = {"input": "input", "in": "input", "supply": "supply", "out": "supply", "return": "return", "ground": "return",
          "gnd": "return", "common": "return", "shield": "shield", "screen": "shield", "output": "output",
          "ao": "output", "": "input"}  # fmt: skip


def texts_of(terminal: Terminal) -> dict[str, str]:
    """A terminal as the words of its row."""
    first = terminal.kinds[0].converter if terminal.kinds else None
    kinds = [*map(kind_words, terminal.kinds), *map(output_words, terminal.outputs)]
    safe = "" if first is None or first.safe_high_v is None else f"{first.safe_low_v or 0:g} to {first.safe_high_v:g}"
    return {
        "strip": terminal.strip or ("" if terminal.connector or terminal.channel else terminal.id),
        "connector": terminal.connector, "channel": terminal.channel, "register_address": terminal.register_address,
        "role": terminal.role, "kinds": "; ".join(kinds),
        "bits": "" if first is None else str(first.bits), "safe": safe, "return_terminal": terminal.return_terminal,
        "supply_v": "" if terminal.supply_v is None else f"{terminal.supply_v:g}",
        "supply_limit_ma": "" if terminal.supply_limit_ma is None else f"{terminal.supply_limit_ma:g}",
        "use": terminal.use if terminal.role == "input" else "", "factory_meaning": terminal.factory_meaning,
    }  # fmt: skip


def output_words(kind: DriverKind) -> str:
    """A kind of output as it is typed: its signal, and the counts of its two ends."""
    driver = kind.driver
    return f"{driver.low:g} to {driver.high:g} {driver.unit}, counts {driver.zero_count} to {driver.full_count}"


def kind_words(kind: InputKind) -> str:
    """A kind of input as it is typed: a contact by its voltage, a current by the shunt behind it."""
    part = kind.converter
    if kind.contact:
        return f"contact, {part.high:g} V"
    if kind.burden_ohm is not None:
        milliamps = [1000 * end / kind.burden_ohm for end in (part.low, part.high)]
        return f"{significant(milliamps[0], 6)} to {significant(milliamps[1], 6)} mA, {kind.burden_ohm:g} Ω"
    return f"{part.low:g} to {part.high:g} {part.unit}"


def terminal_of(texts: Texts, before: Terminal | None = None) -> Terminal:
    """The terminal that a row of words describes. What the words do not say stays as it was.

    Raises: BadTable that says which column cannot be.
    """
    said = {key: text.strip() for key, text in texts.items()}
    name = said.get("strip") or said.get("connector") or said.get("channel")
    if not name:
        raise BadTable("a terminal needs a name: its mark on the strip, its pin or its channel.")
    role = _ROLES.get(said.get("role", "").casefold())
    if role is None:
        raise BadTable(f"“{said['role']}” is none of input, output, supply, return and shield.")
    kinds = _kinds(said, before) if role == "input" else ()
    outputs = _outputs(said, before) if role == "output" else ()
    fields: dict[str, Any] = {
        "id": before.id if before is not None else name, "role": role, "kinds": kinds, "outputs": outputs,
        "use": "watched only" if said.get("use", "").casefold().startswith("watch") else "control",
        "supply_v": _number(said, "supply_v"), "supply_limit_ma": _number(said, "supply_limit_ma"),
    }  # fmt: skip
    plain = ("strip", "connector", "channel", "register_address", "return_terminal", "factory_meaning")
    fields |= {key: said.get(key, "") for key in plain}
    try:
        return before.with_(**fields) if before is not None else Terminal(**fields)
    except ValidationError as error:
        raise BadTable(f"{first_complaint(error)}.") from error


def _number(said: Texts, key: str) -> float | None:
    text = said.get(key, "")
    return parse_number(text) if text else None


def _kinds(said: Texts, before: Terminal | None) -> tuple[InputKind, ...]:
    """The kinds of input in words, parted by semicolons; one that stood there keeps all that words do not say."""
    known = {kind_words(kind): kind for kind in before.kinds} if before is not None else {}
    stood = texts_of(before) if before is not None else {}
    bits, safe = said.get("bits", ""), said.get("safe", "")
    is_new = (bits, safe) != (stood.get("bits"), stood.get("safe"))
    found = []
    for words in (part.strip() for part in said.get("kinds", "").split(";")):
        if words:
            kind = known.get(words)
            if kind is None or is_new:
                kind = kind or kind_from(words)
                kind = kind.with_(converter=_with_bits(kind.converter, bits, safe))
            found.append(kind)
    return tuple(found)


def _outputs(said: Texts, before: Terminal | None) -> tuple[DriverKind, ...]:
    """The kinds of output in words, parted by semicolons; one that stood there keeps all that words do not say."""
    known = {output_words(kind): kind for kind in before.outputs} if before is not None else {}
    parts = [part.strip() for part in said.get("kinds", "").split(";") if part.strip()]
    bits = said.get("bits", "")
    return tuple(known.get(words) or output_from(words, int(parse_number(bits)) if bits else 12) for words in parts)


def output_from(words: str, bits: int) -> DriverKind:
    """One kind of output in words: "0 to 20 mA" by its bits, or "0 to 20 mA, counts 0 to 4000".

    Raises: BadTable that says what was expected.
    """
    signal, _, counts = words.partition(",")
    found = _RANGE.fullmatch(signal.strip())
    if found is None:
        raise BadTable(f"“{words}” is no kind of output. Expected such as 0 to 20 mA; 0 to 10 V, counts 0 to 4000.")
    low, high, unit = _span(found)
    if unit not in ("mA", "V"):
        raise BadTable(f"“{words}”: an output gives mA or V, not {unit}.")
    ends = re.findall(r"[-−]?\d+", counts)
    if counts.strip() and len(ends) != 2:
        raise BadTable(f"“{words}”: expected the counts of its two ends, such as counts 0 to 4000.")
    zero, full = (int(parse_number(end)) for end in ends) if ends else (0, 2 ** min(max(bits, 1), 32) - 1)
    driver = Driver(unit=unit, low=low, high=high, zero_count=zero, full_count=full, least_count=min(zero, 0))
    return DriverKind(name=signal.strip(), driver=driver)


def _with_bits(converter: Converter, bits: str, safe: str) -> Converter:
    fields: dict[str, Any] = {}
    if bits:
        count = parse_number(bits)
        if count != round(count) or not 1 <= count <= 32:
            raise BadTable(f"“{bits}” is no number of bits from 1 to 32.")
        if int(count) != converter.bits:
            fields |= {"bits": int(count), "full_count": 2 ** int(count) - 1}
    if safe:
        ends = re.split(r"\s*(?:to|\.\.+|…|–)\s*", safe)
        if len(ends) != 2:
            raise BadTable(f"“{safe}”: expected what the pin survives as two voltages, such as -0.5 to 6.")
        fields |= {"safe_low_v": parse_number(ends[0]), "safe_high_v": parse_number(ends[1])}
    return converter.with_(**fields)


def kind_from(words: str) -> InputKind:
    """One kind of input in words: "0 to 5 V", "±10 V", "4 to 20 mA, 250 Ω", "contact, 24 V", "0 to 1 kHz".

    Raises: BadTable that says what was expected.
    """
    is_contact = words.casefold().startswith(("contact", "switch", "digital"))
    parts = [part.strip() for part in re.split(r",(?!\d)|\(|\)", words) if part.strip()]
    ranges = [found for part in parts if (found := _RANGE.fullmatch(part))]
    if not ranges:
        raise BadTable(
            f"“{words}” is no kind of input. Expected such as 0 to 5 V; ±10 V; 4 to 20 mA, 250 Ω; 0 to 400 Ω; "
            "0 to 1 kHz; contact, 24 V."
        )
    low, high, unit = _span(ranges[0])
    burden = next((_span(one)[1] for one in ranges[1:] if _span(one)[2] == "Ω"), None)
    if unit == "mA":
        if burden is None:
            raise BadTable(f"“{words}”: say the shunt behind the terminal too, such as 4 to 20 mA, 250 Ω.")
        return InputKind(name=words, converter=Converter(low=0.0, high=high * burden / 1000), burden_ohm=burden)
    if unit == "counts":  # a card that converts and scales by itself
        bits = max(int(high).bit_length(), 1)
        converter = Converter(unit="counts", low=low, high=high, bits=bits, full_count=int(high))
        return InputKind(name=words, converter=converter)
    converter = Converter(unit=unit, low=low, high=high, reference_v=high if unit == "V" and high > 0 else 5.0)
    return InputKind(name=words, converter=converter, contact=is_contact)


def _span(found: "re.Match[str]") -> tuple[float, float, str]:
    """Lower and upper end, and the unit; one number alone is the upper end."""
    written = found["unit"].casefold()
    unit = _UNITS.get(written)
    if unit is None:
        raise BadTable(f"“{found[0]}”: {found['unit']} is no signal. Expected V, mV, mA, Ω, Hz, kHz or counts.")
    times = 1000.0 if written in _THOUSANDS else 1.0
    first = found["low"]
    if first.startswith("±"):
        high = times * parse_number(first[1:])
        return -high, high, unit
    if found["high"] is None:
        return 0.0, times * parse_number(first), unit
    return times * parse_number(first), times * parse_number(found["high"]), unit


def columns_of(headings: Sequence[str]) -> dict[int, str]:
    """Which column of a pasted pin table is which, by its heading; one that is not known is left out."""
    found: dict[int, str] = {}
    for at, heading in enumerate(headings):
        words = set(re.findall(r"\w+", heading.casefold()))
        fitting = [one.key for one in COLUMNS if words & {*one.known_by, one.title.casefold()}]
        key = next((key for key in fitting if key not in found.values()), None)
        if key is not None:
            found[at] = key
    return found


def rows_from(headings: Sequence[str], rows: Iterable[Sequence[str]]) -> list[dict[str, str]]:
    """The rows of a pasted pin table, by our columns. Raises: BadTable where no column is known."""
    columns = columns_of(headings)
    if not columns:
        titles = ", ".join(one.title for one in COLUMNS)
        raise BadTable(f"None of the headings is known. Expected some of {titles}, found {', '.join(headings)}.")
    return [{key: row[at] if at < len(row) else "" for at, key in columns.items()} for row in rows if any(row)]
