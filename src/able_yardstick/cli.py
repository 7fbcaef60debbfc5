"""Every step without a window. Text, or JSON with --json; exit status 0, 1 (the answer is no) or 2 (bad input)."""

import json
import re
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

from .cli_output import AsJson, print_json

if TYPE_CHECKING:
    from .core.curves import AnyCurve
    from .core.fit import Fitted

app = typer.Typer(
    help="Turns what a sensor puts out into numbers a controller can be trusted with. Without a command: the window.",
    no_args_is_help=False,
    add_completion=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)


class Model(StrEnum):
    """Curves that `fit` knows."""

    line = "line"
    two_point = "two-point"
    through_zero = "through-zero"
    poly2 = "poly2"
    table = "table"
    auto = "auto"


class Form(StrEnum):
    """Forms that `pack` knows."""

    slope = "slope"
    ends = "ends"
    span = "span"
    knots = "knots"


def main() -> NoReturn:
    """Run the command line; refusals go to stderr with exit status 2."""
    from .cli_bench import register as register_bench
    from .cli_wiring import register
    from .core.errors import YardstickError

    register(app)
    register_bench(app)
    try:
        app(standalone_mode=True)
    except YardstickError as error:
        print(f"able-yardstick: {error}", file=sys.stderr)
        sys.exit(2)
    sys.exit(0)


@app.callback(invoke_without_command=True)
def window(context: typer.Context) -> None:
    """Open the window with the last job."""
    if context.invoked_subcommand is None:
        from .app.main import run

        raise typer.Exit(run(None))


@app.command("open")
def open_job(job: Annotated[Path, typer.Argument(help="Job file to open.")]) -> None:
    """Open a job in the window."""
    from .app.main import run

    raise typer.Exit(run(job))


@app.command()
def demo() -> None:
    """Open the window with a fresh copy of the demo job."""
    from platformdirs import user_data_path

    from .app.main import run
    from .demo import fresh_copy

    raise typer.Exit(run(fresh_copy(user_data_path("able-yardstick") / "demo")))


@app.command()
def tour(folder: Annotated[Path, typer.Argument(help="Where pictures, tables and the job go.")]) -> None:
    """Walk the demo through every step without a screen; leave a picture of each view, the tables and the job."""
    from .app.tour import walk

    for path in walk(folder):
        print(path)


@app.command()
def schema(
    controller: Annotated[bool, typer.Option("--controller", help="Of a controller's description instead.")] = False,
) -> None:
    """Print the JSON schema of the job file, or of a controller's description."""
    from .core.job import Job
    from .files.controllers import schema as controller_schema

    print_json(controller_schema() if controller else Job.model_json_schema())


# -- fit ------------------------------------------------------------------------------------------------------------


@app.command()
def fit(
    points: Annotated[Path, typer.Argument(help="Points: CSV with a signal and a reference column.")],
    model: Annotated[Model, typer.Option(help="Which curve.")] = Model.auto,
    tolerance: Annotated[float | None, typer.Option(help="Largest error allowed, for auto.", min=0)] = None,
    signal: Annotated[str | None, typer.Option(help="Heading of the signal column; else the first.")] = None,
    reference: Annotated[str | None, typer.Option(help="Heading of the reference column; else the second.")] = None,
    zero_signal: Annotated[float, typer.Option(help="Signal of the given zero.")] = 0.0,
    zero_value: Annotated[float, typer.Option(help="Value of the given zero.")] = 0.0,
    as_json: AsJson = False,
) -> None:
    """Fit a curve to points and say what it is worth."""
    import numpy as np

    from .core import fit as fitting

    lines, columns = _two_columns(points, signal, reference)
    x, y = (np.array(column) for column in columns)
    reason = ""
    with _told_where(points, lines, columns[0]):
        if model is Model.auto:
            choice = fitting.choose(x, y, tolerance)
            assert choice.candidate.fitted is not None  # only usable ones are chosen
            fitted, reason = choice.candidate.fitted, choice.reason
        else:
            fitted = fitting.fit(x, y, fitting.FitSpec(model=model.value, zero=(zero_signal, zero_value)))
    found = _fit_data(fitted, reason, tolerance)
    if as_json:
        print_json(found)
    else:
        print("\n".join(_fit_text(found)))


