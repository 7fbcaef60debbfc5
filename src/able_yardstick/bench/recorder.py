"""Logs everything that arrives, beside whatever else goes on: a thread of its own writes what came twice a second."""

import logging
import threading
import time
from collections.abc import Iterable
from datetime import UTC, datetime
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path
from typing import NamedTuple, Self

from ..core.document.channel import ContinuousChannel
from ..core.job.job import Job
from ..core.journal.sample import BAD
from ..core.words.errors import NotApplicable, YardstickError
from ..files.log.writer import LogEvent, LoggedCalibration, LoggedFeed, LogWriter
from .hub import Live

log = logging.getLogger(__name__)
_EVERY_S = 0.7  # the most that a kill takes, and a moment for the disk


class LogTotals(NamedTuple):
    """What a log has taken: samples kept, those lost by the sources' numbers, those that are bad, and for how long."""

    kept: int
    lost: int
    bad: int
    seconds: float


class Recorder:
    """One log while it is taken. What was written stays whole whatever happens to the program."""

    def __init__(self, path: Path, feeds: Iterable[Live], job: Job, *, past_s: float = 0.0) -> None:
        """Begin, with the last seconds before now where they are still known.

        Raises: NotApplicable without a feed, BadTable where the file cannot be made.
        """
        self._feeds = tuple(feeds)
        if not self._feeds:
            raise NotApplicable("No source gives anything to log. Connect one (F4), or switch one on.")
        self.path, self.refusal = path, ""
        self._began_s = time.monotonic() - past_s
        self._began_wall_s = time.time() - past_s
        self._lost_before = [live.stream.lost for live in self._feeds]
        self._writer = LogWriter(path, [_logged(live, job) for live in self._feeds], _about(job))
        self._marks = [_mark(live, self._began_s) for live in self._feeds]
        self._events: list[LogEvent] = []
        self._revisions: dict[str, str] = {}
        self._calibrations: list[LoggedCalibration] = []
        self._bad = 0
        self._lock = threading.Lock()
        self._is_over = threading.Event()
        self.follow(job)
        self._write()
        self._thread = threading.Thread(target=self._run, name=f"log {path.name}", daemon=True)
        self._thread.start()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_what: object) -> None:
        self.stop()

    def note(self, says: str, kind: str = "note", channel: str = "") -> None:
        """Write down something that happens now."""
        with self._lock:
            self._events.append(LogEvent(time.time(), time.monotonic(), kind, channel, says))

    def follow(self, job: Job) -> None:
        """Keep the numbers that are in force from now on, where they became others."""
        with self._lock:
            for channel in job.channels:
                record = job.pack_of(channel.id) if isinstance(channel, ContinuousChannel) else None
                if record is not None and self._revisions.get(channel.id) != record.revision:
                    self._revisions[channel.id] = record.revision
                    now_s = (time.time(), time.monotonic())
                    row = LoggedCalibration(*now_s, channel.id, record.revision, record.model_dump_json())
                    self._calibrations.append(row)

    @property
    def totals(self) -> LogTotals:
        """What it has taken so far."""
        lost = sum(live.stream.lost - before for live, before in zip(self._feeds, self._lost_before, strict=True))
        return LogTotals(self._writer.kept, lost, self._bad, time.monotonic() - self._began_s)

    def stop(self) -> LogTotals:
        """End it with what came last; gives what it has taken."""
        if not self._is_over.is_set():
            self._is_over.set()
            self._thread.join()
            self._write()
            self._writer.close()
        return self.totals

    def _run(self) -> None:
        while not self._is_over.wait(_EVERY_S) and not self.refusal:
            self._write()

    def _write(self) -> None:
        """Write what came since the last time; why it cannot be is kept for who looks."""
        with self._lock:
            events, self._events = self._events, []
            calibrations, self._calibrations = self._calibrations, []
        samples = {}
        for number, live in enumerate(self._feeds):
            found, self._marks[number] = live.stream.newer(self._marks[number])
            self._bad += int((found.states == BAD).sum())
            samples[number] = found
        try:
            self._writer.append(samples, events, calibrations)
        except YardstickError as error:
            log.exception("the log")
            self.refusal = str(error)


def _mark(live: Live, since_s: float) -> int:
    """How many samples were put into a stream before a moment."""
    return live.stream.placed - len(live.stream.after(since_s))


def _logged(live: Live, job: Job) -> LoggedFeed:
    feed = live.feed
    tag = next((channel.tag for channel in job.channels if channel.id == feed.channel), "")
    return LoggedFeed(
        tag or feed.name, feed.channel, feed.role, feed.name, live.link.spec.name, feed.met.node, feed.unit
    )


def _about(job: Job) -> dict[str, str]:
    try:
        program = version("able-yardstick")
    except PackageNotFoundError:
        program = ""
    began = datetime.now(UTC).isoformat(timespec="milliseconds")
    return {"job": job.title, "job id": job.id, "began": began, "program": program,
            "document": job.document.model_dump_json()}  # fmt: skip
