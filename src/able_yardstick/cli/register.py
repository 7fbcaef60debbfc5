"""The register without a window: records taken in and found, a unit's history and drift, what is due, what rests."""

import sys
from collections.abc import Callable
from datetime import UTC, date, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NamedTuple

import typer

from .output import AsJson, print_json, put_page

if TYPE_CHECKING:
    from ..core.drift.resting import ShiftedRecord
    from ..files.register.find import DueUnit, FoundRecord
    from ..files.register.store import Register


class _Asked(NamedTuple):
    """What was asked of the register."""

    words: tuple[str, ...]
    since: str
    corrections: tuple[str, ...]
    csv: Path | None
    ics: Path | None
    method: str
    months: int
    reason: str
    by: str
    in_use: bool
    job: Path | None

    def one(self, what: str) -> str:
        """The words as one name. Raises: BadTable where there are none."""
        from ..core.words.errors import BadTable

        if not self.words:
            raise BadTable(f"Expected {what} after the name of the command.")
        return " ".join(self.words)


def register(
    act: Annotated[str, typer.Argument(help="init, import, find, history, due, plan, drift or rests-on.")],
    words: Annotated[list[str] | None, typer.Argument(help="Files, words, a serial or tag, or an instrument.")] = None,
    url: Annotated[str, typer.Option(help="The register's URL.", envvar="ABLE_YARDSTICK_REGISTER")] = "",
    since: Annotated[str, typer.Option(help="Of rests-on: signed since this day.")] = "",
    correction: Annotated[
        list[str] | None, typer.Option(help="Of rests-on: a line of the new certificate, READING=CORRECTION.")
    ] = None,
    csv: Annotated[Path | None, typer.Option(help="Of due: the list as CSV.")] = None,
    ics: Annotated[Path | None, typer.Option(help="Of due: the list as a calendar.")] = None,
    method: Annotated[str, typer.Option(help="Of plan: staircase or control chart.")] = "staircase",
    months: Annotated[int, typer.Option(help="Of plan: other months than advised, with --reason.", min=0)] = 0,
    reason: Annotated[str, typer.Option(help="Of plan: why other months than advised.")] = "",
    by: Annotated[str, typer.Option(help="Of plan: who says so.")] = "",
    out_of_use: Annotated[bool, typer.Option("--out-of-use", help="Of plan: nobody uses the unit for now.")] = False,
    job: Annotated[Path | None, typer.Option(help="Of rests-on: a job whose unsigned results are listed too.")] = None,
    as_json: AsJson = False,
) -> None:
    """Ask the register of a shop, or have it take records in."""
    from ..core.words.errors import BadTable
    from ..files.register.store import Register

    if act not in _ACTS:
        raise BadTable(f"Expected {', '.join(_ACTS)}; found “{act}”.")
    asked = _Asked(tuple(words or ()), since, tuple(correction or ()), csv, ics, method, months, reason, by,
                   not out_of_use, job)  # fmt: skip
    with Register(url) as opened:
        data, lines = _ACTS[act](opened, asked)
    if as_json:
        print_json(data)
    else:
        for line in lines:
            print(line)


_Answer = tuple[Any, list[str]]


def _init(register: "Register", _asked: _Asked) -> _Answer:
    return {"url": register.shown_url}, [f"The register is ready: {register.shown_url}"]


def _import(register: "Register", asked: _Asked) -> _Answer:
    """Records, PDFs of records, jobs, and folders of them; what is refused is named, and the others are taken."""
    from ..core.words.errors import YardstickError
    from ..files.jobfile import ENDING
    from ..files.register.take import TakenRecord, take_file
    from ..files.register.take_job import take_job

    asked.one("files or folders")
    taken: list[TakenRecord] = []
    refused, units = [], 0
    for path in _files(asked.words):
        try:
            if path.name.endswith(ENDING):
                job = take_job(register, path)
                taken, units = [*taken, *job.records], units + job.units
                refused += [{"file": str(path), "why": why} for why in job.refused]
            else:
                taken.append(take_file(register, path))
        except YardstickError as error:
            refused.append({"file": str(path), "why": str(error)})
    new = sum(one.is_new for one in taken)
    data = {"taken": new, "known": len(taken) - new, "units": units, "refused": refused}
    for one in refused:
        print(f"Refused: {one['file']}: {one['why']}", file=sys.stderr)
    more = f" {units} units are new." if units else ""
    return data, [f"{new} taken, {len(taken) - new} known already.{more}"]


