"""What a calibration's indication is worth at a signal: the budget of its uncertainty, nothing counted twice.

The scatter about the curve already holds repeatability, hysteresis and the noise of the readings; the curve's own
doubt follows from that same scatter, so the two are one contribution with the fit's degrees of freedom. What no
reading can show is added: the reference's error, which all readings share, and the steps of the converter
(JCGM 100:2008, 5.1, F.2.2.1, G.4).
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .budget import budget_at
from .calibration import Points, points_of
from .channel import ContinuousChannel
from .coverage import Contribution, Interval, interval_of
from .errors import YardstickError
from .fit import Fitted
from .job import Job
from .reading import Amended

Array = NDArray[np.float64]


class FitBudget(NamedTuple):
    """The rows at a signal in the channel's unit, and what they come to. `remarks` say what is not known.

    `scatter` and `curve` are shown apart, though they count as one contribution.
    """

    pin: float
    rows: tuple[Contribution, ...]
    scatter: float
    curve: float
    interval: Interval
    remarks: tuple[str, ...]


def fit_budget(job: Job, channel: ContinuousChannel, fitted: Fitted, pin: float) -> FitBudget | None:
    """The budget of a fit at a signal; None where the fit says nothing of its scatter."""
    spread = fitted.curve_spread(np.array([pin]))
    if fitted.residual_sd is None or spread is None:
        return None
    curve, scatter = float(spread[0]), fitted.residual_sd
    rows = [Contribution("scatter and curve", float(np.hypot(scatter, curve)), fitted.dof)]
    remarks: list[str] = []
    points = points_of(job, channel)
    reference = _reference(job, channel, points)
    if reference is None:
        remarks.append("The reference's uncertainty is not known for every reading: it is left out.")
    else:
        rows.append(Contribution("reference", reference))
    step = abs(float(fitted.curve.slope(pin))) * channel.path.converter.resolution
    rows.append(Contribution("one count", step / 2 / float(np.sqrt(3)), distribution="rectangular"))
    rows += _path(channel, fitted, points, pin, remarks)
    return FitBudget(pin, tuple(rows), scatter, curve, interval_of(rows), tuple(remarks))


def _reference(job: Job, channel: ContinuousChannel, points: Points) -> float | None:
    """The largest standard uncertainty of the references used; None if that of one reading is not known."""
    found = [_of_reading(job, channel, row) for row in points.rows]
    known = [one for one in found if one is not None]
    return max(known) if known and len(known) == len(found) else None


def _of_reading(job: Job, channel: ContinuousChannel, row: Amended) -> float | None:
    reading = row.reading
    if reading.reference_standard is not None:
        return channel.step_in_unit(reading.reference_standard, reading.reference_unit)
    instrument = next((one for one in job.references if one.id == reading.reference_id), None)
    if instrument is None or instrument.standard_uncertainty is None:
        return None
    return channel.step_in_unit(instrument.standard_uncertainty, instrument.unit or reading.reference_unit)


def _path(
    channel: ContinuousChannel, fitted: Fitted, points: Points, pin: float, remarks: list[str]
) -> list[Contribution]:
    """The parts of the signal path, where readings did not go through all of it."""
    apart = [row for row in points.rows if row.reading.stimulated in ("transducer alone", "at the terminal")]
    if not apart:
        return []
    try:
        budget = budget_at(channel, float(fitted.curve.value(pin)))
    except YardstickError:
        remarks.append("The path was left out of some readings, and what its parts may be off is not known.")
        return []
    left_out = ("one step of the converter", "transducer's accuracy")
    square = sum(row.standard**2 for row in budget.rows if row.name not in left_out)
    return [Contribution("signal path", float(np.sqrt(square)), distribution="rectangular")] if square > 0 else []


def along_reach(job: Job, channel: ContinuousChannel, fitted: Fitted, pins: Array) -> Array | None:
    """The expanded uncertainty at signals (n,); None where the fit says nothing of its scatter."""
    rows = [fit_budget(job, channel, fitted, float(pin)) for pin in pins]
    return np.array([row.interval.expanded for row in rows]) if all(rows) else None  # type: ignore[union-attr]
