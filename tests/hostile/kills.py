"""A program killed while it saves, captures or writes: nothing said to be kept is lost, no half table stands."""

import os
import random
import signal
import time
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from able_yardstick.app.frame.workbench import Workbench
from able_yardstick.bench.hub import Live
from able_yardstick.bench.link import Link
from able_yardstick.bench.modbus import Modbus
from able_yardstick.bench.recorder import Recorder
from able_yardstick.bench.writer import Place, read_table, write_table
from able_yardstick.core.document.sources import Feed, ManualSource, ModbusSource
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.journal.table_image import TableImage
from able_yardstick.core.results.signed_basis import signatures_of
from able_yardstick.core.sign.contents import Signing, contents_of
from able_yardstick.files.jobfile import JobFile, backup_of, read_job
from able_yardstick.files.log.reader import LogFile
from able_yardstick.files.records.keys import SigningKey
from able_yardstick.files.records.signed import read_record, verified
from able_yardstick.files.records.signing import records_folder, sign_channel
from able_yardstick.files.register.find import all_hashes
from able_yardstick.files.register.store import Register, url_of_file
from able_yardstick.files.register.take import take_file

NOON = datetime(2026, 11, 16, tzinfo=UTC)
_SIGNING_S = 0.8  # several records are signed in it


def killed(act: Callable[[Callable[[int], None]], None], chance: random.Random, longest_s: float = 0.05) -> int:
    """Run something in a process of its own and kill it at any moment; gives the last number it told, or -1."""
    ours, theirs = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(ours)
        with suppress(BaseException):
            act(lambda number: os.write(theirs, b"%d\n" % number) and None)
        os._exit(0)
    os.close(theirs)
    with os.fdopen(ours, "rb") as lines:
        first = lines.readline()
        time.sleep(chance.uniform(0, longest_s) if first else 0)
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        rest = [line for line in (first, *lines.readlines()) if line.endswith(b"\n")]
    return int(rest[-1]) if rest else -1


def for_ever(path: Path, step: Callable[[Workbench, int], None]) -> Callable[[Callable[[int], None]], None]:
    """Takes steps with a job, and tells the number of each once it is made."""

    def act(tell: Callable[[int], None]) -> None:
        bench = Workbench()
        bench.open(path)
        tell(-1)
        for n in range(100_000):
            step(bench, n)
            tell(n)

    return act


def capture(bench: Workbench, name: str, number: int) -> None:
    """Take a reading."""
    raw = Raw(mean=1.0)
    bench.capture([Reading(id=name, channel="pt-201", captured=NOON, reference=number, reference_unit="kPa", raw=raw)])


def rename(bench: Workbench, title: str) -> None:
    """Edit the job's title."""
    bench.edit("title", lambda job: job.with_(document=job.document.with_(title=title)))


def kill_captures(path: Path, chance: random.Random, mark: str) -> None:
    """Every reading that was told is in the file, whole, which opens at once."""
    told = killed(for_ever(path, lambda bench, n: capture(bench, f"{mark}{n}", n)), chance)
    held, job = JobFile.open(path)
    try:
        there = {one.id for one in job.readings}
        assert {f"{mark}{n}" for n in range(told + 1)} <= there, f"lost readings up to {told}"
        _leave_tidy(path)
        kept = tuple(one for one in job.readings if not one.id.startswith(mark))
        held.save(job.with_(readings=kept))
    finally:
        held.close()


def kill_edits(path: Path, chance: random.Random, mark: str) -> None:
    """The last edit that was told, or the one after it, is in the file."""
    told = killed(for_ever(path, lambda bench, n: rename(bench, f"{mark}{n}")), chance)
    held, job = JobFile.open(path)
    held.close()
    if told >= 0:
        assert job.title in (f"{mark}{told}", f"{mark}{told + 1}"), f"{job.title} after {told}"
    _leave_tidy(path)


