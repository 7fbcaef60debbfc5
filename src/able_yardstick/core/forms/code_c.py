"""C99 text of a calibration. To be compiled without contracting a product and a sum into one operation."""

from .function import CodeFunction, harmless, number, numbers
from .integer import FixedPoint, Ratio
from .single import SinglePolynomial
from .straight import SlopeOffset
from .table import Knots


def written(made: CodeFunction) -> str:
    """The whole text."""
    result = f"int{_bits(made)}_t" if made.is_integer else "float"
    lines = [
        "/*",
        *(f" * {line}" for line in comment(made)),
        " */",
        "#include <stdbool.h>",
        "#include <stdint.h>",
        "",
        f"{result} {made.name}(uint32_t count, bool *fault)",
        "{",
        f"    *fault = {_range_check(made)};",
        *(f"    {line}" if line else "" for line in _body(made)),
        "}",
    ]
    return "\n".join(lines) + "\n"


def _range_check(made: CodeFunction) -> str:
    below, above = made.tests
    parts = [] if below is None else [f"count < {below}u"]
    parts += [] if above is None else [f"count > {above}u"]
    return " || ".join(f"({part})" for part in parts) if len(parts) > 1 else "".join(parts) or "false"


def comment(made: CodeFunction) -> list[str]:
    """What the function does, in lines that either language may have in a comment."""
    what = {
        "slope": "a straight line of the signal",
        "knots": "a table of knots joined by straight lines",
        "poly": "a polynomial of the signal by Horner's rule",
        "ratio": "a ratio of integers with an offset",
        "fixed": "slope and offset in fixed point",
    }[made.of.kind]
    unit = harmless(made.unit)
    gives = f"value in {unit}"
    if isinstance(made.of, Ratio):
        gives = f"value in steps of {made.of.value_step:g} {unit}"
    elif isinstance(made.of, FixedPoint):
        gives = f"value in {made.of.name}, in steps of 1/{2**made.of.fraction_bits} {unit}"
    return [
        *([harmless(made.about)] if made.about else []),
        f"From the converter's count to the {gives}, by {what}.",
        "fault: not tested."
        if made.tests == (None, None)
        else f"fault: the count lies outside {made.first_good} to {made.last_good}; the value is then not to be used.",
    ]


def _bits(made: CodeFunction) -> int:
    return made.of.int_bits if isinstance(made.of, Ratio | FixedPoint) else 32


def _body(made: CodeFunction) -> list[str]:
    of = made.of
    if isinstance(of, Ratio):
        return [*_held(made), *_ratio(of)]
    if isinstance(of, FixedPoint):
        kind = f"int{of.int_bits}_t"
        return [*_held(made), f"return ({kind})({of.slope} * ({kind})count + ({of.offset}));"]
    unit = f"  /* {harmless(made.signal_unit)} */" if made.signal_unit else ""
    signal = f"const float signal = {number(made.lower_end)}f + (float)count * {number(made.per_count)}f;{unit}"
    if isinstance(of, SlopeOffset):
        return [signal, *_line(of)]
    if isinstance(of, SinglePolynomial):
        return [signal, *_polynomial(of)]
    return [*_table_head(of), signal, *_table(of)]


def _held(made: CodeFunction) -> list[str]:
    full = made.full_count
    return [f"if (count > {full}u) {{", f"    count = {full}u;  /* so that nothing overflows */", "}"]


def _ratio(of: Ratio) -> list[str]:
    kind = f"int{of.int_bits}_t"
    if of.order == "divide first":
        return [
            f"const {kind} part = ({kind})count;",
            *_division("part", of, 1),
            f"return ({kind})({of.multiplier} * quotient + ({of.constant}));",
        ]
    return [
        f"const {kind} product = ({kind})({of.multiplier} * ({kind})count);",
        *_division("product", of, of.multiplier),
        f"return ({kind})(quotient + ({of.constant}));",
    ]


def _division(name: str, of: Ratio, sign: int) -> list[str]:
    """Division with the rounding wanted; C truncates, and the sign of what is divided is known."""
    kind, by = f"int{of.int_bits}_t", of.divisor
    if of.rounding == "nearest":
        half = f"{'-' if sign < 0 else '+'} {by // 2}"
        return [f"const {kind} quotient = ({kind})(({name} {half}) / {by});  /* to nearest */"]
    if of.rounding == "floor" and sign < 0:
        return [
            f"{kind} quotient = ({kind})({name} / {by});",
            f"if (quotient * {by} != {name}) {{",
            "    quotient -= 1;  /* towards below */",
            "}",
        ]
    return [f"const {kind} quotient = ({kind})({name} / {by});"]


def _line(of: SlopeOffset) -> list[str]:
    lines = [f"float value = {number(of.slope)}f * signal + {number(of.offset)}f;".replace("+ -", "- ")]
    for limit, sign in ((of.lower_limit, "<"), (of.upper_limit, ">")):
        if limit is not None:
            lines += [f"if (value {sign} {number(limit)}f) {{", f"    value = {number(limit)}f;", "}"]
    return [*lines, "return value;"]


def _polynomial(of: SinglePolynomial) -> list[str]:
    *lower, first = (number(coefficient) for coefficient in of.coefficients)
    lines = [f"float value = {first}f;"]
    lines += [f"value = value * signal + {text}f;".replace("+ -", "- ") for text in reversed(lower)]
    return [*lines, "return value;"]


def _table_head(of: Knots) -> list[str]:
    lines = []
    for name, row in (("signal_at", of.signals), ("value_at", of.values)):
        lines += [f"static const float {name}[{len(row)}] = {{"]
        lines += [f"    {part}," for part in numbers(row, "f")]
        lines += ["};"]
    return lines


def _table(of: Knots) -> list[str]:
    last = len(of.signals) - 1
    held = [
        "if (signal <= signal_at[0]) {",
        "    return value_at[0];",
        "}",
        f"if (signal >= signal_at[{last}]) {{",
        f"    return value_at[{last}];",
        "}",
    ]
    return [
        *(held if of.clamp else []),
        "int i = 0;",
        f"while (i < {last - 1} && signal >= signal_at[i + 1]) {{",
        "    i += 1;",
        "}",
        "const float slope = (value_at[i + 1] - value_at[i]) / (signal_at[i + 1] - signal_at[i]);",
        "return value_at[i] + (signal - signal_at[i]) * slope;",
    ]
