"""A log or a table played back: at any speed, held, or step by step."""

import time
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..core.document.sources import ReplaySource
from .source import LISTEN_S, Batch, OpenSource
from .tapes import Tape, tape_of

_BEFORE = -1e-9  # so that what is due at the very beginning comes too


@dataclass
class _Place:
    """How far it has been played, and when that was reckoned last, by our clock; s."""

    played_s: float = _BEFORE
    given_s: float = _BEFORE
    seen_s: float = 0.0


class Replay(OpenSource):
    """Gives each value when its time has come."""

    keeps_orders = True

    def __init__(self, spec: ReplaySource) -> None:
        self.spec: ReplaySource = spec
        self.speed = spec.speed
        self._tape: Tape | None = None
        self._place = _Place()
        self.is_held = False

    @property
    def period_s(self) -> float:
        """Values come when they are due."""
        return LISTEN_S

    @property
    def stale_after_s(self) -> float:
        """What is held stands still, and is not stale for it."""
        return np.inf if self.is_held else super().stale_after_s

    @property
    def at_s(self) -> float:
        """How far it has been played, in s from its beginning."""
        return max(self._place.played_s, 0.0)

    @property
    def length_s(self) -> float:
        """How long it is; 0 before it is open."""
        return 0.0 if self._tape is None else self._tape.length_s

    def open(self) -> str:
        """Read what is played. Raises: NoLink if there is none, BadAnswer for one without what is asked for."""
        self._tape = tape_of(self.spec)
        start = max(self.spec.start_s, 0.0) + _BEFORE
        self._place = _Place(start, start, time.monotonic())
        return self._tape.says

    def poll(self) -> Iterator[Batch]:
        """What is due since the last poll; nothing while it is held."""
        now, place = time.monotonic(), self._place
        if not self.is_held:
            place.played_s = min(place.played_s + (now - place.seen_s) * self.speed, self.length_s)
        place.seen_s = now
        yield from self._due()

    def hold(self, held: bool) -> None:
        """Stop where it is, or go on from there."""
        self.is_held = held
        self._place.seen_s = time.monotonic()

    def step(self) -> None:
        """Give the next value now; it stays held."""
        self.hold(True)
        due = None if self._tape is None else self._tape.next_after(self._place.given_s)
        if due is not None:
            self._place.played_s = due

    @property
    def is_over(self) -> bool:
        """Whether the last value was given."""
        return self._tape is not None and self._place.given_s >= self._tape.length_s

    def _due(self) -> Iterator[Batch]:
        place = self._place
        if self._tape is None or place.played_s <= place.given_s:
            return
        start, place.given_s = place.given_s, place.played_s
        now = time.monotonic()
        for batch in self._tape.between(start, place.played_s):
            yield batch._replace(times_s=now + (batch.times_s - place.played_s) / self.speed)

    def close(self) -> None:
        """Let go of the file."""
        if self._tape is not None:
            self._tape.close()