def _leave_tidy(path: Path) -> None:
    if backup_of(path).exists():
        read_job(backup_of(path))
    assert [one.name for one in path.parent.glob(f".{path.name}.*.tmp")] == []


def kill_writes(
    source: ModbusSource, place: Place, images: tuple[TableImage, TableImage], chance: random.Random
) -> None:
    """Whatever moment a write is cut off, one of the two tables is in force, whole."""

    def act(tell: Callable[[int], None]) -> None:
        link = Modbus(source)
        link.open()
        for n in range(100_000):
            tell(n)
            write_table(link, place, images[n % 2])

    killed(act, chance)
    link = Modbus(source)
    link.open()
    try:
        found, _ = read_table(link, place)
    finally:
        link.close()
    assert any(not image.differences(found) for image in images), "a half table is in force"


def kill_signing(path: Path, key: SigningKey, chance: random.Random) -> int:
    """Whatever moment signing is cut off, every record is whole, and those that the job knows are there; how many."""

    def step(bench: Workbench, n: int) -> None:
        channel = bench.job.continuous("pt-201")
        signing = Signing("Ada", "technician", NOON + timedelta(seconds=n), accepted="trial")
        made = sign_channel(bench.job, channel, signing, key, records_folder(path))
        bench.record(lambda job: job.entered(signatures=[made.job.journal.signatures[-1]]))
        with Register(url_of_file(path.with_name("register.sqlite"))) as register:
            take_file(register, made.path)

    job = read_job(path)
    contents_of(
        job, job.continuous("pt-201"), Signing("Ada", "technician", NOON, accepted="x"), ""
    )  # so that it is loaded
    killed(for_ever(path, step), chance, _SIGNING_S)
    held, job = JobFile.open(path)
    held.close()
    there = {}
    for one in records_folder(path).glob("*.record.json"):
        found = verified(read_record(one))
        assert found.is_whole, one.name
        there[one.name] = found.sha256
    known = signatures_of(job, job.continuous("pt-201"))
    assert all(there.get(one.file) == one.sha256 for one in known), "the job knows a record that is not there"
    with Register(url_of_file(path.with_name("register.sqlite"))) as register:
        taken = [take_file(register, one) for one in records_folder(path).glob("*.record.json")]
        assert len(all_hashes(register)) == len(taken), "a record stands twice, or is lost"
    return len(there)


def kill_log(path: Path, chance: random.Random) -> float:
    """A log that is cut off opens, in order, and lacks at most its last second; gives how much it lacks, in s."""
    ours, theirs = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(ours)
        with suppress(BaseException):
            _log_for_ever(path, lambda: os.write(theirs, b"on\n") and None)
        os._exit(0)
    os.close(theirs)
    with os.fdopen(ours, "rb") as lines:
        assert lines.readline() == b"on\n"
        time.sleep(chance.uniform(0.0, 2.5))
        os.kill(child, signal.SIGKILL)
        ended_s = time.monotonic()
        os.waitpid(child, 0)
    with LogFile(path) as log:
        lacks = ended_s - max((one.last_s for one in log.series()), default=ended_s)
        for one in log.series():
            found = log.read(one)
            assert (found.sequences == range(len(found))).all(), "samples are missing in between"
    return lacks


def _log_for_ever(path: Path, begun: Callable[[], None]) -> None:
    """Log two streams at 100 Hz."""
    import numpy as np

    feeds = tuple(Feed(name=f"n{n}", channel=f"c{n}") for n in range(2))
    link = Link(ManualSource(id="hand", name="hand", feeds=feeds))
    lives = [Live(link, feed, link.streams[feed.name]) for feed in feeds]
    with Recorder(path, lives, Job.new("kills")):
        number = 0
        while True:
            now = time.monotonic()
            for live in lives:
                one = np.array([now])
                live.stream.append(one, one, np.array([float(number % 4096)]), np.array([number]), now)
            number += 1
            if number == 100:
                begun()
            time.sleep(0.01)
