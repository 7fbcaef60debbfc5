"""Wake: is the raw signal alive and plausible before any scaling; and what is wrong when it is not."""

from PySide6.QtWidgets import QComboBox, QFrame, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from ....core.document.channel import ContinuousChannel, PlantState, WiredChannel
from ....core.job.channels import change_channel
from ....core.wake.evidence import TestName
from ....core.wake.expected import expected_at
from ....core.wake.figures import Figures
from ....core.wake.meter import split_of
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import decimals_for, fixed, parse_number, significant
from ...frame.live import LiveBench
from ...frame.plain_text import PlainLabel
from ...frame.theme import Theme, bold
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, Complaint, Entry, TextField, heading, label, restyle
from ...panel.lead_box import Act, Headline
from ...panel.step_panel import PanelKey, StepPanel
from .by_hand import HandLook
from .lead import lead_of_verdict, next_after
from .session import WakeSession

_NO_STATE, _ANOTHER, _REFERENCE = "", "another", "reference"
_METERED: tuple[tuple[TestName, str, str, str], ...] = (
    ("meter", "Signal terminal", "V", "meter_v"),
    ("supply", "Supply terminal", "V", "supply_v"),
    ("resistance", "Across the leads", "Ω", "leads_ohm"),
)


class _Number(QFrame):
    """One live number with what it is, and whether it is scaled."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self.setObjectName("note")
        column = QVBoxLayout(self)
        column.setContentsMargins(9, 5, 9, 6)
        column.setSpacing(0)
        self.title = label(title, "muted", 12)
        self.value = PlainLabel("—")
        self.value.setFont(bold(17))
        self.unit = label("", "muted", 12)
        for widget in (self.title, self.value, self.unit):
            column.addWidget(widget)

    def show_value(self, text: str, unit: str, stale: bool = False) -> None:
        """Show a number; a stale one is muted and says so."""
        self.value.setText(text)
        self.unit.setText(f"{unit}, stale" if stale and text != "—" else unit)
        restyle(self.value, "role", "muted" if stale else "")


class WakePanel(StepPanel):
    """Looks at the live signal, nudges it, and names the likely cause with its evidence."""

    title = "Wake the signal"

    def __init__(self, bench: Workbench, theme: Theme, live: LiveBench, session: WakeSession) -> None:
        super().__init__(bench, theme)
        self._live, self.session = live, session
        self._build_numbers()
        self._build_state()
        self._build_figures()
        self._build_tests()
        self.body.addStretch(1)
        self.look_button = self.action("Look  (F8)", self._look, primary=True)
        self.action("Start again", session.start_again)
        session.changed.connect(self._show_session)
        session.refused.connect(self._complaint.setText)
        live.slow_ticked.connect(self._tick)
        live.connected.connect(lambda _on: self.refresh())

    # -- building ---------------------------------------------------------------------------------------------------

    def _build_numbers(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(6)
        self.count, self.pin, self.shown = _Number("Raw count"), _Number("At the pin"), _Number("It shows")
        for number in (self.count, self.pin, self.shown):
            row.addWidget(number, 1)
        self.body.addLayout(row)
        self._complaint = Complaint()
        self.body.addWidget(self._complaint)
        self.by_hand = HandLook(self.session, lambda: bool(self.way.currentData()))

    def _build_state(self) -> None:
        self.state = ChoiceField("The plant is now", (), self._choose_state)
        self.body.addWidget(self.state)
        self.expected = label("", "", 12)
        self.body.addWidget(self.expected)
        self.new_state = QFrame()
        grid = QGridLayout(self.new_state)
        grid.setContentsMargins(0, 0, 0, 0)
        self.state_name, self.state_value, self.state_within = Entry(), Entry(), Entry()
        for entry, hint in (
            (self.state_name, "its name, such as fan stopped"),
            (self.state_value, "value then"),
            (self.state_within, "± within"),
        ):
            entry.setPlaceholderText(hint)
            entry.setAccessibleName(hint)
            entry.returnPressed.connect(self._add_state)
        self._state_unit = label("", "muted", 12)
        add = QPushButton("Add it")
        add.clicked.connect(self._add_state)
        grid.addWidget(self.state_name, 0, 0, 1, 4)
        for column, widget in enumerate((self.state_value, self.state_within, self._state_unit, add)):
            grid.addWidget(widget, 1, column)
        self.new_state.hide()
        self.body.addWidget(self.new_state)
        self._state_complaint = Complaint()
        self.body.addWidget(self._state_complaint)
        self.body.addWidget(self.by_hand)

    def _build_figures(self) -> None:
        self._figures = QGridLayout()
        self._figures.setHorizontalSpacing(10)
        self._figures.setVerticalSpacing(2)
        self._figures.setColumnStretch(1, 1)
        self._figure_labels: dict[str, tuple[QLabel, QLabel]] = {}
        for row, name in enumerate(("Noise", "Peak to peak", "Drift", "Resolution seen", "Spectrum", "Smoothing")):
            value = label("—", "", 12)
            title = label(name, "muted", 12)
            self._figures.addWidget(title, row, 0)
            self._figures.addWidget(value, row, 1)
            self._figure_labels[name] = title, value
        self.body.addLayout(self._figures)

    def _build_tests(self) -> None:
        self.body.addWidget(heading("Tests"))
        row = QHBoxLayout()
        row.setSpacing(6)
        self.way = QComboBox()
        self.way.setAccessibleName("Which way its value will go")
        self.way.addItem("its value goes up", True)
        self.way.addItem("its value goes down", False)
        self.nudge = QPushButton("Start the nudge")
        self.nudge.clicked.connect(lambda: self.session.start_nudge(bool(self.way.currentData())))
        row.addWidget(self.way, 1)
        row.addWidget(self.nudge)
        self.body.addLayout(row)
        self.nudge_words = label("", "signal", 12)
        self.body.addWidget(self.nudge_words)
        self.metered: dict[TestName, TextField] = {}
        for test, title, unit, name in _METERED:
            self.metered[test] = self._meter_row(title, unit, name)
        self.burst = QPushButton("Fast capture …  (Ctrl+F8)")
        self.burst.setToolTip("A burst without smoothing: what slow sampling folds down or hides")
        self.body.addWidget(self.burst)
        self.meter_words = label("", "muted", 12)
        self.body.addWidget(self.meter_words)

    def _meter_row(self, title: str, unit: str, name: str) -> TextField:
        field = TextField(title, lambda text: self._measured(name, text), suffix=unit, hint="a meter reads")
        take = QPushButton("Take")
        take.setToolTip("Take what the bench meter reads now")
        take.setAccessibleName(f"Take the meter's reading: {title}")
        take.clicked.connect(lambda: self._take_meter(name, field))
        field.row.addWidget(take)
        self.body.addWidget(field)
        return field

    # -- acting -----------------------------------------------------------------------------------------------------

    def take_key(self, key: PanelKey) -> bool:
        """What the capture key does here: look."""
        if key == "take":
            self._look()
        return key == "take"

    @property
    def _is_by_hand(self) -> bool:
        """Whether nothing gives the channel's raw signal, so that it is typed."""
        return self._live.raw(self.session.channel) is None

    def _look(self) -> None:
        if self._is_by_hand:
            self.by_hand.look()
        else:
            self.session.look()

    def forget(self) -> None:
        """Drop what was typed and not taken."""
        super().forget()
        self.by_hand.forget()

    def _choose_state(self, name: str) -> None:
        self.new_state.setVisible(name == _ANOTHER)
        self._state_complaint.setText("")
        if name == _ANOTHER:
            self.state_name.setFocus()
            return
        if name == _REFERENCE:
            self.session.choose_reference()
            return
        channel = self.session.channel
        states = channel.plant_states if channel else ()
        self.session.choose_state(next((state for state in states if state.name == name), None))

    def _add_state(self) -> None:
        channel = self.session.channel
        if channel is None:
            return
        try:
            within = parse_number(self.state_within.text()) if self.state_within.text().strip() else 0.0
            if not self.state_name.text().strip():
                raise NotApplicable("Name the state as a person at the plant would: nothing on the scale, fan stopped.")
            state = PlantState(
                name=self.state_name.text().strip(), value=parse_number(self.state_value.text()), within=max(within, 0)
            )
            expected_at(channel, state)  # refuses a value without a signal
            rest = tuple(old for old in channel.plant_states if old.name != state.name)
            changed = channel.with_(plant_states=(*rest, state))
            self.bench.edit(
                f"{channel.tag}: plant state {state.name}", lambda job: change_channel(job, changed)
            )  # fmt: skip
        except YardstickError as error:
            self._state_complaint.setText(str(error))
            return
        self._state_complaint.setText("")
        self.new_state.hide()
        for entry in (self.state_name, self.state_value, self.state_within):
            entry.clear()
        self.session.choose_state(state)

    def _measured(self, name: str, text: str) -> None:
        words = text.strip().casefold()
        value = float("inf") if name == "leads_ohm" and words in ("inf", "open", "∞", "ol") else parse_number(text)
        self.session.measured(**{name: value})

    def _take_meter(self, name: str, field: TextField) -> None:
        meter = self._live.meter("V")
        if meter is None:
            field.fail("No meter is among the sources that answer: type what it reads.")
            return
        value = meter.latest()
        if value is None and name != "leads_ohm":
            field.fail("The meter shows no value: hold its leads to the terminal.")
            return
        try:
            self.session.measured(**{name: float("inf") if value is None else value})
        except YardstickError as error:
            field.fail(str(error))
            return
        field.fail("")

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.session.channel
        if channel is None:
            return
        known = [(state.name, state.name) for state in channel.plant_states]
        live = [(_REFERENCE, "as the reference reads")] if self._live.reference(channel) is not None else []
        self.state.offer([(_NO_STATE, "not said yet"), *live, *known, (_ANOTHER, "another state …")])
        self.state.show_value(self._state_key())
        self._state_unit.setText(channel.unit if isinstance(channel, ContinuousChannel) else "0 closed, 1 open")
        self.by_hand.show_channel(channel)
        self._show_session()
        self._show_live()

    def _state_key(self) -> str:
        if self.session.by_reference:
            return _REFERENCE
        return self.session.state.name if self.session.state else _NO_STATE

    def _show_session(self) -> None:
        channel = self.session.channel
        if channel is None:
            return
        self.state.show_value(self._state_key())
        self.expected.setText(self._expected_words(channel))
        self.expected.setVisible(bool(self.expected.text()))
        self.show_lead()
        self._show_tests()

    def _expected_words(self, channel: WiredChannel) -> str:
        try:
            expected = self.session.expected
        except YardstickError as error:
            return str(error)
        if expected is None:
            return ""
        counts = channel.path.converter.count_of(expected.pin)
        unit = channel.path.pin_unit
        own = f"{significant(expected.value, 5)} {channel.unit}: " if isinstance(channel, ContinuousChannel) else ""
        return (
            f"{own}expect {significant(expected.pin, 4)} ± {significant(expected.allowed, 2)} {unit} at the pin, "
            f"count {int(counts)}."
        )

    def lead(self) -> Headline | None:
        """The verdict, and the test that would tell more."""
        if self.session.channel is None:
            return None
        verdict = self.session.verdict
        if verdict is None:
            return Headline("open", "Nothing was looked at yet.", self._introduction(not self._is_by_hand))
        lead = lead_of_verdict(verdict)
        if lead.level == "ok":
            return lead._replace(acts=(self.onward(next_after(self.bench, "wake")),))
        if verdict.first == "healthy" and self.session.state is None:  # without it an offset cannot be seen
            return lead._replace(acts=(self.goes_to("Say the state", self.state.box),))
        act = self._act_of(verdict.next_test)
        return lead if act is None else lead._replace(acts=(act,))

    def _act_of(self, test: TestName | None) -> Act | None:
        """The button that makes a test, or goes to where it is typed; None where the plant must be moved for it."""
        if test == "nudge":
            by_hand = self.by_hand.after if self._is_by_hand else self.nudge
            return self.goes_to("Nudge it", by_hand)
        if test == "faster sampling" and not self._is_by_hand:
            return Act("Fast capture …", self.burst.click)
        if test is not None and test in self.metered:
            return self.goes_to("Type what it reads", self.metered[test].entries[0])
        return None

    def _show_tests(self) -> None:
        evidence = self.session.evidence
        left = self.session.nudge_left_s
        self.nudge.setEnabled(evidence is not None and left is None)
        nudge = evidence.nudge if evidence else None
        if left is not None:
            words = f"Disturb the sensor now, and hold it: {left:.0f} s left."
        elif nudge is not None:
            unit = self.session.channel.path.pin_unit if self.session.channel else ""
            words = f"It {nudge.outcome}: {significant(nudge.movement, 3)} {unit}, {nudge.share:.1%} of the pin's span."
        else:
            words = ""
        self.nudge_words.setText(words)
        self.nudge_words.setVisible(bool(words))
        for test, _title, _unit, name in _METERED:
            value = getattr(evidence, name) if evidence else None
            shown = "" if value is None else "open" if value == float("inf") else _metered_text(value)
            self.metered[test].show_values(shown)
            self.metered[test].setEnabled(evidence is not None)
        self.meter_words.setText(self._meter_words())
        self.meter_words.setVisible(bool(self.meter_words.text()))

    def _meter_words(self) -> str:
        """The meter against the controller at one terminal, split into reference and offset."""
        channel = self.session.channel
        if channel is None or channel.path.pin_unit != "V":
            return ""
        converter = channel.path.converter
        split = split_of(self.session.meter_pairs, converter.end - converter.start)
        return "" if split is None else split.says

    def _tick(self) -> None:
        if self.isVisible():
            self._show_live()
            if self.session.verdict is None:
                self.show_lead()
            if self.session.nudge_left_s is not None:
                self._show_tests()

    def _show_live(self) -> None:
        channel = self.session.channel
        if channel is None:
            return
        live, shown = self._live.raw(channel), self._live.shown(channel)
        figures = self.session.figures() if live is not None else None
        stale = live is None or live.is_stale
        unit = channel.path.pin_unit
        if figures is None:
            self.count.show_value("—", "counts")
            self.pin.show_value("—", f"{unit}, unscaled")
        else:
            self.count.show_value(fixed(figures.level_count, 1), "counts", stale)
            decimals = decimals_for(channel.path.converter.resolution / 10)
            self.pin.show_value(fixed(figures.level, min(decimals, 5)), f"{unit}, unscaled", stale)
        value = shown.latest() if shown is not None else None
        own = channel.controller_unit or channel.unit if isinstance(channel, ContinuousChannel) else ""
        self.shown.show_value("—" if value is None else significant(value, 5), f"{own}, scaled" if own else "")
        self.by_hand.setVisible(live is None)
        for needs_link in (self.nudge, self.burst):
            needs_link.setVisible(live is not None)
        self.look_button.setEnabled(figures is not None or live is None)
        if live is None and self.session.evidence is not None:
            figures = self.session.evidence.signal
            self._show_typed(channel, figures)
        self._show_figures(channel, figures)

    def _show_typed(self, channel: WiredChannel, figures: Figures) -> None:
        """What was typed last, where nothing is live."""
        decimals = min(decimals_for(channel.path.converter.resolution / 10), 5)
        self.count.show_value(fixed(figures.level_count, 1), "counts")
        self.pin.show_value(fixed(figures.level, decimals), f"{channel.path.pin_unit}, unscaled")

    def _introduction(self, is_fed: bool) -> str:
        if not is_fed:
            connected = "No source gives this channel's raw signal" if self._live.is_on else "Not connected"
            return (
                f"{connected} (sources: F4). Say which state the plant is in, and type what a display or a meter reads."
            )
        return "Say which state the plant is in, look at the signal at rest, then nudge the sensor."

    def _show_figures(self, channel: WiredChannel, figures: Figures | None) -> None:
        texts = figure_texts(channel, figures) if figures else {}
        for name, (title, shown) in self._figure_labels.items():
            shown.setText(texts.get(name, "—"))
            for part in (title, shown):
                part.setVisible(name in texts or not self._is_by_hand)  # of what is typed most is not known


