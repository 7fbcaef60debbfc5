"""The way from a transducer's output to the count: the only place where one is turned into the other."""

from collections.abc import Iterator
from functools import cached_property
from typing import ClassVar, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..curves import ComposedCurve, Curve, Line, OutputCurve, Polynomial, Table
from ..stages import NO_LOAD, AnyStage, Excitation, PullUp
from ..stages.chain import Varied, backwards, forwards, loads, slopes
from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import KIND_NAMES, SignalUnit
from ..words.numerals import significant
from ..words.record import Frozen
from .converter import Converter

Array = NDArray[np.float64]
_AS_STATED: Varied = {}


class Path(Frozen):
    """A row of stages from an output of unit `source` to the pin, and the converter behind the pin."""

    built_apart: ClassVar[tuple[type[Frozen], ...]] = (ComposedCurve,)
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

    @cached_property
    def loads(self) -> tuple[float, ...]:
        """What loads each stage, in ohms."""
        return loads(self.stages, self.converter.input_ohm or NO_LOAD)

    @cached_property
    def supplied(self) -> tuple[AnyStage, ...]:
        """The stages with the supply that the converter's reference gives them, where they share it."""
        factor = self.converter.reference_factor if self.converter.shares_supply else 1.0
        if factor == 1.0:
            return self.stages
        return tuple(_supplied(stage, factor) for stage in self.stages)

    def loaded_stages(self) -> Iterator[tuple[AnyStage, float]]:
        """Each stage with the resistance that loads it, in ohms."""
        return zip(self.supplied, self.loads, strict=True)

    @property
    def bare(self) -> "Path":
        """The way to the pin alone, with the converter's load and supply but without its steps."""
        part = self.converter
        reader = Converter(
            unit=part.unit, low=part.low, high=part.high, input_ohm=part.input_ohm, reference_v=part.reference_v,
            reference_measured_v=part.reference_measured_v, shares_supply=part.shares_supply,
        )  # fmt: skip
        return self.with_(converter=reader)

    def pin(self, output: Array | float, conditions: Conditions = NOMINAL, varied: Varied = _AS_STATED) -> Array:
        """Signal at the pin for a transducer output, shape kept; `varied` parts of the n-th stage differ."""
        return forwards(self.supplied, self.loads, output, conditions, varied)

    def output(self, pin: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Transducer output for a signal at the pin, shape kept."""
        return backwards(self.supplied, self.loads, pin, conditions)

    def slope(self, output: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Change of the signal at the pin per unit of the transducer output, shape kept."""
        return slopes(self.supplied, self.loads, output, conditions)

    def nodes(self, output: Array | float, conditions: Conditions = NOMINAL) -> tuple[Array, ...]:
        """The signal at every node, from the transducer's output to the pin; each in the shape of `output`."""
        found = [np.asarray(output, dtype=float)]
        for stage, load_ohm in self.loaded_stages():
            found.append(stage.forward(found[-1], conditions, load_ohm))
        return tuple(found)

    @property
    def node_units(self) -> tuple[SignalUnit, ...]:
        """The unit at every node, from the output to the pin."""
        return (self.source, *(stage.gives for stage in self.stages))

    def clipped(self, output: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """The signal at every node as the parts' limits let it through: what is truly there beyond the range."""
        found = [float(output)]
        for stage, load_ohm in self.loaded_stages():
            low, high = stage.output_limits
            found.append(min(max(float(stage.forward(found[-1], conditions, load_ohm)), low), high))
        return tuple(found)

    def sentences(self, conditions: Conditions = NOMINAL) -> tuple[str, ...]:
        """The arithmetic of every stage, in order, with its numbers."""
        stages = [stage.sentence(conditions, load_ohm) for stage, load_ohm in self.loaded_stages()]
        part = self.converter
        last = (
            f"count = ({part.unit} − {significant(part.start)}) × {part.counts_at_top} / "
            f"{significant(part.end - part.start)}: one count is {significant(part.per_count, 4)} {part.unit}"
        )
        if part.reference_measured_v is not None:
            last += f"; reference {part.reference_measured_v:g} V measured, {part.reference_v:g} V nominal"
        return (*stages, last)

    def at_pin(self, curve: Curve, conditions: Conditions = NOMINAL) -> Curve:
        """The curve of the transducer's output seen from the pin: a line stays a line through straight stages."""
        low, high = (float(end) for end in np.sort(self.pin(np.array(curve.domain), conditions)))
        if not all(stage.straight for stage in self.stages) or not isinstance(curve, Table | Line | Polynomial):
            if self.is_direct:
                return curve
            return ComposedCurve(
                curve=_output_curve(curve),
                stages=self.supplied,
                load_ohm=self.converter.input_ohm,
                conditions=conditions,
                domain=(low, high),
            )
        if isinstance(curve, Table):
            signals = self.pin(np.array(curve.signals), conditions)
            return Table.through(signals, np.array(curve.values))
        if isinstance(curve, Line):
            gradient = curve.gradient / (float(self.pin(1.0, conditions)) - float(self.pin(0.0, conditions)))
            centre = float(self.pin(curve.centre, conditions))
            return Line(height=curve.height, gradient=gradient, centre=centre, domain=(low, high))
        start, step = (
            float(self.pin(curve.centre, conditions)),
            float(self.pin(curve.centre + curve.scale, conditions)),
        )
        return curve.with_(centre=start, scale=step - start, domain=(low, high))


def _supplied(stage: AnyStage, factor: float) -> AnyStage:
    if isinstance(stage, PullUp):
        return stage.with_(supply_v=stage.supply_v * factor)
    if isinstance(stage, Excitation):
        return stage.with_(voltage_v=stage.voltage_v * factor, measured_v=stage.volts * factor)
    return stage


def _output_curve(curve: Curve) -> OutputCurve:
    """A curve of the output that can be composed with stages. Raises: TypeError for one that is composed already."""
    if isinstance(curve, ComposedCurve):
        raise TypeError("a composed curve is seen from the pin already")
    return curve  # type: ignore[return-value]  # every other kind there is
