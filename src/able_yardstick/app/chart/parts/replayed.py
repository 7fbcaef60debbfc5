"""The replay: a log played into the whole program, at a speed, held, or step by step."""

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from ....bench.replay import Replay
from ....bench.tapes import replay_of
from ...frame.live import LiveBench
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, label
from ..state import ChartState
from ..time_axis import length_words
from .part import ChartPart

_SPEEDS = ("0.1", "0.5", "1", "2", "5", "10", "50", "200")


class ReplayedPart(ChartPart):
    """Starts, holds, steps and ends it."""

    def __init__(self, bench: Workbench, state: ChartState, live: LiveBench) -> None:
        super().__init__(bench, state, "replay", "Replay")
        self._live = live
        self.speed = ChoiceField("Speed", [(one, f"{one} ×") for one in _SPEEDS], self._put_speed)
        self._speed = "1"
        self.play, self.hold, self.step, self.end = (
            QPushButton(text) for text in ("Replay it", "Hold", "One step", "End it")
        )
        self.play.setToolTip("Into the whole program: Rule, Wake, Lookout; from cursor A, else from the left edge")
        self.play.clicked.connect(self.start)
        self.hold.clicked.connect(self._turn_hold)
        self.step.clicked.connect(lambda: live.order_replay(Replay.step))
        self.end.clicked.connect(live.disconnect_all)
        buttons = QWidget()
        grid = QGridLayout(buttons)
        grid.setContentsMargins(0, 0, 0, 0)
        for n, button in enumerate((self.play, self.hold, self.step, self.end)):
            grid.addWidget(button, n // 2, n % 2)
        self.words = label("", "", 12)
        self.add(self.words, self.speed, buttons)

    def show_now(self, theme: Theme) -> None:
        played = self._live.replayed
        self.speed.show_value(self._speed)
        self.play.setEnabled(self.state.log is not None)
        for button in (self.hold, self.step, self.end):
            button.setEnabled(played is not None)
        if played is None:
            told = "A log is played into the whole program, in place of what is connected."
            self.words.setText(told if self.state.log is not None else "Open a log to replay it.")
            self.show_summary("")
            return
        self.hold.setText("Go on" if played.is_held else "Hold")
        state = "held at" if played.is_held else "over at" if played.is_over else "at"
        told = f"{state} {length_words(played.at_s)} of {length_words(played.length_s)}"
        self.words.setText(f"{told[:1].upper()}{told[1:]}.")
        self.show_summary(told)

    def start(self) -> None:
        """Play it from cursor A, else from the left edge of what is seen."""
        log, sight = self.state.log, self.state.sight
        if log is None:
            return
        first, last = log.span_s()
        start = sight.start_s if sight.a_s is None else sight.a_s
        start = min(max(start - first, 0.0), last - first)
        self._live.disconnect_all()
        self._live.replay(replay_of(log.log, self.bench.job, start, float(self._speed)))
        for button in (self.hold, self.step, self.end):
            button.setEnabled(True)
        self.bench.said.emit(f"{log.title} is played into the program. Connecting the bench ends it.", False)

    def _turn_hold(self) -> None:
        played = self._live.replayed
        if played is not None:
            held = not played.is_held
            self._live.order_replay(lambda replay: replay.hold(held))

    def _put_speed(self, speed: str) -> None:
        self._speed = speed
        number = float(speed)

        def change(replay: Replay) -> None:
            replay.speed = number

        self._live.order_replay(change)
