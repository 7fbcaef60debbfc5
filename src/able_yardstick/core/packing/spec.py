"""What the controller asks for: which form, in which steps."""

from typing import Literal, get_args

from pydantic import Field

from ..model import Finite, Frozen

FormName = Literal["slope", "ends", "span", "knots"]
FORM_NAMES: tuple[FormName, ...] = get_args(FormName)


class PackSpec(Frozen):
    """A numeric form with its settings; None leaves a number at full precision or at its natural end.

    `decimals` are those of slope and offset. Signal ends and steps are in the pin's unit, value steps in the
    channel's.
    """

    form: FormName = "slope"
    decimals: int | None = Field(default=4, ge=0, le=15)
    knots: int = Field(default=12, ge=2, le=4096)
    signal_low: Finite | None = None
    signal_high: Finite | None = None
    signal_step: Finite | None = Field(default=None, gt=0)
    value_step: Finite | None = Field(default=None, gt=0)
    clamp: bool = False
