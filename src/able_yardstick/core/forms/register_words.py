"""Slope and offset as they lie in a controller's registers."""

import struct
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..curves import Curve, Line
from ..path.converter import Converter
from ..words.record import Reckoned
from .base import Array, Cells, Counts, PackedForm
from .single import signal_of
from .spec import NumberType, WordOrder

_CODES: dict[NumberType, str] = {"s16": ">h", "u16": ">H", "s32": ">i", "u32": ">I", "f32": ">f"}


def words_of(number: float, kind: NumberType, order: WordOrder) -> tuple[int, ...]:
    """The 16-bit words of a number. Raises: ValueError if it does not fit."""
    try:
        data = struct.pack(_CODES[kind], number if kind == "f32" else round(number))
    except (struct.error, OverflowError) as error:
        raise ValueError(
            f"{number:.6g} does not fit a register of type {kind}. Choose a wider type or fewer decimals"
        ) from error
    words = tuple(int.from_bytes(data[n : n + 2], "big") for n in range(0, len(data), 2))
    return words if order == "high word first" else words[::-1]


class Words(PackedForm):
    """Slope and offset in registers: as single precision, or as whole numbers with implied decimals.

    shown = slope x signal + offset, in single precision for f32.
    """

    title: ClassVar[str] = "Register words"
    caption: ClassVar[str] = "register words"
    kind: Literal["words"] = "words"
    slope: Reckoned
    offset: Reckoned
    number_type: NumberType = "f32"
    word_order: WordOrder = "high word first"
    decimals: int = Field(default=0, ge=0, le=9)  # implied, of whole numbers

    @model_validator(mode="after")
    def _fits(self) -> Self:
        for number in (self.slope, self.offset):
            words_of(self._stored(number), self.number_type, self.word_order)
        return self

    def _stored(self, number: float) -> float:
        return number if self.number_type == "f32" else round(number * 10**self.decimals)

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        if self.number_type == "f32":
            found = np.float32(self.slope) * signal_of(counts, converter) + np.float32(self.offset)
            return np.asarray(found, dtype=float)
        slope, offset = (round(number, self.decimals) for number in (self.slope, self.offset))
        return np.asarray(slope * converter.inverse(counts) + offset)

    def continuous(self, converter: Converter) -> Curve:
        """The line."""
        return Line(height=self.offset, gradient=self.slope, domain=(converter.low, converter.high))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each number, with its words in the order of their registers."""
        rows: list[tuple[float | str, ...]] = []
        for name, number in (("slope", self.slope), ("offset", self.offset)):
            words = words_of(self._stored(number), self.number_type, self.word_order)
            rows.append((name, self._stored(number), " ".join(f"{word:04X}h" for word in words)))
        kind = (
            self.number_type if self.number_type == "f32" else f"{self.number_type}, {self.decimals} decimals implied"
        )
        return Cells(("number", kind, self.word_order), tuple(rows))
