"""How much error is allowed: a + b |reading| + c span."""

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from .record import Finite, Frozen


class Tolerance(Frozen):
    """Allowed error either way, in the channel's unit: `constant` + `of_reading` |reading| + `of_span` span.

    `of_reading` and `of_span` are shares (0.01 is one percent).
    """

    constant: Finite = Field(default=0.0, ge=0)
    of_reading: Finite = Field(default=0.0, ge=0)
    of_span: Finite = Field(default=0.0, ge=0)

    def at(self, reading: NDArray[np.float64] | float, span: float) -> NDArray[np.float64]:
        """Allowed error at each reading, shape of `reading`, in its unit."""
        return np.asarray(self.constant + self.of_reading * np.abs(reading) + self.of_span * abs(span))

    def scaled(self, gain: float) -> "Tolerance":
        """The same tolerance in a unit of which one old step makes `gain`."""
        return self.with_(constant=self.constant * abs(gain))

    @property
    def is_stated(self) -> bool:
        """Whether anything is allowed at all; without it nothing can be judged."""
        return self.constant > 0 or self.of_reading > 0 or self.of_span > 0
