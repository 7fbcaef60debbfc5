"""A divider's factor, a converter's full count or its reference, solved from pairs measured on the bench.

Each is the factor k of a line y = k x through zero: k = sum(x y) / sum(x^2), with the standard error
s / sqrt(sum(x^2)) where there are two pairs or more (JCGM 100:2008, H.3, for a line without an intercept).
"""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..path.converter import Converter
from ..path.signal_path import Path
from ..stages import Divider
from ..words.errors import NotApplicable, OutOfRange, TooFewReadings
from ..words.numerals import significant

Array = NDArray[np.float64]
What = Literal["divider factor", "full count", "reference"]


class Solved(NamedTuple):
    """A figure from measured pairs with its standard error, beside the nominal; `unit` is empty for a plain number."""

    what: What
    value: float
    standard_error: float | None
    nominal: float
    unit: str
    pairs: int

    @property
    def percent(self) -> float:
        """How far the measured figure lies off the nominal one, in percent of it."""
        return 100 * (self.value / self.nominal - 1)

    @property
    def says(self) -> str:
        """Both side by side."""
        blur = "" if self.standard_error is None else f" ± {significant(self.standard_error, 2)}"
        unit = f" {self.unit}" if self.unit else ""
        sign = "+" if self.percent >= 0 else ""
        return (
            f"Measured {significant(self.value, 7)}{blur}{unit}, nominal {significant(self.nominal, 7)}{unit}: "
            f"{sign}{significant(self.percent, 3)} %."
        )


def solve_divider(path: Path, at: int, volts_in: Array, volts_out: Array) -> Solved:
    """The factor of the stage `at` from signals in V before and behind it, (n,) each, measured with its load in place.

    Raises: NotApplicable if it is no divider, TooFewReadings, OutOfRange.
    """
    divider = _divider(path, at)
    value, error = _through_zero(volts_in, volts_out)
    if not 0 < value < 1:
        raise OutOfRange(
            f"These pairs give a factor of {value:.6g}: a divider's lies between 0 and 1. "
            "Enter the voltage before it first, the one behind it second.",
            found=value,
        )
    return Solved("divider factor", value, error, divider.stated_factor(path.loads[at]), "", len(volts_in))


def solve_full_count(converter: Converter, signals: Array, counts: Array) -> Solved:
    """The count at the top of the span, from signals at the pin and the counts they gave, (n,) each."""
    share = (signals - converter.start) / (converter.end - converter.start)
    value, error = _through_zero(share, counts)
    return Solved("full count", value, error, float(converter.counts_at_top), "counts", len(counts))


def solve_reference(converter: Converter, signals: Array, counts: Array) -> Solved:
    """The reference in V, from signals at the pin and the counts they gave, (n,) each, with the full count as it is."""
    nominal = converter.nominal
    believed = nominal.low + (nominal.high - nominal.low) * counts / nominal.counts_at_top
    value, error = _through_zero(believed, signals)
    volts = converter.reference_v
    return Solved("reference", value * volts, None if error is None else error * volts, volts, "V", len(counts))


def applied(path: Path, solved: Solved, at: int | None = None) -> Path:
    """The path with a measured figure in force beside the stated one: the divider's factor, the full count, or the
    reference.

    Raises: NotApplicable if that part is no divider.
    """
    if solved.what == "divider factor":
        _divider(path, at)
        within = 0.0 if solved.standard_error is None else 2 * solved.standard_error
        figures = {"measured_factor": solved.value, "measured_within": within}
        stages = tuple(one.with_(**figures) if n == at else one for n, one in enumerate(path.stages))
        return path.with_(stages=stages)
    converter = path.converter
    if solved.what == "reference":
        return path.with_(converter=converter.with_(reference_measured_v=solved.value))
    above = 1 if converter.top == "one above" else 0
    return path.with_(converter=converter.with_(full_count=round(solved.value) - above))


def _divider(path: Path, at: int | None) -> Divider:
    stage = path.stages[at] if at is not None and 0 <= at < len(path.stages) else None
    if not isinstance(stage, Divider):
        raise NotApplicable("That part of the path is no divider. Choose one that is.")
    return stage


def _through_zero(x: Array, y: Array) -> tuple[float, float | None]:
    square = float(x @ x)
    if not len(x) or square == 0:
        raise TooFewReadings("At least one pair away from zero is needed. Measure one near the top.", needed=1, found=0)
    k = float(x @ y) / square
    if not np.isfinite(k) or k <= 0:
        raise OutOfRange(f"These pairs give {k:.6g}, where only a number above 0 is possible. Are the columns swapped?")
    if len(x) < 2:
        return k, None
    return k, float(np.sqrt(np.sum((y - k * x) ** 2) / (len(x) - 1) / square))
