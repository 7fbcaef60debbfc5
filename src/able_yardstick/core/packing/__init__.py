"""Packings: a calibration in a controller's own numeric form and arithmetic."""

from .base import Cells, PackedForm
from .code import CFunction, Function, StFunction
from .cost import PackingCost, WorstError, packing_cost, packing_errors
from .expression import FormulaText
from .forms import FORMS, AnyForm
from .integer import FixedPoint, Ratio
from .knots import Shared, TableOrder, TableReport, fewest_within
from .make import Around, Made, Named, closest_line, pack, pack_in_full
from .single import SinglePolynomial
from .spec import FORM_NAMES, FormName, PackSpec
from .straight import Divisor, EndValues, Inverse, RawPair, SlopeOffset
from .table import Knots
from .words import Words

__all__ = [
    "FORMS",
    "FORM_NAMES",
    "AnyForm",
    "Around",
    "CFunction",
    "Cells",
    "Divisor",
    "EndValues",
    "FixedPoint",
    "FormName",
    "FormulaText",
    "Function",
    "Inverse",
    "Knots",
    "Made",
    "Named",
    "PackSpec",
    "PackedForm",
    "PackingCost",
    "Ratio",
    "RawPair",
    "Shared",
    "SinglePolynomial",
    "SlopeOffset",
    "StFunction",
    "TableOrder",
    "TableReport",
    "Words",
    "WorstError",
    "closest_line",
    "fewest_within",
    "pack",
    "pack_in_full",
    "packing_cost",
    "packing_errors",
]
