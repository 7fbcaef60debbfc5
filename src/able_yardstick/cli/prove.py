"""Prove without a window: checks from a file, judged by the stated rule."""

from pathlib import Path
from typing import Annotated

import typer

from .output import AsJson, print_json
from .points import two_columns


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
