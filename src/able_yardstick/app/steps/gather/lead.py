"""What stands at Gather, in a sentence: how far the readings reach, and where the next one helps most."""

import numpy as np

from ....core.document.channel import ContinuousChannel
from ....core.fit.inputs import repeats_of
from ....core.gather.advice import conflicts_of, next_stop
from ....core.gather.points import points_of
from ....core.job.job import Job
from ....core.state.progress import ENOUGH_STOPS, WIDE_ENOUGH
from ....core.words.numerals import counted, fixed, significant
from ...panel.lead_box import Headline


def lead_of_readings(job: Job, channel: ContinuousChannel) -> Headline:
    """Readings that contradict each other first; else whether there are enough, wide enough."""
    points = points_of(job, channel)
    if not len(points.rows):
        return Headline("open", "No readings yet.", "Each is what the reference and the sensor said at one moment.")
    conflicts = conflicts_of(job, channel)
    if conflicts:
        return Headline(
            "fault", f"{counted(len(conflicts), 'contradiction')} among the readings.", f"{conflicts[0].says}."
        )
    stops = len(set(repeats_of(channel, points).tolist()))
    share = min(float(np.ptp(points.reference)) / channel.span, 1.0)
    says = f"{counted(stops, 'stop')} over {share:.0%} of the range."
    where = next_stop(job, channel)
    best = f"The next helps most at {significant(where.value, 4)} {channel.unit}. {where.says}" if where else ""
    if stops >= ENOUGH_STOPS and share >= WIDE_ENOUGH:
        return Headline("ok", says, best)
    few = "" if share >= WIDE_ENOUGH else "They do not reach far enough yet. "
    return Headline("open", says, few + best)


def covered_sentence(job: Job, channel: ContinuousChannel) -> str:
    """How many readings there are, at how many stops, and over which part of the range."""
    points = points_of(job, channel)
    excluded = len(job.amended(channel.id, "gather")) - len(points.rows)
    out = f", {excluded} excluded" if excluded else ""
    if not len(points.rows):
        return f"No readings in use{out}."
    low, high = float(points.reference.min()), float(points.reference.max())
    stops = len(set(repeats_of(channel, points).tolist()))
    where = f"{fixed(low, 2)} to {fixed(high, 2)} {channel.unit}"
    return f"{counted(len(points.rows), 'reading')} at {counted(stops, 'stop')}, {where}{out}."
