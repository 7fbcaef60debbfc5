"""Curves from signal to value, each with its inverse, slope, reach and plain-data form."""

from typing import Annotated

from pydantic import Field

from .base import Curve
from .composed import ComposedCurve, OutputCurve, OutputKinds
from .cubic import MonotoneCubic
from .defined import DefinedCurve
from .formula import FormulaCurve
from .line import Line
from .oxygen_view import OxygenViewCurve
from .polynomial import Polynomial, raw_powers
from .standard import PlatinumCurve, RootCurve, ThermistorCurve, ThermocoupleCurve, ZirconiaCurve
from .table import Table

AnyCurve = Annotated[OutputKinds | ComposedCurve | OxygenViewCurve, Field(discriminator="kind")]

__all__ = [
    "AnyCurve", "ComposedCurve", "Curve", "DefinedCurve", "FormulaCurve", "Line", "MonotoneCubic", "OutputCurve",
    "OxygenViewCurve", "PlatinumCurve", "Polynomial", "RootCurve", "Table", "ThermistorCurve", "ThermocoupleCurve",
    "ZirconiaCurve", "raw_powers",
]  # fmt: skip
