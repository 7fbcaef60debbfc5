"""The one holder of the job: its history, its file, and the one signal that tells what changed."""

import logging
from collections.abc import Callable, MutableMapping, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import NamedTuple
from uuid import uuid4

from PySide6.QtCore import QObject, Signal

from ...core.document.channel import AnyChannel, ContinuousChannel, SignableChannel
from ...core.document.reference import Reference
from ...core.job.channels import add_channel as add_channel_edit
from ...core.job.entries import capture as capture_edit
from ...core.job.entries import exclude
from ...core.job.history import restored
from ...core.job.job import Job
from ...core.journal.reading import Reading
from ...core.regression.kinds import ModelName
from ...core.state.progress import STEP_NAMES, StepName, StepProgress, progress_of, steps_of
from ...core.units.conversion import are_units_loaded
from ...core.words.errors import BadJob, NotApplicable, YardstickError
from ...files.jobfile import JobFile
from .pack_search import PackSearch

log = logging.getLogger(__name__)
CHECKED_AT_ONCE = 4  # channels: then the window has its turn
Edit = Callable[[Job], Job]
Say = Callable[[str, bool], None]  # words for the status line, and whether they refuse something


class Change(NamedTuple):
    """What changed: the job's contents, or which channel, step or candidate curve is looked at."""

    job: bool = False
    channel: bool = False
    step: bool = False
    candidate: bool = False


class _Step(NamedTuple):
    """A step of the history: the job on either side of it, and the readings it captured or amended."""

    text: str
    there: Job
    captured: tuple[str, ...] = ()
    amended: tuple[str, ...] = ()
    can_go: bool = True  # what only happened stays: there is nothing to go back to


def now() -> datetime:
    """The present moment, with its zone, to the second."""
    return datetime.now(UTC).replace(microsecond=0)


def new_id() -> str:
    """An id that nothing else has."""
    return uuid4().hex[:12]


