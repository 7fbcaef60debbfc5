"""Packings: a calibration in a controller's own numeric form and arithmetic."""

from .cost import PackingCost, WorstError, packing_cost, packing_errors
from .forms import AnyForm, Cells, EndValues, Knots, RawPair, SlopeOffset
from .make import closest_line, pack
from .spec import FORM_NAMES, FormName, PackSpec

__all__ = [
    "FORM_NAMES",
    "AnyForm",
    "Cells",
    "EndValues",
    "FormName",
    "Knots",
    "PackSpec",
    "PackingCost",
    "RawPair",
    "SlopeOffset",
    "WorstError",
    "closest_line",
    "pack",
    "packing_cost",
    "packing_errors",
]
