"""Files written whole or not at all: at any moment either the old or the new one is on disk."""

import os
import tempfile
import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

_MODE = 0o644
_STALE_S = 60.0  # what is younger may be another bench's, at work


def put_whole(path: Path, chunks: Iterable[bytes]) -> None:
    """Write a file beside where it goes, and let it take its place. Raises: OSError."""
    handle, name = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name[:80]}.", suffix=".tmp")
    try:
        with os.fdopen(handle, "wb") as file:
            file.writelines(chunks)
            file.flush()
            os.fsync(file.fileno())
            with suppress(OSError):  # some file systems know no modes
                os.fchmod(file.fileno(), path.stat().st_mode & 0o777 if path.exists() else _MODE)
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
    _sync_folder(path.parent)


def sweep(folder: Path, older_than_s: float = _STALE_S) -> None:
    """Clear away what a program that was killed while it wrote has left in a folder."""
    for left in folder.glob(".*.tmp"):
        with suppress(OSError):
            if time.time() - left.stat().st_mtime > older_than_s:
                left.unlink()


def _sync_folder(folder: Path) -> None:
    with suppress(OSError):  # some file systems sync no folders
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
