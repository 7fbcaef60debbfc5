"""A value made of channels: a formula, one of several sensors, a total; checked against what is live as it is typed."""

from collections.abc import Callable

import numpy as np
from pydantic import ValidationError
from PySide6.QtWidgets import QComboBox, QWidget

from ...core.document.alarm import Alarm, AlarmKind
from ...core.document.channel import ContinuousChannel, TwoStateChannel
from ...core.document.watched import COMBINE_RULES, AnyWatched, CombinedValue, FormulaValue, TotalValue
from ...core.job.channels import free_tag
from ...core.job.watching import change_value
from ...core.lookout.combining import COMBINING
from ...core.lookout.derived import InputCourse, derived, inputs_of
from ...core.lookout.naming import kept_formula, shown_formula
from ...core.units.typed import typed_in
from ...core.words.errors import NotApplicable, YardstickError
from ...core.words.numerals import significant
from ...core.words.record import first_complaint
from ..frame.workbench import Workbench, new_id
from ..panel.ask_dialog import AskDialog
from ..panel.fields import label
from .pair_dialog import ChannelList
from .watcher import Watcher

_KINDS = (
    ("formula", "a formula: difference, sum, ratio …"),
    ("combined", "one of several sensors"),
    ("total", "a total over time"),
)
_LIMITS: tuple[tuple[AlarmKind, str], ...] = (("low", "Low alarm"), ("high", "High alarm"))


