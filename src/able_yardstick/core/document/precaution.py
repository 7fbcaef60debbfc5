"""What is done before a plant is touched, and must be put back at the end."""

from typing import Literal

from pydantic import Field

from ..words.record import Frozen

PrecautionState = Literal["open", "taken", "restored"]
USUAL = ("Control loop in manual", "Trip bypassed", "People told")


class Precaution(Frozen):
    """One thing: not done yet, taken, or put back and confirmed."""

    name: str = Field(min_length=1, max_length=80)
    state: PrecautionState = "open"
