"""The fields of an output: what it stands for, what writes it, and what it does when its input is dead."""

from functools import partial

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from ....core.document.channel import AnyChannel, ContinuousChannel, TwoStateChannel
from ....core.document.output import CONDITION_KINDS, ConditionKind, OutputChannel, OutputCondition
from ....core.job.job import Job
from ....core.outputs.dead_input import POLICY_WORDS
from ....core.outputs.writers import clashes, condition_words, followed
from ....core.path.driver import Driver, DriverUnit
from ....core.words.errors import BadTable, YardstickError
from ....core.words.numerals import parse_number, significant
from ...frame.widgets import discard
from ...panel.fields import ChoiceField, Complaint, Entry, TextField, label
from ...panel.lead_box import Headline
from ...panel.record_form import TickField, plain
from .lead import lead_of_output
from .part_fields import Fields

_DRIVERS: dict[str, tuple[DriverUnit, float, float, float]] = {  # unit, driver's top, the usual ends of the signal
    "mA": ("mA", 20.0, 4.0, 20.0),
    "V": ("V", 10.0, 0.0, 10.0),
}
_NOBODY = "set by hand"
_NOT_CHOSEN = "not chosen"
_OR = "or, while an alarm stands or a contact is so:"
_NO_SOURCE = "The job has no sensor or contact yet that could write it."
_POLICIES = [("", _NOT_CHOSEN), *POLICY_WORDS.items()]
_OF_ALARM = [kind for kind in CONDITION_KINDS if kind not in ("closed", "open")]


