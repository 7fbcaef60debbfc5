"""Packing without a window: every form, its exact cost, and what a controller would show for given counts."""

from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, Literal

import typer

from ..core.forms.spec import FORM_NAMES
from .output import AsJson, print_json
from .points import checked, curve_from, number_column, signal_unit_of

if TYPE_CHECKING:
    from ..core.curves import AnyCurve
    from ..core.forms.any_form import AnyForm
    from ..core.pack.order import Made
    from ..core.path.converter import Converter

Form = StrEnum("Form", {name: name for name in FORM_NAMES})  # type: ignore[misc]  # made from the one list there is


_SLOPE = Form("slope")


class Round(StrEnum):
    """How integers are divided."""

    nearest = "nearest"
    truncate = "truncate"
    floor = "floor"


class IntBits(StrEnum):
    """Widths of integers."""

    sixteen = "16"
    thirty_two = "32"


class Spacing(StrEnum):
    """Where knots stand."""

    best = "best"
    even = "even"


class CodeOf(StrEnum):
    """What a function is made of."""

    slope = "slope"
    knots = "knots"
    poly = "poly"
    ratio = "ratio"
    fixed = "fixed"


class NumberType(StrEnum):
    """Kinds of registers."""

    s16 = "s16"
    u16 = "u16"
    s32 = "s32"
    u32 = "u32"
    f32 = "f32"


def pack(
    curve: Annotated[Path, typer.Argument(help="Points or table as CSV, or the JSON that fit --json printed.")],
    form: Annotated[Form, typer.Option(help="The controller's numeric form.")] = _SLOPE,
    knots: Annotated[int, typer.Option(help="Rows of the breakpoint table.", min=2, max=4096)] = 12,
    max_error: Annotated[float | None, typer.Option(help="The fewest knots within this error instead.")] = None,
    spacing: Annotated[Spacing, typer.Option(help="Where the knots stand.")] = Spacing.best,
    signal_low: Annotated[float | None, typer.Option(help="Lower end of the signal; else the curve's.")] = None,
    signal_high: Annotated[float | None, typer.Option(help="Upper end of the signal; else the curve's.")] = None,
    signal_step: Annotated[
        float | None, typer.Option("--grid", "--signal-step", help="Step of the knots' signals.")
    ] = None,
    positions: Annotated[Path | None, typer.Option(help="File with the signals at which the knots must stand.")] = None,
    value_step: Annotated[float | None, typer.Option(help="Step of the values.")] = None,
    implied_decimals: Annotated[
        int | None, typer.Option(help="Of integers: low and high, or the values of a table.", min=0, max=9)
    ] = None,
    limits: Annotated[str | None, typer.Option(help="Values the controller holds to, such as 0,250.")] = None,
    decimals: Annotated[int | None, typer.Option(help="Decimals of the constants; else all.", min=0, max=15)] = None,
    significant: Annotated[int | None, typer.Option(help="Significant digits of the constants.", min=1, max=15)] = None,
    rounding: Annotated[Round, typer.Option("--round", help="How the controller divides integers.")] = Round.nearest,
    int_bits: Annotated[IntBits, typer.Option(help="Bits of the controller's integers.")] = IntBits.thirty_two,
    divide_first: Annotated[
        bool, typer.Option("--divide-first", help="The ratio divides before it multiplies.")
    ] = False,
    fraction_bits: Annotated[int | None, typer.Option(help="n of Qm.n; else as many as fit.", min=0, max=30)] = None,
    degree: Annotated[int, typer.Option(help="Of the polynomial, where the curve is none.", min=1, max=5)] = 3,
    number_type: Annotated[NumberType, typer.Option(help="Of register words.")] = NumberType.f32,
    low_word_first: Annotated[bool, typer.Option("--low-word-first", help="Order of register words.")] = False,
    name: Annotated[str, typer.Option(help="What formulas and functions call the channel.")] = "",
    code_of: Annotated[
        CodeOf | None, typer.Option(help="What a function is made of; else what the curve needs.")
    ] = None,
    bits: Annotated[int, typer.Option(help="Bits of the converter over that stretch.", min=1, max=24)] = 12,
    full_count: Annotated[
        int | None, typer.Option(help="Its full count, such as 27648; else 2^bits - 1.", min=1, max=2**24 - 1)
    ] = None,
    clamp: Annotated[bool, typer.Option("--clamp", help="The controller holds values at the ends.")] = False,
    emulate: Annotated[Path | None, typer.Option(help="CSV with counts: print what would be shown for each.")] = None,
    as_json: AsJson = False,
) -> None:
    """Pack a curve for a controller; the exact worst error is measured at every count of the converter.

    Count 0 stands for the lower signal end, the full count for the upper. Where the signals are counts themselves (a
    heading says so) each stands for itself.
    """
    from ..core.forms.spec import PackSpec
    from ..core.pack.around import Around, Named
    from ..core.pack.make import pack_in_full

    calibration = curve_from(curve)
    converter = converter_over(curve, calibration, bits, full_count, (signal_low, signal_high))
    places = tuple(number_column(positions)) if positions is not None else ()
    limit_low, limit_high = _pair(limits)
    spec = checked(
        PackSpec, form=form.value, knots=knots, max_error=max_error, spacing="fixed" if places else spacing.value,
        positions=places, signal_low=converter.low, signal_high=converter.high,
        signal_step=signal_step, value_step=value_step,
        implied_decimals=implied_decimals,
        limit_low=limit_low, limit_high=limit_high, decimals=decimals, significant=significant, clamp=clamp,
        rounding=rounding.value, int_bits=int(int_bits.value), fraction_bits=fraction_bits, degree=degree,
        order="divide first" if divide_first else "multiply first", number_type=number_type.value,
        word_order=_order(low_word_first), channel_name=name, code_of=code_of.value if code_of else None,
    )  # fmt: skip
    ends = ends_of_curve(calibration)
    made = pack_in_full(calibration, converter, spec, Around(ends, (), Named(name, "", "value", "signal")))
    if emulate is not None:
        _print_emulated(emulate, made.form, converter, as_json)
    else:
        _print_packed(made, calibration, converter, ends[1] - ends[0], as_json)


