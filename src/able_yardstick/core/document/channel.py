"""Devices and their channels. Nothing assumes that every channel has a pin."""

from functools import cached_property
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, field_validator, model_validator

from ..curves import ComposedCurve
from ..forms.spec import PackSpec
from ..path.signal_path import Path
from ..regression.fitted import FitSettings
from ..sensor.transducer import Transducer
from ..stages import PulsePullUp
from ..units.conditions import NOMINAL, Conditions
from ..units.conversion import affine, affine_gain, convert
from ..units.electrical import SignalUnit
from ..units.oxygen import Fuel
from ..units.quantity import PRESSURE_KINDS
from ..words.acceptance import DecisionRule
from ..words.errors import UnitMismatch
from ..words.record import Finite, Frozen, added_later
from ..words.tolerance import Tolerance
from .alarm import Alarm, FaultRule, complaint_about
from .controller import Landing
from .display import Display
from .named import NamedChannel
from .output import OutputChannel
from .register_constant import RegisterConstant
from .stop_plan import StopPlan

Array = NDArray[np.float64]


class Person(Frozen):
    """Somebody who works on the job."""

    id: str
    name: str = Field(min_length=1)
    role: str = ""


class Device(Frozen):
    """A piece of equipment; it has one or more channels. `id` never changes.

    Maker, model, serial number and revision are what is on its plate: by them it is known again on the next visit.
    """

    id: str
    name: str = ""
    maker: str = ""
    model: str = ""
    serial: str = ""
    revision: str = ""

    def is_same_as(self, other: "Device") -> bool:
        """Whether both plates are those of one piece: without a serial number nothing can be said, so they are not."""
        return bool(self.serial) and (self.maker, self.model, self.serial) == (other.maker, other.model, other.serial)


class PlantState(Frozen):
    """A state of the plant that a person can tell, and what it means for a channel: value and doubt in its unit.

    For a contact 0 stands for closed and 1 for open.
    """

    name: str = Field(min_length=1)
    value: Finite
    within: Finite = Field(default=0.0, ge=0)


class ContinuousChannel(NamedChannel):
    """A transducer whose signal goes through a path to a converter. It is worked in `unit`."""

    built_apart: ClassVar[tuple[type[Frozen], ...]] = (ComposedCurve, Path, Transducer, PackSpec, Landing, Alarm)
    kind: Literal["continuous"] = "continuous"
    transducer: Transducer = Field(default_factory=Transducer)
    path: Path = Field(default_factory=Path)
    tolerance: Tolerance = Field(default_factory=Tolerance)
    conditions: Conditions = NOMINAL
    fuel: Fuel = Field(default_factory=Fuel)
    two_points: tuple[str, str] | None = None  # readings for the two-point line; None: the outermost
    zero: tuple[Finite, Finite] | None = None  # pin signal and value a line is held to; None: the described zero
    fit_settings: FitSettings = Field(default_factory=FitSettings)
    pack_spec: PackSpec = Field(default_factory=PackSpec)
    landing: Landing | None = None
    wanted_resolution: Finite | None = Field(default=None, gt=0)  # in `unit`
    controller_range: tuple[Finite, Finite] | None = None  # what the controller takes the range to be
    controller_unit: str = ""  # its unit there; empty: the channel's
    plant_states: tuple[PlantState, ...] = ()
    stop_plan: StopPlan = Field(default_factory=StopPlan)
    axis: str = ""  # of a device with several, such as X
    decision: DecisionRule = added_later(DecisionRule())  # by which its checks are judged
    alarms: tuple[Alarm, ...] = added_later(())
    fault_rule: FaultRule = added_later(FaultRule())
    trim_limit: Finite | None = added_later(None, gt=0)  # at the pin: beyond it a trim points at the wiring
    display: Display = added_later(Display())  # what a check reads the number off

    @model_validator(mode="after")
    def _path_starts_at_the_transducer(self) -> Self:
        if self.path.source != self.transducer.output_unit:
            raise ValueError(
                f"the transducer puts out {self.transducer.output_unit}, the path starts with {self.path.source}"
            )
        return self

    @field_validator("alarms")
    @classmethod
    def _alarms_stand_together(cls, alarms: tuple[Alarm, ...]) -> tuple[Alarm, ...]:
        complaint = complaint_about(alarms)
        if complaint:
            raise ValueError(complaint)
        return alarms

    @property
    def bare(self) -> "ContinuousChannel":
        """Transducer, path and what surrounds them, without names, choices and plans: what its signal comes from."""
        return ContinuousChannel(
            id="", device="", tag="-", unit=self.unit, transducer=self.transducer, path=self.path,
            conditions=self.conditions, fuel=self.fuel,
        )  # fmt: skip

    @cached_property
    def around(self) -> Conditions:
        """The conditions, with the sensor's supply as the converter's reference gives it where they share it."""
        return self._supplied(self.conditions)

    def surrounded(self, conditions: Conditions) -> Conditions:
        """Conditions of some moment, with the sensor's supply as the converter's reference gives it."""
        return self.around if conditions is self.conditions else self._supplied(conditions)

    def _supplied(self, conditions: Conditions) -> Conditions:
        converter = self.path.converter
        if not (converter.shares_supply and self.transducer.is_ratiometric):
            return conditions
        return conditions.with_(supply_v=self.transducer.supply_v * converter.reference_factor)

    def converted(self, values: "Array | list[float] | float", source: str, target: str) -> Array:
        """Values in a unit someone wrote in another one, shape kept; an empty one is the channel's.

        A pressure unit that says neither gauge nor absolute means what the channel measures, and the barometer leads
        from one to the other. Raises: UnitMismatch if the two measure different things.
        """
        return convert(
            values, source or self.unit, target or self.unit, barometer_kpa=self.conditions.barometer_kpa,
            fuel=self.fuel, pressure=PRESSURE_KINDS.get(self.transducer.quantity),
        )  # fmt: skip

    def affine(self, source: str, target: str) -> tuple[float, float]:
        """Gain and offset of the same conversion. Raises: UnitMismatch if it is no straight line."""
        return affine(
            source or self.unit, target or self.unit, barometer_kpa=self.conditions.barometer_kpa,
            pressure=PRESSURE_KINDS.get(self.transducer.quantity),
        )  # fmt: skip

    def in_unit(self, values: "float | list[float]", written: str) -> list[float]:
        """Values in a unit someone wrote, in the channel's own, shape (n,). Raises: UnitMismatch."""
        return [float(number) for number in self.converted(values, written, self.unit).ravel()]

    @property
    def shown_in(self) -> str:
        """The unit in which the number that is checked stands on its display."""
        return self.display.unit or self.controller_unit or self.unit

    @cached_property
    def range(self) -> tuple[float, float]:
        """Lower and upper range value, in the channel's unit."""
        low, high = self.in_unit([self.transducer.range_low, self.transducer.range_high], self.transducer.unit)
        return low, high

    @cached_property
    def span(self) -> float:
        """Width of the range, in the channel's unit, above 0."""
        low, high = self.range
        return abs(high - low)

    def allowed_error(self, value: float | None = None) -> float:
        """The error allowed at a value in the channel's unit, else at the upper range value; 0 if none is stated."""
        return float(self.tolerance.at(self.range[1] if value is None else value, self.span))

    def step_in_unit(self, step: float, written: str) -> float:
        """A difference in a unit someone wrote, in the channel's own."""
        try:
            return step * abs(affine_gain(written or self.unit, self.unit))
        except UnitMismatch:
            return float("nan")


