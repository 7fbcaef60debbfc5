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


def _output_panel(parts: _Parts) -> StepPanel:
    from .output_panel import OutputWirePanel

    return OutputWirePanel(parts.bench, parts.theme)


WIRE = Step(
    "wire", "▸ ends of the working range   ▨ only a wire fault reads here", _panel, room="path",
    other_panels={"output": _output_panel},
)  # fmt: skip
