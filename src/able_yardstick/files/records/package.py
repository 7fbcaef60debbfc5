"""A job handed over as one ZIP: job, records, PDFs, numbers, wiring, logs, words, and the hash of every file."""

import hashlib
import io
import json
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from datetime import datetime
from pathlib import Path, PurePosixPath
from typing import NamedTuple

from ...core.document.channel import ContinuousChannel
from ...core.job.job import Job
from ...core.words.errors import BadTable, YardstickError
from ..exports import as_text
from ..jobfile import ENDING
from ..jobtext import chunks_of
from ..output import file_name, put_bytes
from ..wiring import wiring_csv, wiring_text
from .keys import SigningKey, TrustedKey
from .signed import Signer, checked_record, sealed, signature_states, verified, whole_hash
from .signing import records_folder

MANIFEST, README = "manifest.json", "READ ME.txt"
_FORMAT = "able-yardstick-package"
_LONGEST = 2_000_000_000  # bytes unpacked: more is no job
_MOST_FILES = 20_000
_FIXED = (1980, 1, 1, 0, 0, 0)  # the same files make the same ZIP


class PackageState(NamedTuple):
    """What a package proves: who signed its list of files, what was changed, and its records with their own changes."""

    signers: tuple[str, ...]
    changes: tuple[str, ...]
    records: tuple[tuple[str, tuple[str, ...]], ...]

    @property
    def is_whole(self) -> bool:
        """Whether nothing was changed, in the list, in a file or in a record."""
        return bool(self.signers) and not self.changes and not any(changes for _name, changes in self.records)


def package_of(
    job: Job, job_path: Path, key: SigningKey, by: str, at: datetime, logs: Sequence[Path] = ()
) -> dict[str, bytes]:
    """The files of a package by their names, its list among them. Raises: BadTable where a file cannot be read."""
    stem = job_path.name.removesuffix(ENDING)
    files = {f"{stem}{ENDING}": b"".join(chunks_of(job))}
    folder = records_folder(job_path)
    for path in sorted(folder.glob("*")) if folder.is_dir() else ():
        if path.is_file():
            files[f"{folder.name}/{path.name}"] = _read(path)
    files |= {f"numbers/{name}": text.encode() for name, text in _numbers(job).items()}
    files |= {"wiring/wiring.txt": wiring_text(job).encode(), "wiring/wiring.csv": wiring_csv(job).encode()}
    files |= {f"logs/{path.name}": _read(path) for path in logs}
    files[README] = _read_me(job, sorted(files)).encode()
    listed = {"format": _FORMAT, "version": 1, "made": at.isoformat(), "files": hashes_of(files)}
    signer = Signer(by, "handing over", at.isoformat())
    files[MANIFEST] = json.dumps(sealed(listed, key, signer), ensure_ascii=False, indent=1).encode()
    return files


def hashes_of(files: Mapping[str, bytes]) -> dict[str, str]:
    """The SHA-256 of files by their names."""
    return {name: hashlib.sha256(data).hexdigest() for name, data in files.items()}


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error


def _numbers(job: Job) -> dict[str, str]:
    """The numbers of every channel that has some, as text to read."""
    found = {}
    for channel in job.channels:
        pack = job.pack_of(channel.id) if isinstance(channel, ContinuousChannel) else None
        if isinstance(channel, ContinuousChannel) and pack is not None:
            cells = pack.form.cells(channel.path.pin_unit, pack.unit)
            remark = f"Kept {pack.made.date()}, in {pack.unit}."
            found[file_name(channel.tag, ".txt")] = as_text(f"{channel.tag}: {pack.form.title.lower()}", cells, remark)
    return found


def _read_me(job: Job, names: Sequence[str]) -> str:
    """What is what, in plain words."""
    kinds = (
        (ENDING, "the job: open it with Able Yardstick"),
        (".record.json", "a signed record: `able-yardstick verify` says what it proves"),
        (".pdf", "a record on paper, with the record inside"),
        ("numbers/", "the numbers for the controller, to read or to type in"),
        ("wiring/", "where every lead goes"),
        ("logs/", "what was logged"),
    )
    lines = [f"{job.title}, revision {job.revision}", "", "What is in here:", ""]
    for mark, words in kinds:
        own = [name for name in names if mark in name]
        if own:
            lines += [f"{words}:", *(f"  {name}" for name in own), ""]
    lines += [
        f"{MANIFEST} lists the SHA-256 of every file and is signed. To check everything:", "",
        "  able-yardstick verify THIS.zip", "",
        "Nothing in here needs the machine that it was made on.", "",
    ]  # fmt: skip
    return "\n".join(lines)


