"""The record of a contact: its two levels, the threshold between them, and what was seen of both and of each break."""

from collections.abc import Iterator
from typing import Any

from ...alarms.rehearsal import rehearsal_of
from ...document.channel import TwoStateChannel
from ...job.job import Job
from ...state.scales import Scale, contact_scales
from ...words.numerals import significant
from ..blocks import Block, PrintedVerdict, Tabled, VerdictMark
from .of_path import path_facts
from .read_off import off_nothing
from .signed_kind import FactRows, OpenPoint, RecordData, SignedKind

_RULE = "proven where each of its states and each break was seen at the controller as it was expected"


def _nothing(_job: Job, _channel: TwoStateChannel) -> Any:
    return None


def _scales(job: Job, channel: TwoStateChannel) -> tuple[Scale, ...]:
    return contact_scales(job, channel)


def _points(_job: Job, _channel: TwoStateChannel) -> Iterator[OpenPoint]:
    yield from ()


def _proof(job: Job, channel: TwoStateChannel) -> Any:
    """What was tried with the threshold of now; it passed where all of it was seen as expected."""
    rows = rehearsal_of(job, channel)
    told = [
        {
            "step": row.step.name, "signal": row.step.signal, "expects": row.step.expects,
            "as expected": None if row.record is None else row.record.as_expected,
            "delay_s": None if row.record is None else row.record.delay_s,
        }
        for row in rows
    ]  # fmt: skip
    answers = [row["as expected"] for row in told]
    missing = [row.step.name for row in rows if row.record is None]
    if missing and False not in answers:
        return {"not proven": f"not rehearsed: {', '.join(missing)}", "rehearsed": told}
    return {"passed": all(answers), "rehearsed": told}


def _numbers(_job: Job, channel: TwoStateChannel) -> Any:
    """The threshold as the controller has it."""
    unit, converter = channel.signal_unit, channel.path.converter
    closed, opened = channel.pin_levels
    edges = (channel.threshold - channel.dead_band / 2, channel.threshold + channel.dead_band / 2)
    rows: list[list[Any]] = [
        ["closed", round(float(closed), 6), int(converter.count_of(closed))],
        ["lower edge", round(float(edges[0]), 6), int(converter.count_of(edges[0]))],
        ["upper edge", round(float(edges[1]), 6), int(converter.count_of(edges[1]))],
        ["open", round(float(opened), 6), int(converter.count_of(opened))],
    ]
    return {"form": "threshold", "headings": ["level", unit, "counts"], "rows": rows}


def _verdicts(record: RecordData) -> tuple[PrintedVerdict, ...]:
    rows = (record.get("proof") or {}).get("rehearsed", ())
    seen = [row for row in rows if row["as expected"] is not None]
    failed = [row["step"] for row in seen if not row["as expected"]]
    if failed:
        says = f"Rehearsed: fail, {len(failed)} of {len(rows)} not as expected"
        return (PrintedVerdict("bad", says, ", ".join(failed)),)
    missing = [row["step"] for row in rows if row["as expected"] is None]
    mark: VerdictMark = "open" if missing else "good"
    says = f"{len(seen)} of {len(rows)} seen as expected"
    more = f"not rehearsed: {', '.join(missing)}" if missing else "both states, and each break"
    return (PrintedVerdict(mark, f"Rehearsed: {'not known' if missing else 'pass'}, {says}", more),)


def _checked(record: RecordData) -> Iterator[Block]:
    unit = record["rule"]["unit"]
    rows = tuple(_row(row, unit) for row in (record.get("proof") or {}).get("rehearsed", ()))
    yield Tabled("What was rehearsed", ("step", "signal at the pin", "expected", "seen"), rows)


def _row(row: RecordData, unit: str) -> tuple[str, ...]:
    signal = "floats" if row["signal"] is None else f"{significant(row['signal'], 5)} {unit}"
    after = "" if row["delay_s"] is None else f", after {significant(row['delay_s'], 3)} s"
    answers = {True: f"as expected{after}", False: f"not as expected{after}", None: "not tried"}
    return (row["step"], signal, row["expects"], answers[row["as expected"]])


def _described(record: RecordData) -> FactRows:
    channel = record["channel"]
    unit = str(channel["path"]["source"])
    return (
        ("closed", f"{significant(channel['closed_level'], 5)} {unit}: {channel['closed_means']}"),
        ("open", f"{significant(channel['open_level'], 5)} {unit}: {channel['open_means']}"),
        ("pull-up", _pull_up(channel["pull_up"])),
    )


def _pull_up(stage: RecordData | None) -> str:
    return (
        "none"
        if stage is None
        else f"{significant(stage['resistance_ohm'], 4)} Ω to {significant(stage['supply_v'])} V"
    )


def _derived(record: RecordData) -> Iterator[Block]:
    yield path_facts(record)


OF_CONTACT = SignedKind(
    "two-state",
    {
        "uncertainty": _nothing,
        "budget": _nothing,
        "proof": _proof,
        "as found": _nothing,
        "allowed": lambda _job, _channel: [],
        "decision": lambda _job, _channel: _RULE,
        "numbers": _numbers,
        "writers": lambda _job, _channel: [],
    },
    _scales,
    _points,
    _verdicts,
    _checked,
    _described,
    _derived,
    "",
    lambda _record: None,
    lambda _channel: "contact",
    off_nothing,
)
