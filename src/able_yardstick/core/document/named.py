"""What every channel has, of whatever kind."""

from functools import cached_property
from typing import Any

from pydantic import Field

from ..words.record import Frozen


class NamedChannel(Frozen):
    """A channel's stable id, and the tag and name that may change."""

    id: str
    device: str
    tag: str = Field(min_length=1)
    name: str = ""
    unit: str = ""
    note: str = ""

    @property
    def has_pin(self) -> bool:
        """Whether a signal belongs to it."""
        return True

    @cached_property
    def memo(self) -> dict[tuple[str, ...], tuple[Any, Any]]:
        """Room for what is reckoned from this very record (see `once`): what it was reckoned from, and what came."""
        return {}
