"""Reckoned once: results kept beside the record they were reckoned from, which never changes."""

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, Protocol, TypeVar, cast

from .channel import ContinuousChannel

P = ParamSpec("P")
R = TypeVar("R")


class Tree(Protocol):
    """What has room for what is reckoned from it."""

    @property
    def memo(self) -> dict[tuple[str, ...], tuple[object, object]]:
        """By what was asked: the record it was asked of, and what came of it."""


T = TypeVar("T", bound=Tree)


def once_per_tree(
    function: Callable[Concatenate[T, ContinuousChannel, P], R],
) -> Callable[Concatenate[T, ContinuousChannel, P], R]:
    """Reckon once for each tree and channel: a tree never changes, and is asked the same by every part of a window.

    The further arguments are words.
    """

    @wraps(function)
    def remembered(job: T, channel: ContinuousChannel, /, *args: P.args, **kwargs: P.kwargs) -> R:
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
