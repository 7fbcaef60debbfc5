"""The search for numbers beside the window: what takes longer than a moment is watched, and can be stopped."""

from threading import Event, Thread

from PySide6.QtCore import QObject, Signal

from ...core.document.channel import ContinuousChannel
from ...core.forms.spec import PackSpec
from ...core.job.job import Job
from ...core.pack.ready import is_ready, make_ready, ready_key
from ...core.words import pace

PATIENCE_S = 0.15  # for so long the window waits, so that what is found at once is shown at once
_CLOSING_S = 5.0
_KEPT = 512


class _Run:
    """One search, in a thread of its own."""

    def __init__(
        self, key: str, search: "PackSearch", what: tuple[Job, ContinuousChannel, tuple[PackSpec, ...]]
    ) -> None:
        self.key = key
        self.stop = Event()
        self.ended = Event()
        self._search, self._what, self.forms = search, what, len(what[2])
        self.bound: float | None = None
        self.best: float | None = None
        self.fault: BaseException | None = None
        Thread(target=self._make, name="pack search", daemon=True).start()

    def _make(self) -> None:
        try:
            with pace.watched_by(self._watch):
                make_ready(*self._what)
        except BaseException as fault:  # told in the window's thread
            self.fault = fault
        self._search.over.emit(self)
        self.ended.set()

    def _watch(self, bound: float | None, best: float | None) -> None:
        if self.stop.is_set():
            raise pace.Stopped
        if bound is not None or best is not None:
            self.bound, self.best = bound, best


class PackSearch(QObject):
    """Makes a channel's numbers, one search at a time; `ended` tells that they are there, or that it was stopped."""

    ended = Signal()
    over = Signal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._run: _Run | None = None
        self._dropped: list[_Run] = []  # that were told to stop
        self._done: set[str] = set()
        self._stopped = ""
        self.over.connect(self._end)

    @property
    def is_running(self) -> bool:
        """Whether something is being searched for."""
        return self._run is not None

    @property
    def is_stopped(self) -> bool:
        """Whether the last search was stopped by a person."""
        return self._run is None and bool(self._stopped)

    @property
    def between(self) -> tuple[float | None, float | None]:
        """What the worst error cannot be below and the one found so far, in the channel's unit; None if not known.

        Of several forms one after the other they would say nothing.
        """
        if self._run is None or self._run.forms > 1:
            return None, None
        return self._run.bound, self._run.best

    def made(self, job: Job, channel: ContinuousChannel, specs: tuple[PackSpec, ...]) -> bool:
        """Whether the numbers in some forms are there; if not they are searched for from now on, unless stopped."""
        key = ready_key(job, channel, specs)
        if not key or (key in self._done and is_ready(job, channel, specs)):
            self._drop()
            return True
        if key == self._stopped:
            return False
        if self._run is None or self._run.key != key:
            self._drop()
            self._stopped = ""
            self._run = _Run(key, self, (job, channel, specs))
            self._run.ended.wait(PATIENCE_S)
        if self._run.ended.is_set():
            self._take(self._run)
        return key in self._done

    def wait(self) -> None:
        """Until what is searched for is there."""
        if self._run is not None:
            self._run.ended.wait()
            self._end(self._run)

    def stop(self) -> None:
        """Search no further."""
        if self._run is not None:
            self._stopped = self._run.key
            self._drop()
            self.ended.emit()

    def again(self) -> None:
        """Take up what was stopped."""
        self._stopped = ""
        self.ended.emit()

    def close(self) -> None:
        """Stop, and wait until it has."""
        self._drop()
        for run in self._dropped:
            run.ended.wait(_CLOSING_S)

    def _drop(self) -> None:
        if self._run is not None:
            self._run.stop.set()
            self._dropped = [run for run in (*self._dropped, self._run) if not run.ended.is_set()]
            self._run = None

    def _end(self, run: _Run) -> None:
        if run is self._run:
            self._take(run)
            self.ended.emit()

    def _take(self, run: _Run) -> None:
        self._run = None
        if run.fault is not None:
            raise run.fault
        if len(self._done) >= _KEPT:
            self._done.clear()
        self._done.add(run.key)
