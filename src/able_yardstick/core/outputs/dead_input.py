"""What an output does while the input it follows is broken: break by break, by what the controller then sees."""

from typing import NamedTuple

import numpy as np

from ..alarms.tripping import believed_values
from ..document.channel import ContinuousChannel
from ..document.output import OutputChannel
from ..job.job import Job
from ..wire.breaks import Break, breaks_of
from ..words.numerals import significant
from .giving import given
from .writers import followed

POLICY_WORDS = {
    "held": "goes to a stated value", "low": "goes to the low end of its range", "high": "goes to the high end",
    "last good": "keeps the last good value",
}  # fmt: skip


class DeadRow(NamedTuple):
    """One break of the input's wiring: what the output then gives, in its unit (None: unknown), and whether on purpose.

    `is_noticed` says that the signal is a fault by its band, so that the policy can act at all.
    """

    name: str
    value: float | None
    is_noticed: bool
    says: str


def dead_value(channel: OutputChannel) -> float | None:
    """Where the output goes by its policy, in its unit; None where it keeps its last value, or nobody chose."""
    goes = {"held": channel.held_at, "low": channel.value_low, "high": channel.value_high}
    return None if channel.dead_input is None else goes.get(channel.dead_input)


def dead_rows(job: Job, channel: OutputChannel) -> tuple[DeadRow, ...]:
    """Every break of the followed channel's wiring; none where it follows none.

    Raises: NotApplicable where nothing says what the controller makes of the input, UnitMismatch where it is no value
    of the output.
    """
    source = followed(job, channel)
    if source is None:
        return ()
    believed = believed_values(job, source)
    rows = []
    for one in breaks_of(job, source):
        if one.counts is None:
            rows.append(DeadRow(one.name, None, False, "the pin floats: nobody knows what the output does"))
        else:
            seen, fault = float(believed.seen[one.counts]), bool(believed.is_fault[one.counts])
            rows.append(_row(channel, source, one, seen, fault))
    return tuple(rows)


def _row(channel: OutputChannel, source: ContinuousChannel, one: Break, seen: float, is_fault: bool) -> DeadRow:
    if is_fault and channel.dead_input is not None:
        value = dead_value(channel)
        where = "" if value is None else f": {_said(channel, value)}"
        return DeadRow(one.name, value, True, f"a fault, so it {POLICY_WORDS[channel.dead_input]}{where}")
    if np.isnan(seen):
        return DeadRow(one.name, None, is_fault, "the controller holds the last value, and the output with it")
    value = _followed_value(channel, source, seen)
    why = "a fault by its signal, but nothing is chosen for it" if is_fault else "no signal of a fault"
    return DeadRow(one.name, value, is_fault, f"{why}: it gives {_said(channel, value)} as if that were so")


def _followed_value(channel: OutputChannel, source: ContinuousChannel, seen: float) -> float:
    """What the output gives for a value the controller believes: held at the ends of the output's range."""
    if np.isinf(seen):
        return channel.ends[1] if seen > 0 else channel.ends[0]
    own = float(source.converted(seen, source.unit, channel.unit))
    return float(given(channel, own).wanted[0])


def _said(channel: OutputChannel, value: float) -> str:
    row = given(channel, value)
    signal = f"{significant(float(row.delivered[0]), 5)} {channel.driver.unit}"
    return f"{significant(value, 5)} {channel.unit}".strip() + f", {signal}"
