"""The plan of a proof run: both ends of the range and between the gathered stops, up and down; how far it has come.

At a gathered stop a curve through the readings agrees by its making, so that a proof there alone shows little.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.stop_plan import Stop, is_at
from ..job.job import Job
from ..journal.reading import Amended
from .check_budget import doubt_of
from .checks import Check, checks_of
from .missed import Missed, PlannedCheck, missed_by
from .rule import limit_of

_MOST, _USUAL = 7, 5
_SAME = 0.02  # of the span: gathered stops nearer than that are one
_NEAR_END = 0.06  # of the span: an end this near to another place stands for it


def proof_stops(job: Job, channel: ContinuousChannel) -> tuple[Stop, ...]:
    """The stops of a proof in their order, in the channel's unit: up, then down again without the top."""
    values = _places(job, channel)
    up = [Stop(value, "up") for value in values]
    return (*up, *(Stop(value, "down") for value in reversed(values[:-1])))


def _places(job: Job, channel: ContinuousChannel) -> list[float]:
    low, high = channel.range
    gathered = gathered_stops(job, channel)
    between = (gathered[:-1] + gathered[1:]) / 2 if len(gathered) > 1 else np.linspace(low, high, _USUAL)[1:-1]
    if len(between) > _MOST - 2:
        between = between[np.unique(np.round(np.linspace(0, len(between) - 1, _MOST - 2)).astype(int))]
    inside = [value for value in between.tolist() if min(value - low, high - value) > _NEAR_END * channel.span]
    return [float(f"{value:.4g}") for value in (low, *inside, high)]


def gathered_stops(job: Job, channel: ContinuousChannel) -> NDArray[np.float64]:
    """The values at which readings were gathered, in the channel's unit, rising, shape (n,)."""
    rows = (row.reading for row in job.amended(channel.id, "gather") if row.is_used)
    values = sorted({channel.in_unit(row.reference, row.reference_unit)[0] for row in rows})
    found: list[float] = []
    for value in values:
        if not found or value - found[-1] > _SAME * channel.span:
            found.append(value)
    return np.array(found)


class RunProgress(NamedTuple):
    """A proof run as it stands: its stops, which of them are taken, and the next one (None once all are)."""

    stops: tuple[Stop, ...]
    taken: tuple[bool, ...]

    @property
    def at(self) -> int | None:
        """The number of the next stop, from 0; None once all are taken."""
        return next((n for n, done in enumerate(self.taken) if not done), None)

    @property
    def stop(self) -> Stop | None:
        """The next stop."""
        return None if self.at is None else self.stops[self.at]

    @property
    def is_begun(self) -> bool:
        """Whether any stop is taken."""
        return any(self.taken)


def run_progress(job: Job, channel: ContinuousChannel) -> RunProgress:
    """How far the proof of the numbers in force has come along its plan."""
    stops = proof_stops(job, channel)
    left = [check for check in checks_of(job, channel) if not check.stale]
    taken = []
    for stop in stops:
        match = next((check for check in left if _is_of(stop, check, channel.span)), None)
        if match is not None:
            left.remove(match)
        taken.append(match is not None)
    return RunProgress(stops, tuple(taken))


def _is_of(stop: Stop, check: Check, span: float) -> bool:
    way = check.row.reading.direction
    return is_at(stop, check.reference, span) and way in (stop.direction, "not stated")


def missed_by_plan(job: Job, channel: ContinuousChannel) -> tuple[Missed, ...]:
    """What the whole plan would miss, before anything is taken, with the uncertainty that readings so far had.

    None where that, or the error allowed, is not known.
    """
    doubts = [doubt for row in _rows(job, channel) if (doubt := doubt_of(job, channel, row)) is not None]
    if not doubts or not channel.tolerance.is_stated:
        return ()
    doubt = sorted(doubts, key=lambda one: one.standard)[len(doubts) // 2]
    planned = tuple(
        PlannedCheck(
            stop.value, limit_of(channel.decision, channel.allowed_error(stop.value), doubt), doubt.standard,
            stop.direction,
        )
        for stop in proof_stops(job, channel)
    )  # fmt: skip
    return missed_by(planned, *channel.range)


def _rows(job: Job, channel: ContinuousChannel) -> list[Amended]:
    return [row for purpose in ("gather", "prove") for row in job.amended(channel.id, purpose) if row.is_used]
