"""What is not known of a check's error, row by row: the reference, the window, the last digits on both sides.

The uncertainty of the fit is not in it: a check compares what is shown with a reference, whatever curve is behind it.
"""

from datetime import date

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..document.reference import Reference
from ..fit.inputs import repeats_of
from ..fit.linearity import hysteresis_of
from ..gather.points import points_of
from ..gather.reading_doubts import reference_rows, reference_standard
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..journal.reading import Amended, Purpose, Reading
from ..uncertainty.coverage import Contribution, interval_of
from ..words.errors import UnitMismatch
from ..words.numerals import plain_decimals
from .rule import CheckDoubt

WEAK = 3.0  # an expanded uncertainty above the tolerance over this decides little
_K = 2.0  # of a certificate


def check_rows(job: Job, channel: ContinuousChannel, row: Amended) -> tuple[Contribution, ...]:
    """The contributions in the channel's unit; none where the reference's own uncertainty is not known."""
    if reference_standard(job, channel, row) is None:
        return ()
    reading = row.reading
    found = list(reference_rows(job, channel, row))
    if reading.reference_spread:
        count = reading.reference_count or 1
        spread = abs(channel.step_in_unit(reading.reference_spread, reading.reference_unit)) / np.sqrt(count)
        found.append(Contribution("reference, spread of the window", float(spread), max(count - 1, 1)))
    if reading.shown is not None:
        found.append(Contribution.limit("display, last digit", display_step(job, channel, reading) / 2, channel.unit))
        found += _lag(channel, reading)
    if reading.purpose == "prove":
        half = unseen_hysteresis(job, channel)
        if half:
            found.append(Contribution.limit("hysteresis, one direction only", half, channel.unit))
    return tuple(row for row in found if np.isfinite(row.standard))


def _lag(channel: ContinuousChannel, reading: Reading) -> list[Contribution]:
    """How far a display that lags may be behind a reference that was still moving, as a limit; none without either."""
    delay_s, rate = channel.display.delay_s, reading.reference_rate
    if not delay_s or not rate or reading.shown_by != channel.display.name:
        return []
    gain = abs(channel.step_in_unit(1.0, reading.reference_unit))
    return [Contribution.limit("delay of the display", abs(rate) * delay_s, reading.reference_unit, gain)]


def display_step(job: Job, channel: ContinuousChannel, reading: Reading) -> float:
    """The last digit of the display that a reading was shown on, in the channel's unit."""
    if channel.display.step is not None and reading.shown_by == channel.display.name:
        return abs(channel.step_in_unit(channel.display.step, channel.shown_in))
    step = 10.0 ** -_decimals_shown(job, channel, reading.purpose, reading.shown_unit)
    return abs(channel.step_in_unit(step, reading.shown_unit or reading.reference_unit))


@once_per_slice
def unseen_hysteresis(job: Job, channel: ContinuousChannel) -> float:
    """Half the hysteresis that the gathered readings show, in the channel's unit, where checks go one way only; else 0.

    By the curve in use, less each reading's reference: a bend of the sensor is no hysteresis, nor a stop half missed.
    """
    ways = {row.reading.direction for row in job.amended(channel.id, "prove") if row.is_used}
    use = curve_in_use(job, channel)
    if use is None or not ways or ways == {"up", "down"}:
        return 0.0
    points = points_of(job, channel)
    if not len(points.rows):
        return 0.0
    values = np.asarray(use.curve.value(points.signal)) - points.reference
    directions = [row.reading.direction for row in points.rows]
    return (hysteresis_of(values, repeats_of(channel, points), directions) or 0.0) / 2


@once_per_slice
def _decimals_shown(job: Job, channel: ContinuousChannel, purpose: Purpose, unit: str) -> int:
    """The decimals of a display: the most that any value of a run had, since a number does not keep its last zeros."""
    rows = (row.reading for row in job.amended(channel.id, purpose))
    return max(plain_decimals(row.shown) for row in rows if row.shown is not None and row.shown_unit == unit)


def doubt_of(job: Job, channel: ContinuousChannel, row: Amended) -> CheckDoubt | None:
    """The uncertainty of a check; None where the reference's is not known, or nothing is in doubt."""
    rows = check_rows(job, channel, row)
    if not rows:
        return None
    interval = interval_of(list(rows))
    if not interval.combined > 0:
        return None
    return CheckDoubt(standard=interval.combined, expanded=interval.expanded, dof=min(interval.dof, 1e6))


def strong_enough(job: Job, channel: ContinuousChannel, value: float, allowed: float) -> tuple[Reference, ...]:
    """The job's references that could decide whether an error at a value is within `allowed`, both in its unit.

    They measure the quantity, reach the value, and have an expanded uncertainty of at most a third of `allowed`.
    """
    rows = job.amended(channel.id, "prove")
    on = rows[-1].reading.captured.date() if rows else None
    known = (one for one in job.references if _doubt(channel, one, on) * WEAK <= allowed)
    return tuple(one for one in known if one.stands_for is None and _reaches(channel, one, value))


def _doubt(channel: ContinuousChannel, instrument: Reference, on: date | None) -> float:
    """An instrument's expanded uncertainty on a day, in the channel's unit; infinite where none is stated."""
    standard = instrument.standard_on(on or instrument.calibrated or date.min)
    if standard is None:
        return float("inf")
    found = channel.step_in_unit(_K * standard, instrument.unit)
    return found if np.isfinite(found) else float("inf")


def _reaches(channel: ContinuousChannel, instrument: Reference, value: float) -> bool:
    """Whether an instrument's range takes in a value of the channel; one without a range is not held to it."""
    try:
        low, high = (
            beyond if bound is None else channel.in_unit(bound, instrument.unit)[0]
            for bound, beyond in ((instrument.range_low, -np.inf), (instrument.range_high, np.inf))
        )
    except UnitMismatch:
        return False
    return bool(low <= value <= high)
