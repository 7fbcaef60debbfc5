"""Fitting: which curve maps signal to quantity, and what it is worth."""

from .choice import Candidate, Choice, candidate, candidates, choose
from .models import MODEL_NAMES, TITLES, FitSpec, Fitted, ModelName, described, fit

__all__ = [
    "MODEL_NAMES",
    "TITLES",
    "Candidate",
    "Choice",
    "FitSpec",
    "Fitted",
    "ModelName",
    "candidate",
    "candidates",
    "choose",
    "described",
    "fit",
]
