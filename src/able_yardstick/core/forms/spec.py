"""What the controller asks for: which form, in which steps."""

from itertools import pairwise
from typing import Literal, Self, get_args

from pydantic import Field, field_validator, model_validator

from ..words.record import Finite, Frozen

FormName = Literal[
    "slope", "ends", "integers", "span", "normal", "divisor", "offset", "ratio", "knots", "poly", "fixed", "words",
    "formula", "st", "c", "inverse",
]  # fmt: skip
FORM_NAMES: tuple[FormName, ...] = get_args(FormName)
Spacing = Literal["best", "even", "fixed", "own"]
Rounding = Literal["nearest", "truncate", "floor"]
Order = Literal["multiply first", "divide first"]
NumberType = Literal["s16", "u16", "s32", "u32", "f32"]
WordOrder = Literal["high word first", "low word first"]
CodeOf = Literal["slope", "knots", "poly", "ratio", "fixed"]
IntBits = Literal[16, 32]
FaultTest = Literal["limits", "range", "none"]
NameQuotes = Literal["", "[]", "''", '""', "{}"]
_LONGEST_NAME = 60
EndsAt = Literal["pin", "output"]


class PackSpec(Frozen):
    """A numeric form with its settings; None leaves a number at full precision or at its natural end.

    `decimals` and `significant` are the digits of the constants of straight lines, the first where both are given.
    Signal ends and steps are in the pin's unit, value steps and limits in the channel's. Where `ends_at` says so, the
    ends of a straight line are given as the transducer puts them out. `max_error` asks for the fewest knots within it
    instead of a number of knots. `implied_decimals` are those of numbers that the controller keeps as integers.
    """

    form: FormName = "slope"
    decimals: int | None = Field(default=4, ge=0, le=15)
    significant: int | None = Field(default=None, ge=1, le=15)
    knots: int = Field(default=12, ge=2, le=4096)
    max_error: Finite | None = Field(default=None, gt=0)
    spacing: Spacing = "best"
    positions: tuple[Finite, ...] = ()  # of the knots, where the spacing is fixed
    own_knots: tuple[tuple[Finite, Finite], ...] = ()  # put there by hand
    shared_with: tuple[str, ...] = ()  # other channels that use the same table
    ends_at: EndsAt = "pin"
    implied_decimals: int | None = Field(default=None, ge=0, le=9)
    signal_low: Finite | None = None
    signal_high: Finite | None = None
    signal_step: Finite | None = Field(default=None, gt=0)
    value_step: Finite | None = Field(default=None, gt=0)
    limit_low: Finite | None = None  # of the values that the controller shows
    limit_high: Finite | None = None
    clamp: bool = False
    rounding: Rounding = "nearest"
    order: Order = "multiply first"
    int_bits: IntBits = 32
    degree: int = Field(default=3, ge=1, le=5)
    fraction_bits: int | None = Field(default=None, ge=0, le=30)
    number_type: NumberType = "f32"
    word_order: WordOrder = "high word first"
    channel_name: str = ""  # in formulas and functions
    name_quotes: NameQuotes = ""  # that stand around it in a formula
    code_of: CodeOf | None = None  # None: what the curve needs
    fault_test: FaultTest = "limits"  # what a function reports
    fault_margin: Finite = Field(default=1.0, ge=0, le=50)  # beyond the range, in % of the pin's span
    given: tuple[tuple[str, Finite], ...] = ()  # numbers that somebody else made, by the form's names

    def in_form(self, form: FormName) -> Self:
        """The same settings for another form; numbers that somebody made for this one are dropped."""
        return self.with_(form=form, given=())

    @field_validator("channel_name")
    @classmethod
    def _is_a_name(cls, name: str) -> str:
        if len(name) > _LONGEST_NAME or not name.isprintable():
            raise ValueError(f"a channel's name is one line of at most {_LONGEST_NAME} characters")
        return name

    @model_validator(mode="after")
    def _name_can_stand_in_a_formula(self) -> Self:
        opens, closes = self.name_quotes[:1], self.name_quotes[1:]
        plain = self.channel_name.isascii() and self.channel_name.isidentifier()
        if self.form != "formula" or not self.channel_name:
            return self
        if not self.name_quotes and not plain:
            raise ValueError(
                f"“{self.channel_name}” stands in a formula only between quotes or brackets: choose those that the "
                "controller takes, or a name of letters, digits and _"
            )
        if self.name_quotes and (opens in self.channel_name or closes in self.channel_name):
            raise ValueError(f"“{self.channel_name}” holds {self.name_quotes} itself: choose other quotes")
        return self

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.limit_low is not None and self.limit_high is not None and not self.limit_low < self.limit_high:
            raise ValueError(
                f"the lower limit ({self.limit_low:g}) must lie below the upper ({self.limit_high:g}). Swap the two"
            )
        for name, signals in (("fixed positions", self.positions), ("knots", [x for x, _ in self.own_knots])):
            if any(b <= a for a, b in pairwise(signals)):
                raise ValueError(f"the signals of {name} must rise from one to the next. Sort them, and drop repeats")
        if self.spacing == "fixed" and len(self.positions) < 2:
            raise ValueError("fixed positions need at least two signals. Give where the controller's knots stand")
        if self.spacing == "own" and len(self.own_knots) < 2:
            raise ValueError("a table of one's own needs at least two knots")
        return self