class Workbench(QObject):
    """Holds the current job, the channel and step looked at, the undo history and the open file.

    Every edit is saved before `changed` is sent; an edit that cannot be saved is not made.
    """

    changed = Signal(object)
    said = Signal(str, bool)  # a sentence for the status line; whether it is a refusal
    leave_out_offered = Signal(tuple)  # the ids of the readings captured last

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._job = Job(id=new_id())
        self._is_checking = False
        self._checked: set[str] = set()
        self._file: JobFile | None = None
        self._past: list[_Step] = []
        self._future: list[_Step] = []
        self._channel_id = ""
        self._step: StepName = "describe"
        self._candidates: dict[str, ModelName] = {}
        self._progress: dict[str, tuple[StepProgress, ...]] = {}
        self._searches: list[PackSearch] = []
        self.search = self.new_search()
        self.search.ended.connect(lambda: self._announce(Change()))
        self.saved_at: datetime | None = None
        self.folds: MutableMapping[str, bool] = {}  # which parts of the panels are open

    # -- what is looked at ------------------------------------------------------------------------------------------

    @property
    def job(self) -> Job:
        """The job as it stands."""
        return self._job

    @property
    def path(self) -> Path | None:
        """Where the job is kept."""
        return self._file.path if self._file else None

    @property
    def why_read_only(self) -> str:
        """Why the file is only looked at; empty if it is written."""
        return self._file.why_read_only if self._file else ""

    @property
    def step(self) -> StepName:
        """The step looked at."""
        return self._step

    @property
    def channel(self) -> AnyChannel | None:
        """The channel looked at; None in a job without any."""
        return next((channel for channel in self._job.channels if channel.id == self._channel_id), None)

    @property
    def continuous(self) -> ContinuousChannel | None:
        """The channel looked at, if it has a pin and a curve."""
        channel = self.channel
        return channel if isinstance(channel, ContinuousChannel) else None

    @property
    def signable(self) -> SignableChannel | None:
        """The channel looked at, if something of it can be checked and signed."""
        channel = self.channel
        return channel if isinstance(channel, SignableChannel) else None

    def to_sign(self) -> SignableChannel:
        """The channel looked at. Raises: NotApplicable for one of which nothing is checked, or without one."""
        if self.signable is None:
            raise NotApplicable("Nothing of this channel is checked, or signed: choose another.")
        return self.signable

    @property
    def candidate(self) -> ModelName | None:
        """The curve looked at for the channel: the one picked, else the chosen one."""
        picked = self._candidates.get(self._channel_id)
        record = self._job.fit_of(self._channel_id)
        return picked or (record.fitted.spec.model if record else None)

    def progress(self, channel: AnyChannel) -> tuple[StepProgress, ...]:
        """How far a channel has come; reckoned once for each state of the job."""
        if channel.id not in self._progress:
            is_seen = channel.id == self._channel_id
            is_due = channel.id in self._checked and (channel.has_pin or are_units_loaded())
            checked = self._is_checking and (is_seen or is_due)
            self._progress[channel.id] = progress_of(self._job, channel, checked=checked)
        return self._progress[channel.id]

    @property
    def is_all_checked(self) -> bool:
        """Whether it is reckoned of every channel how far it has come."""
        return self._is_checking and all(channel.id in self._checked for channel in self._job.channels)

    def check(self, most: int = CHECKED_AT_ONCE) -> None:
        """From now on reckon how far so many channels more have come, and the one looked at.

        The first picture does without, and a job of hundreds of channels is checked bit by bit.
        """
        self._is_checking = True
        left = [channel.id for channel in self._job.channels if channel.id not in self._checked]
        self._checked.update(left[:most])
        for name in (*left[:most], self._channel_id):
            self._progress.pop(name, None)

    def new_search(self) -> PackSearch:
        """A search for numbers that ends with the job."""
        self._searches.append(PackSearch(self))
        return self._searches[-1]

    def has_numbers(self, channel: ContinuousChannel) -> bool:
        """Whether a channel's numbers are made, or refused; they are searched for otherwise."""
        return self.search.made(self._job, channel, (channel.pack_spec,))

    def look_at_candidate(self, model: ModelName) -> None:
        """Look at another curve on offer, without choosing it."""
        if model != self._candidates.get(self._channel_id):
            self._candidates[self._channel_id] = model
            self.changed.emit(Change(candidate=True))

    def select(self, channel_id: str) -> None:
        """Look at another channel; one without a curve is looked at where it has something to show."""
        if channel_id == self._channel_id:
            return
        self._channel_id = channel_id
        self._progress.pop(channel_id, None)  # what waited for its units is reckoned now
        step = self._step
        self._keep_selection()
        self.changed.emit(Change(channel=True, step=step != self._step))

    def select_next(self, places: int) -> None:
        """Look at a channel further down the tagboard (up if below 0)."""
        ids = [channel.id for channel in self._job.channels]
        if ids:
            at = ids.index(self._channel_id) if self._channel_id in ids else 0
            self.select(ids[min(max(at + places, 0), len(ids) - 1)])

    def go(self, step: StepName) -> None:
        """Look at a step; at the present one again where something beside the steps was looked at."""
        if step in self._steps:
            self._step = step
            self.changed.emit(Change(step=True))

    @property
    def _steps(self) -> tuple[StepName, ...]:
        """The steps that the channel looked at has."""
        return ("describe",) if self.channel is None else steps_of(self.channel)

    def go_next(self, places: int) -> None:
        """Look at a later step (an earlier one if below 0)."""
        at = STEP_NAMES.index(self._step) + places
        self.go(STEP_NAMES[min(max(at, 0), len(STEP_NAMES) - 1)])

    # -- edits ------------------------------------------------------------------------------------------------------

    def edit(self, text: str, change: Edit) -> None:
        """Make an edit that can be undone, and save it.

        Raises: what the edit refuses, or BadJob if it cannot be saved; then nothing has changed.
        """
        before = self._job
        after = change(before)
        if after == before.with_(revision=after.revision):
            return
        self._put(after)
        amended = tuple(dict.fromkeys(one.reading for one in after.amendments[len(before.amendments) :]))
        can_go = bool(amended) or after.document != before.document
        self._past.append(_Step(text, before, amended=amended, can_go=can_go))
        self._future.clear()
        self._announce(Change(job=True, channel=self._keep_selection()))

    def try_edit(self, text: str, change: Edit) -> bool:
        """As `edit`, but a refusal goes to the status line. Gives whether it was made."""
        try:
            self.edit(text, change)
        except YardstickError as error:
            self.said.emit(str(error), True)
            return False
        return True

    def capture(self, readings: Sequence[Reading], reference: Reference | None = None) -> None:
        """Add readings, and put them on disk; undo only offers to leave them out. Raises: BadJob."""
        before = self._job
        self._put(capture_edit(before, readings, reference))
        noun = "reading" if len(readings) == 1 else f"{len(readings)} readings"
        self._past.append(_Step(noun, before, captured=tuple(one.id for one in readings)))
        self._announce(Change(job=True))

    def record(self, change: Edit) -> None:
        """Keep what has happened, such as a write into a controller; undo never takes it back. Raises: BadJob."""
        self._put(change(self._job))
        self._announce(Change(job=True))

    def add_channel(self, text: str, channel: AnyChannel) -> None:
        """Add a channel and look at it. Raises: what the edit refuses."""
        self.edit(text, lambda job: add_channel_edit(job, channel))
        self.select(channel.id)

    @property
    def undo_text(self) -> str:
        """What undo would take back, or offer to leave out; empty if nothing."""
        return self._past[-1].text if self._past else ""

    @property
    def undo_edit_text(self) -> str:
        """The last edit that can be taken back, whatever was captured since; empty if there is none."""
        return next((step.text for step in reversed(self._past) if step.can_go and not step.captured), "")

    @property
    def redo_text(self) -> str:
        """What redo would do again; empty if nothing."""
        return self._future[-1].text if self._future else ""

    def undo(self) -> None:
        """Take back the last edit. What was captured last is no edit: it is offered to be left out with a reason."""
        last = self._past[-1] if self._past else None
        if last is None:
            self.said.emit("There is no edit to go back to. Captured readings are never undone: exclude them.", False)
        elif last.captured:
            self.leave_out_offered.emit(last.captured)
        elif not last.can_go:
            self._past.pop()
            more = f" Undo again for: {self.undo_text}." if self._past else ""
            self.said.emit(f"{last.text}: that has happened, and stays on record.{more}", False)
        else:
            self._travel(self._past, self._future, "Undone: {}")

    def undo_edit(self) -> None:
        """Take back the last edit that can be; what was captured since stays."""
        while self._past and (self._past[-1].captured or not self._past[-1].can_go):
            self._past.pop()
        self.undo()

    def leave_out(self, readings: tuple[str, ...], reason: str) -> None:
        """Leave captured readings out for a reason, as undo offers it. Raises: BadJob, ValueError without a reason."""
        if self._past and self._past[-1].captured == readings:
            self._past.pop()
        self.edit("leave out", lambda job: exclude(job, list(readings), reason, now()))

    def redo(self) -> None:
        """Make the last undone edit again."""
        if self._future:
            self._travel(self._future, self._past, "Done again: {}")
        else:
            self.said.emit("There is no edit to do again.", False)

    def _travel(self, source: list[_Step], target: list[_Step], words: str) -> None:
        step, before = source[-1], self._job
        try:
            self._put(restored(before, step.there, step.amended, now()))
        except YardstickError as error:
            self.said.emit(str(error), True)
            return
        source.pop()
        target.append(step._replace(there=before))
        self._announce(Change(job=True, channel=self._keep_selection()))
        aside = [one.tag for one in self._job.document.set_aside if one not in before.document.set_aside]
        more = f". {', '.join(aside)} has a history, so it is only set aside: Ctrl+K finds it" if aside else ""
        self.said.emit(words.format(step.text) + more, False)

    def _put(self, job: Job) -> None:
        if self._file is not None:
            self._file.save(job)
            self.saved_at = now()
        self._job = job
        self._progress.clear()

    def _announce(self, change: Change) -> None:
        self.changed.emit(change)

    def _keep_selection(self) -> bool:
        """Look at some channel while there is one, at a step it has; gives whether that is another view now."""
        before = (self._channel_id, self._step)
        if self.channel is None:
            self._channel_id = self._job.channels[0].id if self._job.channels else ""
        if self._step not in self._steps:
            self._step = "describe"
        return before != (self._channel_id, self._step)

    # -- files ------------------------------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Open a job file in place of the present one. Raises: BadJob; then the present one stays."""
        if self._file is not None and path.resolve() == self._file.path:
            return
        self._take(*JobFile.open(path))

    def create(self, path: Path, title: str) -> None:
        """Start an empty job in a new file. Raises: BadJob."""
        job = Job.new(new_id(), title=title)
        self._take(JobFile.create(path, job), job)

    def save_as(self, path: Path) -> None:
        """Go on under another name; the old file stays as it is. Raises: BadJob."""
        if self._file is not None and path.resolve() == self._file.path:
            raise BadJob(f"{path} is the file that is open: every edit is kept in it already. Take another name.")
        self._replace_file(JobFile.create(path, self._job))
        self._announce(Change(job=True))

    def _take(self, file: JobFile, job: Job) -> None:
        self._replace_file(file)
        self._job, self._past, self._future = job, [], []
        self._progress.clear()
        self._keep_selection()
        self._announce(Change(job=True, channel=True, step=True))

    def _replace_file(self, file: JobFile) -> None:
        if self._file is not None:
            self._file.close()
        self._file = file
        self.saved_at = now()

    def close(self) -> None:
        """Let others open the file."""
        for search in self._searches:
            search.close()
        if self._file is not None:
            self._file.close()
            self._file = None
