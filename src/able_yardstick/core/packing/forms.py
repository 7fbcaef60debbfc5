"""Every form that controllers take a calibration in."""

from typing import Annotated

from pydantic import Field

from .code import CFunction, StFunction
from .expression import FormulaText
from .integer import FixedPoint, Ratio
from .single import SinglePolynomial
from .straight import Divisor, EndValues, Inverse, RawPair, SlopeOffset
from .table import Knots
from .words import Words

AnyForm = Annotated[
    SlopeOffset
    | EndValues
    | RawPair
    | Divisor
    | Ratio
    | Knots
    | SinglePolynomial
    | FixedPoint
    | Words
    | FormulaText
    | StFunction
    | CFunction
    | Inverse,
    Field(discriminator="kind"),
]
FORMS = (
    SlopeOffset, EndValues, RawPair, Divisor, Ratio, Knots, SinglePolynomial, FixedPoint, Words, FormulaText,
    StFunction, CFunction, Inverse,
)  # fmt: skip
