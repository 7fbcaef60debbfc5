"""Pack, as the window sees it."""

from typing import TYPE_CHECKING, Protocol

from ...centre.sight import Sight
from ...panel.step_panel import StepPanel
from ..step import PanelParts, Plots, Step
from .knot_drag import KnotDrag

if TYPE_CHECKING:
    from ...frame.live import LiveBench


class _Centre(Protocol):
    knot_drag: KnotDrag


class _Parts(PanelParts, Protocol):
    sight: Sight
    live: "LiveBench"
    centre: _Centre


def _panel(parts: _Parts) -> StepPanel:
    from .panel import PackPanel

    panel = PackPanel(parts.bench, parts.theme, parts.sight, parts.live)
    parts.centre.knot_drag.drafted.connect(panel.show_draft)
    return panel


PACK = Step(
    "pack",
    "○ worst place   ▨ beyond the calibration's reach",
    _panel,
    plots=Plots(knots=True, errors="packing"),
)
