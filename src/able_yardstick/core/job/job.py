"""The job as one tree of frozen records: a document that may be changed, and a journal that only grows."""

from functools import cached_property
from typing import Any, ClassVar, Literal, NamedTuple, TypeVar

from pydantic import Field

from ..document.channel import AnyChannel, ContinuousChannel, Device, SignableChannel
from ..document.chosen import FitRecord
from ..document.controller import Controller, Landing
from ..document.document import Document
from ..document.output import OutputChannel
from ..document.reference import Reference
from ..document.sources import AnySource
from ..document.watched import WatchList
from ..journal.journal import Entries, Journal
from ..journal.reading import Amended, Amendment, Purpose, Reading
from ..journal.records import PackRecord, WakeRecord, WriteRecord
from ..words.errors import NoSuchThing, NotApplicable
from ..words.record import Frozen


class Slice(NamedTuple):
    """All of a job that can matter to one channel: what is reckoned from it stands while its slice is the same.

    `mates` are the channels that share its device or its table, each with its chosen curve.
    """

    channel: AnyChannel
    fit: FitRecord | None
    entries: Entries
    mates: tuple[tuple[AnyChannel, FitRecord | None], ...]
    device: Device | None
    references: tuple[Reference, ...]
    controllers: tuple[Controller, ...]
    sources: tuple[AnySource, ...]
    landings: tuple[tuple[str, str, Landing | None], ...]
    heard: tuple[Entries, ...] = ()  # what happened to the channels that an output is written by


