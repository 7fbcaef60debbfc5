"""Fitting: which curve maps signal to quantity, and what it is worth."""

from .choice import Candidate, Choice, candidate, candidates, choose, simplest
from .doubt import Doubts
from .models import DEGREES, MODEL_NAMES, TITLES, FitSettings, FitSpec, Fitted, ModelName, Parameter, described, fit
from .worth import LackOfFit, Worth, worth_of

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
    "candidate",
    "candidates",
    "choose",
    "described",
    "fit",
    "simplest",
    "worth_of",
]
