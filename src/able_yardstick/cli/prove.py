"""Prove without a window: checks from a file, judged by the stated rule."""

from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .output import AsJson, print_json
from .points import two_columns

if TYPE_CHECKING:
    from ..core.journal.reading import Direction
    from ..core.prove.missed import Missed
    from ..core.prove.proof import Proof
    from ..core.prove.rule import CheckDoubt


class AcceptanceRule(StrEnum):
    """The rules of `core.prove.rule`, which is not loaded for a word of help."""

    SIMPLE = "simple"
    GUARDED = "guarded"
    RISK = "risk"


def prove(
    checks: Annotated[Path, typer.Argument(help="Checks: CSV with the columns reference and shown; u, direction.")],
    tolerance: Annotated[float, typer.Option(help="Error allowed either way.", min=0)],
    u: Annotated[float | None, typer.Option("--u", help="Expanded uncertainty of every check, k = 2.", min=0)] = None,
    rule: Annotated[AcceptanceRule, typer.Option(help="How an error is judged.")] = AcceptanceRule.SIMPLE,
    risk: Annotated[float, typer.Option(help="Largest risk of false acceptance.", min=0.0001, max=0.49)] = 0.025,
    over: Annotated[str | None, typer.Option("--range", help="Ends of the range, LO,HI; else those checked.")] = None,
    as_json: AsJson = False,
) -> None:
    """Judge what a controller shows against the reference. Exit status 1 if a check fails."""
    from ..core.prove.proof import prove as judge
    from ..core.prove.weak import weaknesses
    from ..core.words.acceptance import DecisionRule
    from ..core.words.tolerance import Tolerance

    reference, shown, expanded, directions = check_columns(checks, u)
    decision = DecisionRule(kind=rule.value, risk=risk)
    doubts = [_doubt(one) for one in expanded]
    if rule is not AcceptanceRule.SIMPLE and None in doubts:
        from ..core.words.errors import BadTable

        raise BadTable(f"The rule “{rule.value}” needs the uncertainty of each check: give --u, or a column u.")
    low, high = (min(reference), max(reference)) if over is None else range_of(over)
    proof = judge(reference, shown, Tolerance(constant=tolerance), high - low, decision, doubts)
    missed = _missed(proof, directions, low, high)
    weak = weaknesses(reference, directions, (), low, high)
    if as_json:
        print_json({**_data(proof, missed), "weak": list(weak)})
    else:
        _print(proof, missed)
        print("".join(f"{words}\n" for words in weak), end="")
    raise typer.Exit(0 if proof.passed else 1)


def check_columns(
    path: Path, u: float | None
) -> "tuple[list[float], list[float], list[float | None], list[Direction]]":
    """References, what was shown, expanded uncertainties and directions, a row each. Raises: BadTable."""
    from ..files.tables import parse_grid, read_text, strict_columns

    grid = parse_grid(read_text(path))
    named = all(grid.column_like(word) is not None for word in ("reference", "shown"))
    _, (reference, shown) = two_columns(path, *(("reference", "shown") if named else (None, None)))
    names = [heading.name.casefold() for heading in grid.headings]
    expanded: list[float | None] = [u] * len(reference)
    if "u" in names and u is None:
        expanded = list(strict_columns(path, grid, [names.index("u")])[1][0])
    written = ["not stated"] * len(reference)
    if "direction" in names:
        written = [row.cells[names.index("direction")].strip().casefold() for row in grid.rows]
    known: dict[str, Direction] = {"up": "up", "down": "down"}
    return reference, shown, expanded, [known.get(way, "not stated") for way in written]


def _doubt(expanded: float | None) -> "CheckDoubt | None":
    """An expanded uncertainty with k = 2; None where none is stated."""
    from ..core.prove.rule import CheckDoubt

    return CheckDoubt(standard=expanded / 2, expanded=expanded) if expanded else None


def range_of(text: str) -> tuple[float, float]:
    """The ends of a range as they are typed, LO,HI. Raises: BadTable."""
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    parts = text.split(",")
    if len(parts) != 2:
        raise BadTable(f"Expected the ends of the range with a comma between them, such as 0,250; found “{text}”.")
    low, high = (parse_number(part, decimal=".") for part in parts)
    if not low < high:
        raise BadTable(f"The range must run upwards: found {text}.")
    return low, high


def _missed(proof: "Proof", directions: "list[Direction]", low: float, high: float) -> "tuple[Missed, ...]":
    """What these checks would let through; nothing where one's uncertainty is not known."""
    from ..core.prove.missed import PlannedCheck, missed_by
    from ..core.prove.rule import limit_of

    if low == high or any(check.doubt is None for check in proof.checks):
        return ()
    planned = tuple(
        PlannedCheck(
            check.reference, limit_of(proof.rule, check.allowed, check.doubt),
            check.doubt.standard if check.doubt is not None else 0.0, way,
        )
        for check, way in zip(proof.checks, directions, strict=True)
    )  # fmt: skip
    return missed_by(planned, low, high)


def _data(proof: "Proof", missed: "tuple[Missed, ...]") -> dict[str, Any]:
    rows = [
        {
            "reference": check.reference, "shown": check.shown, "error": check.error, "allowed": check.allowed,
            "share": check.share, "pass": check.passed, "outcome": check.outcome,
            "u": None if check.doubt is None else check.doubt.expanded, "conformance": check.conformance,
        }
        for check in proof.checks
    ]  # fmt: skip
    return {
        "checks": rows, "shift": proof.shift, "shift_spread": proof.shift_spread, "gain_error": proof.gain_error,
        "verdict": proof.verdict, "rule": proof.rule.words,
        "missed": [{**one._asdict(), **{key: _finite(getattr(one, key)) for key in ("largest", "largest_then")}}
                   for one in missed],
    }  # fmt: skip


def _finite(value: float) -> float | None:
    """A number that JSON has; None for one without end."""
    return value if abs(value) < float("inf") else None


def _print(proof: "Proof", missed: "tuple[Missed, ...]") -> None:
    from ..core.words.acceptance import sure_words

    for check in proof.checks:
        sure = "" if check.conformance is None else f"  {sure_words(check.conformance)} within"
        word = "pass" if check.passed else "FAIL"
        if check.doubt is not None:
            word = check.outcome.replace("-", " ")
            word += "" if check.passed or word.startswith("fail") else ", not accepted"
        print(f"{check.reference:>12g} {check.shown:>12g} {check.error:>+12.6g} {check.share:>7.0%}  {word}{sure}")
    spread = "" if proof.shift_spread is None else f" ± {proof.shift_spread:.4g}"
    print(f"shift {proof.shift:+.6g}{spread}; verdict {proof.verdict} ({proof.rule.words})")
    for one in missed:
        size = "an error of any size" if one.largest == float("inf") else f"up to {one.largest:.4g} at {one.at:.6g}"
        more = "" if one.next_stop is None else f"; a check at {one.next_stop:.6g} brings it to {one.largest_then:.4g}"
        print(f"would miss, {one.shape}: {size}{more}")
