"""Prove, as the window sees it."""

from ...panel.step_panel import StepPanel
from ..step import PanelParts, Plots, Step


def _panel(parts: PanelParts) -> StepPanel:
    from .panel import ProvePanel

    return ProvePanel(parts.bench, parts.theme)


PROVE = Step(
    "prove",
    "◇ as found   ● as left   ○ of another packing",
    _panel,
    plots=Plots(checks=True, errors="proof"),
    jaws=True,
)