class TwoStateChannel(NamedChannel):
    """A contact or a switched level: closed on one side of the threshold, open on the other.

    The two levels are those that the contact gives (in the path's source unit), the threshold and its dead band are at
    the pin. Between the threshold less and plus half the dead band the state is the one it last was.
    """

    kind: Literal["two-state"] = "two-state"
    closed_level: Finite = 0.0
    open_level: Finite = 5.0
    threshold: Finite = 2.5
    dead_band: Finite = Field(default=0.0, ge=0)
    closed_means: str = "closed"
    open_means: str = "open"
    path: Path = Field(default_factory=Path)
    pull_up: PulsePullUp | None = None
    needs_pull_up: bool = False
    plant_states: tuple[PlantState, ...] = ()
    landing: Landing | None = None

    @model_validator(mode="after")
    def _threshold_between(self) -> Self:
        low, high = sorted(self.pin_levels)
        half = self.dead_band / 2
        if not low < self.threshold - half <= self.threshold + half < high:
            raise ValueError(
                f"the threshold {self.threshold:g} {self.signal_unit} and its dead band {self.dead_band:g} must lie "
                f"between the two levels at the pin, {low:g} and {high:g}"
            )
        return self

    @property
    def signal_unit(self) -> SignalUnit:
        """The unit at the pin."""
        return self.path.pin_unit

    @property
    def pin_levels(self) -> tuple[float, float]:
        """What the pin sees closed, and open."""
        return float(self.path.pin(self.closed_level)), float(self.path.pin(self.open_level))

    def state(self, level: float, before: Literal["closed", "open"]) -> Literal["closed", "open"]:
        """The state at a level of the pin, given the one before it."""
        if abs(level - self.threshold) <= self.dead_band / 2:
            return before
        closed, opened = self.pin_levels
        return "closed" if (level < self.threshold) == (closed < opened) else "open"


class ConstantChannel(NamedChannel):
    """A derived number for a register, with no pin: stated, or by a formula of named inputs."""

    kind: Literal["constant"] = "constant"
    value: Finite = 0.0
    decimals: int = Field(default=3, ge=0, le=9)
    derivation: str = ""
    register_constant: RegisterConstant | None = None

    @property
    def has_pin(self) -> bool:
        """None belongs to it."""
        return False


WiredChannel = ContinuousChannel | TwoStateChannel
SignableChannel = ContinuousChannel | TwoStateChannel | OutputChannel
AnyChannel = Annotated[
    ContinuousChannel | TwoStateChannel | ConstantChannel | OutputChannel, Field(discriminator="kind")
]
