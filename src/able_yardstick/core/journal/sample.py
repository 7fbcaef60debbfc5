"""Values from a source, one by one or as a stretch of them, with when they came and whether they are fit for use."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..path.node import COUNTS, Met
from ..words.record import Finite, Frozen

Array = NDArray[np.float64]
SampleState = Literal["good", "stale", "bad"]
STATES: tuple[SampleState, ...] = ("good", "stale", "bad")
GOOD, STALE, BAD = range(3)


class Sample(Frozen):
    """A value in the unit of its source, numbered by it.

    `time_s` is monotonic, `wall_s` the clock on the wall in seconds since 1970; both name the same moment.
    """

    value: Finite | None
    time_s: Finite
    sequence: int = Field(ge=0)
    wall_s: Finite = 0.0
    state: SampleState = "good"
    reason: str = ""

    @model_validator(mode="after")
    def _bad_has_a_reason(self) -> Self:
        if self.state == "bad" and not self.reason:
            raise ValueError("a bad sample must say why it is bad")
        if self.state != "bad" and self.value is None:
            raise ValueError("a sample without a value is a bad one")
        return self


@dataclass(frozen=True, eq=False)
class Series:
    """A stretch of samples as arrays of one shape (n,): times and clock in s, values in the unit they were met in.

    `met` says where along a channel's path a raw value was met. `states` holds 0 good, 1 stale, 2 bad; `reasons` says
    why, by sequence number. A gap of the link is a bad sample without a value: it is never filled with the last one.
    """

    times_s: Array
    walls_s: Array
    values: Array
    sequences: NDArray[np.int64]
    states: NDArray[np.uint8]
    reasons: dict[int, str]
    met: Met = COUNTS

    @classmethod
    def of(cls, times_s: Array, values: Array, met: Met = COUNTS) -> "Series":
        """Good samples numbered from 0: times in s and values in the unit of `met`, shapes (n,)."""
        count = len(times_s)
        times, numbers = np.asarray(times_s, dtype=float), np.asarray(values, dtype=float)
        return cls(times, times, numbers, np.arange(count), np.zeros(count, dtype=np.uint8), {}, met)

    def __len__(self) -> int:
        return len(self.times_s)

    def __iter__(self) -> Iterator[Sample]:
        for n in range(len(self)):
            sequence = int(self.sequences[n])
            value = float(self.values[n])
            yield Sample(
                value=value if np.isfinite(value) else None,
                time_s=float(self.times_s[n]),
                wall_s=float(self.walls_s[n]),
                sequence=max(sequence, 0),
                state=STATES[self.states[n]],
                reason=self.reasons.get(sequence, "no value came") if self.states[n] == BAD else "",
            )

    def where(self, chosen: NDArray[np.bool_]) -> "Series":
        """The samples that are chosen, shape (n,), in the units they are in."""
        return Series(
            self.times_s[chosen], self.walls_s[chosen], self.values[chosen], self.sequences[chosen],
            self.states[chosen], self.reasons, self.met,
        )  # fmt: skip

    @property
    def good(self) -> "Series":
        """The samples fit for use."""
        return self.where(self.states == GOOD)

    @property
    def spoilt_by(self) -> str:
        """What the last bad sample says for itself, in a few words; empty if there is none."""
        bad = self.sequences[self.states == BAD]
        if not len(bad):
            return ""
        why = self.reasons.get(int(bad[-1]), "").partition(". ")[0].rstrip(".")
        return f"{why or 'the link dropped'}, within the window"

    def since(self, start_s: float, end_s: float = np.inf) -> "Series":
        """The samples of a stretch of monotonic time, its start included."""
        return self.where((self.times_s >= start_s) & (self.times_s < end_s))

    def scaled(self, values: Array, met: Met | None = None) -> "Series":
        """The same samples with other values, shape (n,): in another unit, say, or as met elsewhere on the path."""
        return replace(self, values=np.asarray(values), met=met or self.met)

    @property
    def length_s(self) -> float:
        """From the first sample to the last."""
        return float(self.times_s[-1] - self.times_s[0]) if len(self) else 0.0

    @property
    def rate_hz(self) -> float:
        """Samples per second, by the median step between them; 0 where there are too few."""
        steps = np.diff(self.times_s)
        steps = steps[steps > 0]
        return 1 / float(np.median(steps)) if len(steps) else 0.0

    @property
    def lost(self) -> int:
        """How many of the numbers sent never came."""
        numbers = np.sort(self.sequences[self.sequences >= 0])
        return int((np.diff(numbers) - 1).clip(0).sum()) if len(numbers) > 1 else 0

    @property
    def out_of_order(self) -> int:
        """How many samples came before one that was sent earlier."""
        return int((np.diff(self.sequences) <= 0).sum()) if len(self) > 1 else 0


def still_missing(series: Series, there: int, wanted: int) -> str:
    """How many samples there are of those wanted, and how long the rest will take at the rate they come."""
    rate = series.good.rate_hz
    wait = f", {(wanted - there) / rate:.0f} s more" if rate else ""
    return f"{there} of {wanted} samples{wait}"


EMPTY = Series.of(np.zeros(0), np.zeros(0))
