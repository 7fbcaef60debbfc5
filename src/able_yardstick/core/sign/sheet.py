"""A record as it is printed: made of the record alone, so that what is on paper can be compared with it."""

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Any

from ..wire.landing import WiringRow
from ..words.numerals import counted, decimals_for, signed, significant
from .blocks import (
    Block,
    ErrorMark,
    Facts,
    Graduation,
    PrintedSheet,
    RulePicture,
    ScaleRow,
    SideBySide,
    Tabled,
    Verdicts,
    Words,
)
from .kinds.checked import rows_of
from .kinds.registry import kind_of_record
from .kinds.signed_kind import RecordData
from .leads import lead_tables
from .rule_read import round_steps

SHEET_VERSION = 2  # of what is printed, in which words and order: pages of another one cannot be compared
_SHORT_HASH = 8
_LEGEND = "as found: open diamonds · as left: full circles · bars: U · band: the error allowed"
_MOST_ROWS = 400  # of a record's readings on paper: the file holds them all


def sheet_of(record: RecordData, sha256: str = "", signatures: Sequence[Mapping[str, Any]] = ()) -> PrintedSheet:
    """All pages of a record; one that is not signed yet has neither hash nor signatures."""
    channel, unit, kind = record["channel"], record.get("unit") or {}, kind_of_record(record)
    name = unit.get("serial") or channel["tag"]
    blocks = (
        Verdicts(kind.verdicts(record)),
        SideBySide(_unit(record), _done(record)),
        *_picture(record),
        *kind.checked(record),
        SideBySide(_decision(record), _numbers(record)),
        *_budget(record),
        *_references(record),
        *lead_tables([WiringRow(**row) for row in record.get("wiring", ())]),
        *_weak(record),
        _signed(record, sha256, signatures),
        *_readings(record),
        *kind.derived(record),
    )
    number = f"Record {record['number']} of {name}"
    return PrintedSheet(
        "Calibration record",
        f"{channel['tag']} {channel['name']}".strip() + f" · {record['job']['title']}",
        (number, record["signed"][:10]),
        blocks,
        f"{number} · {sha256[:_SHORT_HASH] or 'not signed'}",
    )


def _unit(record: RecordData) -> Facts:
    unit, channel = record.get("unit") or {}, record["channel"]
    plate = " ".join(part for part in (unit.get("maker"), unit.get("model"), unit.get("revision")) if part)
    landing = channel.get("landing") or {}
    lands = (landing.get("terminal"), landing.get("kind"))
    rows = (
        ("serial", unit.get("serial") or "not stated"),
        ("plate", plate or "not stated"),
        *kind_of_record(record).described(record),
        ("lands on", ", ".join(part for part in lands if part) or "no terminal"),
        ("holds for", record["scope"]),
    )
    return Facts("Unit", rows)


def _done(record: RecordData) -> Facts:
    """What was done, in the order of time."""
    rows: list[tuple[str, str]] = []
    for purpose, words in (("gather", "reading"), ("prove", "check")):
        times = sorted(str(row["captured"]) for row in record["readings"] if row["purpose"] == purpose)
        if times:
            rows.append((times[-1], f"{counted(len(times), words)}, from {_clock(times[0])}"))
    tried = sorted(str(one["made"]) for one in record["rehearsals"])
    if tried:
        rows.append((tried[-1], f"rehearsed, {counted(len(tried), 'answer')}, from {_clock(tried[0])}"))
    rows += [(str(one["made"]), "numbers kept for the controller") for one in record["packings"][-2:]]
    for one in record["writes"][-2:]:
        equal = "read back equal" if not one["differences"] else f"{len(one['differences'])} cells differ"
        rows.append((str(one["made"]), f"numbers written, {equal}"))
    rows.sort()
    return Facts("What was done", tuple((_clock(at), words) for at, words in rows) or (("", "nothing yet"),))


def _clock(moment: str) -> str:
    return moment[:16].replace("T", " ")


def _picture(record: RecordData) -> Iterator[Block]:
    rule = record.get("rule")
    if not rule or not rule["scales"]:
        return
    low, high = rule["axis"]
    scales = tuple(
        ScaleRow(
            one["title"],
            one["unit"],
            tuple(Graduation((row["at"] - low) / (high - low), row["text"]) for row in one["graduations"]),
            one["reads"],
        )
        for one in rule["scales"]
    )
    known = {row["value"]: (row["pin"] - low) / (high - low) for row in record["allowed"] if row["pin"] is not None}
    allowed = tuple((known[row["value"]], row["allowed"]) for row in record["allowed"] if row["value"] in known)
    errors = tuple(_errors(record, known))
    most = max([1e-12, *(row[1] for row in allowed), *(abs(one.error) + one.expanded for one in errors)]) * 1.1
    steps = round_steps(-most, most, 8).tolist() if allowed or errors else []  # nothing to graduate for
    decimals = decimals_for(float(steps[1] - steps[0])) if len(steps) > 1 else 2
    levels = tuple((float(level), signed(float(level), decimals) if abs(level) > 1e-12 else "0") for level in steps)
    heading = f"The Rule at {scales[0].reads} {scales[0].unit}".rstrip()
    if allowed or errors:
        heading += f", and errors: {kind_of_record(record).error}, {record['channel']['unit']}"
    yield RulePicture(
        heading,
        (rule["at"] - low) / (high - low),
        scales,
        record["channel"]["unit"],
        errors,
        allowed,
        levels,
        most,
        _LEGEND if allowed or errors else "",
    )


