"""Wake, as the window sees it."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Protocol

from ...panel.step_panel import StepPanel
from ..step import PanelParts, Step

if TYPE_CHECKING:
    from ...frame.live import LiveBench
    from .session import WakeSession


class _Parts(PanelParts, Protocol):
    live: "LiveBench"
    wake_session: "WakeSession"
    fast_capture: Callable[[], None]


def _panel(parts: _Parts) -> StepPanel:
    from .panel import WakePanel

    panel = WakePanel(parts.bench, parts.theme, parts.live, parts.wake_session)
    panel.burst.clicked.connect(parts.fast_capture)
    return panel


WAKE = Step(
    "wake",
    "▼ the live signal   ▸ ends of the working range   shaded: expected in this state",
    _panel,
    room="live",
)
