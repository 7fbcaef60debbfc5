"""Wire, as the window sees it."""

from typing import Protocol

from ...centre.sight import Sight
from ...panel.step_panel import StepPanel
from ..step import PanelParts, Step
from .controllers_button import ShopControllers


class _Parts(PanelParts, Protocol):
    sight: Sight
    shop: ShopControllers


def _panel(parts: _Parts) -> StepPanel:
    from .panel import WirePanel

    made = WirePanel(parts.bench, parts.theme, parts.sight)
    made.controllers.shop = parts.shop
    return made


def _output_panel(parts: _Parts) -> StepPanel:
    from .output_panel import OutputWirePanel

    made = OutputWirePanel(parts.bench, parts.theme)
    made.controllers.shop = parts.shop
    return made


WIRE = Step(
    "wire", "▸ ends of the working range   ▨ only a wire fault reads here", _panel, room="path",
    other_panels={"output": _output_panel},
)  # fmt: skip
