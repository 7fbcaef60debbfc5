"""Describe, as the window sees it."""

from typing import Protocol

from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.step_panel import StepPanel
from ..step import Plots, Step


class _Parts(Protocol):
    bench: Workbench
    theme: Theme


def _panel(parts: _Parts) -> StepPanel:
    from .panel import DescribePanel

    return DescribePanel(parts.bench, parts.theme)


DESCRIBE = Step(
    "describe",
    "▸ ends of the working range   ▨ beyond the described points",
    _panel,
    plots=Plots(expected=True),
)
