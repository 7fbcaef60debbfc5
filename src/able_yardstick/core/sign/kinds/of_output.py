"""The record of an output: the counts that are written, what writes them, and what a meter read at the terminal."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from ...document.output import OutputChannel
from ...job.job import Job
from ...outputs.dead_input import POLICY_WORDS
from ...outputs.giving import given, signals_for
from ...outputs.proving import output_proof
from ...outputs.writers import channel_or_none, condition_words
from ...state.scales import Scale, output_scales
from ...words.numerals import significant
from ..blocks import Block, Facts
from .allowed import allowed_along
from .checked import checks_of_record, verdicts_of
from .read_off import off_the_terminal
from .signed_kind import FactRows, OpenPoint, RecordData, SignedKind


def _nothing(_job: Job, _channel: OutputChannel) -> Any:
    return None


def _scales(job: Job, channel: OutputChannel) -> tuple[Scale, ...]:
    return output_scales(job, channel)


def _points(_job: Job, _channel: OutputChannel) -> Iterator[OpenPoint]:
    yield from ()  # its steps say all: what is not chosen for a dead input is a fault at Wire


def _proof(job: Job, channel: OutputChannel) -> Any:
    proof = output_proof(job, channel)
    if proof is None:
        return {"not proven": "no check of these counts, or no error allowed is stated"}
    return proof.model_dump(mode="json")


def _found(job: Job, channel: OutputChannel) -> Any:
    proof = output_proof(job, channel, found=True)
    return None if proof is None else proof.model_dump(mode="json")


def _allowed(_job: Job, channel: OutputChannel) -> Any:
    return allowed_along(channel.tolerance, channel.ends, lambda value: float(signals_for(channel, value)))


def _decision(_job: Job, channel: OutputChannel) -> Any:
    return channel.decision.words


def _numbers(_job: Job, channel: OutputChannel) -> Any:
    """The two ends of the range as the counts that are written for them."""
    ends = given(channel, np.array([channel.value_low, channel.value_high]))
    rows = [
        [name, float(value), float(signal), int(count)]
        for name, value, signal, count in zip(
            ("at its zero", "at its full"), ends.wanted, ends.signals, ends.counts, strict=True
        )
    ]
    return {"form": "counts for an output", "headings": ["", channel.unit or "wanted", channel.driver.unit, "counts"],
            "rows": rows}  # fmt: skip


def _writers(job: Job, channel: OutputChannel) -> Any:
    """What writes it, in words, in the order in which it holds."""
    source = channel_or_none(job, channel.follows) if channel.follows else None
    followed = [] if source is None else [["follows", source.tag]]
    policy = channel.dead_input
    dead = "nothing chosen" if policy is None else POLICY_WORDS[policy]
    if policy == "held" and channel.held_at is not None:
        dead = f"{dead}, {significant(channel.held_at, 6)} {channel.unit}".rstrip()
    conditions = [
        [f"while {condition_words(job, one)}", f"{significant(one.value, 6)} {channel.unit}".strip()]
        for one in channel.conditions
    ]
    if not followed:
        return [["follows", "nothing: it is set by hand"], *conditions]
    if channel.first_holds:
        return [*conditions, *followed, ["on a dead input", dead]]
    return [*followed, ["on a dead input", dead], *conditions]


def _ends(record: RecordData) -> tuple[float, float]:
    return record["channel"]["value_low"], record["channel"]["value_high"]


def _described(record: RecordData) -> FactRows:
    channel, (low, high) = record["channel"], _ends(record)
    signal = f"{significant(channel['signal_low'], 5)} to {significant(channel['signal_high'], 5)}"
    return (
        ("range", f"{significant(low, 6)} to {significant(high, 6)} {channel['unit']}"),
        ("signal", f"{signal} {channel['driver']['unit']}"),
    )


def _derived(record: RecordData) -> Iterator[Block]:
    driver = record["channel"]["driver"]
    unit = driver["unit"]
    yield Facts("Driver", (
        (f"{significant(driver['low'], 6)} {unit}", f"count {driver['zero_count']}"),
        (f"{significant(driver['high'], 6)} {unit}", f"count {driver['full_count']}"),
        ("may be off by", f"{significant(driver['within_percent'], 3)} % of span before it is checked"),
    ))  # fmt: skip
    yield Facts("What writes it", tuple((str(name), str(says)) for name, says in record["writers"]))


OF_OUTPUT = SignedKind(
    "output",
    {
        "uncertainty": _nothing,
        "budget": _nothing,
        "proof": _proof,
        "as found": _found,
        "allowed": _allowed,
        "decision": _decision,
        "numbers": _numbers,
        "writers": _writers,
    },
    _scales,
    _points,
    verdicts_of,
    lambda record: checks_of_record(record, _ends(record), "wanted", "given"),
    _described,
    _derived,
    "given minus wanted",
    _ends,
    lambda _channel: "output",
    off_the_terminal,
)
