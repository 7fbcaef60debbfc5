"""What came of an attack: how much was tried, how much of it refused in words, and what went wrong, by where it did."""

import json
import signal
import time
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

SLOW_S = 60


class TooSlowError(Exception):
    """Something hung."""


class Tally:
    """Counts, and one example of each thing that went wrong."""

    def __init__(self, name: str, seconds: float, first_seed: int) -> None:
        self.name, self._seconds, self._seed = name, seconds, first_seed
        self.tried = self.refused = self.wrong = 0
        self.examples: dict[str, str] = {}

    def seeds(self) -> Iterator[int]:
        """One seed after the other until the time is over, which begins with the first: one at least."""
        end = time.monotonic() + self._seconds
        while True:
            yield self._seed
            self._seed += 1
            if time.monotonic() >= end:
                return

    @contextmanager
    def attempt(self, what: Callable[[], str]) -> Iterator[None]:
        """One attempt: what it raises, or that it hangs, is wrong."""
        self.tried += 1

        def hung(*_args: Any) -> None:
            raise TooSlowError(f"nothing after {SLOW_S} s")

        signal.signal(signal.SIGALRM, hung)
        signal.alarm(SLOW_S)
        try:
            yield
        except Exception as error:
            self.note(error, what())
        finally:
            signal.alarm(0)

    def note(self, error: BaseException, what: str) -> None:
        """Something went wrong."""
        self.wrong += 1
        frames = [frame for frame in traceback.extract_tb(error.__traceback__) if "able_yardstick" in frame.filename]
        place = f"{frames[-1].filename.rpartition('able_yardstick/')[2]}:{frames[-1].lineno}" if frames else "—"
        key = f"{type(error).__name__} at {place}"
        self.examples.setdefault(key, f"{what}: {str(error)[:160]}")

    def told(self) -> str:
        """As JSON on one line."""
        return json.dumps(
            {"name": self.name, "tried": self.tried, "refused": self.refused, "wrong": self.wrong,
             "examples": self.examples}
        )  # fmt: skip
