"""The proof of an output: what the terminal gave by a meter, against what was wanted.

A check is a reading whose reference is the meter's signal, whose raw signal is the count that was written, and whose
set value is what was wanted. Its error is what was given less what was wanted, in the output's own unit.
"""

from datetime import datetime
from typing import NamedTuple

import numpy as np

from ..document.output import OutputChannel
from ..document.reference import Reference
from ..gather.steady import SteadyRule, rule_of
from ..job.job import Job
from ..journal.reading import Amended, Raw, Reading
from ..prove.proof import Proof, prove
from ..prove.rule import CheckDoubt
from ..uncertainty.coverage import Contribution, interval_of
from ..units.electrical import signal_gain
from ..words.errors import NotApplicable
from .giving import count_of, given, plan_of, signals_for, values_of

_METER_S = 0.3  # a meter's usual answer
_FINE = 0.005  # of the span, where no error allowed is stated
_FAR = 0.1  # of the span: so far off is another value, and no error of a driver
_EXPLAINED = 0.25  # of the largest error: where more is left, no line explains it (one reading off, a scatter)
_NEAR = 0.02  # of the span: a check so near is of that stop


class Delivered(NamedTuple):
    """What a meter read at the terminal: mean in `unit`, spread and number of samples where it was a window."""

    signal: float
    unit: str
    spread: float | None = None
    samples: int | None = None


class OutputCheck(NamedTuple):
    """A check as it stands: wanted and given in the channel's unit, the count written, the signal in the driver's."""

    row: Amended
    wanted: float
    value: float
    written: int
    signal: float
    stale: bool


def output_reading(
    channel: OutputChannel, wanted: float, seen: Delivered, instrument: Reference | None, reading_id: str, at: datetime
) -> Reading:
    """A check of an output at a wanted value in its unit. Raises: NotApplicable where no such signal can be."""
    ends = channel.ends
    if not ends[0] <= wanted <= ends[1]:
        raise NotApplicable(
            f"{wanted:g} {channel.unit} is beyond the range of {channel.tag}, {ends[0]:g} to {ends[1]:g}. "
            "Check it within."
        )
    driver = channel.driver
    signal, room = seen.signal * signal_gain(seen.unit, driver.unit), driver.high - driver.low
    if not min(driver.low, driver.start) - room <= signal <= max(driver.high, driver.end) + room:
        raise NotApplicable(
            f"{seen.signal:g} {seen.unit} is far beyond what this terminal gives, {driver.start:g} to {driver.end:g} "
            f"{driver.unit}. See the meter's range and the unit that was typed."
        )
    read = seen.signal
    corrected = read if instrument is None or instrument.unit != seen.unit else instrument.corrected(read)
    return Reading(
        id=reading_id, channel=channel.id, captured=at, purpose="prove", reference=corrected, reference_unit=seen.unit,
        reference_id=None if instrument is None else instrument.id, reference_read=read,
        reference_note="" if instrument is None else instrument.overdue_words(at.date()),
        reference_spread=seen.spread, reference_count=seen.samples, set_value=wanted,
        raw=Raw(mean=float(count_of(channel, wanted)), node="counts", unit="counts"), stimulated="at the terminal",
        source="typed" if seen.samples is None else "live", basis=channel.revision,
    )  # fmt: skip


def not_sent_words(channel: OutputChannel, wanted: float, seen: Delivered) -> str:
    """Why a live meter's word is hardly that of the value wanted; empty where it may be."""
    signal = seen.signal * signal_gain(seen.unit, channel.driver.unit)
    meant = float(signals_for(channel, wanted))
    if abs(float(values_of(channel, signal)) - wanted) <= _FAR * channel.span:
        return ""
    return (
        f"The meter reads {signal:.4g} {channel.driver.unit} where {meant:.4g} is wanted: was it sent, and is the "
        "meter held to this terminal? If that is what it gives, type it."
    )


def output_checks(job: Job, channel: OutputChannel) -> list[OutputCheck]:
    """The checks of an output that are not left out, as they stand now."""
    rows = (row for row in job.amended(channel.id, "prove") if row.is_used)
    return [_check(channel, row) for row in rows if row.reading.set_value is not None and row.reading.raw is not None]


def _check(channel: OutputChannel, row: Amended) -> OutputCheck:
    reading = row.reading
    assert reading.set_value is not None  # as output_checks picks them
    assert reading.raw is not None
    signal = reading.reference * signal_gain(reading.reference_unit, channel.driver.unit)
    value = float(values_of(channel, signal))
    stale = reading.basis != channel.revision
    return OutputCheck(row, reading.set_value, value, round(reading.raw.mean), signal, stale)


def output_proof(job: Job, channel: OutputChannel, *, found: bool = False) -> Proof | None:
    """The judgement of the checks of the numbers in use, or of the latest ones before (`found`); None without any.

    None too without a tolerance: nothing can then pass or fail.
    """
    checks = found_checks(job, channel) if found else [one for one in output_checks(job, channel) if not one.stale]
    if not checks or not channel.tolerance.is_stated:
        return None
    return prove(
        [one.wanted for one in checks], [one.value for one in checks], channel.tolerance, channel.span,
        channel.decision, [output_doubt(job, channel, one) for one in checks],
    )  # fmt: skip


