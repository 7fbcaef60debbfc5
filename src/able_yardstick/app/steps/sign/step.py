"""Sign, as the window sees it."""

from typing import TYPE_CHECKING, Protocol

from ...centre.sight import Sight
from ...panel.step_panel import StepPanel
from ..step import PanelParts, Step

if TYPE_CHECKING:
    from ...register.shop import Shop


class _Parts(PanelParts, Protocol):
    sight: Sight
    shop: "Shop"


def _panel(parts: _Parts) -> StepPanel:
    from .panel import SignPanel

    return SignPanel(parts.bench, parts.theme, parts.sight, parts.shop)


SIGN = Step("sign", "the page of its record", _panel, room="page")
