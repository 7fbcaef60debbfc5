"""What a check has before it, and what it says."""

from collections.abc import Callable, Iterator
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np

from ...curves import Curve
from ...document.channel import ContinuousChannel
from ...document.controller import Landed
from ...document.nominal import nominal_curve
from ...job.job import Job
from ...job.nodes import range_pins
from ...words.numerals import signed, significant
from ..breaks import Break, breaks_of
from ..landing import landed

Severity = Literal["pass", "look", "fault"]


class Finding(NamedTuple):
    """What one check found: its arithmetic in words, what to do about it, and the node where it happens."""

    level: Severity
    check: str
    says: str
    do: str = ""
    node: str = "pin"

    @property
    def text(self) -> str:
        """Both sentences."""
        return f"{self.says} {self.do}".strip()


class View:
    """A channel with what the checks ask of it, reckoned once."""

    def __init__(self, job: Job, channel: ContinuousChannel) -> None:
        self.job, self.channel = job, channel
        self.path, self.part = channel.path, channel.transducer
        self.converter = channel.path.converter
        self.unit = channel.path.pin_unit

    @cached_property
    def curve(self) -> Curve | None:
        """The described curve at the pin."""
        return nominal_curve(self.channel)

    @cached_property
    def ends(self) -> tuple[float, float] | None:
        """The pin at the lower and at the upper range value."""
        return range_pins(self.channel)

    @cached_property
    def place(self) -> Landed | None:
        """Where it is landed."""
        return landed(self.job, self.channel)

    @cached_property
    def breaks(self) -> tuple[Break, ...]:
        """What each break would read like."""
        return breaks_of(self.job, self.channel)

    def pin_at(self, value: float) -> float | None:
        """The pin at a value of the quantity, in the sheet's unit; None without a curve."""
        if self.curve is None:
            return None
        return float(self.curve.signal(self.channel.in_unit(value, self.part.unit)[0]))

    def output_at(self, pin: float) -> float:
        """The transducer's output for a signal at the pin."""
        return float(self.path.output(pin, self.channel.around))

    def value_step(self, pin: float, step: float) -> float:
        """What a step of the pin's signal is in the channel's unit, at a signal."""
        return abs(float(self.curve.slope(pin))) * step if self.curve is not None else float("nan")


CheckFunction = Callable[[View], Iterator[Finding]]


def off_by(share: float) -> str:
    """A share as a percentage with its sign."""
    return f"{signed(100 * share, 2)} %"


def number(value: float, unit: str, digits: int = 4) -> str:
    """A value with its unit; what rounding left of a 0 is 0."""
    value = 0.0 if abs(value) < 1e-9 else value
    return f"{significant(value, digits)} {unit}".strip() if np.isfinite(value) else "—"