def save_package(path: Path, files: Mapping[str, bytes], *made_from: Path) -> None:
    """Write a package as a ZIP. Raises: BadTable."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(zipfile.ZipInfo(name, _FIXED), data, zipfile.ZIP_DEFLATED)
    put_bytes(path, buffer.getvalue(), *made_from)


def is_package(path: Path) -> bool:
    """Whether a file is a ZIP."""
    return zipfile.is_zipfile(path)


def files_in(path: Path) -> dict[str, bytes]:
    """The files of a ZIP by their names. Raises: BadTable for a damaged one, or one that is no package."""
    try:
        with zipfile.ZipFile(path) as archive:
            infos = [info for info in archive.infolist() if not info.is_dir()]
            if len(infos) > _MOST_FILES or sum(info.file_size for info in infos) > _LONGEST:
                raise BadTable(f"{path} is larger unpacked than any job: it was left as it is.")
            names = [info.filename for info in infos]
            twice = next((name for name in names if names.count(name) > 1), None)
            if twice is not None:
                raise BadTable(f"{path} holds {twice} twice: it was changed.")
            return {info.filename: archive.read(info) for info in infos}
    except (OSError, zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, ValueError, zlib.error) as error:
        raise BadTable(f"{path} is damaged: {error}.") from error


def verified_package(path: Path, trusted: tuple[TrustedKey, ...] = ()) -> PackageState:
    """What a package proves. Raises: BadTable for what is none."""
    files = files_in(path)
    if MANIFEST not in files:
        raise BadTable(f"{path} is no package of this program: {MANIFEST} is not in it.")
    try:
        manifest = json.loads(files[MANIFEST])
        stated, sha256 = dict(manifest["record"]["files"]), whole_hash(manifest)
        states = signature_states(manifest, sha256, trusted)
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise BadTable(f"{MANIFEST} of {path} was changed: {error}.") from error
    changes = [] if states and all(one.is_valid for one in states) else [f"{MANIFEST} is not as it was signed"]
    now = hashes_of({name: data for name, data in files.items() if name != MANIFEST})
    changes += [f"{name} was changed" for name in now if name in stated and stated[name] != now[name]]
    changes += [f"{name} was added" for name in now if name not in stated]
    changes += [f"{name} is gone" for name in stated if name not in now]
    signers = tuple(
        f"{one.signer.name}{f', trusted as {one.trusted_as}' if one.trusted_as else ', whose key is not trusted here'}"
        for one in states if one.is_valid
    )  # fmt: skip
    return PackageState(signers, tuple(changes), tuple(_records(files, trusted)))


def _records(files: Mapping[str, bytes], trusted: tuple[TrustedKey, ...]) -> list[tuple[str, tuple[str, ...]]]:
    """Each record of the package, and what was changed in it."""
    found: list[tuple[str, tuple[str, ...]]] = []
    for name, data in files.items():
        if not name.endswith(".record.json"):
            continue
        try:
            state = verified(checked_record(json.loads(data), name), trusted)
        except (YardstickError, ValueError, RecursionError) as error:
            found.append((name, (str(error),)))
            continue
        found.append((name, state.changes if state.is_whole else state.changes or ("it is not signed",)))
    return found


def unpack(path: Path, folder: Path) -> Path:
    """Unpack a package into a new folder; the job in it. Raises: BadTable where it is none, or the folder is there."""
    files = files_in(path)
    jobs = [name for name in files if name.endswith(ENDING) and "/" not in name]
    if len(jobs) != 1:
        raise BadTable(f"{path} holds {len(jobs)} jobs: expected a package with one.")
    if folder.exists():
        raise BadTable(f"{folder} is there already: nothing was unpacked. Move it away, or open the job in it.")
    places = {name: folder.joinpath(*_safe(path, name)) for name in files}
    try:
        for name, data in files.items():
            place = places[name]
            place.parent.mkdir(parents=True, exist_ok=True)
            place.write_bytes(data)
    except OSError as error:
        raise BadTable(f"{folder} cannot be written: {error.strerror or error}.") from error
    return folder / jobs[0]


def _safe(path: Path, name: str) -> tuple[str, ...]:
    """The parts of a name that stays within its folder. Raises: BadTable for any other."""
    parts = PurePosixPath(name.replace("\\", "/")).parts
    if not parts or any(part in ("..", "/", ".") or ":" in part or part.startswith("/") for part in parts):
        raise BadTable(f"{path} names a file outside its folder: {name}. Nothing was unpacked.")
    return parts
