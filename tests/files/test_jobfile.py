"""The job file: whole at any moment, never written over when damaged, locked while open."""

import json
import os
import signal
import subprocess
import sys
from datetime import UTC, datetime
from pathlib import Path

import pytest

from able_yardstick.core.job.entries import exclude
from able_yardstick.core.job.job import Job
from able_yardstick.core.results.basis import stale_fit, stale_pack
from able_yardstick.core.words.errors import BadJob
from able_yardstick.files.jobfile import JobFile, backup_of, read_job, with_ending, write_job

NOON = datetime(2026, 11, 20, 12, tzinfo=UTC)
SCHEMA = Path(__file__).parents[2] / "docs" / "job-schema.json"


def test_a_job_is_read_back_as_written(tmp_path, demo_job):
    path = tmp_path / "a.yardstick.json"
    write_job(path, demo_job)
    assert read_job(path) == demo_job
    assert list(tmp_path.iterdir()) == [path]


def test_the_committed_schema_is_that_of_the_models():
    assert json.loads(SCHEMA.read_text("utf-8")) == Job.model_json_schema()


DAMAGE = {
    "cut off": (lambda text: text[: len(text) // 2], "it is no whole JSON text at line"),
    "not a job": (lambda _: "[1, 2]", "expected a job of Able Yardstick"),
    "not text": (lambda _: "\ufeff\x00", "no whole JSON text"),
    "wrong value": (lambda text: text.replace('"bits":12', '"bits":99', 1), "is damaged: document → channels → 0"),
    "newer": (lambda text: text.replace('"version": 5', '"version": 6', 1), "was written by a newer program"),
    "nested": (lambda _: "[" * 100_000, "no whole JSON text"),
}


@pytest.mark.parametrize("kind", sorted(DAMAGE))
def test_a_damaged_file_is_refused_in_words_and_left_as_it_is(demo_file, kind):
    spoil, words = DAMAGE[kind]
    demo_file.write_text(spoil(demo_file.read_text("utf-8")), encoding="utf-8")
    before = demo_file.read_bytes()
    with pytest.raises(BadJob) as refusal:
        JobFile.open(demo_file)
    assert words in str(refusal.value)
    assert str(demo_file) in str(refusal.value)
    assert demo_file.read_bytes() == before
    JobFile(demo_file).close()  # not left locked


def test_the_refusal_names_the_copy_before_the_last_save(demo_file, demo_job):
    held, job = JobFile.open(demo_file)
    held.save(job.with_(title="Changed"))
    held.close()
    assert read_job(backup_of(demo_file)).title == demo_job.title
    demo_file.write_text("{")
    with pytest.raises(BadJob, match=r"The copy before the last save is .*\.bak"):
        read_job(demo_file)


def test_a_job_open_elsewhere_is_locked(demo_file):
    held, _ = JobFile.open(demo_file)
    with pytest.raises(BadJob, match="is open in another window"):
        JobFile.open(demo_file)
    held.close()
    JobFile.open(demo_file)[0].close()


def test_a_file_changed_by_another_program_is_not_written_over(demo_file):
    held, job = JobFile.open(demo_file)
    demo_file.write_text("{}")
    with pytest.raises(BadJob, match="was changed by another program"):
        held.save(job)
    assert demo_file.read_text() == "{}"
    held.close()


def test_names_get_the_ending_once():
    assert with_ending(Path("a")).name == with_ending(Path("a.yardstick.json")).name == "a.yardstick.json"


CAPTURE_FOR_EVER = """
import sys
from datetime import UTC, datetime
from pathlib import Path
from able_yardstick.app.frame.workbench import Workbench
from able_yardstick.core.journal.reading import Raw, Reading
bench = Workbench()
bench.open(Path(sys.argv[1]))
for n in range(100000):
    noon = datetime(2026, 11, 16, tzinfo=UTC)
    reading = Reading(id=f"k{n}", channel="pt-201", captured=noon, reference=n, reference_unit="kPa", raw=Raw(mean=1.0))
    bench.capture([reading])
    print(n, flush=True)
"""


def test_killing_the_program_loses_no_reading_that_was_shown_as_captured(demo_file):
    for after in (1, 7, 23):
        run = subprocess.Popen(
            [sys.executable, "-c", CAPTURE_FOR_EVER, str(demo_file)], stdout=subprocess.PIPE, text=True
        )
        said = -1
        while said < after:
            said = int(run.stdout.readline())
        os.kill(run.pid, signal.SIGKILL)
        rest = run.stdout.read().split()
        run.stdout.close()
        run.wait()
        said = int(rest[-1]) if rest else said
        job = read_job(demo_file)
        kept = {reading.id for reading in job.readings}
        assert {f"k{n}" for n in range(said + 1)} <= kept
        write_job(demo_file, job.with_(readings=tuple(r for r in job.readings if not r.id.startswith("k"))))


VERSIONS = Path(__file__).parent / "versions"


@pytest.mark.parametrize("version", [1, 2, 3, 4])
def test_a_job_of_an_earlier_version_opens_as_it_was_written(version, tmp_path):
    path = VERSIONS / f"kiln-2.version-{version}.yardstick.json"
    before = path.read_bytes()
    old, job = json.loads(before), read_job(path)
    assert path.read_bytes() == before
    assert job.version == 5
    assert [one.tag for one in job.channels] == [one["tag"] for one in old["channels"]]
    assert [one.id for one in job.readings] == [one["id"] for one in old["readings"]]
    assert [one.reference for one in job.readings] == [one["reference"] for one in old["readings"]]
    assert len(job.document.fits) == len(old["fits"])
    assert len(job.journal.packs) == len(old["packs"])
    assert len(job.journal.looks) == len(old.get("wakes", []))
    write_job(tmp_path / "new.yardstick.json", job)
    assert read_job(tmp_path / "new.yardstick.json") == job


@pytest.mark.parametrize("version", [1, 2, 3, 4])
def test_what_an_earlier_version_made_stands_where_it_comes_out_the_same(version):
    job = read_job(VERSIONS / f"kiln-2.version-{version}.yardstick.json")
    assert {tag: stale_fit(job, job.continuous(tag)) for tag in ("pt-201", "at-208", "at-209")} == {
        "pt-201": (), "at-208": (), "at-209": ()
    }  # fmt: skip
    otherwise = "an earlier version of the program made it, and it comes out otherwise now"
    assert stale_fit(job, job.continuous("pt-202")) == (
        otherwise,
    )  # it was fitted to readings that were left out since
    assert stale_pack(job, job.continuous("at-208")) == (() if version == 4 else (otherwise,))


def test_what_an_earlier_version_made_is_stale_once_its_readings_change():
    job = read_job(VERSIONS / "kiln-2.version-4.yardstick.json")
    first = job.amended(job.continuous("pt-201").id, "gather")[0].reading.id
    job = exclude(job, [first], "read too soon", NOON)
    assert stale_fit(job, job.continuous("pt-201")) != ()
    assert stale_pack(job, job.continuous("pt-201")) != ()


def test_a_record_is_put_into_words_once(tmp_path, demo_job):
    path = tmp_path / "a.yardstick.json"
    write_job(path, demo_job)
    made = [one.json_text for one in demo_job.readings]
    write_job(path, demo_job.with_(title="Other"))
    assert all(now is then for now, then in zip((one.json_text for one in demo_job.readings), made, strict=True))
    assert read_job(path) == demo_job.with_(title="Other")
