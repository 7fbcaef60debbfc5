"""Where along a path a value can be met."""

from typing import Literal

Node = Literal["output", "pin", "counts"]
