"""Outputs: a wanted quantity given as a signal at a controller's terminal, by what writes it and what stops it."""

from typing import Literal, Self, get_args

from pydantic import Field, model_validator

from ..path.driver import Driver
from ..words.acceptance import DecisionRule
from ..words.record import Finite, Frozen, digest
from ..words.tolerance import Tolerance
from .controller import Landing
from .named import NamedChannel

ConditionKind = Literal["low low", "low", "high", "high high", "closed", "open"]
CONDITION_KINDS: tuple[ConditionKind, ...] = get_args(ConditionKind)
DeadInput = Literal["held", "low", "high", "last good"]
DEAD_INPUT: tuple[DeadInput, ...] = get_args(DeadInput)
_UPWARDS = ("high", "high high")
_OF_CONTACT = ("closed", "open")


class OutputCondition(Frozen):
    """While an alarm of a channel stands, or a contact is so, the output is written `value`, in the output's unit."""

    channel: str
    when: ConditionKind
    value: Finite

    @property
    def is_of_contact(self) -> bool:
        """Whether it looks at a contact and not at an alarm."""
        return self.when in _OF_CONTACT

    def can_hold_with(self, other: "OutputCondition") -> bool:
        """Whether both can hold at one moment: of one channel not low and high, nor open and closed."""
        if self.channel != other.channel:
            return True
        if self.is_of_contact or other.is_of_contact:
            return self.when == other.when
        return (self.when in _UPWARDS) == (other.when in _UPWARDS)


class OutputChannel(NamedChannel):
    """A quantity in `unit` given by a terminal: `value_low` at `signal_low`, `value_high` at `signal_high`.

    It follows a channel (its id) or is set by hand; conditions write it too, the first that holds where
    `first_holds`. `dead_input` is what it does while what it follows is a fault; None where nobody chose.
    """

    kind: Literal["output"] = "output"
    value_low: Finite = 0.0
    value_high: Finite = 100.0
    signal_low: Finite = 4.0
    signal_high: Finite = 20.0
    driver: Driver = Field(default_factory=Driver)
    load_ohm: Finite | None = Field(default=None, gt=0)
    follows: str = ""
    conditions: tuple[OutputCondition, ...] = ()
    first_holds: bool = False
    dead_input: DeadInput | None = None
    held_at: Finite | None = None
    tolerance: Tolerance = Field(default_factory=Tolerance)
    decision: DecisionRule = Field(default_factory=DecisionRule)
    landing: Landing | None = None

    @model_validator(mode="after")
    def _has_a_range(self) -> Self:
        if self.value_low == self.value_high:
            raise ValueError(f"the two ends of the range must differ: found {self.value_low:g} twice")
        if not self.signal_low < self.signal_high:
            raise ValueError(
                f"the signal must run upwards: found {self.signal_low:g} to {self.signal_high:g} {self.driver.unit}. "
                "For an output that falls, swap the two values of its range"
            )
        if self.dead_input == "held" and self.held_at is None:
            raise ValueError("an output that is held needs the value it is held at")
        return self

    @property
    def has_pin(self) -> bool:
        """No signal of it comes in: it leaves at a terminal."""
        return False

    @property
    def span(self) -> float:
        """Width of the range, in the channel's unit, above 0."""
        return abs(self.value_high - self.value_low)

    @property
    def ends(self) -> tuple[float, float]:
        """The range in the channel's unit, the lesser end first, whichever of them the lesser signal stands for."""
        return min(self.value_low, self.value_high), max(self.value_low, self.value_high)

    @property
    def gain(self) -> float:
        """Signal in the driver's unit for each unit of the quantity."""
        return (self.signal_high - self.signal_low) / (self.value_high - self.value_low)

    @property
    def revision(self) -> str:
        """Names the numbers by which a value becomes a count: checks rest on it."""
        return digest(self.driver, self.value_low, self.value_high, self.signal_low, self.signal_high)

    def allowed_error(self, value: float) -> float:
        """The error allowed at a value, in the channel's unit; 0 if none is stated."""
        return float(self.tolerance.at(value, self.span))
