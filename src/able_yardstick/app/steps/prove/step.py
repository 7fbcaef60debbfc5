"""Prove, as the window sees it."""

from typing import TYPE_CHECKING, Protocol

from ...centre.sight import Sight
from ...panel.step_panel import StepPanel
from ..step import PanelParts, Plots, Step

if TYPE_CHECKING:
    from ...frame.live import LiveBench


class _Parts(PanelParts, Protocol):
    live: "LiveBench"
    sight: Sight


def _panel(parts: _Parts) -> StepPanel:
    from .panel import ProvePanel

    return ProvePanel(parts.bench, parts.theme, parts.live, parts.sight)


def _output_panel(parts: _Parts) -> StepPanel:
    from .output_panel import OutputProvePanel

    return OutputProvePanel(parts.bench, parts.theme, parts.live)


PROVE = Step(
    "prove",
    "◇ as found   ● as left   ○ of another packing",
    _panel,
    plots=Plots(checks=True, errors="proof"),
    jaws=True,
    make_output_panel=_output_panel,
)
