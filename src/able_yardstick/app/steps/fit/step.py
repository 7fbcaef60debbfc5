"""Fit, as the window sees it."""

from ...panel.step_panel import StepPanel
from ..step import PanelParts, Plots, Step


def _panel(parts: PanelParts) -> StepPanel:
    from .panel import FitPanel

    return FitPanel(parts.bench, parts.theme)


FIT = Step(
    "fit",
    "▲ going up   ▽ coming down   × excluded   ▨ extrapolated",
    _panel,
    plots=Plots(candidate=True, whiskers=True, uncertainty=True),
)
