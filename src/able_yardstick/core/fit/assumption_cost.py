"""What it would cost if a reading that was only assumed were not so."""

from typing import NamedTuple

import numpy as np

from ..document.once import once_per_inputs
from ..regression.kinds import ModelName
from .inputs import FitInputs
from .on_offer import candidate_of

_OFF = 0.01  # of the span of the references
_PLACES = 65


class AssumptionCost(NamedTuple):
    """An assumed reading by its row and reference, in the unit of the inputs: what 1 % of span there costs elsewhere.

    `share` is the largest error of the curve within its reach, as a share of the span of the references; `value` where.
    """

    row: int
    reference: float
    share: float
    value: float


@once_per_inputs
def assumption_cost(inputs: FitInputs, model: ModelName) -> tuple[AssumptionCost, ...]:
    """Each assumed reading moved by 1 % of the span and the curve made anew; empty where that makes none."""
    there = candidate_of(inputs, model)
    if there is None or there.fitted is None or model == "nominal":
        return ()
    span = float(np.ptp(inputs.points[1]))
    curve = there.fitted.curve
    signal = np.linspace(*curve.domain, _PLACES)
    values = curve.value(signal)
    found = []
    for row in inputs.assumed_rows:
        moved = list(inputs.reference)
        moved[row] += _OFF * span
        other = candidate_of(inputs.with_(reference=tuple(moved)), model)
        if other is None or other.fitted is None or span == 0:
            continue
        off = np.abs(other.fitted.curve.value(signal) - values)
        worst = int(np.argmax(off))
        found.append(AssumptionCost(row, inputs.reference[row], float(off[worst]) / span, float(values[worst])))
    return tuple(found)
