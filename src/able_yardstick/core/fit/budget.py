"""The budget of a fitted calibration: what U is made of at a signal, and how it grows beyond the readings.

Scatter about the curve holds repeatability, hysteresis and noise of the readings; the curve's own doubt follows from
that same scatter, so the two share their degrees of freedom and count as one contribution. What no reading can show is
added: the reference's error, which all readings share, the steps of the converter, and those parts of the signal path
that the readings left out (JCGM 100:2008, 5.1, F.2.2.1, G.4).
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..gather.points import Points, points_of
from ..gather.reading_doubts import instrument_of, reference_standard
from ..job.job import Job
from ..journal.reading import Amended
from ..regression.fitted import DEGREES, FitSpec, Fitted, ModelName
from ..regression.models import fit
from ..uncertainty.coverage import Contribution, Interval, interval_of
from ..units.conversion import affine_gain
from ..wire.error_budget import budget_at
from ..words.errors import YardstickError
from .on_offer import candidates_of

Array = NDArray[np.float64]
_AS_SMALL = 1.5
_PLACES, _BEYOND_PLACES = 15, 6  # at which U is reckoned along the reach, and beyond it on either side


class FitBudget(NamedTuple):
    """The rows at a signal in the channel's unit, and what they come to. `remarks` say what is not known.

    The first two rows, the scatter and the curve itself, count as one contribution.
    """

    pin: float
    rows: tuple[Contribution, ...]
    interval: Interval
    remarks: tuple[str, ...]


def fit_budget(job: Job, channel: ContinuousChannel, fitted: Fitted, pin: float) -> FitBudget | None:
    """The budget of a fit at a signal; None where the fit says nothing of its scatter."""
    spread = fitted.curve_spread(np.array([pin]))
    if fitted.residual_sd is None or spread is None or fitted.dof < 1:
        return None
    both = Contribution("scatter and curve", float(np.hypot(fitted.residual_sd, spread[0])), fitted.dof)
    apart = (
        Contribution("scatter about the curve", fitted.residual_sd, fitted.dof, size=fitted.residual_sd),
        Contribution("the curve itself", float(spread[0]), fitted.dof, size=float(spread[0])),
    )
    points = points_of(job, channel)
    remarks: list[str] = []
    others = _reference(job, channel, points, remarks)
    slope = abs(float(fitted.curve.slope(pin)))
    converter = channel.path.converter
    others.append(Contribution.limit("one count", converter.resolution / 2, channel.path.pin_unit, slope))
    others += _path(channel, fitted, points, pin, remarks)
    others += _beyond(points, fitted, pin, remarks)
    return FitBudget(pin, (*apart, *others), interval_of([both, *others]), tuple(remarks))


def _reference(job: Job, channel: ContinuousChannel, points: Points, remarks: list[str]) -> list[Contribution]:
    """The rows of the least certain reference that was read; none, with a remark, if that of one reading is unknown."""
    found = [(reference_standard(job, channel, row), n) for n, row in enumerate(points.rows)]
    known = [(standard, n) for standard, n in found if standard is not None]
    if not known or len(known) < len(found):
        remarks.append("The reference's uncertainty is not known for every reading, so U leaves it out.")
        return []
    return _reference_rows(job, channel, points.rows[max(known)[1]])


def _reference_rows(job: Job, channel: ContinuousChannel, row: Amended) -> list[Contribution]:
    reading, instrument = row.reading, instrument_of(job, row)
    if reading.reference_standard is not None:
        unit = reading.reference_unit or channel.unit
        gain = affine_gain(unit, channel.unit)
        return [Contribution.stated("reference, as stated", reading.reference_standard, 1.0, unit, gain)]
    assert instrument is not None  # its standard uncertainty was known
    assert instrument.expanded_uncertainty is not None
    unit = instrument.unit or reading.reference_unit or channel.unit
    gain = affine_gain(unit, channel.unit)
    rows = [Contribution.stated("reference, certificate", instrument.expanded_uncertainty, 2.0, unit, gain)]
    if instrument.resolution is not None:
        rows.append(Contribution.limit("reference, display", instrument.resolution / 2, unit, gain))
    return rows


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
        remarks.append("Some readings left out the signal path, and what its parts may be off is not known.")
        return []
    left_out = ("one step of the converter", "transducer's accuracy")
    return [
        Contribution.limit(row.name, row.half_width, row.unit, row.sensitivity)
        for row in budget.rows
        if row.name not in left_out and row.standard > 0
    ]


def _beyond(points: Points, fitted: Fitted, pin: float, remarks: list[str]) -> list[Contribution]:
    """Beyond the readings: how far a curve with one term more, as well borne out by them, would have gone by there."""
    low, high = fitted.curve.domain
    if low <= pin <= high:
        return []
    end = low if pin < low else high
    rival = _rival(points, fitted)
    if rival is None:
        remarks.append("The readings are too few to tell how the curve may bend beyond them: U there is too small.")
        return []
    at = np.array([end, pin])
    away = float(np.diff(rival.curve.value(at))[0] - np.diff(fitted.curve.value(at))[0])
    own, its = fitted.curve_spread(at), rival.curve_spread(at)
    more = 0.0 if own is None or its is None else float(np.sqrt(max(its[1] ** 2 - own[1] ** 2, 0.0)))
    standard = float(np.hypot(away, more))
    return [Contribution("bend beyond the readings", standard, rival.dof, size=standard)]


def _rival(points: Points, fitted: Fitted) -> Fitted | None:
    """The polynomial with the fewest terms more whose scatter is about as small; else the one of most terms."""
    best: Fitted | None = None
    for model, degree in DEGREES.items():
        if degree < max(min(fitted.numbers, 5), 2):
            continue
        try:
            found = fit(points.signal, points.reference, FitSpec(model=model))
        except YardstickError:
            break
        if found.residual_sd is None or fitted.residual_sd is None:
            break
        best = found
        if found.residual_sd <= _AS_SMALL * fitted.residual_sd:
            break
    return best


class Reach(NamedTuple):
    """Expanded uncertainties (n,) at signals (n,) along an axis; `inside` is the signal of the largest in the reach."""

    pins: Array
    expanded: Array
    inside: float

    @property
    def largest(self) -> float:
        """U where it is largest within the reach."""
        return float(self.expanded[self.pins == self.inside][0])


@once_per_slice
def reach_of(job: Job, channel: ContinuousChannel, model: ModelName) -> Reach | None:
    """U of a candidate from a quarter of its reach below to as much above; None where it is not known."""
    row = next((row for row in candidates_of(job, channel) if row.model == model), None)
    fitted = row.fitted if row is not None else None
    if fitted is None or not fitted.signals:
        return None
    low, high = fitted.curve.domain
    margin = (high - low) / 4
    parts = ((low - margin, low, _BEYOND_PLACES), (low, high, _PLACES), (high, high + margin, _BEYOND_PLACES))
    pins = np.unique(np.concatenate([np.linspace(*part) for part in parts]))
    budgets = [fit_budget(job, channel, fitted, float(pin)) for pin in pins]
    if any(budget is None for budget in budgets):
        return None
    expanded = np.array([budget.interval.expanded for budget in budgets if budget is not None])
    inside = (pins >= low) & (pins <= high)
    return Reach(pins, expanded, float(pins[inside][np.argmax(expanded[inside])]))
