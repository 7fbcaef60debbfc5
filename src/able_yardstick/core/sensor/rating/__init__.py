"""What a data sheet says of a transducer's curve, in each of the forms that sheets use."""

from typing import Annotated

from pydantic import Field

from .base import RatingBase, Sheet
from .bent import Formula, Platinum, RatedTable, Root, Thermistor, Thermocouple, Zirconia
from .straight import Pulses, RatedSlope, Sensitivity, Turns, TwoPoints, Unrated

RATING_KINDS: tuple[type[RatingBase], ...] = (
    TwoPoints, RatedTable, RatedSlope, Sensitivity, Platinum, Thermocouple, Thermistor, Zirconia, Turns, Pulses, Root,
    Formula, Unrated,
)  # fmt: skip
Rating = Annotated[
    Unrated
    | TwoPoints
    | RatedSlope
    | RatedTable
    | Sensitivity
    | Turns
    | Pulses
    | Platinum
    | Thermocouple
    | Thermistor
    | Zirconia
    | Root
    | Formula,
    Field(discriminator="kind"),
]

__all__ = [
    "RATING_KINDS",
    "Formula",
    "Platinum",
    "Pulses",
    "RatedSlope",
    "RatedTable",
    "Rating",
    "RatingBase",
    "Root",
    "Sensitivity",
    "Sheet",
    "Thermistor",
    "Thermocouple",
    "Turns",
    "TwoPoints",
    "Unrated",
    "Zirconia",
]  # fmt: skip
