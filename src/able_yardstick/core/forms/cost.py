"""What packing costs: the controller's number minus the calibration's, at every count the converter can make."""

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..path.converter import Converter
from ..words.record import Frozen, Reckoned
from .base import PackedForm

Array = NDArray[np.float64]


class WorstError(Frozen):
    """The largest packing error of a stretch: shown minus calibration, where it lies, and its share of the span."""

    error: Reckoned
    count: int
    signal: Reckoned
    percent_of_span: Reckoned


class PackingCost(Frozen):
    """The worst error over every count, and over those between which the calibration holds (None if none is)."""

    overall: WorstError
    in_reach: WorstError | None


def packing_errors(form: PackedForm, curve: Curve, converter: Converter) -> Array:
    """Shown minus calibration at every count, shape (full count + 1,)."""
    counts = converter.every_count()
    return np.asarray(form.shown(counts, converter) - curve.value(converter.inverse(counts)))


def packing_cost(form: PackedForm, curve: Curve, converter: Converter, span: float) -> PackingCost:
    """The exact cost of packing, measured at every count; `span` is the width of the range in the value's unit."""
    errors = packing_errors(form, curve, converter)
    signal = converter.inverse(converter.every_count())
    inside = np.flatnonzero(curve.within(signal))
    return PackingCost(
        overall=_worst(errors, np.arange(len(errors)), signal, span),
        in_reach=_worst(errors, inside, signal, span) if len(inside) else None,
    )


def _worst(errors: Array, rows: NDArray[np.int64], signal: Array, span: float) -> WorstError:
    row = int(rows[np.argmax(np.abs(errors[rows]))])
    error = float(errors[row])
    return WorstError(error=error, count=row, signal=float(signal[row]), percent_of_span=100 * abs(error) / span)
