"""What can be watched and compared: a channel with a curve, or a value made of channels."""

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.watched import CombinedValue, FormulaValue, TotalValue
from ..job.job import Job
from ..units.conversion import convert
from ..words.errors import NoSuchThing

Array = NDArray[np.float64]
Watchable = ContinuousChannel | FormulaValue | CombinedValue | TotalValue


def watchables(job: Job) -> tuple[Watchable, ...]:
    """All of a job: channels with a curve first."""
    channels = (one for one in job.channels if isinstance(one, ContinuousChannel))
    return (*channels, *job.watch.values)


def watchable(job: Job, row_id: str) -> Watchable:
    """One by its id. Raises: NoSuchThing."""
    found = next((one for one in watchables(job) if one.id == row_id), None)
    if found is None:
        raise NoSuchThing("One of those that are compared is not here any more. Change what is compared.")
    return found


def in_unit_of(first: Watchable, written: str, values: Array) -> Array:
    """Values (n,) in a unit someone wrote as ones in the unit of what they are compared with, (n,).

    Raises: UnitMismatch.
    """
    if first.unit == written:
        return values
    if isinstance(first, ContinuousChannel):
        return first.converted(values, written, first.unit)
    return convert(values, written, first.unit)
