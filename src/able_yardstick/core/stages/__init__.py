"""The parts of a signal path between a transducer and the pin: each turns one electrical value into another."""

from typing import Annotated

from pydantic import Field

from .active import Amplifier, ColdJunction, CurrentSource, Excitation, GroundOffset
from .base import MILLI, NO_LOAD, Part, Stage, StraightStage, ohms, parallel
from .passing import Clamp, Filter, PulsePullUp
from .resistive import Divider, Leads, PullUp, Shunt

STAGE_KINDS: tuple[type[Stage], ...] = (
    Shunt, Divider, Excitation, CurrentSource, Leads, ColdJunction, Amplifier, PullUp, PulsePullUp, Filter, Clamp,
    GroundOffset,
)  # fmt: skip
AnyStage = Annotated[
    Shunt
    | Divider
    | Excitation
    | CurrentSource
    | Leads
    | ColdJunction
    | Amplifier
    | PullUp
    | PulsePullUp
    | Filter
    | Clamp
    | GroundOffset,
    Field(discriminator="kind"),
]

__all__ = [
    "MILLI", "NO_LOAD", "STAGE_KINDS", "Amplifier", "AnyStage", "Clamp", "ColdJunction", "CurrentSource", "Divider",
    "Excitation", "Filter", "GroundOffset", "Leads", "Part", "PullUp", "PulsePullUp", "Shunt", "Stage",
    "StraightStage", "ohms", "parallel",
]  # fmt: skip
