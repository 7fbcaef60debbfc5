"""Gather, as the window sees it."""

from typing import TYPE_CHECKING, Protocol

from ...panel.step_panel import StepPanel
from ..step import PanelParts, Plots, Step

if TYPE_CHECKING:
    from ...frame.live import LiveBench
    from .session import GatherSession


class _Parts(PanelParts, Protocol):
    live: "LiveBench"
    gather_session: "GatherSession"


def _panel(parts: _Parts) -> StepPanel:
    from .panel import GatherPanel

    _ = parts.live  # the session comes with it
    return GatherPanel(parts.bench, parts.theme, parts.gather_session)


GATHER = Step(
    "gather",
    "▲ going up   ▽ coming down   ○ not stated   × excluded   □ rated   ⬠ assumed",
    _panel,
    plots=Plots(candidate=True, whiskers=True),
    live_strip=True,
    advises=True,
)
