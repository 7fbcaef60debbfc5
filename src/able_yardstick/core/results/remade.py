"""What an earlier version of the program made, made anew: such results may not name all that they rest on."""

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.chosen import FitRecord
from ..fit.inputs import inputs_in_unit
from ..fit.on_offer import candidate_of
from ..forms.cost import PackingCost
from ..forms.table import Knots
from ..job.job import Job
from ..journal.records import PackRecord
from ..pack.inputs import pack_inputs
from ..pack.packed import cost_of, packed
from ..words.errors import YardstickError

_PLACES = 33
_SHARE = 0.01  # of a count: less than any controller can tell
_ROUNDED = 1e-9  # of an error: its last digits
_SEARCHED = 2e-3  # of an error: how near to the best a search ends


def same_curve(job: Job, channel: ContinuousChannel, record: FitRecord) -> bool:
    """Whether a chosen curve comes out the same now, to a hundredth of a count. Raises: UnitMismatch."""
    model, kept = record.fitted.spec.model, record.fitted.curve
    row = candidate_of(inputs_in_unit(job, channel, record.unit), model)
    if row is None or row.fitted is None:
        return False
    now, step = row.fitted.curve, channel.path.converter.resolution
    if np.max(np.abs(np.subtract(now.domain, kept.domain))) > _SHARE * step:
        return False
    signal = np.linspace(*kept.domain, _PLACES)
    least = _SHARE * step * float(np.min(np.abs(kept.slope(signal))))
    return bool(np.max(np.abs(now.value(signal) - kept.value(signal))) <= least)


def same_numbers(job: Job, channel: ContinuousChannel, record: PackRecord) -> bool:
    """Whether the numbers kept for a controller are still those that their settings make, to the last digit.

    Where knots stand anywhere, a later search may place them elsewhere for the same error: then the numbers kept must
    err by what they did, and no more than those made now.
    """
    try:
        inputs = pack_inputs(job, channel, record.spec)
        if not isinstance(record.form, Knots):
            return packed(inputs).form == record.form
        now = cost_of(record.form, inputs)  # at once, where a search takes its time
        return _is_same(now, record.cost) and _is_as_good(now, packed(inputs).cost)
    except YardstickError:
        return False


def _is_same(now: PackingCost, then: PackingCost) -> bool:
    return now.overall.count == then.overall.count and bool(
        np.isclose(now.overall.error, then.overall.error, rtol=_ROUNDED, atol=0.0)
    )


def _is_as_good(now: PackingCost, made: PackingCost) -> bool:
    return abs(now.overall.error) <= (1 + _SEARCHED) * abs(made.overall.error)