@contextmanager
def _told_where(path: Path, lines: list[int], signal: list[float]) -> Iterator[None]:
    """Refusals of points get the file, and the lines they are about, where they are about some."""
    from .core.errors import BadTable, ConflictingReadings, NotMonotonic, YardstickError

    try:
        yield
    except YardstickError as error:
        rows: list[int] = []
        if isinstance(error, ConflictingReadings):
            rows = list(error.rows)
        elif isinstance(error, NotMonotonic):
            rows = [row for row, x in enumerate(signal) if x == error.at]
        where = ", ".join(f"line {lines[row]}" for row in sorted(rows))
        raise BadTable(f"{path}{', ' if where else ''}{where}: {error}") from error


def _two_columns(path: Path, first: str | None, second: str | None) -> tuple[list[int], list[list[float]]]:
    """The lines, and the numbers of two columns: those named, else the first two."""
    from .core.errors import BadTable
    from .files.tables import parse_grid, read_text, strict_columns

    try:
        grid = parse_grid(read_text(path))
        if grid.width < 2:
            raise BadTable(f"Expected two columns, found {grid.width} (line {grid.rows[0].line if grid.rows else 1}).")
        columns = [grid.column_named(first) if first else 0, grid.column_named(second) if second else 1]
        return strict_columns(path, grid, columns)
    except BadTable as error:
        text = str(error)
        raise BadTable(text if text.startswith(str(path)) else f"{path}: {text}") from error


def _fit_data(fitted: "Fitted", reason: str, tolerance: float | None) -> dict[str, Any]:
    import numpy as np

    from .core.curves import Line, Polynomial

    curve, solution = fitted.curve, fitted.solution
    centre = scale = None
    if isinstance(curve, Line | Polynomial):
        centre = curve.centre
        scale = solution.scale if solution else 1.0
    return {
        "model": fitted.spec.model,
        "reason": reason,
        "coefficients": list(curve.powers) if isinstance(curve, Line | Polynomial) else None,
        "centre": centre,
        "scale": scale,
        "scaled_coefficients": list(solution.coefficients) if solution else None,
        "standard_errors": list(fitted.standard_errors) if fitted.standard_errors else None,
        "residual_sd": fitted.residual_sd,
        "dof": fitted.dof,
        "no_spread_because": fitted.why_no_spread if fitted.residual_sd is None else "",
        "largest_error": fitted.largest_error,
        "largest_at": fitted.largest_at,
        "within_tolerance": None if tolerance is None else fitted.largest_error <= tolerance,
        "monotonic": curve.is_monotonic,
        "turns_at": list(curve.turning_points()),
        "domain": list(curve.domain),
        "points": len(fitted.signals),
        "residuals": list(fitted.errors),
        "fitted": curve.value(np.array(fitted.signals)).tolist(),
        "remark": fitted.remark,
        "curve": curve.model_dump(mode="json"),
    }


def _fit_text(found: dict[str, Any]) -> list[str]:
    low, high = found["domain"]
    lines = [f"model            {found['model']}" + (f" ({found['reason']})" if found["reason"] else "")]
    if found["coefficients"] is None:
        lines.append(f"knots            {len(found['curve']['signals'])}")
    else:
        errors = found["standard_errors"] or [None] * len(found["coefficients"])
        for power, (number, error) in enumerate(zip(found["coefficients"], errors, strict=True)):
            spread = f"  ± {error:.3g}" if error is not None else ""
            lines.append(f"signal^{power}         {number:.12g}{spread}")
    spread = found["no_spread_because"] if found["residual_sd"] is None else f"{found['residual_sd']:.6g}"
    lines += [
        f"residual sd      {spread} (degrees of freedom {found['dof']})",
        f"largest error    {found['largest_error']:.6g} at signal {found['largest_at']:.6g}",
        f"trusted from     {low:.6g} to {high:.6g} of signal; beyond that it is extrapolated",
    ]
    if not found["monotonic"]:
        turn = found["turns_at"][0]
        lines.append(f"NOT MONOTONIC    it turns at signal {turn:.6g}: one value belongs to two signals there")
    return lines + ([f"remark           {found['remark']}"] if found["remark"] else [])


# -- pack -----------------------------------------------------------------------------------------------------------


