"""What an earlier version of the program made, made anew: such results may not name all that they rest on."""

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.chosen import FitRecord
from ..fit.inputs import inputs_in_unit
from ..fit.on_offer import candidate_of
from ..job.job import Job
from ..journal.records import PackRecord
from ..pack.inputs import pack_inputs
from ..pack.packed import packed
from ..words.errors import YardstickError

_PLACES = 33
_SHARE = 0.01  # of a count: less than any controller can tell


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
    """Whether the numbers kept for a controller are still those that their settings make, to the last digit."""
    try:
        return packed(pack_inputs(job, channel, record.spec)).form == record.form
    except YardstickError:
        return False
