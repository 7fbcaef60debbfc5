"""What stretch of time is looked at, and the two cursors: moved and zoomed by pure functions."""

from typing import Literal, NamedTuple

LEAST_S = 1e-3
CursorName = Literal["A", "B"]


class Sighted(NamedTuple):
    """From when to when is looked at, in s; where the cursors stand, None where not set; whether it stands still."""

    start_s: float
    end_s: float
    a_s: float | None = None
    b_s: float | None = None
    is_held: bool = True

    @property
    def length_s(self) -> float:
        """How long the stretch is."""
        return self.end_s - self.start_s

    @property
    def stretch_s(self) -> tuple[float, float]:
        """Between the cursors where both are set, else all that is looked at."""
        if self.a_s is None or self.b_s is None or self.a_s == self.b_s:
            return self.start_s, self.end_s
        return min(self.a_s, self.b_s), max(self.a_s, self.b_s)

    @property
    def is_between(self) -> bool:
        """Whether the stretch is that between the cursors."""
        return self.stretch_s != (self.start_s, self.end_s)

    def zoomed(self, factor: float, about_s: float) -> "Sighted":
        """A stretch so many times as long, about a moment that stays where it is."""
        length = max(self.length_s * factor, LEAST_S)
        share = (about_s - self.start_s) / self.length_s
        start = about_s - share * length
        return self._replace(start_s=start, end_s=start + length)

    def moved(self, by_s: float) -> "Sighted":
        """The same length later, or earlier."""
        return self._replace(start_s=self.start_s + by_s, end_s=self.end_s + by_s, is_held=True)

    def following(self, end_s: float) -> "Sighted":
        """The same length up to a moment."""
        return self._replace(start_s=end_s - self.length_s, end_s=end_s)

    def with_cursor(self, name: CursorName, at_s: float | None) -> "Sighted":
        """With a cursor at a moment, or taken away."""
        return self._replace(a_s=at_s) if name == "A" else self._replace(b_s=at_s)

    def shown(self, low_s: float, high_s: float) -> "Sighted":
        """All of a stretch."""
        return self._replace(start_s=low_s, end_s=max(high_s, low_s + LEAST_S))
