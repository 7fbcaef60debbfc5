"""A calibration as a formula text on a named channel."""

import re
from functools import cached_property
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..curves import Curve, Polynomial
from ..formula import Expression, names_in, parse
from ..path.converter import Converter
from ..words.record import Reckoned, added_later
from .base import Array, Cells, Counts, PackedForm

MEASURED = "signal"


class FormulaText(PackedForm):
    """shown = the formula of the signal, whose name in it is the channel's; it is read by the program's own parser."""

    title: ClassVar[str] = "Formula text"
    caption: ClassVar[str] = "formula"
    kind: Literal["formula"] = "formula"
    text: str
    name: str = MEASURED
    written_name: str = added_later("")  # as the controller takes it, with its quotes; else the name itself
    coefficients: tuple[Reckoned, ...] = Field(min_length=2, max_length=6)  # that the text was written from

    @model_validator(mode="after")
    def _says_what_it_should(self) -> Self:
        others = set(names_in(self._tree)) - {self.name}
        if others:
            raise ValueError(f"the formula asks for {', '.join(sorted(others))}, but only {self.name} is given")
        return self

    @cached_property
    def _tree(self) -> Expression:
        return parse(self.text)

    @property
    def written(self) -> str:
        """The text as it is loaded."""
        return re.sub(rf"\b{self.name}\b", lambda _found: self.written_name or self.name, self.text)

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the formula gives for counts, shape kept."""
        return np.asarray(self._tree.evaluate({self.name: converter.inverse(counts)}), dtype=float)

    def continuous(self, converter: Converter) -> Curve:
        """The polynomial the text was written from."""
        return Polynomial(coefficients=self.coefficients, domain=(converter.low, converter.high))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """The text in one cell."""
        return Cells((f"{unit}, with {self.written_name or self.name} in {signal_unit}",), ((self.written,),))
