"""Describe, as the window sees it."""

from ...panel.step_panel import StepPanel
from ..step import PanelParts, Plots, Step


def _panel(parts: PanelParts) -> StepPanel:
    from .panel import DescribePanel

    return DescribePanel(parts.bench, parts.theme)


DESCRIBE = Step(
    "describe",
    "▸ ends of the working range   ▨ beyond the described points",
    _panel,
    plots=Plots(expected=True),
)
