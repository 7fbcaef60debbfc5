"""What every packed form can do: the controller's arithmetic on counts, and its numbers to load."""

from abc import abstractmethod
from collections.abc import Mapping
from typing import ClassVar, Literal, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..path.converter import Converter
from ..words.errors import OutOfRange
from ..words.record import Frozen

Array = NDArray[np.float64]
Counts = NDArray[np.int64]
SuffixOf = Literal["", "unit", "pin", "per pin", "pin per", "counts"]


class GivenNumber(NamedTuple):
    """A number of a form that somebody else may have given: what it is called, its field, and its unit."""

    title: str
    name: str
    of: SuffixOf = ""
    is_whole: bool = False


class Cells(NamedTuple):
    """Numbers to load as a grid: headings, then rows, each number with all its digits."""

    headings: tuple[str, ...]
    rows: tuple[tuple[float | str, ...], ...]


GivenNumbers = tuple[GivenNumber, ...]


class PackedForm(Frozen):
    """A calibration as the controller takes it; `held` says how at its ends, where there is a choice."""

    title: ClassVar[str] = ""
    caption: ClassVar[str] = ""
    held: ClassVar[str] = ""
    also: ClassVar[str] = ""  # what else its owners call it, for those who look for it
    given: ClassVar[GivenNumbers] = ()

    @abstractmethod
    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""

    @abstractmethod
    def continuous(self, converter: Converter) -> Curve:
        """The same arithmetic without the counts' steps; its domain is where no limit holds it."""

    def with_numbers(self, numbers: Mapping[str, float]) -> Self:
        """The same form with numbers of `given` that somebody else made. Raises: InvalidRecord."""
        return self.with_(**numbers)

    @abstractmethod
    def cells(self, signal_unit: str, unit: str) -> Cells:
        """The numbers to load, as they are typed or pasted."""


def free_stretch(stretch: tuple[float, float], converter: Converter) -> tuple[float, float]:
    """The part of a stretch of signal that the converter reaches.

    Raises: OutOfRange if there is none: then every count would be held at one end.
    """
    low, high = max(stretch[0], converter.low), min(stretch[1], converter.high)
    if not low < high:
        raise OutOfRange(
            f"The packing follows the signal from {stretch[0]:.6g} to {stretch[1]:.6g} only, but the converter reads "
            f"{converter.low:g} to {converter.high:g} {converter.unit}: every count would be held at one end. "
            "Correct the signal ends or the range.",
            found=stretch[0],
        )
    return low, high
