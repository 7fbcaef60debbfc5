"""Reckoned once: results kept beside the record they were reckoned from, which never changes."""

from collections.abc import Callable
from functools import wraps
from typing import Any, Concatenate, ParamSpec, Protocol, TypeVar, cast

from ..words.record import Frozen
from .channel import AnyChannel, ContinuousChannel

P = ParamSpec("P")
R = TypeVar("R")
C = TypeVar("C", bound=AnyChannel)


class Sliced(Protocol):
    """What can tell all that matters to one channel."""

    def slice_of(self, channel: AnyChannel, /) -> tuple[Any, ...]:
        """Everything that can matter to it, as records that never change."""


T = TypeVar("T", bound=Sliced)


def once_per_slice(function: Callable[Concatenate[T, C, P], R]) -> Callable[Concatenate[T, C, P], R]:
    """Reckon once for all that matters to a channel: an edit elsewhere in the job asks for nothing anew.

    The further arguments are words.
    """

    @wraps(function)
    def remembered(job: T, channel: C, /, *args: P.args, **kwargs: P.kwargs) -> R:
        key = (function.__module__, function.__name__, *map(str, args), *map(str, kwargs.values()))
        now = job.slice_of(channel)
        kept = channel.memo.get(key)
        if kept is None or not _same(kept[0], now):
            channel.memo[key] = kept = (now, function(job, channel, *args, **kwargs))
        elif kept[0] is not now:
            channel.memo[key] = kept = (now, kept[1])  # so that the next comparison is one of names
        return cast(R, kept[1])

    return remembered


def _same(then: tuple[Any, ...], now: tuple[Any, ...]) -> bool:
    return then is now or all(one is other or one == other for one, other in zip(then, now, strict=True))


Inputs = TypeVar("Inputs", bound=Frozen)
_MOST = 512


def once_per_inputs(function: Callable[Concatenate[Inputs, P], R]) -> Callable[Concatenate[Inputs, P], R]:
    """Reckon once for inputs of the same contents, whichever record holds them; further arguments are records or words.

    So renaming a channel, say, costs no fit. What was not asked for long is forgotten.
    """
    kept: dict[tuple[object, ...], R] = {}

    @wraps(function)
    def remembered(inputs: Inputs, /, *args: P.args, **kwargs: P.kwargs) -> R:
        parts = (inputs, *args, *kwargs.values())
        key = tuple(part.json_text if isinstance(part, Frozen) else part for part in parts)
        if key not in kept:
            if len(kept) >= _MOST:
                for old in list(kept)[: _MOST // 2]:
                    kept.pop(old, None)  # which another thread may have done
            kept[key] = function(inputs, *args, **kwargs)
        return kept[key]

    return remembered


def once_per_record(function: Callable[[ContinuousChannel], R]) -> Callable[[ContinuousChannel], R]:
    """Reckon once for each record of a channel: other channels of a new tree are the same records as before."""

    @wraps(function)
    def remembered(channel: ContinuousChannel, /) -> R:
        key = (function.__module__, function.__name__)
        if key not in channel.memo:
            channel.memo[key] = (None, function(channel))
        return cast(R, channel.memo[key][1])

    return remembered
