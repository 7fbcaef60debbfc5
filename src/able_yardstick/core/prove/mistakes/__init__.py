"""The known mistakes, and which of them explains what a controller shows: `MISTAKES` is the only list of them."""

from .base import CheckPlace, Guess, Mistake, MistakeCase
from .numbers import NUMBERS
from .plant import PLANT
from .sensor import SENSOR

MISTAKES: tuple[Mistake, ...] = (*PLANT, *SENSOR, *NUMBERS)

__all__ = ["MISTAKES", "CheckPlace", "Guess", "Mistake", "MistakeCase"]
