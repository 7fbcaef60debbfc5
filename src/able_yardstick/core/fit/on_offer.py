"""The curves on offer for a channel, what each is worth, and the one recommended."""

from functools import partial

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve, zero_of
from ..document.once import once_per_slice
from ..gather.points import Points, points_of
from ..gather.reading_doubts import doubts_of
from ..job.job import Job
from ..regression.choice import Candidate, Choice, candidates, simplest
from ..regression.doubt import Doubts
from ..regression.fitted import DEGREES, FitSpec, Fitted
from ..regression.worth import Worth, worth_of
from .sensor_fit import fit_through_path, sensor_candidate, sensor_models

Array = NDArray[np.float64]


def specs_of(channel: ContinuousChannel, points: Points) -> tuple[FitSpec, ...]:
    """The models on offer with the channel's settings for them."""
    first, second = (points.row_of(reading) for reading in channel.two_points) if channel.two_points else (None, None)
    settings = channel.fit_settings
    formula = FitSpec(model="formula", formula=settings.formula, start=settings.start, robust=settings.robust)
    return (
        FitSpec(model="two-point", first=first, second=second),
        FitSpec(model="terminal"),
        FitSpec(model="through-zero", zero=zero_of(channel), robust=settings.robust),
        *(FitSpec(model=model, robust=settings.robust) for model in DEGREES),
        FitSpec(model="table"),
        FitSpec(model="pchip"),
        *([formula] if settings.formula else []),
    )


@once_per_slice
def weighing(job: Job, channel: ContinuousChannel) -> Doubts | None:
    """What the readings are weighed by; None if all weigh the same."""
    if channel.fit_settings.weigh == "all the same":
        return None
    return doubts_of(job, channel, points_of(job, channel).rows)


@once_per_slice
def candidates_of(job: Job, channel: ContinuousChannel) -> list[Candidate]:
    """Every curve on offer for a channel; without readings only the described one, if there is one."""
    points = points_of(job, channel)
    if not len(points.rows):
        return candidates(points.signal, points.reference, (), nominal_curve(channel))
    doubts = weighing(job, channel)
    rows = candidates(points.signal, points.reference, specs_of(channel, points), nominal_curve(channel), doubts)
    laws = [
        sensor_candidate(channel, points.signal, points.reference, model, doubts) for model in sensor_models(channel)
    ]
    return rows + laws


def worth_in(job: Job, channel: ContinuousChannel, fitted: Fitted) -> Worth:
    """What a candidate of a channel is worth."""
    points, doubts = points_of(job, channel), weighing(job, channel)
    if fitted.spec.model in sensor_models(channel):
        refit = partial(fit_through_path, channel)
        return worth_of(points.signal, points.reference, fitted, doubts, refit)
    return worth_of(points.signal, points.reference, fitted, doubts)


@once_per_slice
def recommended(job: Job, channel: ContinuousChannel) -> Choice | None:
    """The simplest adequate candidate with its reason; None while there is nothing fitted."""
    points = points_of(job, channel)
    if not len(points.rows):
        return None
    allowed = channel.tolerance.at(points.reference, channel.span) if channel.tolerance.is_stated else None
    return simplest(candidates_of(job, channel), points.signal, points.reference, allowed)