class OutputFields(Fields):
    """An output channel."""

    shows = OutputChannel
    noun = "Output"
    names = "Gives"

    def build(self) -> None:
        self.unit = TextField("Unit", lambda text: self.put("unit", unit=text.strip()), optional=True)
        self.range = TextField("Range", self._put_range, parts=2)
        self.signal_unit = ChoiceField("Given as", [("mA", "a current, mA"), ("V", "a voltage, V")], self._put_unit)
        self.signal = TextField("At its ends", self._put_signal, parts=2)
        self.allowed = TextField("Allowed ±", self._put_allowed, parts=2, between="and % of span", suffix="%")
        self.add_to_top(self.unit, self.range, self.signal_unit, self.signal, self.allowed)
        self._build_writers()

    def _build_writers(self) -> None:
        self.writers = self.section("writers", "What writes it", opened=True)
        self.follows = ChoiceField("Follows", [("", _NOBODY)], lambda text: self.put("what it follows", follows=text))
        self.dead = ChoiceField("Input dead", _POLICIES, self._put_dead)
        self.held = TextField("held at", lambda text: self.put("held value", held_at=parse_number(text)))
        self._conditions = QVBoxLayout()
        self._conditions.setSpacing(2)
        self._rows: list[QWidget] = []
        self.first = TickField("the first that holds is written, in this order", self._put_first)
        self.clash = label("", "look", 12)
        self.writers.add(self.follows, self.dead, self.held)
        self._or_words = label("", "muted", 12)
        self.writers.add(self._or_words)
        self.writers.column.addLayout(self._conditions)
        self._new = self._new_row()
        self.writers.add(self._new)
        self.complaint = Complaint()
        self.writers.add(self.complaint, self.first, self.clash)

    def _new_row(self) -> QWidget:
        self.source, self.when = ChoiceField("", [], self._offer_kinds), ChoiceField("", [], lambda _kind: None)
        self.source.box.setAccessibleName("Channel of a new condition")
        self.when.box.setAccessibleName("When a new condition holds")
        self.value = Entry()
        self.value.setPlaceholderText("value")
        self.value.setAccessibleName("Value written while it holds")
        self.value.returnPressed.connect(self.add_condition)
        self.add_button = QPushButton("Add")
        self.add_button.clicked.connect(self.add_condition)
        row = QWidget()
        grid = QGridLayout(row)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(5)
        for at, widget in enumerate((self.source, self.when, self.value, self.add_button)):
            grid.addWidget(widget, *divmod(at, 2))
        return row

    # -- sending back -----------------------------------------------------------------------------------------------

    @property
    def _job(self) -> Job:
        return self.panel.bench.job

    @property
    def _channel(self) -> OutputChannel:
        channel = self.panel.bench.channel
        assert isinstance(channel, OutputChannel)  # these fields are seen with no other
        return channel

    def _put_range(self, low: str, high: str) -> None:
        self.put("range", value_low=parse_number(low), value_high=parse_number(high))

    def _put_unit(self, unit: str) -> None:
        own, top, low, high = _DRIVERS[unit]
        if own != self._channel.driver.unit:
            driver = Driver(unit=own, high=top)
            self.put("signal", driver=driver, signal_low=low, signal_high=high, landing=None)

    def _put_signal(self, low: str, high: str) -> None:
        self.put("signal", signal_low=parse_number(low), signal_high=parse_number(high))

    def _put_allowed(self, constant: str, of_span: str) -> None:
        share = parse_number(of_span) / 100 if of_span.strip() else 0.0
        self.put("tolerance", tolerance=self._channel.tolerance.with_(constant=parse_number(constant), of_span=share))

    def _put_dead(self, text: str) -> None:
        chosen = text or None
        held = self._channel.held_at
        first = self._channel.value_low if chosen == "held" and held is None else held
        self.put("dead input", dead_input=chosen, held_at=first)

    def _put_first(self, first: bool) -> None:
        self.put("order of what writes it", first_holds=first)

    def add_condition(self) -> None:
        """Take the condition that is typed; a refusal stays in place."""
        try:
            text = self.value.text()
            if not text.strip():
                raise BadTable("Type the value that is written while it holds, in the unit of the output.")
            made = OutputCondition(
                channel=self.source.box.currentData(), when=self.when.box.currentData(), value=parse_number(text)
            )
            self.put("condition", conditions=(*self._channel.conditions, made))
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.value.clear()

    def _drop(self, at: int) -> None:
        rows = self._channel.conditions
        self.put("condition taken away", conditions=(*rows[:at], *rows[at + 1 :]))

    def _raise(self, at: int) -> None:
        rows = list(self._channel.conditions)
        rows[at - 1 : at + 1] = [rows[at], rows[at - 1]]
        self.put("order of what writes it", conditions=tuple(rows))

    # -- showing ----------------------------------------------------------------------------------------------------

    def lead(self, channel: AnyChannel) -> Headline:
        """What its ends become, and what is still to be chosen."""
        assert isinstance(channel, OutputChannel)
        lead = lead_of_output(self._job, channel)
        if lead.level == "ok":
            return lead._replace(acts=(self.panel.onward("wire"),))
        acts = {
            "fault": self.panel.goes_to("Choose what it does", self.dead.box),
            "open": self.panel.goes_to("State the error allowed", self.allowed.entries[0]),
            "look": self.panel.goes_to("Show what writes it", self.first.box),
        }
        return lead._replace(acts=(acts[lead.level], self.panel.onward("wire")))

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, OutputChannel)
        unit = channel.driver.unit
        self.unit.show_values(channel.unit)
        self.range.show_values(plain(channel.value_low), plain(channel.value_high), suffix=channel.unit)
        self.signal_unit.show_value(unit)
        self.signal.show_values(plain(channel.signal_low), plain(channel.signal_high), suffix=unit)
        tolerance = channel.tolerance
        self.allowed.show_values(plain(tolerance.constant), plain(100 * tolerance.of_span))
        self.allowed.show_between(f"{channel.unit} and".strip())
        self._show_writers(channel)

    def _show_writers(self, channel: OutputChannel) -> None:
        curved = [(one.id, one.tag) for one in self._job.channels if isinstance(one, ContinuousChannel)]
        contacts = [(one.id, one.tag) for one in self._job.channels if isinstance(one, TwoStateChannel)]
        self.follows.offer([("", _NOBODY), *curved])
        self.follows.show_value(channel.follows)
        self.dead.setVisible(bool(channel.follows))
        self.dead.show_value(channel.dead_input or "")
        self.held.setVisible(bool(channel.follows) and channel.dead_input == "held")
        self.held.show_values("" if channel.held_at is None else plain(channel.held_at), suffix=channel.unit)
        self.source.offer([*curved, *contacts])
        self._new.setVisible(bool(curved or contacts))
        self._or_words.setText(_OR if curved or contacts else _NO_SOURCE)
        self._offer_kinds(self.source.box.currentData() or "")
        self._show_conditions(channel)
        source = followed(self._job, channel)
        rows = len(channel.conditions)
        follows = f"follows {source.tag}" if source is not None else _NOBODY
        self.writers.show_summary(f"{follows}, {rows} condition{'' if rows == 1 else 's'}" if rows else follows)

    def _offer_kinds(self, channel_id: str) -> None:
        """What can be said of the channel picked: its alarms, or a contact's states."""
        source = next((one for one in self._job.channels if one.id == channel_id), None)
        kinds: list[ConditionKind] = ["closed", "open"] if isinstance(source, TwoStateChannel) else _OF_ALARM
        self.when.offer([(kind, f"is {kind}" if kind in ("closed", "open") else f"{kind} alarm") for kind in kinds])

    def _show_conditions(self, channel: OutputChannel) -> None:
        for row in self._rows:
            discard(row)
        self._rows = [self._row(channel, at) for at in range(len(channel.conditions))]
        for row in self._rows:
            self._conditions.addWidget(row)
        found = clashes(self._job, channel)
        self.first.setVisible(bool(channel.conditions) and (len(channel.conditions) > 1 or bool(channel.follows)))
        self.first.show_value(channel.first_holds)
        open_ones = [one.says for one in found if not one.settled]
        self.clash.setText(" ".join(open_ones))
        self.clash.setVisible(bool(open_ones))

    def _row(self, channel: OutputChannel, at: int) -> QWidget:
        condition = channel.conditions[at]
        made = QWidget()
        row = QHBoxLayout(made)
        row.setContentsMargins(0, 0, 0, 0)
        words = f"{significant(condition.value, 6)} {channel.unit} while {condition_words(self._job, condition)}"
        row.addWidget(label(words, "", 12), 1)
        tools = [("×", "Take this condition away", partial(self._drop, at))]
        if at:
            tools.insert(0, ("↑", "Earlier in the order", partial(self._raise, at)))
        for sign, tip, act in tools:
            button = QToolButton()
            button.setObjectName("small")
            button.setText(sign)
            button.setToolTip(tip)
            button.setAccessibleName(f"{tip}: {words}")
            button.clicked.connect(act)
            row.addWidget(button)
        return made