@app.command()
def pack(
    curve: Annotated[Path, typer.Argument(help="Points or table as CSV, or the JSON that fit --json printed.")],
    form: Annotated[Form, typer.Option(help="The controller's numeric form.")] = Form.slope,
    knots: Annotated[int, typer.Option(help="Rows of the breakpoint table.", min=2, max=4096)] = 12,
    signal_low: Annotated[float | None, typer.Option(help="Lower end of the signal; else the curve's.")] = None,
    signal_high: Annotated[float | None, typer.Option(help="Upper end of the signal; else the curve's.")] = None,
    signal_step: Annotated[float | None, typer.Option(help="Step of the knots' signals.")] = None,
    value_step: Annotated[float | None, typer.Option(help="Step of the values.")] = None,
    decimals: Annotated[int | None, typer.Option(help="Decimals of slope and offset; else all.", min=0, max=15)] = None,
    bits: Annotated[int, typer.Option(help="Bits of the converter over that stretch.", min=1, max=24)] = 12,
    clamp: Annotated[bool, typer.Option("--clamp", help="The controller holds values at the ends.")] = False,
    as_json: AsJson = False,
) -> None:
    """Pack a curve for a controller; the exact worst error is measured at every count of the converter.

    Count 0 stands for the lower signal end, the full count (2^bits - 1) for the upper.
    """
    import numpy as np

    from .core.converter import Converter
    from .core.packing import PackSpec, packing_cost
    from .core.packing import pack as packed
    from .files.exports import as_plain, as_text

    calibration = _curve_from(curve)
    low = calibration.domain[0] if signal_low is None else signal_low
    high = calibration.domain[1] if signal_high is None else signal_high
    converter = _checked(Converter, bits=bits, full_count=2**bits - 1, low=low, high=high)
    spec = _checked(
        PackSpec, form=form.value, knots=knots, signal_low=low, signal_high=high, signal_step=signal_step,
        value_step=value_step, decimals=decimals, clamp=clamp,
    )  # fmt: skip
    ends = sorted(calibration.value(np.array(calibration.domain)).tolist())
    numbers = packed(calibration, converter, spec, limits=(ends[0], ends[1]))
    cost = packing_cost(numbers, calibration, converter, ends[1] - ends[0])
    found = {**as_plain(numbers, cost, "signal", "value"), "counts": converter.full_count + 1}
    if as_json:
        print_json(found)
        return
    worst = cost.overall
    remark = (
        f"Worst error {abs(worst.error):.6g} ({worst.percent_of_span:.3g} % of span) at signal {worst.signal:.6g}, "
        f"count {worst.count} of {converter.full_count}."
    )
    print(as_text(numbers.title, numbers.cells("signal", "value"), remark), end="")


def _checked(record: Any, **fields: Any) -> Any:
    from pydantic import ValidationError

    from .core.model import InvalidRecord, first_complaint

    try:
        return record(**fields)
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error


def _curve_from(path: Path) -> "AnyCurve":
    """The curve in a file: what `fit --json` printed, else the table through the points of a CSV."""
    import numpy as np

    from .core.curves import Table
    from .core.fit.least_squares import need_different
    from .files.tables import read_text

    text = read_text(path)
    if text.lstrip().startswith("{"):
        return _curve_from_json(path, text)
    lines, (x, y) = _two_columns(path, None, None)
    with _told_where(path, lines, x):
        need_different(np.array(x), 2)
        return Table.through(np.array(x), np.array(y)).refuse_turns()


def _curve_from_json(path: Path, text: str) -> "AnyCurve":
    from pydantic import TypeAdapter, ValidationError

    from .core.curves import AnyCurve
    from .core.errors import BadTable
    from .core.model import first_complaint

    try:
        tree = json.loads(text)
        return TypeAdapter[AnyCurve](AnyCurve).validate_python(tree["curve"])
    except json.JSONDecodeError as error:
        raise BadTable(f"{path}, line {error.lineno}, column {error.colno}: this is no whole JSON text.") from error
    except (KeyError, TypeError, RecursionError) as error:
        raise BadTable(f"{path}: expected what fit --json printed, found JSON without a curve.") from error
    except ValidationError as error:
        raise BadTable(f"{path}: the curve is not usable. {first_complaint(error)}.") from error


# -- prove ----------------------------------------------------------------------------------------------------------


