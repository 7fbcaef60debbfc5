"""Every step without a window. Text, or JSON with --json; exit status 0, 1 (the answer is no) or 2 (bad input)."""

import re
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

from .output import AsJson, print_json
from .points import two_columns

if TYPE_CHECKING:
    pass

app = typer.Typer(
    help="Turns what a sensor puts out into numbers a controller can be trusted with. Without a command: the window.",
    no_args_is_help=False,
    add_completion=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)


def main() -> NoReturn:
    """Run the command line; refusals go to stderr with exit status 2."""
    from ..core.words.errors import YardstickError
    from .bench import register as register_bench
    from .fit import register as register_fit
    from .pack import register as register_pack
    from .wire import register

    register(app)
    register_bench(app)
    register_fit(app)
    register_pack(app)
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
        from ..app.main import run

        raise typer.Exit(run(None))


@app.command("open")
def open_job(job: Annotated[Path, typer.Argument(help="Job file to open.")]) -> None:
    """Open a job in the window."""
    from ..app.main import run

    raise typer.Exit(run(job))


@app.command()
def demo() -> None:
    """Open the window with a fresh copy of the demo job."""
    from platformdirs import user_data_path

    from ..app.main import run
    from ..demo import fresh_copy

    raise typer.Exit(run(fresh_copy(user_data_path("able-yardstick") / "demo")))


@app.command()
def tour(folder: Annotated[Path, typer.Argument(help="Where pictures, tables and the job go.")]) -> None:
    """Walk the demo through every step without a screen; leave a picture of each view, the tables and the job."""
    from ..app.tour.walk import walk

    for path in walk(folder):
        print(path)


@app.command()
def schema(
    controller: Annotated[bool, typer.Option("--controller", help="Of a controller's description instead.")] = False,
) -> None:
    """Print the JSON schema of the job file, or of a controller's description."""
    from ..core.job.job import Job
    from ..files.controllers import schema as controller_schema

    print_json(controller_schema() if controller else Job.model_json_schema())


# -- prove ----------------------------------------------------------------------------------------------------------


@app.command()
def prove(
    checks: Annotated[Path, typer.Argument(help="Checks: CSV with the columns reference and shown.")],
    tolerance: Annotated[float, typer.Option(help="Error allowed either way.", min=0)],
    as_json: AsJson = False,
) -> None:
    """Judge what a controller shows against the reference. Exit status 1 if a check fails."""
    from ..core.prove.proof import RULE
    from ..core.prove.proof import prove as judge
    from ..core.words.tolerance import Tolerance
    from ..files.tables import parse_grid, read_text

    grid = parse_grid(read_text(checks))
    named = all(grid.column_like(word) is not None for word in ("reference", "shown"))
    _, (reference, shown) = two_columns(checks, *(("reference", "shown") if named else (None, None)))
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
    from ..core.state.scales import scales_of
    from ..core.words.errors import BadTable
    from ..files.jobfile import read_job

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
    from ..core.state.scales import pin_for
    from ..core.units.electrical import signal_gain
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

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
