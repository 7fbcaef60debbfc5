"""Prove, as the window sees it."""

from typing import Protocol

from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.step_panel import StepPanel
from ..step import Plots, Step


class _Parts(Protocol):
    bench: Workbench
    theme: Theme


def _panel(parts: _Parts) -> StepPanel:
    from .panel import ProvePanel

    return ProvePanel(parts.bench, parts.theme)


PROVE = Step(
    "prove",
    "◇ as found   ● as left   ○ of another packing",
    _panel,
    plots=Plots(checks=True, errors="proof"),
    jaws=True,
)
