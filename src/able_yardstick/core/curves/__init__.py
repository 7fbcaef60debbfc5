"""Curves from signal to value, each with its inverse, slope, reach and plain-data form."""

from typing import Annotated

from pydantic import Field

from .base import Curve
from .line import Line
from .polynomial import Polynomial, raw_powers
from .table import Table

AnyCurve = Annotated[Line | Polynomial | Table, Field(discriminator="kind")]

__all__ = ["AnyCurve", "Curve", "Line", "Polynomial", "Table", "raw_powers"]
