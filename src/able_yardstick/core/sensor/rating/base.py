"""What every way of rating a transducer can do: give its nominal curve, in the unit of the data sheet."""

from abc import abstractmethod
from typing import ClassVar, NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from ...curves import DefinedCurve, OutputCurve
from ...units.conversion import affine
from ...units.electrical import SignalUnit
from ...words.record import Frozen

Array = NDArray[np.float64]
C = TypeVar("C", bound=DefinedCurve)


class Sheet(NamedTuple):
    """What of the data sheet a rating is read with: the range in `unit`, and the unit of the output signal."""

    low: float
    high: float
    unit: str
    output_unit: SignalUnit


class RatingBase(Frozen):
    """What is known of a transducer's curve."""

    title: ClassVar[str]
    gives: ClassVar[SignalUnit | None] = None  # the output it is about; None: any
    measures: ClassVar[str] = ""  # a unit of the quantity it is about; empty: any

    @abstractmethod
    def curve(self, sheet: Sheet) -> OutputCurve | None:
        """From output signal to value in the sheet's unit; None where nothing is rated."""

    @abstractmethod
    def sentence(self, sheet: Sheet) -> str:
        """What the rating comes to, with its numbers."""

    def half_width(self, values: Array, sheet: Sheet) -> Array:
        """The rating's own tolerance either way at values, shape kept, in the sheet's unit; 0 if it states none."""
        return np.zeros(np.shape(values))


def rising(pair: "tuple[float, float] | Array") -> tuple[float, float]:
    """Two ends, shape (2,), in rising order, in the unit they came in."""
    low, high = sorted(float(end) for end in pair)
    return low, high


def over_range(curve: C, sheet: Sheet, native: str) -> C:
    """A curve whose law gives values in `native`, put into the sheet's unit and trusted over the sheet's range."""
    gain, offset = affine(native, sheet.unit or native)
    scaled = curve.converted(gain, offset)
    return scaled.with_(domain=rising(scaled.signal(np.array([sheet.low, sheet.high]))))
