"""The chart's panel: what is drawn with its figures, the stretch, the replay, other numbers, a pair."""

from collections.abc import Callable

from PySide6.QtCore import QTimer

from ..frame.live import LiveBench
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from ..panel.lead_box import Act, Headline
from ..panel.step_panel import StepPanel
from .parts.compared import ComparedPart
from .parts.drawn import DrawnPart
from .parts.numbers import NumbersPart
from .parts.part import ChartPart
from .parts.replayed import ReplayedPart
from .parts.stretch import StretchPart
from .state import ChartState
from .time_axis import length_words

_FIGURES_AFTER_MS = 120


class ChartPanel(StepPanel):
    """Everything that is told of what the chart shows, and what can be done with it."""

    title = "Chart"

    def __init__(
        self, bench: Workbench, theme: Theme, state: ChartState, live: LiveBench, ask_log: Callable[[], None]
    ) -> None:
        super().__init__(bench, theme)
        self._state, self._live, self._ask_log = state, live, ask_log
        self.parts: dict[str, ChartPart] = {
            "drawn": DrawnPart(bench, state),
            "stretch": StretchPart(bench, state),
            "replay": ReplayedPart(bench, state, live),
            "numbers": NumbersPart(bench, state),
            "pair": ComparedPart(bench, state),
        }
        for part in self.parts.values():
            self.body.addWidget(part)
        self.body.addStretch(1)
        self._figures = QTimer(self, singleShot=True, interval=_FIGURES_AFTER_MS)
        self._figures.timeout.connect(self._show_figures)
        state.changed.connect(self._changed)
        state.moved.connect(self._moved)

    def _changed(self) -> None:
        if self.isVisible():
            self.show_now()

    def _moved(self) -> None:
        if self.isVisible():
            self.show_lead()
            self._figures.start()

    def tick(self) -> None:
        """What is live goes on."""
        if self.isVisible():
            self.parts["replay"].show_now(self.theme)
            if self._state.courses is not None and self._state.courses.is_live:
                self._show_figures()

    def _show_figures(self) -> None:
        for name in ("drawn", "stretch"):
            self.parts[name].show_now(self.theme)

    def lead(self) -> Headline | None:
        """Where the courses are from, how long the stretch is, and the next thing to do."""
        state = self._state
        opens = Act("Open a log …", self._ask_log)
        if state.courses is None:
            if not self.bench.job.sources:
                return Headline("open", "Nothing to draw yet.", "Open a log, or add a source (F4).", (opens,))
            connect = Act("Connect", self._live.connect_all)
            return Headline("open", "Nothing to draw yet.", "Connect the bench, or open a log.", (opens, connect))
        sight, (first, last) = state.sight, state.courses.span_s()
        whole = max(last - first, 0.0)
        seen = f"{length_words(min(sight.length_s, whole))} of {length_words(whole)} are seen."
        if state.log is not None:
            back = (Act("Look at what is live", state.look_live),) if self._live.is_on else ()
            return Headline("ok", state.log.title, seen, (*back, opens))
        held = Act("Go on" if sight.is_held else "Hold still", lambda: state.hold(not sight.is_held))
        return Headline("ok", "Held still." if sight.is_held else "Live.", seen, (held, opens))

    def refresh(self) -> None:
        """Show all of it."""
        for part in self.parts.values():
            part.show_now(self.theme)
