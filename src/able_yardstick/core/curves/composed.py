"""A curve of the transducer's output seen through the bent stages of a signal path."""

from functools import cached_property
from typing import Annotated, ClassVar, Literal, get_args

import numpy as np
from pydantic import Field

from ..stages import NO_LOAD, STAGE_KINDS, AnyStage
from ..stages.chain import backwards, forwards, loads, slopes
from ..units.conditions import NOMINAL, Conditions
from ..words.record import Frozen, Reckoned
from .base import Array
from .cubic import MonotoneCubic
from .defined import DefinedCurve
from .formula import FormulaCurve
from .line import Line
from .polynomial import Polynomial
from .standard import PlatinumCurve, RootCurve, ThermistorCurve, ThermocoupleCurve, ZirconiaCurve
from .table import Table

OutputKinds = (
    Line
    | Polynomial
    | Table
    | MonotoneCubic
    | PlatinumCurve
    | ThermocoupleCurve
    | ThermistorCurve
    | ZirconiaCurve
    | RootCurve
    | FormulaCurve
)
OutputCurve = Annotated[OutputKinds, Field(discriminator="kind")]


class ComposedCurve(DefinedCurve):
    """value = curve(output), where the signal is what the stages make of the output."""

    name: ClassVar[str] = "curve"
    built_apart: ClassVar[tuple[type[Frozen], ...]] = (*get_args(OutputKinds), *STAGE_KINDS)
    kind: Literal["composed"] = "composed"
    curve: OutputCurve
    stages: tuple[AnyStage, ...] = ()
    load_ohm: Reckoned | None = None
    conditions: Conditions = NOMINAL

    @cached_property
    def _loads(self) -> tuple[float, ...]:
        return loads(self.stages, self.load_ohm or NO_LOAD)

    def _signal_of(self, output: Array) -> Array:
        return forwards(self.stages, self._loads, output, self.conditions)

    def _output_of(self, signal: Array) -> Array:
        return backwards(self.stages, self._loads, signal, self.conditions)

    @cached_property
    def _limits(self) -> tuple[float, float]:
        inner = np.where(np.isfinite(self.curve.limits), self.curve.limits, self.curve.domain)
        low, high = np.sort(self._signal_of(inner))
        return float(low), float(high)

    @property
    def law_limits(self) -> tuple[float, float]:
        """The signals at the ends of what the output's curve is defined for."""
        return self._limits

    def law(self, signal: Array) -> Array:
        """Values at signals, shape kept."""
        return self.curve.value(self._output_of(signal))

    def law_slope(self, signal: Array) -> Array:
        """Change of value per unit of signal, shape kept."""
        output = self._output_of(signal)
        through = slopes(self.stages, self._loads, output, self.conditions)
        return np.asarray(self.curve.slope(output) / through)

    def law_inverse(self, value: Array) -> Array:
        """Signals at values, shape kept."""
        return self._signal_of(self.curve.signal(value))

    def turning_points(self) -> tuple[float, ...]:
        """Where the output's curve turns, as signals."""
        return tuple(
            sorted(
                self.signal_factor * float(self._signal_of(np.asarray(turn))) for turn in self.curve.turning_points()
            )
        )
