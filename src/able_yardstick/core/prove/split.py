"""What a small difference is made of: the packing, one count, the last digit, noise; and what is left, a true error."""

from typing import NamedTuple

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.nominal import curve_in_unit
from ..job.in_force import curve_in_use, kept_packing, packed_curve
from ..job.job import Job
from .check_budget import display_step
from .checks import Check

_ROOT = 2.0  # standard deviations either way


class Split(NamedTuple):
    """One check's error in parts, in the channel's unit: what the numbers themselves make of it, then limits.

    `rest` is what none of them can explain, 0 where they can.
    """

    error: float
    packing: float
    one_count: float
    digit: float
    noise: float
    rest: float


def split_of(job: Job, channel: ContinuousChannel, check: Check) -> Split | None:
    """The parts of a check's error; None without kept numbers or a curve."""
    use, record = curve_in_use(job, channel), kept_packing(job, channel)
    if use is None or record is None or not np.isfinite(check.pin):
        return None
    shows = curve_in_unit(packed_curve(record.form, channel), record.unit, channel)
    pin = float(np.asarray(use.curve.signal(check.reference)))
    packing = float(shows.value(pin)) - check.reference
    slope = abs(float(np.asarray(shows.slope(pin))))
    count = slope * channel.path.converter.per_count / 2
    reading = check.row.reading
    digit = 0.0 if reading.shown is None else display_step(job, channel, reading) / 2
    raw = reading.raw
    noise = 0.0
    if raw is not None and raw.spread and raw.count and raw.node == "pin":
        noise = _ROOT * slope * raw.spread / float(np.sqrt(raw.count))
    error = check.shown - check.reference
    beyond = abs(error - packing) - (count + digit + noise)
    return Split(error, packing, count, digit, noise, float(np.sign(error - packing)) * max(beyond, 0.0))
