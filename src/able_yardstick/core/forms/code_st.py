"""IEC 61131-3 Structured Text of a calibration (third edition: a function may have further outputs)."""

from . import function
from .code_c import comment
from .function import CodeFunction, harmless
from .integer import FixedPoint, Ratio
from .single import SinglePolynomial
from .straight import SlopeOffset
from .table import Knots


def number(value: float) -> str:
    """A REAL literal: unlike C's it has a point before its exponent too (IEC 61131-3:2013, 6.3.2)."""
    return _with_point(function.number(value))


def numbers(values: tuple[float, ...]) -> list[str]:
    """REAL literals in rows of six."""
    return [", ".join(map(_with_point, row.split(", "))) for row in function.numbers(values)]


def _with_point(text: str) -> str:
    mantissa, e, exponent = text.partition("e")
    return text if not e or "." in mantissa else f"{mantissa}.0e{exponent}"


def written(made: CodeFunction) -> str:
    """The whole text."""
    name = made.name.upper()
    constants, variables, body = _parts(made, name)
    result = _integer(made.of.int_bits) if isinstance(made.of, Ratio | FixedPoint) else "REAL"
    lines = [
        "(*",
        *(f"   {line}" for line in comment(made)),
        "*)",
        f"FUNCTION {name} : {result}",
        *_section("VAR_INPUT", ["count : UDINT;"]),
        *_section("VAR_OUTPUT", ["fault : BOOL;"]),
        *_section("VAR CONSTANT", constants),
        *_section("VAR", variables),
        f"fault := {_range_check(made)};",
        *body,
        "END_FUNCTION",
    ]
    return "\n".join(lines) + "\n"


def _range_check(made: CodeFunction) -> str:
    below, above = made.tests
    parts = [] if below is None else [f"count < {below}"]
    parts += [] if above is None else [f"count > {above}"]
    return " OR ".join(f"({part})" for part in parts) if len(parts) > 1 else "".join(parts) or "FALSE"


def _section(head: str, lines: list[str]) -> list[str]:
    return [head, *(f"    {line}" for line in lines), "END_VAR"] if lines else []


def _integer(bits: int) -> str:
    return "INT" if bits == 16 else "DINT"


def _parts(made: CodeFunction, name: str) -> tuple[list[str], list[str], list[str]]:
    """Constants, variables and statements."""
    of = made.of
    if isinstance(of, FixedPoint):
        return [], [], [f"{name} := {of.slope} * {_whole(of, made)} + ({of.offset});"]
    if isinstance(of, Ratio):
        return _ratio(of, _whole(of, made), name)
    signal = f"signal := {number(made.lower_end)} + UDINT_TO_REAL(count) * {number(made.per_count)};"
    if made.signal_unit:
        signal += f"  (* {harmless(made.signal_unit)} *)"
    if isinstance(of, SlopeOffset):
        return [], ["signal : REAL;"], [signal, *_line(of, name)]
    if isinstance(of, SinglePolynomial):
        return [], ["signal : REAL;"], [signal, *_polynomial(of, name)]
    return _table_head(of), ["signal : REAL;", "slope : REAL;", "i : INT;"], [signal, *_table(of, name)]


def _whole(of: Ratio | FixedPoint, made: CodeFunction) -> str:
    """The count as a signed integer that never overflows."""
    return f"UDINT_TO_{_integer(of.int_bits)}(MIN(count, {made.full_count}))"


def _ratio(of: Ratio, whole: str, name: str) -> tuple[list[str], list[str], list[str]]:
    kind = _integer(of.int_bits)
    first = of.order == "divide first"
    start = f"product := {whole};" if first else f"product := {of.multiplier} * {whole};"
    sign = 1 if first else of.multiplier
    end = f"{of.multiplier} * quotient" if first else "quotient"
    body = [start, *_division(of, sign), f"{name} := {end} + ({of.constant});"]
    return [], [f"product : {kind};", f"quotient : {kind};"], body


def _division(of: Ratio, sign: int) -> list[str]:
    """Division with the rounding wanted; the language truncates, and the sign of what is divided is known."""
    by = of.divisor
    if of.rounding == "nearest":
        return [f"quotient := (product {'-' if sign < 0 else '+'} {by // 2}) / {by};  (* to nearest *)"]
    plain = [f"quotient := product / {by};"]
    if of.rounding == "floor" and sign < 0:
        plain += [
            f"IF quotient * {by} <> product THEN",
            "    quotient := quotient - 1;  (* towards below *)",
            "END_IF;",
        ]
    return plain


def _line(of: SlopeOffset, name: str) -> list[str]:
    lines = [f"{name} := {number(of.slope)} * signal + {number(of.offset)};".replace("+ -", "- ")]
    for limit, sign in ((of.lower_limit, "<"), (of.upper_limit, ">")):
        if limit is not None:
            lines += [f"IF {name} {sign} {number(limit)} THEN", f"    {name} := {number(limit)};", "END_IF;"]
    return lines


def _polynomial(of: SinglePolynomial, name: str) -> list[str]:
    *lower, first = (number(coefficient) for coefficient in of.coefficients)
    lines = [f"{name} := {first};"]
    return lines + [f"{name} := {name} * signal + {text};".replace("+ -", "- ") for text in reversed(lower)]


def _table_head(of: Knots) -> list[str]:
    lines = []
    for name, row in (("SIGNAL_AT", of.signals), ("VALUE_AT", of.values)):
        parts = numbers(row)
        lines.append(f"{name} : ARRAY[0..{len(row) - 1}] OF REAL := [")
        lines += [f"    {part}{',' if n < len(parts) - 1 else ''}" for n, part in enumerate(parts)]
        lines.append("];")
    return lines


def _table(of: Knots, name: str) -> list[str]:
    last = len(of.signals) - 1
    inside = [
        "i := 0;",
        f"WHILE (i < {last - 1}) AND (signal >= SIGNAL_AT[i + 1]) DO",
        "    i := i + 1;",
        "END_WHILE;",
        "slope := (VALUE_AT[i + 1] - VALUE_AT[i]) / (SIGNAL_AT[i + 1] - SIGNAL_AT[i]);",
        f"{name} := VALUE_AT[i] + (signal - SIGNAL_AT[i]) * slope;",
    ]
    if not of.clamp:
        return inside
    return [
        "IF signal <= SIGNAL_AT[0] THEN",
        f"    {name} := VALUE_AT[0];",
        f"ELSIF signal >= SIGNAL_AT[{last}] THEN",
        f"    {name} := VALUE_AT[{last}];",
        "ELSE",
        *(f"    {line}" for line in inside),
        "END_IF;",
    ]
