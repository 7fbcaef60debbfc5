"""Long searches tell whoever watches them how far they are, and are stopped by them."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

Watch = Callable[[float | None, float | None], None]
_watch: ContextVar[Watch | None] = ContextVar("watch", default=None)


class Stopped(RuntimeError):
    """Whoever watches a search has stopped it: no refusal, and nothing is wrong with what was asked."""


@contextmanager
def watched_by(watch: Watch) -> Iterator[None]:
    """Searches within are watched: `watch` gets what the worst error cannot be below, and what was found; None where
    that is not known. It stops them by raising Stopped.
    """
    before = _watch.set(watch)
    try:
        yield
    finally:
        _watch.reset(before)


def step(bound: float | None = None, best: float | None = None) -> None:
    """One step of a search is done. Raises: Stopped."""
    watch = _watch.get()
    if watch is not None:
        watch(bound, best)