def converter_over(
    source: Path,
    curve: "AnyCurve",
    bits: int,
    full_count: int | None = None,
    ends: tuple[float | None, float | None] = (None, None),
) -> "Converter":
    """A converter over two signals, else over the curve's reach; counts in a file stand for themselves."""
    from ..core.path.converter import Converter

    top = 2**bits - 1 if full_count is None else full_count
    low, high = (end if asked is None else asked for end, asked in zip(curve.domain, ends, strict=True))
    if signal_unit_of(source) == "counts":
        _refuse_beyond(curve.domain, top)
        low, high = 0.0, float(top)
    made: Converter = checked(Converter, bits=max(bits, top.bit_length()), full_count=top, low=low, high=high)
    return made


def _refuse_beyond(domain: tuple[float, float], top: int) -> None:
    """Counts in a file that the converter cannot make are of another converter. Raises: OutOfRange."""
    from ..core.words.errors import OutOfRange

    if domain[0] < 0 or domain[1] > top:
        raise OutOfRange(
            f"The file has counts from {domain[0]:g} to {domain[1]:g}, but the converter ends at {top}. Say its bits "
            "or its full count: --bits 12, --full-count 4000.",
            found=domain[1],
        )


def _order(low_word_first: bool) -> Literal["high word first", "low word first"]:
    return "low word first" if low_word_first else "high word first"


def ends_of_curve(curve: "AnyCurve") -> tuple[float, float]:
    import numpy as np

    low, high = sorted(curve.value(np.array(curve.domain)).tolist())
    return low, high


def _pair(text: str | None) -> tuple[float | None, float | None]:
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    if text is None:
        return None, None
    parts = text.replace(";", ",").split(",")
    if len(parts) != 2:
        raise BadTable(f"Expected two limits with a comma between them, such as 0,250; found “{text}”.")
    low, high = (parse_number(part) if part.strip() else None for part in parts)
    return low, high


def _print_packed(made: "Made", curve: "AnyCurve", converter: "Converter", span: float, as_json: bool) -> None:
    from ..core.forms.cost import packing_cost
    from ..core.forms.function import CodeFunction
    from ..core.forms.single import SinglePolynomial
    from ..files.exports import as_plain, as_text

    form = made.form
    cost = packing_cost(form, curve, converter, span)
    if as_json:
        print_json({**as_plain(form, cost, "signal", "value"), **_ends_and_bounds(made, converter)})
        return
    worst = cost.overall
    remark = (
        f"Worst error {abs(worst.error):.6g} ({worst.percent_of_span:.3g} % of span) at signal {worst.signal:.6g}, "
        f"count {worst.count} of {converter.full_count}."
    )
    if made.bound is not None:
        remark += f"\nNo numbers of this form and grid go below {made.bound:.6g}."
    if made.table is not None and made.table.leaves_out:
        remark += f"\nThat holds between the table's ends, where it keeps within {made.table.inside:.6g}."
    if made.table is not None:
        remark += (
            f"\nKnots that stand anywhere: {made.table.free_bound:.6g} at least. "
            f"Evenly spaced knots with their best values: {made.table.even_error:.6g}."
        )
    if isinstance(form, SinglePolynomial):
        remark += f"\nRounding at each step of Horner's rule costs up to {form.horner_error(converter):.3g} of it."
    if isinstance(form, CodeFunction):
        print(form.text + "\n" + remark)
    else:
        print(as_text(form.title, form.cells("signal", "value"), remark), end="")


def _ends_and_bounds(made: "Made", converter: "Converter") -> dict[str, Any]:
    import numpy as np

    from ..core.forms.single import SinglePolynomial

    shown = made.form.shown(np.array([0, converter.full_count]), converter)
    found: dict[str, Any] = {"counts": converter.full_count + 1, "shown_at_ends": shown.tolist()}
    if made.bound is not None:
        found["lower_bound"] = made.bound
    if isinstance(made.form, SinglePolynomial):
        found["horner_error"] = made.form.horner_error(converter)
    if made.table is not None:
        found |= {"free_bound": made.table.free_bound, "even_error": made.table.even_error}
        found["error_between_ends"] = made.table.inside
    return found


def _print_emulated(path: Path, form: "AnyForm", converter: "Converter", as_json: bool) -> None:
    """What a controller with these numbers shows for each count of a file."""
    import numpy as np

    from ..core.words.errors import BadTable

    numbers = number_column(path)
    wrong = [number for number in numbers if number != round(number) or not 0 <= number <= converter.full_count]
    if wrong:
        raise BadTable(f"{path}: expected whole counts from 0 to {converter.full_count}, found {wrong[0]:g}.")
    counts = np.array(numbers).astype(np.int64)
    shown = form.shown(counts, converter).tolist()
    if as_json:
        print_json([{"count": int(count), "shown": value} for count, value in zip(counts, shown, strict=True)])
    else:
        print("count,shown")
        print("\n".join(f"{count},{value!r}" for count, value in zip(counts.tolist(), shown, strict=True)))
