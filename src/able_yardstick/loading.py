"""While the program is loaded nothing is looked through for garbage: what is loaded stays to the end."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager


def hold() -> None:
    """Collect nothing for a while."""
    gc.disable()


def release() -> None:
    """Collect again, without ever looking through what is there by now."""
    gc.freeze()
    gc.enable()


@contextmanager
def without_garbage() -> Iterator[None]:
    """While millions of small things are made, all of which are kept, nothing is looked through for garbage."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()
