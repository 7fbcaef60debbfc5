"""Fit, as the window sees it."""

from typing import Protocol

from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.step_panel import StepPanel
from ..step import Plots, Step


class _Parts(Protocol):
    bench: Workbench
    theme: Theme


def _panel(parts: _Parts) -> StepPanel:
    from .panel import FitPanel

    return FitPanel(parts.bench, parts.theme)


FIT = Step(
    "fit",
    "▲ going up   ▽ coming down   × excluded   ▨ extrapolated",
    _panel,
    plots=Plots(candidate=True, whiskers=True, uncertainty=True),
)
