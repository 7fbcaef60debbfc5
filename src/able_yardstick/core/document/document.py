"""What a person may change their mind about, as one record: undone and redone whole."""

from collections import Counter
from functools import cached_property
from typing import ClassVar, Self

from pydantic import model_validator

from ..words.record import Frozen, added_later
from .channel import AnyChannel, ConstantChannel, ContinuousChannel, Device, Person
from .chosen import FitRecord
from .controller import Controller, Landing
from .precaution import Precaution
from .reference import Reference
from .sources import AnySource
from .watched import WatchList


class Document(Frozen):
    """Descriptions, wiring, instruments, settings and choices.

    `set_aside` are channels that were taken away though something had happened to them: they can be brought back.
    """

    built_apart: ClassVar[tuple[type[Frozen], ...]] = (ContinuousChannel, FitRecord)
    title: str = "Untitled job"
    people: tuple[Person, ...] = ()
    devices: tuple[Device, ...] = ()
    references: tuple[Reference, ...] = ()
    channels: tuple[AnyChannel, ...] = ()
    set_aside: tuple[AnyChannel, ...] = ()
    controllers: tuple[Controller, ...] = ()
    sources: tuple[AnySource, ...] = ()
    fits: tuple[FitRecord, ...] = ()
    precautions: tuple[Precaution, ...] | None = added_later(None)  # None: the usual list, which nobody has touched
    watch: WatchList | None = added_later(None)  # None: nothing was set

    @model_validator(mode="after")
    def _names_are_distinct(self) -> Self:
        for what, names in (
            ("tag", [channel.tag for channel in self.channels]),
            ("channel id", [channel.id for channel in (*self.channels, *self.set_aside)]),
            ("controller id", [controller.id for controller in self.controllers]),
            ("reference id", [reference.id for reference in self.references]),
            ("source id", [source.id for source in self.sources]),
            ("watched tag", [one.tag for one in (*self.channels, *(self.watch.values if self.watch else ()))]),
        ):
            name, times = Counter(names).most_common(1)[0] if names else ("", 0)
            if times > 1:
                raise ValueError(f"the {what} {name} is used {times} times: each must be distinct. Choose another")
        return self

    @cached_property
    def watched(self) -> WatchList:
        """What is watched beside the channels, and how."""
        return self.watch or WatchList()

    @cached_property
    def by_id(self) -> dict[str, AnyChannel]:
        """The channels by their ids."""
        return {channel.id: channel for channel in self.channels}

    @cached_property
    def by_device(self) -> dict[str, list[AnyChannel]]:
        """The channels of each device, by its id."""
        found: dict[str, list[AnyChannel]] = {}
        for channel in self.channels:
            found.setdefault(channel.device, []).append(channel)
        return found

    @cached_property
    def device_by_id(self) -> dict[str, Device]:
        """The devices by their ids."""
        return {device.id: device for device in self.devices}

    @cached_property
    def fit_by_channel(self) -> dict[str, FitRecord]:
        """The chosen curve of each channel that has one."""
        return {record.channel: record for record in self.fits}

    @cached_property
    def landings(self) -> tuple[tuple[str, str, Landing | None], ...]:
        """Who is wired where: id, tag and landing of every channel that has a pin."""
        return tuple(
            (one.id, one.tag, one.landing) for one in self.channels if not isinstance(one, ConstantChannel)
        )  # fmt: skip
