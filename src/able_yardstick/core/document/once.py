"""Reckoned once: results kept beside the record they were reckoned from, which never changes."""

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from ..job.job import Job
from .channel import ContinuousChannel

Array = NDArray[np.float64]
P = ParamSpec("P")
R = TypeVar("R")


def once_per_tree(
    function: Callable[Concatenate[Job, ContinuousChannel, P], R],
) -> Callable[Concatenate[Job, ContinuousChannel, P], R]:
    """Reckon once for each tree and channel: a tree never changes, and is asked the same by every part of a window.

    The further arguments are words.
    """

    @wraps(function)
    def remembered(job: Job, channel: ContinuousChannel, /, *args: P.args, **kwargs: P.kwargs) -> R:
        key = (function.__name__, channel.id, *map(str, args), *map(str, kwargs.values()))
        kept = job.memo.get(key)
        if kept is None or kept[0] is not channel:
            kept = job.memo[key] = (channel, function(job, channel, *args, **kwargs))
        return cast(R, kept[1])

    return remembered


def once_per_record(function: Callable[[ContinuousChannel], R]) -> Callable[[ContinuousChannel], R]:
    """Reckon once for each record of a channel: other channels of a new tree are the same records as before."""

    @wraps(function)
    def remembered(channel: ContinuousChannel, /) -> R:
        if function.__name__ not in channel.memo:
            channel.memo[function.__name__] = function(channel)
        return cast(R, channel.memo[function.__name__])

    return remembered
