"""Sign, as the window sees it."""

from typing import Protocol

from ...centre.sight import Sight
from ...panel.step_panel import StepPanel
from ..step import PanelParts, Step


class _Parts(PanelParts, Protocol):
    sight: Sight


def _panel(parts: _Parts) -> StepPanel:
    from .panel import SignPanel

    return SignPanel(parts.bench, parts.theme, parts.sight)


SIGN = Step("sign", "the page of its record", _panel, room="page")
