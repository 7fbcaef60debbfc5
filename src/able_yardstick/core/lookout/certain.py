"""How certain a channel's value is: its U, and where that figure is from."""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..fit.budget import reach_of
from ..job.job import Job
from ..wire.error_budget import along_range
from ..words.errors import YardstickError

Array = NDArray[np.float64]
CertainOrigin = Literal["of its calibration", "of its description"]


class Certainty(NamedTuple):
    """Expanded uncertainties (k = 2) at values, shapes (n,), rising, in the channel's unit, and where they are from."""

    values: Array
    expanded: Array
    origin: CertainOrigin

    def at(self, value: Array | float) -> Array:
        """U at values, shape kept, in the channel's unit."""
        return np.asarray(np.interp(value, self.values, self.expanded))


@once_per_slice
def certainty_of(job: Job, channel: ContinuousChannel) -> Certainty | None:
    """U of a channel along its range: of the chosen curve, else of the parts as described; None where not known."""
    record = job.fit_of(channel.id)
    try:
        reach = None if record is None else reach_of(job, channel, record.fitted.spec.model)
        if reach is not None and record is not None:
            values = np.asarray(record.fitted.curve.value(reach.pins))
            order = np.argsort(values)
            return Certainty(values[order], reach.expanded[order], "of its calibration")
        if record is not None and record.fitted.spec.model != "nominal":
            return None
        budgets = along_range(channel)
    except YardstickError:
        return None
    rows = np.array(sorted((budget.value, budget.expanded) for budget in budgets))
    return Certainty(rows[:, 0], rows[:, 1], "of its description")