def found_checks(job: Job, channel: OutputChannel) -> list[OutputCheck]:
    """The checks of the numbers that were in use last before those of now."""
    stale = [one for one in output_checks(job, channel) if one.stale]
    return [one for one in stale if one.row.reading.basis == stale[-1].row.reading.basis]


def output_doubt(job: Job, channel: OutputChannel, check: OutputCheck) -> CheckDoubt | None:
    """The uncertainty of a check in the channel's unit; None where the meter's is not known."""
    rows = output_rows(job, channel, check)
    if not rows:
        return None
    interval = interval_of(list(rows))
    return CheckDoubt(standard=interval.combined, expanded=interval.expanded, dof=min(interval.dof, 1e6))


def output_rows(job: Job, channel: OutputChannel, check: OutputCheck) -> tuple[Contribution, ...]:
    """What is not known of a check, row by row: what is not known of the meter, and the spread of its window."""
    reading = check.row.reading
    instrument = next((one for one in job.references if one.id == reading.reference_id), None)
    if instrument is None or not instrument.expanded_uncertainty:
        return ()
    unit = instrument.unit or reading.reference_unit
    gain = abs(signal_gain(unit, channel.driver.unit) / channel.gain)
    rows = list(instrument.contributions(reading.captured.date(), unit, gain))
    if reading.reference_spread:
        samples = reading.reference_count or 1
        own = abs(signal_gain(reading.reference_unit, channel.driver.unit) / channel.gain)
        spread = own * reading.reference_spread / np.sqrt(samples)
        rows.append(Contribution("reference, spread of the window", float(spread), max(samples - 1, 1)))
    return tuple(rows)


def meter_rule(channel: OutputChannel, unit: str, rate_hz: float) -> SteadyRule:
    """When what a meter reads at the terminal, in `unit`, stands still: by the error allowed, else part of the span.

    Raises: UnitMismatch where the meter reads another kind of signal.
    """
    middle = (channel.value_low + channel.value_high) / 2
    allowed = channel.allowed_error(middle) or _FINE * channel.span
    return rule_of(allowed * abs(channel.gain / signal_gain(unit, channel.driver.unit)), _METER_S, rate_hz)


def next_wanted(job: Job, channel: OutputChannel) -> float | None:
    """The first value of the plan, in the channel's unit, that was not checked with the numbers in use; None if all."""
    taken = [one.wanted for one in output_checks(job, channel) if not one.stale]
    near = _NEAR * channel.span
    return next((stop for stop in plan_of(channel) if all(abs(stop - one) > near for one in taken)), None)


class OwnScaling(NamedTuple):
    """The zero and full count that the checks speak for, and the largest errors, in the channel's unit.

    `before` is the largest found, `left` the largest that would be left; `is_beyond` says that the driver's own
    tolerance does not explain what was found.
    """

    zero_count: int
    full_count: int
    before: float
    left: float
    is_beyond: bool


def own_scaling(job: Job, channel: OutputChannel) -> OwnScaling | None:
    """The driver's own line through the checks of the numbers in use.

    None with fewer than two counts, with no other numbers than now, and where the errors lie on no line: then a
    reading is to be looked at, and no count.
    """
    checks = [one for one in output_checks(job, channel) if not one.stale]
    counts = np.array([one.written for one in checks], dtype=float)
    signals = np.array([one.signal for one in checks])
    if len(checks) < 2 or not np.ptp(counts) > 0:
        return None
    slope, start = np.polyfit(counts, signals, 1)
    driver = channel.driver
    if not slope > 0:
        return None
    zero, full = (round((end - start) / slope) for end in (driver.low, driver.high))
    if not zero < full or (zero, full) == (driver.zero_count, driver.full_count):
        return None
    wanted = np.array([one.wanted for one in checks])
    trimmed = channel.with_(driver=driver.with_(zero_count=zero, full_count=full, most_count=driver.top_count))
    off_line = signals - start - slope * counts  # what no line takes away
    after = start + slope * given(trimmed, wanted).counts + off_line
    errors = [float(np.max(np.abs(values_of(channel, one) - wanted))) for one in (signals, after)]
    if errors[1] > _EXPLAINED * errors[0]:
        return None
    off = max(abs(float(start + slope * end) - float(driver.signal_of(end))) for end in (counts.min(), counts.max()))
    is_beyond = off > driver.within_percent / 100 * (driver.high - driver.low) > 0
    return OwnScaling(zero, full, errors[0], errors[1], bool(is_beyond))


def with_own_scaling(channel: OutputChannel, own: OwnScaling) -> OutputChannel:
    """The output with the zero and full count that its checks speak for: to be proven again."""
    driver = channel.driver
    changed = driver.with_(zero_count=own.zero_count, full_count=own.full_count, most_count=driver.top_count)
    return channel.with_(driver=changed)
