"""Fitting: which curve maps signal to quantity, and what it is worth."""

from .choice import Candidate, Choice, candidate, candidates, choose, simplest
from .doubt import Doubts
from .fitted import DEGREES, MODEL_NAMES, TITLES, FitSettings, FitSpec, Fitted, ModelName, Parameter
from .free_formula import starts_for, starts_of
from .models import described, fit
from .worth import LackOfFit, Worth, aicc_of, worth_of

__all__ = [
    "DEGREES",
    "MODEL_NAMES",
    "TITLES",
    "Candidate",
    "Choice",
    "Doubts",
    "FitSettings",
    "FitSpec",
    "Fitted",
    "LackOfFit",
    "ModelName",
    "Parameter",
    "Worth",
    "aicc_of",
    "candidate",
    "candidates",
    "choose",
    "described",
    "fit",
    "simplest",
    "starts_for",
    "starts_of",
    "worth_of",
]
