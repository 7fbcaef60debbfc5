"""The way from a transducer's output to the count: the only place where one is turned into the other."""

from collections.abc import Iterator
from typing import Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from .conditions import NOMINAL, Conditions
from .converter import Converter
from .curves import Curve, Line, Polynomial, Table
from .electrical import KIND_NAMES, SignalUnit
from .model import Frozen
from .stages import NO_LOAD, AnyStage

Array = NDArray[np.float64]


class Path(Frozen):
    """A row of stages from an output of unit `source` to the pin, and the converter behind the pin."""

    source: SignalUnit = "V"
    stages: tuple[AnyStage, ...] = ()
    converter: Converter = Field(default_factory=Converter)

    @model_validator(mode="after")
    def _kinds_meet(self) -> Self:
        arriving = self.source
        for stage in self.stages:
            if stage.takes != arriving:
                raise ValueError(
                    f"a {stage.title.lower()} takes {KIND_NAMES[stage.takes]}, but {KIND_NAMES[arriving]} arrives "
                    "there. Remove it or change the output signal"
                )
            arriving = stage.gives
        if arriving != self.converter.unit:
            raise ValueError(
                f"{KIND_NAMES[arriving]} arrives at the pin, but the converter takes "
                f"{KIND_NAMES[self.converter.unit]}. Add the stage that turns one into the other"
            )
        return self

    @property
    def pin_unit(self) -> SignalUnit:
        """The unit of the signal at the pin."""
        return self.converter.unit

    @property
    def is_direct(self) -> bool:
        """Whether the output is wired straight to the pin."""
        return not self.stages

    def loaded_stages(self) -> Iterator[tuple[AnyStage, float]]:
        """Each stage with the resistance that loads it, in ohms."""
        following = [stage.input_ohm for stage in self.stages[1:]] + [self.converter.input_ohm or NO_LOAD]
        return zip(self.stages, following, strict=False)

    def pin(self, output: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Signal at the pin for a transducer output, shape kept."""
        value = np.asarray(output, dtype=float)
        for stage, load_ohm in self.loaded_stages():
            value = stage.forward(value, conditions, load_ohm)
        return value

    def output(self, pin: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Transducer output for a signal at the pin, shape kept."""
        value = np.asarray(pin, dtype=float)
        for stage, load_ohm in reversed(list(self.loaded_stages())):
            value = stage.inverse(value, conditions, load_ohm)
        return value

    def pin_of_count(self, counts: Array | float) -> Array:
        """Signal at the pin that a count stands for, shape kept."""
        return self.converter.inverse(counts)

    def sentences(self) -> tuple[str, ...]:
        """The arithmetic of every stage, in order, with its numbers."""
        stages = [stage.sentence(load_ohm) for stage, load_ohm in self.loaded_stages()]
        part = self.converter
        last = (
            f"count = ({part.unit} − {part.low:g}) × {part.counts_at_top} / {part.high - part.low:g}: "
            f"one count is {part.per_count:.4g} {part.unit}"
        )
        return (*stages, last)

    def at_pin(self, curve: Curve, conditions: Conditions = NOMINAL) -> Curve:
        """The curve of the transducer's output seen from the pin.

        All stages there are so far are straight, so a line stays a line and a table a table.
        """
        low, high = (float(end) for end in np.sort(self.pin(np.array(curve.domain), conditions)))
        if isinstance(curve, Table):
            signals = self.pin(np.array(curve.signals), conditions)
            return Table.through(signals, np.array(curve.values))
        if isinstance(curve, Line):
            gradient = curve.gradient / (float(self.pin(1.0, conditions)) - float(self.pin(0.0, conditions)))
            centre = float(self.pin(curve.centre, conditions))
            return Line(height=curve.height, gradient=gradient, centre=centre, domain=(low, high))
        if isinstance(curve, Polynomial):
            start, step = (
                float(self.pin(curve.centre, conditions)),
                float(self.pin(curve.centre + curve.scale, conditions)),
            )
            return curve.with_(centre=start, scale=step - start, domain=(low, high))
        raise TypeError(f"{type(curve).__name__} cannot be carried to the pin")
