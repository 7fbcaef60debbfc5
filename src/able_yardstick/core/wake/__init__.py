"""Whether a raw signal is alive and plausible before any scaling, and what is wrong with it when it is not."""

from ..channel import PlantState
from .causes import CAUSES, Cause, causes_for
from .evidence import Evidence, TestName
from .expected import Expected, expected_at
from .figures import Figures, figures_of
from .nudge import Nudge, NudgeOutcome, nudge_of
from .verdict import Suspicion, Verdict, diagnose

__all__ = [
    "CAUSES",
    "Cause",
    "Evidence",
    "Expected",
    "Figures",
    "Nudge",
    "NudgeOutcome",
    "PlantState",
    "Suspicion",
    "TestName",
    "Verdict",
    "causes_for",
    "diagnose",
    "expected_at",
    "figures_of",
    "nudge_of",
]
