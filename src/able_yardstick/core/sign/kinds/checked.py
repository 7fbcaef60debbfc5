"""Checks of a record as they are printed: outcomes, and a table of what was seen against what was wanted."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from ...words.numerals import counted, decimals_for, fixed, signed, significant
from ..blocks import Block, PrintedVerdict, Tabled, VerdictMark
from ..stops import by_stop, mean_of
from .signed_kind import RecordData

_OUTCOMES = {
    "pass": "pass",
    "pass-in-doubt": "pass, in doubt",
    "fail-in-doubt": "fail, in doubt",
    "fail": "fail",
}
_MOST_CHECKS = 12  # told one by one


def rows_of(record: RecordData, name: str) -> list[Mapping[str, Any]]:
    """The checks as left (“proof”) or as found."""
    return list((record.get(name) or {}).get("checks", ()))


def verdicts_of(record: RecordData) -> tuple[PrintedVerdict, ...]:
    """As left, and as found."""
    return (
        _verdict(record, "As left", "proof", "nothing was checked with the numbers of now"),
        _verdict(record, "As found", "as found", "what it showed before was not seen"),
    )


def _verdict(record: RecordData, name: str, part: str, otherwise: str) -> PrintedVerdict:
    checks = rows_of(record, part)
    if not checks:
        return PrintedVerdict("open", f"{name}: not known", otherwise)
    failed = sum(not check["passed"] for check in checks)
    mark: VerdictMark = "bad" if failed else "good"
    count = counted(len(checks), "check")
    says = f"{failed} of {count} outside" if failed else f"{count} within"
    largest, decimals = max(checks, key=lambda check: float(check["share"])), decimals_of(record)
    unit = record["channel"]["unit"]
    error, allowed = signed(largest["error"], decimals), significant(largest["allowed"], 3)
    return PrintedVerdict(
        mark, f"{name}: {'fail' if failed else 'pass'}, {says}", f"largest error {error} of ±{allowed} {unit}"
    )


def decimals_of(record: RecordData) -> int:
    """To how many decimals errors are told: as far as U is known, else the error allowed."""
    checks = [*rows_of(record, "proof"), *rows_of(record, "as found")]
    sizes = [check["doubt"]["expanded"] for check in checks if check.get("doubt")]
    sizes = sizes or [check["allowed"] for check in checks if check["allowed"] > 0]
    return decimals_for(min(sizes) / 10) if sizes else 3


def checks_of_record(
    record: RecordData, ends: tuple[float, float], wanted: str = "reference", seen: str = "shows"
) -> Iterator[Block]:
    """The checks as found and as left, in tables whose columns are called by what was wanted and what was seen."""
    unit, decimals = record["channel"]["unit"], decimals_of(record)
    for part, name in (("as found", "as found"), ("proof", "as left")):
        checks = rows_of(record, part)
        if len(checks) > _MOST_CHECKS:
            columns = (wanted, seen, "error", "worst", "allowed", "outside")
            rows = tuple(_stop_row(stop, decimals) for stop in by_stop(checks, ends))
            yield Tabled(f"Checks {name}, {unit}, by stop: means of each", columns, rows)
        elif checks:
            columns = (wanted, seen, "error", "allowed", "U", "outcome")
            yield Tabled(f"Checks {name}, {unit}", columns, tuple(_check_row(check, decimals) for check in checks))


def _stop_row(stop: Sequence[Mapping[str, Any]], decimals: int) -> tuple[str, ...]:
    """Many checks of one stop: how many, their means, the worst error, how many are outside."""
    reference, shown, error = (mean_of(stop, name) for name in ("reference", "shown", "error"))
    worst = max((float(check["error"]) for check in stop), key=abs)
    outside = sum(not check["passed"] for check in stop)
    return (
        fixed(reference, decimals), fixed(shown, decimals), signed(error, decimals), signed(worst, decimals),
        f"±{significant(stop[0]['allowed'], 3)}", f"{outside} of {len(stop)}",
    )  # fmt: skip


def _check_row(check: Mapping[str, Any], decimals: int) -> tuple[str, ...]:
    doubt = check.get("doubt") or {}
    return (
        fixed(check["reference"], decimals),
        fixed(check["shown"], decimals),
        signed(check["error"], decimals),
        f"±{significant(check['allowed'], 3)}",
        significant(doubt["expanded"], 2) if doubt else "not known",
        _OUTCOMES[check["outcome"]],
    )
