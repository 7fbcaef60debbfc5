"""Where along a path a value can be met."""

from typing import Literal, NamedTuple

Node = Literal["output", "pin", "counts"]


class Met(NamedTuple):
    """Where a raw value was met, and the unit it is written in: what is needed to take it to the pin."""

    node: Node
    unit: str


COUNTS = Met("counts", "counts")
