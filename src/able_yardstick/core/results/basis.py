"""What the results of a channel rest on, and what of it has changed since."""

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel, WiredChannel
from ..document.once import once_per_slice
from ..fit.on_offer import weighing
from ..gather.points import points_of
from ..gather.reading_doubts import instruments_of
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..journal.reading import Amended
from ..words.record import digest

Array = NDArray[np.float64]


@once_per_slice
def fit_basis(job: Job, channel: ContinuousChannel, model: str) -> dict[str, str]:
    """The revisions a fit of this channel rests on, by name."""
    path: dict[str, object] = {
        "source": channel.path.source,
        "stages": [stage.model_dump(mode="json") for stage in channel.path.stages],
    }
    if model == "nominal":
        return {"description": digest(channel.transducer, channel.conditions), "signal path": digest(path)}
    rows = points_of(job, channel).rows
    if any(row.reading.raw is not None and row.reading.raw.node == "counts" for row in rows):
        path["converter"] = channel.path.converter.model_dump(mode="json")
    basis = {"readings": digest(*(_evidence(row) for row in rows)), "signal path": digest(path)}
    if weighing(job, channel) is not None:
        basis["weights"] = digest(*instruments_of(job, rows))
    return basis


def wake_basis(channel: WiredChannel) -> dict[str, str]:
    """What a look at the raw signal is judged by."""
    described = digest(channel.transducer) if isinstance(channel, ContinuousChannel) else digest(channel)
    return {"description": described, "signal path": digest(channel.path)}


def stale_wake(job: Job, channel: WiredChannel) -> tuple[str, ...]:
    """What has changed since the raw signal was looked at."""
    record = job.wake_of(channel.id)
    return () if record is None else _changes(record.basis, wake_basis(channel))


def _evidence(row: Amended) -> list[object]:
    reading = row.reading
    raw = reading.raw.model_dump(mode="json") if reading.raw else None
    return [reading.id, reading.reference, reading.reference_unit, raw]


def pack_basis(job: Job, channel: ContinuousChannel) -> dict[str, str]:
    """The revisions a packing of this channel rests on, by name."""
    record = job.fit_of(channel.id)
    curve = digest(record.fitted.curve, record.unit) if record else ""
    return {"curve": curve, "converter": digest(channel.path.converter), "unit": digest(channel.unit)}


_WHAT_CHANGED = {
    "readings": "the readings changed",
    "signal path": "the signal path changed",
    "description": "the description changed",
    "weights": "the uncertainty of a reference changed",
    "curve": "another curve is in use",
    "converter": "the converter changed",
    "unit": "the unit changed",
}


def _changes(then: dict[str, str], now: dict[str, str]) -> tuple[str, ...]:
    return tuple(_WHAT_CHANGED[name] for name in then if now.get(name) != then[name])


def stale_fit(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the chosen curve no longer stands; empty if it does, or if there is none."""
    record = job.fit_of(channel.id)
    if record is None:
        return ()
    reasons = _changes(record.basis, fit_basis(job, channel, record.fitted.spec.model))
    return reasons if curve_in_use(job, channel) else (*reasons, "the unit changed")


def stale_pack(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the kept packing no longer stands; empty if it does, or if there is none."""
    record = job.pack_of(channel.id)
    if record is None:
        return ()
    reasons = _changes(record.basis, pack_basis(job, channel))
    return reasons or (("its curve is out of date",) if stale_fit(job, channel) else ())
