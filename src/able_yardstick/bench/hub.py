"""All links of a job, and the streams that belong to each channel and reference."""

import time
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from ..core.document.sources import AnySource, Feed, ManualSource, Role
from ..core.journal.sample import Series
from .link import Link
from .stream import Stream

_LAST = 16  # values by which a rate is told
_STEPS_WAITED, _LONGEST_WAIT_S = 3.0, 60.0


class Live(NamedTuple):
    """A feed with the link that brings it and the stream it fills."""

    link: Link
    feed: Feed
    stream: Stream

    @property
    def age_s(self) -> float:
        """How long ago its last value came; infinite if none did."""
        return time.monotonic() - self.stream.received_s

    @property
    def is_stale(self) -> bool:
        """Whether its last value no longer stands for the present."""
        return self.age_s > self.link.stale_after_s and self.age_s > self._usual_wait_s

    @property
    def rate_hz(self) -> float:
        """How many values come in a second, by the last ones; 0 where there are too few, or a person types them."""
        if isinstance(self.link.spec, ManualSource):
            return 0.0
        return self.stream.window(newest=_LAST).good.rate_hz

    @property
    def _usual_wait_s(self) -> float:
        """How long a source that is slower than asked may be waited for."""
        rate = self.rate_hz
        return min(_STEPS_WAITED / rate, _LONGEST_WAIT_S) if rate else 0.0

    def latest(self) -> float | None:
        """The last good value while it is fresh; None else: a gap is never filled."""
        if self.is_stale:
            return None
        good = self.stream.window(newest=8).good.values
        return float(good[-1]) if len(good) else None

    def window(self, seconds: float) -> Series:
        """Its samples of the last seconds."""
        return self.stream.window(seconds)


class Hub:
    """Runs a link for every source that is switched on; nothing here waits for one to end unless asked to."""

    def __init__(self) -> None:
        self._links: dict[str, Link] = {}
        self._ending: dict[str, Link] = {}
        self._listed: tuple[Link, ...] = ()
        self._by_channel: dict[tuple[str, Role], list[Live]] = {}

    def run(self, sources: Iterable[AnySource]) -> None:
        """Run links for these sources: those that did not change go on, others are ended or begun."""
        wanted = {source.id: source for source in sources if source.enabled}
        for key, link in list(self._links.items()):
            if wanted.get(key) != link.spec:
                self._end(key)
        for key, source in wanted.items():
            if key not in self._links:
                self._links[key] = link = Link(source, after=self._ending.pop(key, None))
                link.start()

    def _end(self, key: str) -> None:
        link = self._links.pop(key)
        link.ask_to_stop()
        self._ending = {other: one for other, one in self._ending.items() if not one.has_ended} | {key: link}

    def stop(self) -> None:
        """End all links, without waiting for it."""
        for key in list(self._links):
            self._end(key)

    def wait(self, seconds: float = 3.0) -> None:
        """Until the links that were stopped have ended, or so long."""
        until = time.monotonic() + seconds
        for link in self._ending.values():
            link.wait(max(until - time.monotonic(), 0.0))

    @property
    def links(self) -> tuple[Link, ...]:
        """The links that run."""
        return tuple(self._links.values())

    def link(self, source_id: str) -> Link | None:
        """The link of a source, if it runs."""
        return self._links.get(source_id)

    def feeds(self) -> Iterator[Live]:
        """Every feed of every link."""
        for link in self.links:
            for feed in link.spec.every_feed:
                yield Live(link, feed, link.streams[feed.name])

    def of_channel(self, channel_id: str, role: Role) -> Live | None:
        """The first feed of a channel in a role that answers, else the first of all; None if there is none."""
        found = self._feeds_of(channel_id, role)
        if len(found) == 1:
            return found[0]
        return next((live for live in found if not live.is_stale), found[0] if found else None)

    def _feeds_of(self, channel_id: str, role: Role) -> list[Live]:
        """The feeds of a channel in a role; listed once for all of the links that run."""
        links = tuple(self._links.values())
        if links != self._listed:
            self._listed, self._by_channel = links, {}
            for live in self.feeds():
                self._by_channel.setdefault((live.feed.channel, live.feed.role), []).append(live)
        return self._by_channel.get((channel_id, role), [])

    def others_of(self, channel_id: str, role: Role) -> list[Live]:
        """All feeds of a channel in a role, the fastest first."""
        found = self._feeds_of(channel_id, role)
        return sorted(found, key=lambda live: -live.link.spec.rate_hz)

    def meters(self) -> list[Live]:
        """The feeds of meters that can be held to any terminal."""
        return [live for live in self.feeds() if live.feed.role == "meter"]