def figure_texts(channel: WiredChannel, figures: Figures) -> dict[str, str]:
    """The figures in words, by their titles."""
    unit, own = channel.path.pin_unit, channel.unit
    value = "" if figures.noise_value is None else f" = {significant(figures.noise_value, 2)} {own}"
    wide = "" if figures.peak_to_peak_value is None else f" = {significant(figures.peak_to_peak_value, 2)} {own}"
    line = figures.line if figures.texture == "line" else None
    near = ", near half the sampling rate: it may be folded" if line is not None and line.near_half_rate else ""
    spectrum = (
        "no line stands out" if line is None
        else f"{significant(line.frequency_hz, 3)} Hz, {significant(line.amplitude, 2)} {unit}{near}"
    )  # fmt: skip
    stated = f"{figures.stated_smoothing_s:g} s by its filter" if figures.stated_smoothing_s else "no filter stated"
    if figures.texture == "unseen":
        typed = f"{significant(figures.noise, 2)} {unit}{value} of {figures.samples} values"
        return {} if figures.samples < 2 else {"Noise": f"{typed}; allowed {significant(figures.allowed_noise, 2)}"}
    return {
        "Noise": f"{significant(figures.noise, 2)} {unit}{value}; allowed {significant(figures.allowed_noise, 2)}",
        "Peak to peak": f"{significant(figures.peak_to_peak, 2)} {unit}{wide}",
        "Drift": f"{significant(figures.drift_per_minute, 2)} {unit} a minute",
        "Resolution seen": f"{figures.distinct} different counts in {figures.samples}",
        "Spectrum": spectrum,
        "Smoothing": _smoothing_words(stated, figures),
    }


def _metered_text(value: float) -> str:
    """What a meter read, in volts or ohms, as it is typed."""
    return f"{value:.0f}" if abs(value) >= 1e4 else f"{value:.4f}".rstrip("0").rstrip(".")


def _smoothing_words(stated: str, figures: Figures) -> str:
    """What hides fast swings and delays the rest: the filter stated, the step between samples, what is averaged."""
    step_ms = 1000 / figures.rate_hz if figures.rate_hz else 0.0
    return f"{stated}; a value each {significant(step_ms, 3)} ms, averaged over {figures.smoothed_over:.1f}"
