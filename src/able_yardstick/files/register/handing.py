"""What lies beside a job handed in to the register: its units, and records that the register does not know yet."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from ...core.job.job import Job
from ...core.words.errors import BadTable

if TYPE_CHECKING:
    from .store import Register

_FOLDERS = "* records"
TOLD_EACH = 10  # records
_Stamp = tuple[int, int]  # when a file was changed, in ns, and its size in bytes
SoFar = Callable[[int, int], None]


class HandedIn(NamedTuple):
    """How many records were new to the register, and what was refused, in words."""

    new: int
    refused: tuple[str, ...]


class HandingIn:
    """Remembers what was handed in where, so that only what is new is read again."""

    def __init__(self) -> None:
        self._files: dict[tuple[str, Path], _Stamp] = {}
        self._jobs: dict[tuple[str, Path], tuple[object, ...]] = {}

    def was_done(self, url: str, job_path: Path) -> bool:
        """Whether what lies beside a job was handed in to a register before."""
        return (url, job_path) in self._jobs

    def hand_in(self, register: "Register", job: Job, job_path: Path, told: SoFar | None = None) -> HandedIn:
        """Hand in what is new; `told` hears of how many of how many files. Raises: RegisterAway."""
        from .find import all_hashes
        from .take import is_known, take_file
        from .take_job import put_job

        url = register.url
        about = (job.references, job.devices, tuple((one.id, one.tag, one.name) for one in job.channels))
        if self._jobs.get((url, job_path)) != about:
            put_job(register, job)
        found = {path: _stamp(path) for path in sorted(job_path.parent.glob(f"{_FOLDERS}/*.record.json"))}
        files = {path: stamp for path, stamp in found.items() if self._files.get((url, path)) != stamp}
        known, new, refused = all_hashes(register) if files else {}, 0, []
        for n, (path, stamp) in enumerate(files.items()):
            if told is not None and n % TOLD_EACH == TOLD_EACH - 1:
                told(n, len(files))
            try:
                new += not is_known(path, known) and take_file(register, path).is_new
            except BadTable as error:
                refused.append(f"{path.name} was not taken: {error}")
            self._files[url, path] = stamp
        self._jobs[url, job_path] = about
        return HandedIn(new, tuple(refused))


def _stamp(path: Path) -> _Stamp:
    found = path.stat()
    return found.st_mtime_ns, found.st_size