def _files(words: tuple[str, ...]) -> list[Path]:
    from ..files.jobfile import ENDING

    found: list[Path] = []
    for word in words:
        path = Path(word)
        inside = [*path.rglob("*.record.json"), *path.rglob(f"*{ENDING}")] if path.is_dir() else [path]
        found += sorted(inside)
    return found


def _find(register: "Register", asked: _Asked) -> _Answer:
    from ..files.register.find import find, find_unsigned

    typed = " ".join(asked.words)
    rows, unsigned = find(register, typed), find_unsigned(register, typed)
    data = [{**row._asdict(), "signed": row.signed.isoformat()} for row in rows]
    lines = [_found_line(row) for row in rows]
    lines += [f"no record   {one.tag:8} {one.serial or '-':12} {one.name}, {one.place}" for one in unsigned]
    return [*data, *({**one._asdict(), "signed": None} for one in unsigned)], lines or ["Nothing was found."]


def _found_line(row: "FoundRecord") -> str:
    outcome = f"record {row.number}  found {row.found}, left {row.left}"
    place = f"{row.person}  {row.name}, {row.place}"
    return f"{row.signed.date()}  {row.tag:8} {row.serial or '-':12} {outcome}  {place}"


def _history(register: "Register", asked: _Asked) -> _Answer:
    from ..files.register.find import history, unit_named

    rows = history(register, unit_named(register, asked.one("a serial or tag")))
    data = [_visit_row(one, rows[n - 1] if n else None) for n, one in enumerate(rows)]
    lines = [f"{one['number']}  {one['signed'][:10]}  {one['sha256'][:8]}  {one['by']}  {one['chain']}" for one in data]
    return data, lines


def _visit_row(sealed: dict[str, Any], before: dict[str, Any] | None) -> dict[str, Any]:
    record = sealed["record"]
    return {
        "number": record["number"], "signed": record["signed"], "tag": record["channel"]["tag"],
        "by": record["by"]["name"], "sha256": sealed["sha256"], "previous": record["previous"],
        "chain": _chain(sealed, before),
    }  # fmt: skip


def _chain(sealed: dict[str, Any], before: dict[str, Any] | None) -> str:
    """How a record stands to the one before it in the register."""
    stated = sealed["record"]["previous"]
    if before is None:
        return "first" if not stated else f"the record before it, {stated[:8]}, is not here"
    if stated == before["sha256"]:
        return "follows the one before"
    return f"the record before it, {stated[:8]}, is missing" if stated else "names no record before it"


def _due(register: "Register", asked: _Asked) -> _Answer:
    from ..files.register.dues import dues_calendar, dues_csv
    from ..files.register.find import due_units

    units, on = due_units(register), datetime.now(UTC).date()
    if asked.csv is not None:
        put_page(dues_csv(units, on).rstrip("\r\n"), asked.csv)
    if asked.ics is not None:
        put_page(dues_calendar(units, datetime.now(UTC)).rstrip("\n"), asked.ics)
    data = [{**one._asdict(), "due": one.due.isoformat(), "state": one.state(on)} for one in units]
    lines = [
        f"{one.due}  {one.state(on):22} {one.tag:8} {one.serial or '-':12} {one.name}, {one.place}" for one in units
    ]
    return data, lines or ["Nothing has a day on which it is due."]


def _due_line(one: "DueUnit", on: date) -> str:
    plate = f"{one.tag:8} {one.serial or '-':12} {one.name}, {one.place}"
    return f"{one.due}  {one.state(on):22} {plate}; every {one.months} months by {one.rule}"


