"""The one document: a tree of frozen records. Every edit makes a new tree."""

from collections import Counter
from functools import cached_property
from typing import Literal, Self

from pydantic import Field, model_validator

from ..document.channel import AnyChannel, ContinuousChannel, Device
from ..document.controller import Controller
from ..document.reference import Reference
from ..document.sources import AnySource
from ..journal.reading import Amended, Amendment, Reading, amended
from ..journal.records import FitRecord, PackRecord, WakeRecord, WriteRecord
from ..words.errors import NoSuchThing, NotApplicable
from ..words.record import Frozen


class Job(Frozen):
    """One plant visit."""

    format: Literal["able-yardstick-job"] = "able-yardstick-job"
    version: Literal[4] = 4
    id: str
    title: str = "Untitled job"
    revision: int = Field(default=0, ge=0)
    devices: tuple[Device, ...] = ()
    references: tuple[Reference, ...] = ()
    channels: tuple[AnyChannel, ...] = ()
    controllers: tuple[Controller, ...] = ()
    sources: tuple[AnySource, ...] = ()
    readings: tuple[Reading, ...] = ()
    amendments: tuple[Amendment, ...] = ()
    wakes: tuple[WakeRecord, ...] = ()
    fits: tuple[FitRecord, ...] = ()
    packs: tuple[PackRecord, ...] = ()
    writes: tuple[WriteRecord, ...] = ()

    @model_validator(mode="after")
    def _names_are_distinct(self) -> Self:
        for what, names in (
            ("tag", [channel.tag for channel in self.channels]),
            ("channel id", [channel.id for channel in self.channels]),
            ("controller id", [controller.id for controller in self.controllers]),
            ("reference id", [reference.id for reference in self.references]),
            ("source id", [source.id for source in self.sources]),
            ("reading id", [reading.id for reading in self.readings]),
        ):
            name, times = Counter(names).most_common(1)[0] if names else ("", 0)
            if times > 1:
                raise ValueError(f"the {what} {name} is used {times} times: each must be distinct. Choose another")
        return self

    @cached_property
    def memo(self) -> dict[tuple[str, ...], tuple[object, object]]:
        """Room for what is reckoned from this very tree (see `calibration.once_per_tree`)."""
        return {}

    def channel(self, channel_id: str) -> AnyChannel:
        """The channel of an id. Raises: NoSuchThing."""
        for channel in self.channels:
            if channel.id == channel_id:
                return channel
        raise NoSuchThing(f"There is no channel with the id {channel_id}.")

    def controller(self, controller_id: str) -> Controller:
        """The controller of an id. Raises: NoSuchThing."""
        for controller in self.controllers:
            if controller.id == controller_id:
                return controller
        raise NoSuchThing(f"The job has no controller {controller_id}.")

    def continuous(self, channel_id: str) -> ContinuousChannel:
        """The channel of an id, which has a pin and a curve. Raises: NoSuchThing, NotApplicable."""
        channel = self.channel(channel_id)
        if not isinstance(channel, ContinuousChannel):
            raise NotApplicable(f"{channel.tag} is a {channel.kind} channel: it has no curve to work on.")
        return channel

    def tagged(self, tag: str) -> AnyChannel:
        """The channel of a tag, capitals or not. Raises: NoSuchThing that names the tags there are."""
        for channel in self.channels:
            if channel.tag.casefold() == tag.casefold():
                return channel
        raise NoSuchThing(
            f"There is no channel {tag}. The job has {', '.join(channel.tag for channel in self.channels) or 'none'}."
        )

    def amended(self, channel_id: str, purpose: Literal["gather", "prove"]) -> list[Amended]:
        """A channel's readings as they stand, in the order they were captured."""
        changes: dict[str, list[Amendment]] = {}
        for amendment in self.amendments:
            changes.setdefault(amendment.reading, []).append(amendment)
        return [
            amended(reading, changes.get(reading.id, ()))
            for reading in self.readings
            if reading.channel == channel_id and reading.purpose == purpose
        ]

    def wake_of(self, channel_id: str) -> WakeRecord | None:
        """The last look at a channel's raw signal, if any."""
        return next((record for record in self.wakes if record.channel == channel_id), None)

    def fit_of(self, channel_id: str) -> FitRecord | None:
        """The curve chosen for a channel, if any."""
        return next((record for record in self.fits if record.channel == channel_id), None)

    def write_of(self, channel_id: str) -> WriteRecord | None:
        """The last write for a channel, if any."""
        return next((record for record in reversed(self.writes) if record.channel == channel_id), None)

    def pack_of(self, channel_id: str) -> PackRecord | None:
        """The packing kept for a channel, if any."""
        return next((record for record in self.packs if record.channel == channel_id), None)