def _errors(record: RecordData, known: Mapping[float, float]) -> Iterator[ErrorMark]:
    """The checks where they lie on the axis: between the places known by value, in proportion."""
    rows = sorted(known.items())
    for part in ("as found", "proof"):
        for check in rows_of(record, part):
            at = _between(rows, float(check["reference"]))
            if at is not None:
                expanded = float((check.get("doubt") or {}).get("expanded", 0.0))
                yield ErrorMark(at, float(check["error"]), expanded, part == "as found", bool(check["passed"]))


def _between(rows: Sequence[tuple[float, float]], value: float) -> float | None:
    for (x0, y0), (x1, y1) in pairwise(rows):
        if x0 <= value <= x1:
            return y0 + (y1 - y0) * (value - x0) / (x1 - x0)
    return None


def _decision(record: RecordData) -> Words:
    rule = record.get("decision")
    return Words("Decision rule", f"{rule[:1].upper()}{rule[1:]}." if rule else "No check was judged.")


def _numbers(record: RecordData) -> Facts:
    given = record.get("numbers")
    if given is None:
        return Facts("In the controller", (("numbers", "none kept"),))
    rows = [(str(row[0]), "  ".join(_number(one) for one in row[1:])) for row in given["rows"][:24]]
    heads = given["headings"]
    rows.insert(0, (str(heads[0]), "  ".join(map(str, heads[1:]))))
    if len(given["rows"]) > 24:
        rows.append(("…", f"{len(given['rows']) - 24} more rows, in the file"))
    return Facts(f"In the controller: {given['form']}", tuple(rows))


def _number(value: object) -> str:
    return significant(value, 9) if isinstance(value, float) else str(value)


def _budget(record: RecordData) -> Iterator[Block]:
    budget, unit = record.get("budget"), record["channel"]["unit"]
    if budget:
        rows = tuple((row["name"], significant(row["standard"], 3)) for row in budget["rows"])
        total = (("expanded, U", significant(budget["expanded"], 2)),)
        yield Tabled("Budget of the curve, in the middle of its reach", ("from", f"standard, {unit}"), (*rows, *total))


def _references(record: RecordData) -> Iterator[Block]:
    rows = tuple(
        (
            one["name"],
            one["serial"] or "not stated",
            one["certificate"] or "not stated",
            "not stated" if one["expanded_uncertainty"] is None else f"{significant(one['expanded_uncertainty'], 3)}",
            one["unit"],
            str(one["due"] or "not stated"),
        )
        for one in record["references"]
    )
    if rows:
        yield Tabled("References", ("instrument", "serial", "certificate", "U, k = 2", "unit", "due"), rows)


def _weak(record: RecordData) -> Iterator[Block]:
    points = record["open points"]
    if points:
        yield Words("Stays weak", " ".join(f"{one}." for one in (*points, f"Accepted: {record['accepted because']}")))
    if record["corrects"]:
        yield Words("Corrects", f"record {record['corrects'][:_SHORT_HASH]}: {record['correction']}")


def _signed(record: RecordData, sha256: str, signatures: Sequence[Mapping[str, Any]]) -> Facts:
    rows = [(one["role"] or "signed", f"{one['name']}, {_clock(one['at'])}") for one in signatures]
    if not rows:
        rows = [("not signed yet", f"{record['by']['name'] or 'nobody named'}, {record['by']['role']}")]
    if sha256:
        rows.append(("SHA-256", " ".join(sha256[at : at + 8] for at in range(0, 64, 8))))
    if record["previous"]:
        rows.append(("after", record["previous"][:_SHORT_HASH]))
    return Facts("Signed", tuple(rows))


def _readings(record: RecordData) -> Iterator[Block]:
    rows = record["readings"]
    if rows:
        shown = tuple(_reading_row(row) for row in rows[:_MOST_ROWS])
        more = f", {len(rows) - _MOST_ROWS} more in the file" if len(rows) > _MOST_ROWS else ""
        columns = ("taken", "for", "reference", "raw", "shown", "way", "origin", "left out")
        yield Tabled(f"Readings{more}", columns, shown)


def _reading_row(row: Mapping[str, Any]) -> tuple[str, ...]:
    raw = row["raw"]
    return (
        _clock(str(row["captured"])),
        row["purpose"],
        f"{significant(row['reference'], 7)} {row['reference_unit']}",
        "" if raw is None else f"{significant(raw['mean'], 7)} {raw['unit']}",
        "" if row["shown"] is None else f"{significant(row['shown'], 7)} {row['shown_unit']}",
        row["direction"] or "",
        row["origin"],
        row["left out because"] or "",
    )