class Job(Frozen):
    """One plant visit. `revision` counts every change, of the document or of the journal."""

    built_apart: ClassVar[tuple[type[Frozen], ...]] = (Document,)
    format: Literal["able-yardstick-job"] = "able-yardstick-job"
    version: Literal[5] = 5
    id: str
    revision: int = Field(default=0, ge=0)
    document: Document = Field(default_factory=Document)
    journal: Journal = Field(default_factory=Journal)

    @classmethod
    def new(cls, job_id: str, **fields: Any) -> "Job":
        """A job with some fields of its document or journal given by their names."""
        return cls(id=job_id).with_(**fields)

    def with_(self, **changes: Any) -> "Job":
        """The job with some fields changed, its own or those of its document and journal. Raises: InvalidRecord."""
        fields = {name: getattr(self, name) for name in type(self).model_fields}
        for part in ("document", "journal"):
            record = changes.pop(part, fields[part])
            inner = {name: changes.pop(name) for name in type(record).model_fields if name in changes}
            fields[part] = record.with_(**inner) if inner else record
        if set(changes) - {"id", "revision"}:
            return super().with_(**changes)  # which refuses them
        return self.model_construct(**{**fields, **changes})  # of parts that are valid each

    def edited(self, **changes: Any) -> "Job":
        """As `with_`, a revision further: what every edit gives."""
        return self.with_(revision=self.revision + 1, **changes)

    def entered(self, **entries: Any) -> "Job":
        """The job with entries added to its journal, a revision further. Raises: InvalidRecord."""
        return self.with_(revision=self.revision + 1, journal=self.journal.with_more(**entries))

    @cached_property
    def memo(self) -> dict[str, Slice]:
        """Room for the slices of this very tree."""
        return {}

    # -- the parts, by their names ----------------------------------------------------------------------------------

    @property
    def title(self) -> str:
        """What the visit is called."""
        return self.document.title

    @property
    def devices(self) -> tuple[Device, ...]:
        """The pieces of equipment."""
        return self.document.devices

    @property
    def references(self) -> tuple[Reference, ...]:
        """The reference instruments."""
        return self.document.references

    @property
    def channels(self) -> tuple[AnyChannel, ...]:
        """The channels, in their order."""
        return self.document.channels

    @property
    def controllers(self) -> tuple[Controller, ...]:
        """The controllers' descriptions."""
        return self.document.controllers

    @property
    def sources(self) -> tuple[AnySource, ...]:
        """Where live values come from."""
        return self.document.sources

    @property
    def watch(self) -> WatchList:
        """What is watched beside the channels, and how."""
        return self.document.watched

    @property
    def readings(self) -> tuple[Reading, ...]:
        """All that was captured, in that order."""
        return self.journal.readings

    @property
    def amendments(self) -> tuple[Amendment, ...]:
        """The changes beside readings."""
        return self.journal.amendments

    # -- one thing of it --------------------------------------------------------------------------------------------

    def channel(self, channel_id: str) -> AnyChannel:
        """The channel of an id. Raises: NoSuchThing."""
        try:
            return self.document.by_id[channel_id]
        except KeyError:
            raise NoSuchThing(f"There is no channel with the id {channel_id}.") from None

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

    def signable(self, channel_id: str) -> SignableChannel:
        """The channel of an id, of which something can be checked. Raises: NoSuchThing, NotApplicable."""
        channel = self.channel(channel_id)
        if not isinstance(channel, SignableChannel):
            raise NotApplicable(f"{channel.tag} is a {channel.kind} channel: nothing of it is checked, or signed.")
        return channel

    def tagged(self, tag: str) -> AnyChannel:
        """The channel of a tag, capitals or not. Raises: NoSuchThing that names the tags there are."""
        for channel in self.channels:
            if channel.tag.casefold() == tag.casefold():
                return channel
        raise NoSuchThing(
            f"There is no channel {tag}. The job has {', '.join(channel.tag for channel in self.channels) or 'none'}."
        )

    def amended(self, channel_id: str, purpose: Purpose) -> list[Amended]:
        """A channel's readings as they stand, in the order they were captured."""
        return self.journal.of(channel_id).rows.amended(purpose)

    def wake_of(self, channel_id: str) -> WakeRecord | None:
        """The last look at a channel's raw signal, if any."""
        return _last(self.journal.of(channel_id).looks)

    def fit_of(self, channel_id: str) -> FitRecord | None:
        """The curve chosen for a channel, if any."""
        return self.document.fit_by_channel.get(channel_id)

    def write_of(self, channel_id: str) -> WriteRecord | None:
        """The last write for a channel, if any."""
        return _last(self.journal.of(channel_id).writes)

    def pack_of(self, channel_id: str) -> PackRecord | None:
        """The packing kept last for a channel, if any."""
        return _last(self.journal.of(channel_id).packs)

    def slice_of(self, channel: AnyChannel) -> Slice:
        """All of the job that can matter to a channel, which need not be one of the job's (a draft of one)."""
        kept = self.memo.get(channel.id)
        if kept is None or kept.channel is not channel:
            kept = self.memo[channel.id] = self._sliced(channel)
        return kept

    def _sliced(self, channel: AnyChannel) -> Slice:
        entries = self.journal.of(channel.id)
        shared = channel.pack_spec.shared_with if isinstance(channel, ContinuousChannel) else ()
        known = self.document.by_id
        heard = [one for one in _heard_by(channel) if one in known]
        names = [*heard, *shared, *(name for pack in entries.packs[-1:] for name in pack.spec.shared_with)]
        others = [*(known[name] for name in names if name in known), *self.document.by_device.get(channel.device, ())]
        mates = tuple((one, self.fit_of(one.id)) for one in others if one.id != channel.id)
        return Slice(
            channel, self.fit_of(channel.id), entries, mates, self.document.device_by_id.get(channel.device),
            self.references, self.controllers, self.sources,
            self.document.landings, tuple(self.journal.of(one) for one in heard),
        )  # fmt: skip


def _heard_by(channel: AnyChannel) -> tuple[str, ...]:
    """The channels that an output is written by, by their ids."""
    if not isinstance(channel, OutputChannel):
        return ()
    names = (channel.follows, *(condition.channel for condition in channel.conditions))
    return tuple(dict.fromkeys(name for name in names if name))


R = TypeVar("R")


def _last(rows: tuple[R, ...]) -> R | None:
    return rows[-1] if rows else None
