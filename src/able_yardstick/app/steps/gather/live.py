"""The plan of Gather: which stop to go to; live also how steady both are, and one key to take the reading."""

from PySide6.QtWidgets import QCheckBox, QFrame, QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ....core.document.channel import ContinuousChannel
from ....core.document.stop_plan import StopPlan
from ....core.gather.steady import Steadiness
from ....core.job.channels import axes_of, change_channel
from ....core.words.errors import BadTable
from ....core.words.numerals import decimals_for, fixed, parse_number, signed, significant
from ...frame.plain_text import PlainLabel
from ...frame.theme import bold
from ...frame.workbench import Workbench, now
from ...panel.fields import Complaint, TextField, label, restyle
from ...panel.record_form import plain
from .session import GatherSession

_ARROWS = {"up": "↑", "down": "↓", "not stated": ""}


class LiveGathering(QWidget):
    """The stop to go to and the plan; what needs a live source is seen while one gives the channel's raw signal."""

    def __init__(self, bench: Workbench, session: GatherSession) -> None:
        super().__init__()
        self._bench, self.session = bench, session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self._build_stop())
        self.complaint = Complaint()
        column.addWidget(self.complaint)
        column.addLayout(self._build_keys())
        self.by_itself = QCheckBox("Take by itself once steady")
        self.by_itself.clicked.connect(self._turn_by_itself)
        column.addWidget(self.by_itself)
        self.with_mates = QCheckBox("")
        self.with_mates.clicked.connect(self._turn_mates)
        column.addWidget(self.with_mates)
        self.typed = TextField("Reference reads", self._type_reference, optional=True, hint="only if it is not live")
        self.plan = TextField("Stops", self._put_stops, hint="6 spread evenly, or 0, 50, 100, 50, 0")
        self.cycles = TextField("Cycles", self._put_cycles)
        self.orientation = TextField("Orientation", self._put_orientation, optional=True, hint="axis up, axis level …")
        self.axes = label("", "look", 12)
        column.addWidget(self.axes)
        column.addWidget(self.typed)
        self.settings = (self.plan, self.cycles, self.orientation)  # the panel finds a place for them
        session.changed.connect(self._show_now)
        session.refused.connect(self.complaint.setText)

    def _build_stop(self) -> QFrame:
        box = QFrame()
        box.setObjectName("note")
        column = QVBoxLayout(box)
        column.setContentsMargins(10, 7, 10, 8)
        column.setSpacing(3)
        self.where = label("", "muted", 12)
        self.go_to = PlainLabel("")
        self.go_to.setFont(bold(18))
        self.warning = label("", "error", 12)
        self.instrument = label("", "muted", 12)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        self._cells: dict[str, tuple[QLabel, QLabel]] = {}
        for row, name in enumerate(("Sensor", "Reference", "Shown")):
            value, words = PlainLabel("—"), label("", "muted", 12)
            value.setFont(bold(13))
            grid.addWidget(label(name, "muted", 12), row, 0)
            grid.addWidget(value, row, 1)
            grid.addWidget(words, row, 2)
            self._cells[name] = (value, words)
        grid.setColumnStretch(2, 1)
        self.steady = label("", "", 12)
        for widget in (self.where, self.go_to, self.warning):
            column.addWidget(widget)
        self._seen_live = QWidget()
        grid.setContentsMargins(0, 0, 0, 0)
        self._seen_live.setLayout(grid)
        column.addWidget(self._seen_live)
        column.addWidget(self.steady)
        column.addWidget(self.instrument)
        return box

    def _build_keys(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(6)
        self.take = QPushButton("Take the reading  (F8)")
        self.take.setObjectName("primary")
        self.take.setFont(bold(13))
        self.set_it = QPushButton("Set it")
        self.set_it.setToolTip("Have the reference move the stimulus to this stop")
        before, after = QPushButton("◂ F7"), QPushButton("F9 ▸")
        before.setToolTip("The stop before (F7)")
        after.setToolTip("The next stop (F9)")
        before.setAccessibleName("The stop before")
        after.setAccessibleName("The next stop")
        again, zero, tare = QPushButton("Repeat"), QPushButton("Zero, load off"), QPushButton("Tare")
        again.setToolTip("Leave the last reading out and take it again (Shift+F8)")
        zero.setToolTip("Take the signal with nothing applied as nought")
        tare.setToolTip("Hold the line through a zero to the signal as it is now, with what hangs on the sensor")
        for button, act in (
            (self.take, self.session.take), (self.set_it, self.session.set_stop), (before, self.session.previous),
            (after, self.session.next), (again, self.session.repeat), (zero, self.session.take_zero),
            (tare, self.session.tare),
        ):  # fmt: skip
            button.clicked.connect(act)
        self._live_buttons = (self.take, again, zero, tare)
        for place, button in enumerate((before, self.set_it, after, again, zero, tare)):
            grid.addWidget(button, place // 3, place % 3)
        return grid

    # -- acting -----------------------------------------------------------------------------------------------------

    def _turn_by_itself(self, on: bool) -> None:
        self.session.by_itself = on
        if on and self.session.can_set():
            self.session.set_stop()

    def _turn_mates(self, on: bool) -> None:
        self.session.with_mates = on

    def _type_reference(self, text: str) -> None:
        self.session.typed_reference = parse_number(text) if text.strip() else None

    def _put_orientation(self, text: str) -> None:
        self.session.orientation = text.strip()

    def _put_stops(self, text: str) -> None:
        """One number spreads so many stops; several are the stops themselves."""
        numbers = tuple(parse_number(part, decimal=".") for part in text.replace(";", ",").split(",") if part.strip())
        plan = self._channel().stop_plan
        if len(numbers) == 1:
            if numbers[0] != round(numbers[0]):
                raise BadTable("Expected how many stops, or the stops themselves with commas between them.")
            self._put_plan(plan.with_(typed=(), spread=int(numbers[0])))
        else:
            self._put_plan(plan.with_(typed=numbers))

    def _put_cycles(self, text: str) -> None:
        number = parse_number(text)
        if number != round(number):
            raise BadTable(f"Expected a whole number of cycles, found “{text.strip()}”.")
        self._put_plan(self._channel().stop_plan.with_(cycles=int(number)))

    def _put_plan(self, plan: StopPlan) -> None:
        changed = self._channel().with_(stop_plan=plan)
        self._bench.edit(f"{changed.tag}: plan of stops", lambda job: change_channel(job, changed))
        self.session.go(0)

    def _channel(self) -> ContinuousChannel:
        channel = self.session.channel
        assert channel is not None  # shown only for one
        return channel

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.session.channel
        self.setVisible(channel is not None)
        if channel is None:
            return
        is_live = self.session.raw is not None
        for widget in (self._seen_live, self.by_itself, self.typed, *self._live_buttons):
            widget.setVisible(is_live)
        plan = channel.stop_plan
        self.plan.show_values(", ".join(plain(value) for value in plan.typed) or str(plan.spread))
        self.cycles.show_values(str(plan.cycles), suffix="up and down" if plan.both_ways and not plan.typed else "")
        axes = axes_of(self._bench.job, channel)
        self.orientation.setVisible(bool(axes))
        self.orientation.show_values(self.session.orientation)
        self.axes.setVisible(bool(axes))
        self.axes.setText(f"Load axis {axes[0]} only; at rest: {', '.join(axes[1:])}." if axes else "")
        self._show_now()

    def _show_now(self) -> None:
        channel, session = self.session.channel, self.session
        if channel is None or self.isHidden():
            return
        stop, count = session.stop, len(session.stops)
        self.where.setText(f"Stop {session.at + 1} of {count}" if stop else f"All {count} stops are done")
        arrow = f" {_ARROWS[stop.direction]}" if stop else ""
        self.go_to.setText(f"Go to {significant(stop.value, 6)} {channel.unit}{arrow}" if stop else "Done")
        refusals = session.refusals()
        self.warning.setText(". ".join(f"{one.says[:1].upper()}{one.says[1:]}" for one in refusals))
        self.warning.setVisible(bool(refusals))
        self.take.setEnabled(not any(one.is_harm for one in refusals))
        self.set_it.setVisible(session.can_set())
        self.set_it.setEnabled(stop is not None and not any(one.is_harm for one in refusals))
        self.by_itself.setChecked(session.by_itself)
        mates = session.mates()
        self.with_mates.setText(f"Take {', '.join(mate.tag for mate in mates)} with it: the same stimulus")
        self.with_mates.setVisible(bool(mates) and session.raw is not None)
        self.with_mates.setChecked(session.with_mates)
        self._show_watched(channel)
        self._show_instrument()

    def _show_watched(self, channel: ContinuousChannel) -> None:
        watched, rule = self.session.watched, self.session.rule
        self._cell("Sensor", watched.sensor if watched else None, channel.unit)
        self._cell("Reference", watched.reference if watched else None, channel.unit)
        shown = self.session.live.shown(channel)
        value = shown.latest() if shown is not None else None
        own = channel.controller_unit or channel.unit
        self._cells["Shown"][0].setText("—" if value is None else f"{fixed(value, self._decimals)} {own}")
        self._cells["Shown"][1].setText("by the controller, kept as found" if value is not None else "")
        if watched is None or rule is None or self.session.stop is None:
            self.steady.setText("")
            self.steady.setVisible(False)
            return
        waited = f"{self.session.waited_s:.0f} s waited"
        there = self.session.is_there
        words = f"Steady, {waited}." if watched.is_steady else f"Not yet, {waited}. Rule: {rule.words}."
        if watched.is_steady and not there:
            words = f"Steady, {waited}, but not at the stop."
        self.steady.setText(words)
        self.steady.setVisible(True)
        restyle(self.steady, "role", "good" if watched.is_steady and there else "look")

    @property
    def _decimals(self) -> int:
        """Decimals that show a tenth of what steadiness allows to move."""
        rule = self.session.rule
        return decimals_for(rule.slope / 10) if rule is not None else 3

    def _cell(self, name: str, seen: Steadiness | None, unit: str) -> None:
        value, words = self._cells[name]
        known = seen is not None and seen.mean == seen.mean
        value.setText(f"{fixed(seen.mean, self._decimals)} {unit}" if seen is not None and known else "—")
        words.setText(seen.reason if seen is not None else "not live: type what it reads")

    def _show_instrument(self) -> None:
        one = self.session.instrument
        self.instrument.setVisible(one is not None)
        if one is None:
            self.instrument.setText("")
            return
        parts = [one.name]
        if one.expanded_uncertainty is not None:
            parts.append(f"U {significant(one.expanded_uncertainty, 2)} {one.unit}")
        watched = self.session.watched
        if one.corrections and watched is not None and watched.reference is not None:
            at = watched.reference.mean
            if at == at:
                parts.append(f"corrected by {signed(one.correction_at(at), self._decimals)} {one.unit}")
        if one.head is not None:
            parts.append(f"head {significant(one.head_correction, 2)} {one.unit}")
        overdue = one.overdue_words(now().date())
        self.instrument.setText(
            ", ".join(parts) + (f". {overdue[:1].upper()}{overdue[1:]}: recorded." if overdue else "")
        )
        restyle(self.instrument, "role", "look" if overdue else "muted")
