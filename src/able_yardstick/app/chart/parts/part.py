"""A part of the chart's panel: it folds, and shows what the chart's state says."""

from abc import abstractmethod

from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.section import Section
from ..state import ChartState


class ChartPart(Section):
    """Knows the state; what it does, it does through it."""

    def __init__(self, bench: Workbench, state: ChartState, name: str, title: str, *, opened: bool = False) -> None:
        super().__init__(bench, f"chart {name}", title, opened=opened)
        self.bench, self.state = bench, state

    @abstractmethod
    def show_now(self, theme: Theme) -> None:
        """Show how things are by now."""