@app.command()
def prove(
    checks: Annotated[Path, typer.Argument(help="Checks: CSV with the columns reference and shown.")],
    tolerance: Annotated[float, typer.Option(help="Error allowed either way.", min=0)],
    as_json: AsJson = False,
) -> None:
    """Judge what a controller shows against the reference. Exit status 1 if a check fails."""
    from .core.proof import RULE
    from .core.proof import prove as judge
    from .core.tolerance import Tolerance
    from .files.tables import parse_grid, read_text

    grid = parse_grid(read_text(checks))
    named = all(grid.column_like(word) is not None for word in ("reference", "shown"))
    _, (reference, shown) = _two_columns(checks, *(("reference", "shown") if named else (None, None)))
    proof = judge(reference, shown, Tolerance(constant=tolerance), span=max(reference) - min(reference))
    rows = [{**check.model_dump(), "pass": check.passed} for check in proof.checks]
    for row in rows:
        del row["passed"]
    if as_json:
        print_json(
            {
                "checks": rows,
                "shift": proof.shift,
                "shift_spread": proof.shift_spread,
                "verdict": proof.verdict,
                "rule": RULE,
            }
        )
    else:
        for row in rows:
            word = "pass" if row["pass"] else "FAIL"
            print(f"{row['reference']:>12g} {row['shown']:>12g} {row['error']:>+12.6g} {row['share']:>7.0%}  {word}")
        spread = "" if proof.shift_spread is None else f" ± {proof.shift_spread:.4g}"
        print(f"shift {proof.shift:+.6g}{spread}; verdict {proof.verdict} ({RULE})")
    raise typer.Exit(0 if proof.passed else 1)


# -- reckon ---------------------------------------------------------------------------------------------------------


@app.command()
def reckon(
    job: Annotated[Path, typer.Argument(help="Job file.")],
    tag: Annotated[str, typer.Argument(help="Tag of the channel.")],
    pin: Annotated[str | None, typer.Option(help="Signal at the pin, such as 2.5V.")] = None,
    counts: Annotated[str | None, typer.Option(help="Counts.")] = None,
    quantity: Annotated[str | None, typer.Option(help="Quantity, such as 80kPa.")] = None,
    output: Annotated[str | None, typer.Option(help="The transducer's output, such as 12mA.")] = None,
    shown: Annotated[str | None, typer.Option(help="The number the controller shows.")] = None,
    as_json: AsJson = False,
) -> None:
    """Read every scale of a channel at one place, as the Rule's hairline does."""
    from .core.errors import BadTable
    from .core.scales import scales_of
    from .files.jobfile import read_job

    tree = read_job(job)
    channel = tree.continuous(tree.tagged(tag).id)
    given = {"pin": pin, "counts": counts, "quantity": quantity, "output": output, "shown": shown}
    asked = [(key, text) for key, text in given.items() if text is not None]
    if len(asked) != 1:
        raise BadTable(f"Expected one of --pin, --counts, --quantity, --output, --shown, found {len(asked)}.")
    scales = scales_of(tree, channel)
    at = _pin_asked(scales, channel, *asked[0])
    found = {scale.key: _reading(scale, at) for scale in scales}
    if channel.path.is_direct:
        found["output"] = found["pin"]
    if channel.path.pin_unit == "counts":
        found["counts"] = found["pin"]
    if as_json:
        print_json({"tag": channel.tag, **found})
        return
    for scale in scales:
        value = scale.text(at) if scale.reads(at) else f"nothing here: {scale.note}"
        print(f"{scale.title:<18}{value:>12} {scale.unit:<7} {scale.caption}")


def _reading(scale: Any, at: float) -> dict[str, Any]:
    import numpy as np

    value = float(scale.of_pin(np.array([at]))[0])
    return {"value": value if scale.reads(at) or scale.key == "shown" else None, "unit": scale.unit, "note": scale.note}


def _pin_asked(scales: Any, channel: Any, key: Any, text: str) -> float:
    from .core.electrical import signal_gain
    from .core.errors import BadTable
    from .core.numerals import parse_number
    from .core.scales import pin_for

    match = re.fullmatch(r"\s*([+\-−]?[\d\s.,'’]*\d(?:[eE][+-]?\d+)?\.?)\s*(.*?)\s*", text)
    if not match:
        raise BadTable(f"Expected a number with its unit for --{key}, such as 2.5V, found “{text}”.")
    value, unit = parse_number(match[1]), match[2]
    if unit and key in ("quantity", "shown"):
        value = channel.in_unit(value, unit)[0]
    elif unit:
        value *= signal_gain(unit, {"pin": channel.path.pin_unit, "output": channel.path.source}.get(key, "counts"))
    if key == "output" and channel.path.is_direct:
        key = "pin"
    if key == "counts" and channel.path.pin_unit == "counts":
        key = "pin"
    low, high = next(scale.usable for scale in scales if scale.key == "pin")
    return pin_for(scales, key, value, near=(low + high) / 2)
