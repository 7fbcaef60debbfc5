"""One value from a source, with when it came and whether it is fit for use."""

from typing import Literal, Self

from pydantic import Field, model_validator

from .model import Finite, Frozen


class Sample(Frozen):
    """A value in the unit of its source, numbered by it, at a monotonic time in seconds."""

    value: Finite
    time_s: Finite
    sequence: int = Field(ge=0)
    state: Literal["good", "stale", "bad"] = "good"
    reason: str = ""

    @model_validator(mode="after")
    def _bad_has_a_reason(self) -> Self:
        if self.state == "bad" and not self.reason:
            raise ValueError("a bad sample must say why it is bad")
        return self
