"""The budget of a fitted calibration: what U is made of at a signal, and how it grows beyond the readings.

Scatter about the curve holds repeatability, hysteresis and noise of the readings; the curve's own doubt follows from
that same scatter, so the two share their degrees of freedom and count as one contribution. What no reading can show is
added: the reference's error, which all readings share, the steps of the converter, and those parts of the signal path
that the readings left out (JCGM 100:2008, 5.1, F.2.2.1, G.4).
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import MonotoneCubic, Table
from ..document.channel import ContinuousChannel
from ..document.once import once_per_inputs, once_per_slice
from ..job.job import Job
from ..regression.fitted import Fitted
from ..regression.kinds import ModelName
from ..uncertainty.coverage import Contribution, Interval, interval_of
from ..wire.error_budget import budget_at
from ..words.errors import YardstickError
from .beyond import bend_beyond
from .inputs import FitInputs, fit_inputs
from .on_offer import candidate_of
from .scatter import scatter_of

Array = NDArray[np.float64]
_PLACES, _BEYOND_PLACES = 15, 6  # at which U is reckoned along the reach, and beyond it on either side
_FINER = 0.1  # of a count: a digit so fine adds nothing
_BEND_MARGIN = 1.5  # how much larger the bend between two rows may be than that seen at them


class FitBudget(NamedTuple):
    """The rows at a signal in the channel's unit, and what they come to. `remarks` say what is not known.

    The first two rows, the scatter and the curve itself, count as one contribution.
    """

    pin: float
    rows: tuple[Contribution, ...]
    interval: Interval
    remarks: tuple[str, ...]


class _Place(NamedTuple):
    """A signal in the pin's unit, and there: value, slope and spread of the curve, and the scatter of a reading."""

    pin: float
    value: float
    slope: float
    spread: float
    scatter: float


def fit_budget(inputs: FitInputs, fitted: Fitted, pin: float) -> FitBudget | None:
    """The budget of a fit at a signal; None where the fit says nothing of its scatter."""
    found = fit_budgets(inputs, fitted, np.array([pin]))
    return None if found is None else found[0]


def fit_budgets(inputs: FitInputs, fitted: Fitted, pins: Array) -> tuple[FitBudget, ...] | None:
    """The budgets at signals (n,) in the pin's unit; None where the fit says nothing of its scatter."""
    spreads = fitted.curve_spread(pins)
    if fitted.residual_sd is None or spreads is None or fitted.dof < 1:
        return None
    scatter = scatter_of(fitted)
    values, slopes = np.asarray(fitted.curve.value(pins)), np.abs(fitted.curve.slope(pins))
    scatters = np.array([scatter.at(value) for value in values.tolist()])
    columns = (column.tolist() for column in (pins, values, slopes, spreads, scatters))
    says = [scatter.says] if scatter.is_uneven else []
    return tuple(_budget_at(inputs, fitted, _Place(*row), list(says)) for row in zip(*columns, strict=True))


def _budget_at(inputs: FitInputs, fitted: Fitted, place: _Place, remarks: list[str]) -> FitBudget:
    pin, here, curve, slope = place.pin, place.scatter, place.spread, place.slope
    both = Contribution("scatter and curve", float(np.hypot(here, curve)), fitted.dof)
    apart = (
        Contribution("scatter about the curve", here, fitted.dof, size=here),
        Contribution("the curve itself", curve, fitted.dof, size=curve),
    )
    others = list(inputs.reference_rows or ())
    if inputs.reference_rows is None:
        remarks.append("The reference's uncertainty is not known for every reading, so U leaves it out.")
    others.append(Contribution.limit("one count", inputs.half_step, inputs.pin_unit, slope))
    if inputs.half_digit > _FINER * inputs.half_step:
        others.append(Contribution.limit("last digit typed", inputs.half_digit, inputs.pin_unit, slope))
    others += _path(inputs, place.value, remarks)
    others += _between(fitted, pin)
    others += _beyond(inputs, fitted, pin, remarks)
    return FitBudget(pin, (*apart, *others), interval_of([both, *others]), tuple(remarks))


def _path(inputs: FitInputs, value: float, remarks: list[str]) -> list[Contribution]:
    """The parts of the signal path, where readings did not go through all of it."""
    if inputs.left_out is None:
        return []
    try:
        budget = budget_at(inputs.left_out, value)
    except YardstickError:
        remarks.append("Some readings left out the signal path, and what its parts may be off is not known.")
        return []
    known_otherwise = ("one step of the converter", "transducer's accuracy")
    return [row for row in budget.rows if row.name not in known_otherwise and row.standard > 0]


def _between(fitted: Fitted, pin: float) -> list[Contribution]:
    """Between the rows of a table nothing was read: how far a curve that bends as its rows do may be off there.

    A quantity that bends by f'' lies off the chord of two rows by |f''| / 2 (x - a)(b - x) (E. Isaacson, H. B. Keller,
    Analysis of Numerical Methods, 1966, 6.1), and the second difference of neighbouring rows is f'' / 2. A monotone
    cubic bends itself: what its own bend differs from the rows' by is left.
    """
    curve = fitted.curve
    if not isinstance(curve, Table | MonotoneCubic) or len(curve.signals) < 3:
        return []
    x, y = np.array(curve.signals), np.array(curve.values)
    if not x[0] < pin < x[-1]:
        return []
    bends = np.abs(np.diff(np.diff(y) / np.diff(x)) / (x[2:] - x[:-2]))
    piece = int(np.clip(np.searchsorted(x, pin, side="right") - 1, 0, len(x) - 2))
    near = bends[max(piece - 1, 0) : piece + 1]
    if isinstance(curve, MonotoneCubic):
        near = np.array([float(np.ptp(bends[max(piece - 2, 0) : piece + 2]))])
    off = float(near.max()) * (pin - x[piece]) * (x[piece + 1] - pin)
    return [Contribution.limit("between its rows", _BEND_MARGIN * off)]


def _beyond(inputs: FitInputs, fitted: Fitted, pin: float, remarks: list[str]) -> list[Contribution]:
    low, high = fitted.curve.domain
    if low <= pin <= high:
        return []
    found = bend_beyond(inputs, fitted, pin)
    if found is None:
        remarks.append("The readings are too few to tell how the curve may bend beyond them: U there is too small.")
        return []
    return [found]


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
    inputs = fit_inputs(job, channel)
    row = candidate_of(inputs, model)
    return None if row is None or row.fitted is None else reach_in(inputs, row.fitted)


@once_per_inputs
def reach_in(inputs: FitInputs, fitted: Fitted) -> Reach | None:
    """U of a fit from a quarter of its reach below to as much above; None where it is not known."""
    if not fitted.signals:
        return None
    low, high = fitted.curve.domain
    margin = (high - low) / 4
    parts = ((low - margin, low, _BEYOND_PLACES), (low, high, _PLACES), (high, high + margin, _BEYOND_PLACES))
    pins = np.unique(np.concatenate([np.linspace(*part) for part in parts]))
    budgets = fit_budgets(inputs, fitted, pins)
    if budgets is None:
        return None
    expanded = np.array([budget.interval.expanded for budget in budgets])
    inside = (pins >= low) & (pins <= high)
    return Reach(pins, expanded, float(pins[inside][np.argmax(expanded[inside])]))