def _plan(register: "Register", asked: _Asked) -> _Answer:
    """When a unit is due: as a method advises, or as a person says with a reason."""
    from ..core.drift.interval import later
    from ..files.register.dues import put_due
    from ..files.register.find import history, unit_named
    from ..files.register.visits import planned, visits_in

    unit = unit_named(register, asked.one("a serial or tag"))
    visits = visits_in(history(register, unit))
    made = planned(visits, asked.method, asked.months, asked.reason)
    due = later(visits[-1].day, made.months)
    put_due(register, unit, due, made.months, made.rule, made.why, asked.by, asked.in_use)
    data = {"unit": unit, "due": due.isoformat(), "months": made.months, "rule": made.rule, "why": made.why}
    return data, [f"{' '.join(asked.words)} is due on {due}: every {made.months} months by {made.rule} ({made.why})."]


def _drift(register: "Register", asked: _Asked) -> _Answer:
    from ..core.drift.interval import Advice, advised, interval_before
    from ..core.drift.words import drift_lines
    from ..files.register.find import history, unit_named
    from ..files.register.visits import visits_in

    visits = visits_in(history(register, unit_named(register, asked.one("a serial or tag"))))
    advice = advised(visits, interval_before(visits)) if visits else {}
    lines = drift_lines(visits)
    told = {name: one.why if isinstance(one, Advice) else one for name, one in advice.items()}
    months = {name: one.months if isinstance(one, Advice) else None for name, one in advice.items()}
    lines += [f"{name}: {f'{months[name]} months, ' if months[name] else ''}{why}" for name, why in told.items()]
    data = {
        "visits": [one.day.isoformat() for one in visits], "drift": drift_lines(visits),
        "advice": [{"method": name, "months": months[name], "why": why} for name, why in told.items()],
    }  # fmt: skip
    return data, lines


def _rests_on(register: "Register", asked: _Asked) -> _Answer:
    from ..core.drift.resting import shifted
    from ..core.drift.unsigned import unsigned_resting
    from ..files.jobfile import read_job
    from ..files.register.find import instrument_named, resting_on

    start = datetime.combine(_day(asked.since), datetime.min.time(), UTC)
    key, corrections = instrument_named(register, asked.one("an instrument")), _corrections(asked.corrections)
    resting = resting_on(register, key, start)
    rows = [shifted(one.record["record"], one.record["sha256"], key, one.certificate, corrections) for one in resting]
    if asked.job is not None:
        rows += unsigned_resting(read_job(asked.job), key, start, corrections)
    data = [
        {**one._asdict(), "checks": [{**check._asdict(), "outcome": check.outcome} for check in one.checks],
         "outcome": one.outcome}
        for one in rows
    ]  # fmt: skip
    return data, [_shift_line(one) for one in rows] or ["Nothing rests on it."]


def _shift_line(one: "ShiftedRecord") -> str:
    from ..core.words.numerals import signed, significant

    worst, moved = one.worst, "no check rests on it"
    if worst is not None:
        step = f"{signed(worst.before, 3)} becomes {signed(worst.after, 3)} of ±{significant(worst.allowed, 3)}"
        moved = f"at {significant(worst.value, 4)} {one.unit}: {step}"
    whose = f"{one.signed or 'not signed'}  {one.tag:8} {one.serial or '-':12}"
    return f"{whose} {one.outcome:15} {moved}; {one.readings} readings"


def _day(text: str) -> date:
    from ..core.words.errors import BadTable

    try:
        return date.fromisoformat(text) if text else date.min
    except ValueError:
        raise BadTable(f"Expected --since as a day such as 2026-04-29, found “{text}”.") from None


def _corrections(texts: tuple[str, ...]) -> list[tuple[float, float]]:
    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    rows = []
    for text in texts:
        reading, equals, added = text.partition("=")
        if not equals:
            raise BadTable(f"Expected --correction READING=CORRECTION, such as 100=0.12, found “{text}”.")
        rows.append((parse_number(reading), parse_number(added)))
    return rows


_ACTS: dict[str, Callable[["Register", _Asked], _Answer]] = {
    "init": _init, "import": _import, "find": _find, "history": _history, "due": _due, "plan": _plan, "drift": _drift,
    "rests-on": _rests_on,
}  # fmt: skip
