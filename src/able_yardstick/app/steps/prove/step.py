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

    def knobs_port(self) -> int | None: ...


def _panel(parts: _Parts) -> StepPanel:
    from .panel import ProvePanel

    return ProvePanel(parts.bench, parts.theme, parts.live, parts.sight, parts.knobs_port)


def _output_panel(parts: _Parts) -> StepPanel:
    from .output_panel import OutputProvePanel

    return OutputProvePanel(parts.bench, parts.theme, parts.live)


def _contact_panel(parts: _Parts) -> StepPanel:
    from .contact_panel import ContactProvePanel

    return ContactProvePanel(parts.bench, parts.theme, parts.live, parts.knobs_port)


PROVE = Step(
    "prove",
    "◇ as found   ● as left   ○ of another packing",
    _panel,
    plots=Plots(checks=True, errors="proof"),
    jaws=True,
    other_panels={"output": _output_panel, "two-state": _contact_panel},
)