class ValueDialog(AskDialog):
    """Describes a value, a new one or one that is there; says at once what it comes to."""

    def __init__(self, bench: Workbench, watch: Watcher, value: AnyWatched | None, parent: QWidget) -> None:
        about = "Made of channels as they are: U is carried through, and where an input is dead the value is."
        super().__init__("A value made of channels", about, self._keep_value, parent)
        self._bench, self._watch, self._value = bench, watch, value
        job = bench.job
        channels = [one for one in job.channels if isinstance(one, ContinuousChannel)]
        self._tags = {one.tag: one.id for one in job.channels if isinstance(one, ContinuousChannel | TwoStateChannel)}
        self.kind = QComboBox()
        for key, words in _KINDS:
            self.kind.addItem(words, key)
        self.add("Kind", self.kind)
        self.tag = self.add_line("Tag", value.tag if value else free_tag(job, "XY-1"))
        self.name = self.add_line("Name", value.name if value else "", "what it is")
        formula = shown_formula(value.formula, _tags_by_id(self._tags)) if isinstance(value, FormulaValue) else ""
        self.formula = self.add_line("Formula", formula, _example(channels))
        ticked = value.channels if isinstance(value, CombinedValue) else ()
        self.sensors = ChannelList(channels, ticked)
        self.add("Sensors", self.sensors)
        self.rule, self.chosen, self.rate = QComboBox(), QComboBox(), QComboBox()
        for rule in COMBINE_RULES:
            self.rule.addItem(f"{COMBINING[rule].says}", rule)
        for channel in channels:
            self.chosen.addItem(channel.tag, channel.id)
            self.rate.addItem(f"{channel.tag}  {channel.name}, {channel.unit}", channel.id)
        self.add("Take", self.rule)
        self.add("Chosen", self.chosen)
        self.add("Rate", self.rate)
        self.unit = self.add_line("Unit", value.unit if value else "")
        self.limits = {kind: self.add_line(words, _limit_text(value, kind), "none") for kind, words in _LIMITS}
        self.says = label("", "", 12)
        self.add("Comes to", self.says)
        self._begin(value)

    def _begin(self, value: AnyWatched | None) -> None:
        if value is not None:
            self.kind.setCurrentIndex(self.kind.findData(value.kind))
            self.kind.setEnabled(False)
        if isinstance(value, CombinedValue):
            self.rule.setCurrentIndex(self.rule.findData(value.rule))
            self.chosen.setCurrentIndex(max(self.chosen.findData(value.chosen), 0))
        if isinstance(value, TotalValue):
            self.rate.setCurrentIndex(self.rate.findData(value.channel))
        for box in (self.kind, self.rule, self.chosen, self.rate):
            box.currentIndexChanged.connect(self._show)
        for line in (self.formula, self.unit):
            line.textChanged.connect(self._show)
        self.sensors.itemChanged.connect(self._show)
        self._show()

    def _show(self, *_what: object) -> None:
        """The rows of the kind, and what it comes to by now."""
        kind, rule = self.kind.currentData(), self.rule.currentData()
        shown = {
            "formula": (self.formula,), "combined": (self.sensors, self.rule), "total": (self.rate,),
        }[kind]  # fmt: skip
        for part in (self.formula, self.sensors, self.rule, self.rate):
            self.show_row(part, part in shown)
        self.show_row(self.chosen, kind == "combined" and rule == "one chosen")
        self.says.setText(self._preview())
        self.complaint.setText("")

    def _preview(self) -> str:
        if self.kind.currentData() == "formula" and not self.formula.text().strip():
            return "Write it with the channels' tags."
        try:
            value = self._made()
            number = self._reckoned(value)
        except ValidationError as error:
            return first_complaint(error)
        except YardstickError as error:
            return str(error)
        if isinstance(value, CombinedValue):
            return f"{_number(number, value.unit)}. When one dies: {COMBINING[value.rule].when_one_dies}."
        if isinstance(value, TotalValue):
            return "It counts from when the bench is connected."
        live = all(one in self._watch.standings for one in inputs_of(value))
        return f"{_number(number, value.unit)}{'' if live else ', with each channel at the middle of its range'}"

    def _reckoned(self, value: AnyWatched) -> float:
        """A value now; by the middles of the ranges where nothing is live."""
        job = self._bench.job
        inputs = {}
        for one in inputs_of(value):
            channel = job.document.by_id[one]
            standing = self._watch.standings.get(one)
            middle = 0.5 * sum(channel.range) if isinstance(channel, ContinuousChannel) else 0.0
            number = middle if standing is None or standing.value is None else standing.value
            unit = channel.unit if isinstance(channel, ContinuousChannel) else "1"
            inputs[one] = InputCourse(channel.tag, unit, np.array([number]), np.zeros(1))
        return float(derived(value, inputs, np.zeros(1)).values[-1])

    def _made(self) -> AnyWatched:
        """The record as it is typed. Raises: what it refuses."""
        common: dict[str, object] = {
            "id": self._value.id if self._value else new_id(), "tag": self.tag.text().strip(),
            "name": self.name.text().strip(), "unit": self.unit.text().strip(), "alarms": self._alarms(),
        }  # fmt: skip
        return _MAKERS[self.kind.currentData()](self, common)

    def _alarms(self) -> tuple[Alarm, ...]:
        unit = self.unit.text().strip()
        found = []
        for kind, line in self.limits.items():
            if line.text().strip():
                found.append(Alarm(kind=kind, limit=typed_in(line.text(), unit or "1").value))
        return tuple(found)

    def _keep_value(self) -> None:
        value = self._made()
        self._reckoned(value)  # which refuses units that do not fit
        self._bench.edit(f"value {value.tag}", lambda job: change_value(job, value))

    def formula_value(self, common: dict[str, object]) -> AnyWatched:
        """A formula as typed."""
        return FormulaValue.model_validate({**common, "formula": kept_formula(self.formula.text(), self._tags)})

    def combined_value(self, common: dict[str, object]) -> AnyWatched:
        """Sensors and rule as chosen. Raises: NotApplicable for too few."""
        ticked = self.sensors.ticked
        if len(ticked) < 2:
            raise NotApplicable("Tick the sensors that it is made of: at least two.")
        chosen = self.chosen.currentData() if self.rule.currentData() == "one chosen" else ""
        unit = common["unit"] or self._bench.job.continuous(ticked[0]).unit
        return CombinedValue.model_validate(
            {**common, "unit": unit, "channels": ticked, "rule": self.rule.currentData(), "chosen": chosen}
        )

    def total_value(self, common: dict[str, object]) -> AnyWatched:
        """The rate chosen."""
        return TotalValue.model_validate({**common, "channel": self.rate.currentData()})


_MAKERS: dict[str, Callable[[ValueDialog, dict[str, object]], AnyWatched]] = {
    "formula": ValueDialog.formula_value,
    "combined": ValueDialog.combined_value,
    "total": ValueDialog.total_value,
}


def _tags_by_id(tags: dict[str, str]) -> dict[str, str]:
    return {channel: tag for tag, channel in tags.items()}


def _example(channels: list[ContinuousChannel]) -> str:
    return f"such as {channels[0].tag} - {channels[1].tag}" if len(channels) > 1 else "with the channels' tags"


def _limit_text(value: AnyWatched | None, kind: AlarmKind) -> str:
    found = [one.limit for one in value.alarms if one.kind == kind] if value else []
    return significant(found[0], 8) if found else ""


def _number(found: float, unit: str) -> str:
    return f"{significant(found, 5)} {unit}".strip()
