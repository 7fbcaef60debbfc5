"""Describe: what the transducer is, by what is known of it; or what a contact's levels or a constant's formula are."""

from typing import Any

from PySide6.QtWidgets import QVBoxLayout

from ....core.document.channel import AnyChannel
from ....core.job.channels import change_device, device_of
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import TextField
from ...panel.lead_box import Headline
from ...panel.record_form import FieldRow, RecordForm
from ...panel.section import Section
from ...panel.step_panel import StepPanel
from .part_fields import Fields

_PLATE = (
    FieldRow("Maker", ("maker",), kind="text", optional=True, hint="as on its plate"),
    FieldRow("Model", ("model",), kind="text", optional=True),
    FieldRow("Serial", ("serial",), kind="text", optional=True, hint="by it, it is known again"),
    FieldRow("Revision", ("revision",), kind="text", optional=True, hint="hardware variant"),
)


class DescribePanel(StepPanel):
    """The fields of a continuous channel, a contact, or a constant."""

    title = "Describe the transducer"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self.sensor = Section(bench, "describe/sensor", "Sensor", opened=True)
        self._tag = TextField("Tag", lambda text: self._change("tag", tag=text.strip()))
        self._name = TextField("Measures", lambda text: self._change("name", name=text.strip()), optional=True)
        self.sensor.add(self._tag, self._name)
        self.body.addWidget(self.sensor)
        self._parts: dict[type[AnyChannel], Fields] = {}
        self._room = QVBoxLayout()
        self.body.addLayout(self._room)
        self.unit = Section(bench, "describe/unit", "This unit")
        self.plate = RecordForm(_PLATE, self._put_plate)
        self.unit.add(self.plate)
        self.body.addWidget(self.unit)
        self.body.addStretch(1)

    def _change(self, what: str, **fields: object) -> None:
        channel = self.bench.channel
        if channel is not None:
            self.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def _put_plate(self, changes: dict[str, Any]) -> None:
        channel = self.bench.channel
        if channel is not None:
            device = device_of(self.bench.job, channel).with_(**changes)
            self.bench.edit(f"{channel.tag}: its plate", lambda job: change_device(job, device))

    def begin(self) -> None:
        """Put the focus into the tag, so that typing replaces it."""
        self.sensor.unfold()
        self._tag.entries[0].setFocus()
        self._tag.entries[0].selectAll()

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.channel
        self.setEnabled(channel is not None)
        if channel is None:
            return
        self._tag.show_values(channel.tag)
        self._name.show_values(channel.name)
        shown = self.part(type(channel))
        for part in self._parts.values():
            part.show_parts(part is shown)
        self.sensor.head.show_title(shown.noun)
        self._name.show_title(shown.names)
        self.sensor.show_summary(f"{channel.tag}, {channel.name}" if channel.name else channel.tag)
        shown.show_channel(channel)
        device = device_of(self.bench.job, channel)
        self.plate.show_record(device)
        noted = " ".join(part for part in (device.maker, device.model, device.revision) if part)
        serial = f"serial {device.serial}" if device.serial else ""
        self.unit.show_summary(", ".join(part for part in (noted, serial) if part) or "nothing of its plate noted")

    def lead(self) -> Headline | None:
        """What the description comes to."""
        channel = self.bench.channel
        return None if channel is None else self.part(type(channel)).lead(channel)

    def part(self, kind: type[AnyChannel]) -> Fields:
        """The fields of a kind of channel, made when they are first needed."""
        if kind not in self._parts:
            from .constant import ConstantFields
            from .contact import ContactFields
            from .output import OutputFields
            from .transducer import TransducerFields

            makers = {made.shows: made for made in (TransducerFields, ContactFields, ConstantFields, OutputFields)}
            self._parts[kind] = makers[kind](self)
            self.sensor.add(self._parts[kind].top)
            self._room.addWidget(self._parts[kind])
        return self._parts[kind]
