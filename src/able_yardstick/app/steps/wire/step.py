"""Wire, as the window sees it."""

from typing import Protocol

from ...centre.sight import Sight
from ...panel.step_panel import StepPanel
from ..step import PanelParts, Step


class _Parts(PanelParts, Protocol):
    sight: Sight


def _panel(parts: _Parts) -> StepPanel:
    from .panel import WirePanel

    return WirePanel(parts.bench, parts.theme, parts.sight)


WIRE = Step("wire", "▸ ends of the working range   ▨ only a wire fault reads here", _panel, room="path")
