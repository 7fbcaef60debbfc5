"""A thread that keeps one source open, polls it, and tries again with growing waits when it drops."""

import logging
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from importlib import import_module
from queue import Empty, SimpleQueue
from typing import Literal, NamedTuple

import numpy as np

from ..core.document.sources import AnySource
from ..core.words.errors import YardstickError
from .errors import NoLink
from .source import Batch, OpenSource
from .stream import Stream

log = logging.getLogger(__name__)
LinkStanding = Literal["off", "connecting", "answering", "waiting"]
FIRST_WAIT_S = 0.5
LONGEST_WAIT_S = 15.0
_RATE_OVER_S = 2.0
# each kind's module and class: a protocol's library is loaded when a source of the kind is first opened
_OPENED_BY = {
    "modbus": ("modbus", "Modbus"), "scpi": ("scpi", "Scpi"), "lines": ("lines", "Lines"),
    "replay": ("replay", "Replay"), "manual": ("manual", "Manual"),
}  # fmt: skip


class LinkStatus(NamedTuple):
    """How a link stands: what answered, how often, the last error in words, and what of it was left out."""

    standing: LinkStanding
    what: str
    rate_hz: float
    error: str
    tries: int
    total: int
    lost: int
    remark: str = ""


def opened_by(spec: AnySource) -> OpenSource:
    """The source of a description, not open yet."""
    module, name = _OPENED_BY[spec.kind]
    found: OpenSource = getattr(import_module(f".{module}", __package__), name)(spec)
    return found


class Link:
    """Runs a source until it is stopped. Its streams may be looked at from any thread.

    It begins once the link it comes `after` has let go: of the same port, say.
    """

    def __init__(
        self, spec: AnySource, make: Callable[[AnySource], OpenSource] = opened_by, after: "Link | None" = None
    ) -> None:
        self.spec = spec
        self._after = after
        self.source = make(spec)
        self.streams = {feed.name: Stream(self.source.capacity, feed.met) for feed in spec.every_feed}
        self._stop = threading.Event()
        self._orders: SimpleQueue[Callable[[OpenSource], None]] = SimpleQueue()
        self._status = LinkStatus("off", "", 0.0, "", 0, 0, 0)
        self._arrivals: list[tuple[float, int]] = []
        self._thread = threading.Thread(target=self._run, name=f"link {spec.id}", daemon=True)

    def start(self) -> None:
        """Begin to connect."""
        self._thread.start()

    def ask_to_stop(self) -> None:
        """Let it end without waiting for that; what it gave stays in the streams."""
        self._stop.set()

    def wait(self, seconds: float | None = None) -> None:
        """Until it has ended, or so long; never called in the window's thread."""
        if self._thread.is_alive():
            self._thread.join(seconds)

    def stop(self, wait_s: float = 3.0) -> None:
        """End it and wait for that."""
        self.ask_to_stop()
        self.wait(wait_s)

    @property
    def has_ended(self) -> bool:
        """Whether it has let go of its source."""
        return not self._thread.is_alive()

    @property
    def status(self) -> LinkStatus:
        """How it stands now."""
        total = sum(stream.total for stream in self.streams.values())
        lost = max((stream.lost for stream in self.streams.values()), default=0)
        return self._status._replace(total=total, lost=lost, rate_hz=self._rate(), remark=self.source.remark)

    @property
    def stale_after_s(self) -> float:
        """How long after the last value it no longer stands for the present."""
        return self.source.stale_after_s

    def order(self, act: Callable[[OpenSource], None]) -> None:
        """Have something done with the open source, in its thread, between two polls."""
        self._orders.put(act)

    def command(self, feed: str, value: float) -> None:
        """Move the stimulus a feed measures, between two polls; a refusal becomes the link's error.

        Raises: NoLink while the source does not answer: a set point is never sent later, when nobody expects it.
        """
        if self._status.standing != "answering":
            raise NoLink(
                f"{self.spec.name} does not answer now: nothing was set. Wait until it does, and set it again."
            )
        self.order(lambda source: source.command(feed, value))

    def _rate(self) -> float:
        """Values of one feed a second, over the last moments."""
        since = time.monotonic() - _RATE_OVER_S
        recent = [count for moment, count in list(self._arrivals) if moment >= since]
        return sum(recent) / _RATE_OVER_S

    # -- in its thread ----------------------------------------------------------------------------------------------

    def _run(self) -> None:
        if self._after is not None:
            self._after.wait()
            self._after = None
        wait_s = FIRST_WAIT_S
        while not self._stop.is_set():
            self._status = self._status._replace(standing="connecting")
            try:
                self._work()
            except YardstickError as error:
                self._fail(str(error))
            except Exception as error:  # a fault of ours must not end the link in silence
                log.exception("link %s", self.spec.id)
                self._fail(f"A fault in the program: {error}")
            if self._answered:
                wait_s = FIRST_WAIT_S
            if self._stop.wait(wait_s):
                break
            wait_s = min(wait_s * 2, LONGEST_WAIT_S)
        self._status = self._status._replace(standing="off")

    _answered = False

    def _work(self) -> None:
        """Open, poll until something fails, close.

        The source knows where it was, so that what a ring still holds is not lost.
        """
        self._answered = False
        source = self.source
        try:
            what = source.open()
            self._drop_commands()
            self._status = LinkStatus("answering", what, 0.0, "", 0, 0, 0)
            while not self._stop.is_set():
                began = time.monotonic()
                self._obey(source)
                self._take(source)
                self._answered = True
                self._stop.wait(max(source.period_s - (time.monotonic() - began), 0.001))
        finally:
            source.close()

    def _drop_commands(self) -> None:
        """Forget what was asked of the source before it dropped."""
        if not self.source.keeps_orders:
            with suppress(Empty):
                while True:
                    self._orders.get_nowait()

    def _obey(self, source: OpenSource) -> None:
        while True:
            try:
                act = self._orders.get_nowait()
            except Empty:
                return
            try:
                act(source)
            except NoLink:
                raise
            except YardstickError as error:
                self._status = self._status._replace(error=str(error))

    def _take(self, source: OpenSource) -> None:
        is_first = True
        for batch in source.poll():
            now = time.monotonic()
            walls = batch.times_s + (time.time() - now)
            stream = self.streams.get(batch.feed)
            if stream is not None:
                if batch.leap:
                    stream.mark_gap(f"{batch.leap}, so that it is not known when its values were taken")
                stream.append(batch.times_s, walls, batch.values, batch.sequences, now)
            if is_first:  # the others came beside it
                self._note(now, batch)
            is_first = False

    def _note(self, now_s: float, batch: Batch) -> None:
        kept = [row for row in self._arrivals if row[0] >= now_s - _RATE_OVER_S]
        self._arrivals = [*kept, (now_s, int(np.size(batch.values)))]

    def _fail(self, text: str) -> None:
        for stream in self.streams.values():
            stream.mark_gap(text)
        self._status = LinkStatus("waiting", self._status.what, 0.0, text, self._status.tries + 1, 0, 0)


def probed(spec: AnySource, seconds: float) -> LinkStatus:
    """Open a source, listen for a while, and say what was found."""
    link = Link(spec)
    link.start()
    try:
        end = time.monotonic() + seconds
        while time.monotonic() < end and link.status.standing != "waiting":
            time.sleep(0.05)
        return link.status
    finally:
        link.stop()
