"""What the number that is checked is read off: the controller's own display, or another device's."""

from pydantic import Field

from ..words.record import Finite, Frozen


class Display(Frozen):
    """A display: its name (empty: the controller's own), its unit (empty: as the controller has it), its last digit.

    `step` is that of its last digit, in its unit; None where only the values tell. `delay_s` is how long it lags.
    """

    name: str = ""
    unit: str = ""
    step: Finite | None = Field(default=None, gt=0)
    delay_s: Finite = Field(default=0.0, ge=0)
