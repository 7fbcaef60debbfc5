"""Every form that controllers take a calibration in."""

from typing import Annotated

from pydantic import Field

from .code import CFunction, StFunction
from .expression import FormulaText
from .implied import LowHighIntegers
from .integer import FixedPoint, Ratio
from .normalised import Normalised
from .register_words import Words
from .single import SinglePolynomial
from .straight import Divisor, EndValues, Inverse, RawPair, SlopeOffset, ZeroSignal
from .table import Knots

AnyForm = Annotated[
    SlopeOffset
    | EndValues
    | LowHighIntegers
    | RawPair
    | Normalised
    | Divisor
    | ZeroSignal
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
    SlopeOffset, EndValues, LowHighIntegers, RawPair, Normalised, Divisor, ZeroSignal, Ratio, Knots, SinglePolynomial,
    FixedPoint, Words, FormulaText, StFunction, CFunction, Inverse,
)  # fmt: skip
