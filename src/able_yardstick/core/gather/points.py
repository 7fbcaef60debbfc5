"""The readings in use as points: signal at the pin and reference, in the channel's unit."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..job.job import Job
from ..journal.reading import Amended

Array = NDArray[np.float64]


class Points(NamedTuple):
    """Readings in use: signal at the pin (n,), reference in the channel's unit (n,), and where they come from."""

    rows: tuple[Amended, ...]
    signal: Array
    reference: Array

    def row_of(self, reading_id: str) -> int | None:
        """The row of a reading, if it is in use."""
        return next((i for i, row in enumerate(self.rows) if row.reading.id == reading_id), None)


@once_per_slice
def points_of(job: Job, channel: ContinuousChannel) -> Points:
    """The readings a curve is fitted to, without the excluded ones."""
    rows = tuple(row for row in job.amended(channel.id, "gather") if row.is_used)
    signal = [pin_of(channel, row) for row in rows]
    reference = [channel.in_unit(row.reading.reference, row.reading.reference_unit)[0] for row in rows]
    return Points(rows, np.array(signal, dtype=float), np.array(reference, dtype=float))


def pin_of(channel: ContinuousChannel, row: Amended) -> float:
    """The signal at the pin of a reading, in the pin's unit; NaN if only the shown value was seen."""
    raw = row.reading.raw
    return float("nan") if raw is None else raw.at_pin(channel.path, channel.surrounded(row.reading.conditions))
