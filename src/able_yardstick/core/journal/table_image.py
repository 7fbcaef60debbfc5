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

from ..curves import Line
from ..document.controller import TableLayout
from ..forms.any_form import AnyForm
from ..forms.base import Array, Counts
from ..forms.single import single
from ..forms.straight import RawEnds, SignalEnds, SlopeOffset
from ..forms.table import Knots
from ..path.converter import Converter
from ..words.errors import BadTable, NotApplicable
from ..words.numerals import significant
from ..words.record import Frozen, Reckoned

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

    signals: tuple[Reckoned, ...] = Field(default=(), max_length=4096)
    values: tuple[Reckoned, ...] = ()
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
        """The table that a bank's registers hold, (n,) values of 16 bits. Raises: BadTable for what is no number."""
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
    """A packing as a controller's table, which shows at every count what the form does.

    Raises: NotApplicable for a form that is no table and no straight line, or that a table cannot say.
    """
    made = _pairs_for(form, converter)
    if made is None:
        raise NotApplicable(
            f"This controller keeps tables and straight lines; “{form.title}” is neither. Choose another numeric form "
            "to write it, or copy the numbers."
        )
    pairs, held = made
    signals, values = zip(*((single(x), single(y)) for x, y in pairs), strict=True)
    image = TableImage(signals=signals, values=values, held=held)
    if not image.is_in_order:
        raise NotApplicable(
            "Two knots have the same signal in the controller's single precision, so the table is not written. Put "
            "them further apart, or leave one out."
        )
    _refuse_another(form, image, converter)
    return image


Pairs = list[tuple[float, float]]


def _pairs_for(form: AnyForm, converter: Converter) -> tuple[Pairs, bool] | None:
    """The pairs that say what a form does, and whether the ends are held; None for a form they cannot say."""
    if isinstance(form, Knots):
        return list(zip(form.signals, form.values, strict=True)), form.clamp
    if isinstance(form, SignalEnds):
        return [(form.signal_low, form.value_low), (form.signal_high, form.value_high)], form.clamp
    if isinstance(form, RawEnds):
        low, high = converter.inverse(np.array([form.raw_low, form.raw_high])).tolist()
        return [(low, form.value_low), (high, form.value_high)], form.clamp
    return (_line_pairs(form, converter), False) if isinstance(form, SlopeOffset) else None


def _line_pairs(form: SlopeOffset, converter: Converter) -> Pairs:
    """The line over the converter's span, with a knot where it meets each of its limits, be it one or two."""
    line = Line(height=form.offset, gradient=form.slope, domain=(converter.low, converter.high))
    limits = [limit for limit in (form.lower_limit, form.upper_limit) if limit is not None]
    meets = [float(line.signal(limit)) for limit in limits] if form.slope else []
    places = sorted({converter.low, *(x for x in meets if converter.low < x < converter.high), converter.high})
    values = line.value(np.array(places))
    if limits:
        values = np.clip(values, form.lower_limit, form.upper_limit)
    return list(zip(places, values.tolist(), strict=True))


_EVERY = 1 << 20  # counts, of which all are looked at; of more, those at the knots and an even row
_STEPS = 4  # of single precision, which rounding pairs and their slopes may cost


def _refuse_another(form: AnyForm, image: TableImage, converter: Converter) -> None:
    """Refuse an image that shows another number than its form at some count. Raises: NotApplicable."""
    counts = _counts_to_look_at(image, converter)
    wanted, found = form.shown(counts, converter), image.shown(counts, converter)
    coarse = float(np.spacing(np.float32(np.max(np.abs(image.signals)))))
    steepest = float(np.max(np.abs(np.diff(image.values) / np.diff(image.signals)), initial=0.0))
    allowed = _STEPS * (float(np.spacing(np.float32(np.max(np.abs(wanted))))) + steepest * coarse)
    off = np.abs(found - wanted)
    worst = int(np.argmax(off))
    if off[worst] > allowed:
        raise NotApplicable(
            f"As a table “{form.title}” would show {significant(float(found[worst]), 7)} at count "
            f"{int(counts[worst])}, where it means {significant(float(wanted[worst]), 7)}, so it is not written. "
            "Choose the table form, or "
            "copy the numbers."
        )


def _counts_to_look_at(image: TableImage, converter: Converter) -> Counts:
    if converter.full_count <= _EVERY:
        return converter.every_count()
    near = converter.count_of(np.array(image.signals))[:, None] + np.arange(-2, 3)
    row = np.linspace(0, converter.full_count, _EVERY // 16).astype(np.int64)
    return np.unique(np.clip(np.concatenate([near.ravel(), row]), 0, converter.full_count))
