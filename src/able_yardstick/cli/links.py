"""Live links for a command: opened to what a channel needs, waited for, closed."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..bench.hub import Hub, Live
    from ..core.document.channel import WiredChannel
    from ..core.job.job import Job

_CONNECT_S = 6.0
_STEP_S = 0.05


def wired(job: "Job", tag: str) -> "WiredChannel":
    from ..core.document.channel import ContinuousChannel, TwoStateChannel
    from ..core.words.errors import NotApplicable

    channel = job.tagged(tag)
    if not isinstance(channel, ContinuousChannel | TwoStateChannel):
        raise NotApplicable(f"{channel.tag} is a {channel.kind} channel: it has no signal to wake.")
    return channel


@contextmanager
def hub_of(job: "Job", channel: "WiredChannel") -> Iterator["Hub"]:
    """Links to the sources that have something of a channel."""
    from ..bench.hub import Hub
    from ..core.words.errors import NoSuchThing

    wanted = [
        source for source in job.sources
        if source.enabled and any(feed.channel == channel.id for feed in source.every_feed)
    ]  # fmt: skip
    if not wanted:
        raise NoSuchThing(f"No source of the job gives {channel.tag}. Add one in the Sources view.")
    hub = Hub()
    hub.run(wanted)
    try:
        yield hub
    finally:
        hub.stop()
        hub.wait()


@contextmanager
def whole_hub(job: "Job") -> Iterator["Hub"]:
    """Links to all sources that are switched on, once one of them gives something. Raises: NoLink where none does."""
    from ..bench.errors import NoLink
    from ..bench.hub import Hub

    hub = Hub()
    hub.run(job.sources)
    try:
        began = time.monotonic()
        while not any(live.stream.total for live in hub.feeds()):
            if time.monotonic() - began > _CONNECT_S:
                errors = [link.status.error for link in hub.links if link.status.error]
                raise NoLink(errors[0] if errors else f"No source of the job gave anything in {_CONNECT_S:g} s.")
            time.sleep(_STEP_S)
        yield hub
    finally:
        hub.stop()
        hub.wait()


def raw_of(hub: "Hub", channel: "WiredChannel") -> "Live":
    from ..core.words.errors import NoSuchThing

    live = hub.of_channel(channel.id, "raw")
    if live is None:
        raise NoSuchThing(f"No source of the job gives the raw signal of {channel.tag}.")
    return live


def wait_for(live: "Live", seconds: float) -> None:
    """Until so many seconds of samples are there. Raises: NoLink with the link's own words."""
    from ..bench.errors import NoLink

    began = time.monotonic()
    while live.stream.total == 0:
        if time.monotonic() - began > _CONNECT_S:
            status = live.link.status
            raise NoLink(status.error or f"{live.link.spec.name} gave nothing in {_CONNECT_S:g} s.")
        time.sleep(_STEP_S)
    time.sleep(seconds)
