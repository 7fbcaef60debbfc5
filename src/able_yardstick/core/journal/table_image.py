"""A table as it lies in a controller's registers: what it holds, what it shows, and how two of them differ.

The registers of a table are, in this order: which bank is in force (0 or 1); 1 while its values are not to be trusted;
then each bank: how many pairs, whether the ends are held, and the pairs of signal and value in single precision.
"""

import struct
from itertools import pairwise
from typing import Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..document.controller import TableLayout
from ..forms.any_form import AnyForm
from ..forms.base import Array, Counts
from ..forms.single import single
from ..forms.straight import EndValues, RawPair, SlopeOffset
from ..forms.table import Knots
from ..path.converter import Converter
from ..words.errors import BadTable, NotApplicable
from ..words.numerals import significant
from ..words.record import Finite, Frozen

HEAD = 2  # bank in force, and the mark that the values are not to be trusted
_BANK_HEAD = 2  # how many pairs, and whether the ends are held
_FORMAT = "high word first"


def bank_words(layout: TableLayout) -> int:
    """Registers of one bank."""
    return _BANK_HEAD + 4 * layout.rows


def table_words(layout: TableLayout) -> int:
    """Registers of a whole table."""
    return HEAD + layout.banks * bank_words(layout)


class TableImage(Frozen):
    """Pairs of signal and value as single precision keeps them, joined by straight lines; held or carried on."""

    signals: tuple[Finite, ...] = Field(default=(), max_length=4096)
    values: tuple[Finite, ...] = ()
    held: bool = False

    @model_validator(mode="after")
    def _pairs(self) -> Self:
        if len(self.signals) != len(self.values):
            raise ValueError(f"{len(self.signals)} signals cannot pair with {len(self.values)} values")
        return self

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept: reckoned in double precision, shown in single."""
        if len(self.signals) < 2:
            return np.zeros(np.shape(counts))
        x, y = np.array(self.signals), np.array(self.values)
        signal = converter.inverse(counts)
        at = np.clip(np.searchsorted(x, signal, side="right") - 1, 0, len(x) - 2)
        inside = np.clip(signal, x[0], x[-1]) if self.held else signal
        slope = (y[at + 1] - y[at]) / (x[at + 1] - x[at])
        found = y[at] + (inside - x[at]) * slope
        found = np.where(self.held & (signal >= x[-1]), y[-1], found)
        return np.asarray(found.astype(np.float32), dtype=float)

    def words(self, layout: TableLayout) -> list[int]:
        """The registers of a bank that holds it, unused ones 0. Raises: NotApplicable if it has too many pairs."""
        if len(self.signals) > layout.rows:
            raise NotApplicable(
                f"The table has {len(self.signals)} knots, but this controller keeps {layout.rows} for a channel. "
                f"Ask for at most {layout.rows}."
            )
        numbers = [number for pair in zip(self.signals, self.values, strict=True) for number in pair]
        data = struct.pack(f">{len(numbers)}f", *numbers)
        words = [int.from_bytes(data[n : n + 2], "big") for n in range(0, len(data), 2)]
        if layout.word_order != _FORMAT:
            words = [word for n in range(0, len(words), 2) for word in (words[n + 1], words[n])]
        return [len(self.signals), int(self.held), *words, *[0] * (4 * layout.rows - len(words))]

    @classmethod
    def from_words(cls, words: "NDArray[np.uint16] | list[int]", layout: TableLayout) -> Self:
        """The table that a bank's registers hold. Raises: BadTable if they hold what is no number."""
        numbers = [int(word) for word in words]
        count = min(numbers[0], layout.rows)
        pairs = numbers[_BANK_HEAD : _BANK_HEAD + 4 * count]
        if layout.word_order != _FORMAT:
            pairs = [word for n in range(0, len(pairs), 2) for word in (pairs[n + 1], pairs[n])]
        data = b"".join(word.to_bytes(2, "big") for word in pairs)
        found = struct.unpack(f">{2 * count}f", data)
        if not np.all(np.isfinite(found)):
            knot = int(np.argmin(np.isfinite(found))) // 2 + 1
            raise BadTable(
                f"Knot {knot} in the controller's registers is no number. Check the table's address and the order of "
                "its words in the controller's description; an empty table has 0 knots."
            )
        return cls(signals=found[::2], values=found[1::2], held=bool(numbers[1]))

    def differences(self, read: "TableImage") -> tuple[str, ...]:
        """What was read that is not as it was meant, cell by cell, in words."""
        found = []
        if len(self.signals) != len(read.signals):
            found.append(f"{len(self.signals)} knots were meant, {len(read.signals)} read")
        for n, (meant, got) in enumerate(zip(self._pairs_of(), read._pairs_of(), strict=False), 1):
            for what, wanted, there in zip(("signal", "value"), meant, got, strict=True):
                if wanted != there:
                    found.append(f"knot {n}: {what} {significant(wanted, 7)} was meant, {significant(there, 7)} read")
        if self.held != read.held:
            found.append(f"the ends should be {_ends(self.held)}, but are {_ends(read.held)}")
        return tuple(found)

    def _pairs_of(self) -> list[tuple[float, float]]:
        return list(zip(self.signals, self.values, strict=True))

    @property
    def is_in_order(self) -> bool:
        """Whether its signals rise."""
        return all(a < b for a, b in pairwise(self.signals))


def _ends(held: bool) -> str:
    return "held" if held else "carried on"


def image_of(form: AnyForm, converter: Converter) -> TableImage:
    """A packing as a controller's table. Raises: NotApplicable for a form that is no table and no straight line."""
    if isinstance(form, Knots):
        pairs, held = list(zip(form.signals, form.values, strict=True)), form.clamp
    elif isinstance(form, EndValues):
        pairs, held = [(form.signal_low, form.value_low), (form.signal_high, form.value_high)], form.clamp
    elif isinstance(form, RawPair):
        low, high = converter.inverse(np.array([form.raw_low, form.raw_high])).tolist()
        pairs, held = [(low, form.value_low), (high, form.value_high)], form.clamp
    elif isinstance(form, SlopeOffset):
        curve = form.continuous(converter)
        held = form.lower_limit is not None or form.upper_limit is not None
        pairs = [(end, float(curve.value(end))) for end in curve.domain]
    else:
        raise NotApplicable(
            f"This controller keeps tables and straight lines; “{form.title}” is neither. Choose another numeric form "
            "to write it, or copy the numbers."
        )
    signals, values = zip(*((single(x), single(y)) for x, y in pairs), strict=True)
    return TableImage(signals=signals, values=values, held=held)
