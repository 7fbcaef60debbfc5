"""The readings in use as points: signal at the pin and reference, in the channel's unit."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..job.job import Job
from ..journal.reading import Amended
from ..path.node import Met
from ..path.pin import true_pin
from ..units.conditions import Conditions

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
    return Points(rows, pins_of_rows(channel, rows), _references(channel, rows))


def pins_of_rows(channel: ContinuousChannel, rows: Sequence[Amended]) -> Array:
    """Their signals at the pin (n,), those met alike together; NaN where only the shown value was seen."""
    found = np.full(len(rows), np.nan)
    alike: dict[tuple[Met, Conditions], list[int]] = {}
    for n, row in enumerate(rows):
        if row.reading.raw is not None:
            alike.setdefault((row.reading.raw.met, row.reading.conditions), []).append(n)
    for (met, conditions), at in alike.items():
        means = np.array([raw.mean for n in at if (raw := rows[n].reading.raw) is not None])
        found[at] = true_pin(channel.path, means, met, channel.surrounded(conditions))
    return found


def _references(channel: ContinuousChannel, rows: tuple[Amended, ...]) -> Array:
    """Their references in the channel's unit (n,), those in one unit together."""
    found = np.zeros(len(rows))
    alike: dict[str, list[int]] = {}
    for n, row in enumerate(rows):
        alike.setdefault(row.reading.reference_unit, []).append(n)
    for unit, at in alike.items():
        found[at] = channel.converted(np.array([rows[n].reading.reference for n in at]), unit, channel.unit)
    return found


def pin_of(channel: ContinuousChannel, row: Amended) -> float:
    """The signal at the pin of a reading, in the pin's unit; NaN if only the shown value was seen."""
    raw = row.reading.raw
    return float("nan") if raw is None else raw.at_pin(channel.path, channel.surrounded(row.reading.conditions))
