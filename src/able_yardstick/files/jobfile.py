"""The job file: written whole, to a new file that then takes the old one's place; locked while it is open."""

import glob
import json
import os
import shutil
from contextlib import suppress
from pathlib import Path
from secrets import token_hex
from typing import Any, Self

from filelock import FileLock, Timeout
from pydantic import ValidationError

from ..core.job.job import Job
from ..core.words.errors import BadJob
from ..core.words.numerals import shortened
from .jobtext import chunks_of
from .migrate import migrated
from .whole import put_whole

ENDING = ".yardstick.json"
VERSION = 5
_LONGEST_COMPLAINT = 400
FileMark = tuple[int, int, int]  # inode, size, time of change


def with_ending(path: Path) -> Path:
    """`path` with the job file's ending, added where it is missing."""
    if path.name.endswith(ENDING):
        return path
    return path.with_name(path.name.removesuffix(".json").removesuffix(".yardstick") + ENDING)


def backup_of(path: Path) -> Path:
    """Where the copy before the last save lies."""
    return path.with_name(path.name + ".bak")


def read_job(path: Path) -> Job:
    """The job in a file.

    Raises: BadJob that says what is wrong and where the last good copy is; the file is left as it is.
    """
    try:
        data = path.read_bytes()
    except OSError as error:
        raise BadJob(f"{path} cannot be read: {error.strerror or error}.") from error
    try:
        return Job.model_validate_json(data)  # of the present version: the quick way, most of the time
    except (ValidationError, RecursionError):
        return _read_with_care(path, data)


def _read_with_care(path: Path, data: bytes) -> Job:
    """A job of an earlier version, or what is wrong with the file. Raises: BadJob."""
    try:
        tree = json.loads(data.decode("utf-8"))
    except (ValueError, RecursionError) as error:
        where = f" at line {error.lineno}, column {error.colno}" if isinstance(error, json.JSONDecodeError) else ""
        raise BadJob(_refusal(path, f"it is no whole JSON text{where}")) from error
    return _job_of(path, tree)


def _job_of(path: Path, tree: Any) -> Job:
    if not isinstance(tree, dict) or tree.get("format") != "able-yardstick-job":
        raise BadJob(_refusal(path, "expected a job of Able Yardstick, found something else"))
    version = tree.get("version")
    if isinstance(version, int) and version > VERSION:
        raise BadJob(
            f"{path} was written by a newer program (version {version} of the file; this one reads {VERSION}). "
            "It was left as it is. Open it with the newer program."
        )
    try:
        return Job.model_validate(migrated(tree))
    except (ValidationError, RecursionError) as error:
        raise BadJob(_refusal(path, _complaint(error))) from error


def _complaint(error: Exception) -> str:
    if not isinstance(error, ValidationError):
        return "it is nested too deeply"
    first = error.errors()[0]
    where = shortened(" → ".join(str(part) for part in first["loc"])) or "the whole"
    return f"{where}: {shortened(str(first['msg']).removeprefix('Value error, '), _LONGEST_COMPLAINT)}"


def _refusal(path: Path, why: str) -> str:
    backup = backup_of(path)
    good = f"The copy before the last save is {backup}." if backup.exists() else "There is no earlier copy beside it."
    return f"{path} is damaged: {why}. It was left as it is. {good}"


def write_job(path: Path, job: Job) -> None:
    """Write a job so that at any moment either the old or the new one is whole on disk."""
    put_whole(path, chunks_of(job))


def _real(path: Path) -> Path:
    """The file behind all links. Raises: BadJob for links that lead round."""
    try:
        return path.resolve()
    except (OSError, RuntimeError) as error:
        raise BadJob(f"{path} cannot be read: its links lead nowhere. Open the file itself.") from error


def _is_writable(path: Path) -> bool:
    """Whether a file may be written over: by its own mode, too, which does not bind a superuser."""
    return os.access(path, os.W_OK) and bool(path.stat().st_mode & 0o222)


class JobFile:
    """A job file held open: locked against other programs, and never written over if it changed meanwhile.

    A file behind a link is the one the link leads to. One that may not be written is open to be looked at:
    `why_read_only` says why, and a save is refused.
    """

    def __init__(self, path: Path) -> None:
        """Raises: BadJob if the job is open elsewhere, or is to be made in a folder that cannot be written."""
        self.path = _real(path)
        self.why_read_only = ""
        self._lock = FileLock(self.path.with_name(f".{self.path.name}.lock"))
        self._seen: FileMark | None = None
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            self._lock.acquire(timeout=0)
        except Timeout as error:
            raise BadJob(f"{path} is open in another window. Close it there first.") from error
        except OSError as error:
            if not self.path.exists():
                raise BadJob(f"{path} cannot be written: {error.strerror or error}. Choose another folder.") from error
            self.why_read_only = f"its folder cannot be written ({error.strerror or error})"
        if not self.why_read_only and self.path.exists() and not _is_writable(self.path):
            self.why_read_only = "the file is read-only"

    @classmethod
    def open(cls, path: Path) -> tuple[Self, Job]:
        """Lock and read a job file. Raises: BadJob."""
        held = cls(path)
        try:
            job = read_job(held.path)
        except BadJob:
            held.close()
            raise
        held._seen = held._mark()
        held._sweep()
        return held, job

    @classmethod
    def create(cls, path: Path, job: Job) -> Self:
        """Lock a new file and write a job to it; one that is there becomes its backup. Raises: BadJob."""
        held = cls(path)
        held._seen = held._mark()
        try:
            held.save(job)
        except BadJob:
            held.close()
            raise
        return held

    def save(self, job: Job) -> None:
        """Put the job on disk; when this returns it is there.

        Raises: BadJob if it cannot be written, or if another program changed the file.
        """
        if self.why_read_only:
            raise BadJob(f"{self.path} is open to be looked at only: {self.why_read_only}. Save it under another name.")
        if self._mark() != self._seen:
            raise BadJob(
                f"{self.path} was changed by another program, so it was not written over. "
                "Save this job under another name."
            )
        if self._seen is not None and not _is_writable(self.path):
            raise BadJob(
                f"{self.path} was made read-only since it was opened, so it was not written over. Save this job under "
                "another name, or make the file writable again."
            )
        try:
            self._keep_backup()
            write_job(self.path, job)
        except OSError as error:
            raise BadJob(f"{self.path} cannot be written: {error.strerror or error}. Save it elsewhere.") from error
        self._seen = self._mark()

    def close(self) -> None:
        """Let others open the file."""
        if self._lock.is_locked:
            # gone before it is let go: who waits for it finds that out, and makes a new one
            Path(self._lock.lock_file).unlink(missing_ok=True)
            self._lock.release()

    def _sweep(self) -> None:
        """Remove what saves that were killed left behind."""
        if self.why_read_only:
            return
        for left in self.path.parent.glob(f".{glob.escape(self.path.name)}.*.tmp"):
            with suppress(OSError):
                left.unlink()

    def _keep_backup(self) -> None:
        """Keep the present file as the backup; the old backup stands until the new one does."""
        if self._seen is None:
            return
        fresh = self.path.with_name(f".{self.path.name}.{token_hex(8)}.tmp")
        try:
            try:
                os.link(self.path, fresh)
            except OSError:  # FAT, and some shares, have no links
                shutil.copyfile(self.path, fresh)
            os.replace(fresh, backup_of(self.path))
        finally:
            fresh.unlink(missing_ok=True)

    def _mark(self) -> FileMark | None:
        try:
            found = self.path.stat()
        except FileNotFoundError:
            return None
        return found.st_ino, found.st_size, found.st_mtime_ns
