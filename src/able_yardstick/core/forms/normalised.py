"""A count brought to a share of its two limits, and the share to a value: two steps in single precision."""

from typing import ClassVar, Literal

import numpy as np

from ..path.converter import Converter
from .base import Array, Cells, Counts
from .straight import RawEnds


class Normalised(RawEnds):
    """shown = share x (high - low) + low, where share = (count - raw low) / (raw high - raw low), both in float32."""

    title: ClassVar[str] = "Normalise and scale"
    caption: ClassVar[str] = "normalised"
    also: ClassVar[str] = "norm and scale; share of the two limits, 0 to 1"
    held: ClassVar[str] = "Held at the two limits"
    kind: Literal["normal"] = "normal"

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        share = np.float32(np.asarray(counts) - self.raw_low) / np.float32(self.raw_high - self.raw_low)
        held = np.clip(share, np.float32(0), np.float32(1)) if self.clamp else share
        low, high = np.float32(self.value_low), np.float32(self.value_high)
        return np.asarray(held * (high - low) + low, dtype=float)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """The limits of both steps."""
        rows = (
            ("normalise, low", float(self.raw_low), "counts"),
            ("normalise, high", float(self.raw_high), "counts"),
            ("scale, low", self.value_low, unit),
            ("scale, high", self.value_high, unit),
        )
        return Cells(("number", "value", "unit"), rows)
