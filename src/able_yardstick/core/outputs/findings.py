"""Checks in words of how an output is described, landed and written, each with its arithmetic and what to do."""

from collections.abc import Callable, Iterator

import numpy as np

from ..alarms.breaks import alarm_breaks
from ..document.channel import ContinuousChannel
from ..document.output import OutputChannel
from ..job.job import Job
from ..wire.checks.base import Finding, Severity, number
from ..words.errors import YardstickError
from ..words.numerals import significant
from .dead_input import dead_rows
from .giving import signals_for
from .landing import output_landed
from .writers import channel_or_none, clashes, condition_words, followed, missing_words

_ORDER: dict[Severity, int] = {"fault": 0, "look": 1, "pass": 2}
_COARSE = 3.0  # a count above the allowed error over this leaves little for anything else
_OutputCheck = Callable[[Job, OutputChannel], Iterator[Finding]]


def output_findings(job: Job, channel: OutputChannel) -> tuple[Finding, ...]:
    """What all checks say of an output, faults first."""
    found: list[Finding] = []
    for check in _CHECKS:
        try:
            found.extend(check(job, channel))
        except YardstickError as error:
            found.append(Finding("look", "description", str(error)))
    return tuple(sorted(found, key=lambda finding: _ORDER[finding.level]))


def _reach(_job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """Whether the driver gives the whole of the signal."""
    driver, slack = channel.driver, channel.driver.per_count / 2
    ends = f"{number(channel.signal_low, driver.unit)} to {number(channel.signal_high, driver.unit)}"
    can = f"{number(driver.start, driver.unit)} to {number(driver.end, driver.unit)}"
    if channel.signal_low < driver.start - slack or channel.signal_high > driver.end + slack:
        yield Finding(
            "fault", "signal", f"{ends} is wanted, but its counts give only {can}: the rest is cut off.",
            "Take another terminal, or another signal.",
        )  # fmt: skip
    else:
        counts = driver.count_for(np.array([channel.signal_low, channel.signal_high]))
        yield Finding("pass", "signal", f"{ends} are counts {counts[0]} to {counts[1]}; the terminal gives {can}.")


def _step(_job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """One count in the quantity's unit against what is allowed."""
    step = abs(channel.driver.per_count / channel.gain)
    words = f"One count is {significant(step, 3)} {channel.unit}"
    allowed = channel.allowed_error(max(abs(channel.value_low), abs(channel.value_high)))
    if not allowed:
        yield Finding("look", "one count", f"{words}; no error allowed is stated.", "State one at Describe.")
    elif step > allowed / _COARSE:
        yield Finding("look", "one count", f"{words}, of {significant(allowed, 3)} allowed.", "Use more of its counts.")
    else:
        yield Finding("pass", "one count", f"{words}, of {significant(allowed, 3)} {channel.unit} allowed.")


def _module(_job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """What the driver's own tolerance is worth in the quantity."""
    driver = channel.driver
    off = driver.within_percent / 100 * (driver.high - driver.low) / abs(channel.gain)
    allowed = channel.allowed_error(max(abs(channel.value_low), abs(channel.value_high)))
    if off and allowed:
        words = f"Its driver may be ±{significant(off, 3)} {channel.unit} off before it is checked"
        level: Severity = "look" if off > allowed else "pass"
        cure = "Prove it: five checks tell its own zero and full count." if off > allowed else ""
        yield Finding(level, "driver", f"{words}, with ±{significant(allowed, 3)} allowed.", cure)


def _load(_job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """Whether what hangs on it can be driven."""
    driver, load = channel.driver, channel.load_ohm
    limit = driver.most_load_ohm if driver.unit == "mA" else driver.least_load_ohm
    if limit is None:
        return
    bound = "at most" if driver.unit == "mA" else "at least"
    if load is None:
        yield Finding(
            "look", "load", f"It drives {bound} {significant(limit, 4)} Ω; what hangs on it is not stated.",
            "State its resistance, leads and all.",
        )  # fmt: skip
    elif (load > limit) == (driver.unit == "mA") and load != limit:
        what = "the current ends below what is wanted" if driver.unit == "mA" else "the voltage drops under it"
        yield Finding("fault", "load", f"{significant(load, 4)} Ω hang on it, {bound} {significant(limit, 4)} Ω may: "
                      f"{what}.", "Take another terminal, or less in the loop.")  # fmt: skip
    else:
        yield Finding("pass", "load", f"{significant(load, 4)} Ω hang on it; {bound} {significant(limit, 4)} Ω may.")


def _zero(_job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """What a broken wire to the driven device means there."""
    if channel.signal_low > 0:
        yield Finding("pass", "broken wire", "A broken wire gives no signal, which is below its zero: what it drives "
                      "can tell.")  # fmt: skip
    else:
        yield Finding("look", "broken wire", "Its zero is no signal at all, so a broken wire reads as "
                      f"{significant(channel.value_low, 4)} {channel.unit} there.",
                      "Take a signal with a live zero where that matters.")  # fmt: skip


def _follows(job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """What it follows, and what it does when that is dead."""
    if not channel.follows:
        return
    source = followed(job, channel)
    if source is None:
        yield Finding("fault", "follows", "What it follows is gone, or has no curve.", "Choose another at Describe.")
        return
    if channel.dead_input is None:
        yield Finding(
            "fault", "dead input", f"Nothing is chosen for when {source.tag} is dead: it would give whatever comes.",
            "Choose at Describe: a stated value, low, high, or the last good one.",
        )  # fmt: skip
    elif not source.fault_rule.stated:
        yield Finding(
            "look", "dead input", f"Which signals of {source.tag} the controller takes for a fault is not stated: what "
            "was chosen for a dead input acts only if it knows.",
            f"State it with the alarms of {source.tag}, at Prove.",
        )  # fmt: skip
    for row in dead_rows(job, channel):
        level: Severity = "pass" if row.is_noticed and channel.dead_input is not None else "look"
        yield Finding(level, "dead input", f"{source.tag}, {row.name}: {row.says}.")


def _written(job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """Two that write it, conditions that never hold, and those that a break keeps away."""
    for clash in clashes(job, channel):
        if clash.settled:
            yield Finding("pass", "writers", f"{clash.says} {clash.settled}.")
        else:
            yield Finding("fault", "writers", clash.says, "The last one to write wins. Say which comes first.")
    for condition in channel.conditions:
        missing = missing_words(job, condition)
        if missing:
            yield Finding("fault", "writers", f"That {condition_words(job, condition)} never holds: {missing}.",
                          "Set the alarm, or take the condition away.")  # fmt: skip
            continue
        source = channel_or_none(job, condition.channel)
        if isinstance(source, ContinuousChannel):
            lost = [one.name for one in alarm_breaks(job, source) if condition.when in one.cannot]
            if lost:
                yield Finding("look", "writers", f"On {', '.join(lost)} of {source.tag} its {condition.when} alarm "
                              "cannot come, and the output stays as it is.")  # fmt: skip


def _terminal(job: Job, channel: OutputChannel) -> Iterator[Finding]:
    if output_landed(job, channel) is None:
        yield Finding("look", "terminal", "Not landed on a terminal yet.", "Choose a free one below.")


def _condition_values(_job: Job, channel: OutputChannel) -> Iterator[Finding]:
    """Values written beyond the range are held at its ends."""
    ends = channel.ends
    stated = [condition.value for condition in channel.conditions]
    held = [channel.held_at] if channel.dead_input == "held" and channel.held_at is not None else []
    for value in (*stated, *held):
        if not ends[0] <= value <= ends[1]:
            end = min(ends, key=lambda one: abs(one - value))
            yield Finding("look", "range", f"{significant(value, 6)} {channel.unit} is beyond its range: it is held at "
                          f"{significant(end, 6)}, {number(float(signals_for(channel, end)), channel.driver.unit)}.",
                          "Correct the value or the range.")  # fmt: skip


_CHECKS: tuple[_OutputCheck, ...] = (
    _reach, _step, _module, _load, _zero, _follows, _written, _condition_values, _terminal,
)  # fmt: skip
