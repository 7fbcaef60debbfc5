"""The live bench from the command line, each as a process against a rig of its own."""

import json
import subprocess
import sys

import pytest

from able_yardstick.demo import fresh_copy
from able_yardstick.files.jobfile import read_job
from rigging import start_rig, stop_rig

FAULTS = ("--fault", "PT-202=open", "--fault", "AT-209=chassis-ground", "--fault", "WT-206=stuck")


@pytest.fixture(scope="module")
def job_file(tmp_path_factory):
    """A job whose sources were turned to a running rig with faults."""
    path = fresh_copy(tmp_path_factory.mktemp("job"))
    process, _ = start_rig("--seed", "7", "--speed", "3", "--for", str(path), *FAULTS)
    yield path
    stop_rig(process)


def run(*arguments):
    return subprocess.run(
        [sys.executable, "-m", "able_yardstick", *map(str, arguments)], capture_output=True, text=True, timeout=120
    )


def test_sources_are_checked_one_by_one(job_file):
    done = run("sources", job_file, "--check", "--json")
    rows = {row["id"]: row for row in json.loads(done.stdout)}
    assert done.returncode == 0
    assert rows["controller"]["answers"]
    assert 10 < rows["controller"]["rate_hz"] < 130  # 100 are asked for; a busy machine gives fewer
    assert rows["gauge"]["what"] == "Rig,Reference bench,RB-01,1.0"
    assert "answers" not in rows["logger"]
    assert "Kiln controller  (Modbus, 127.0.0.1:" in run("sources", job_file).stdout


def test_sources_that_do_not_answer_make_the_answer_no(tmp_path):
    path = fresh_copy(tmp_path)
    text = path.read_text("utf-8")
    for port in ("45021", "45025", "45026"):
        text = text.replace(port, "1")
    path.write_text(text, "utf-8")
    done = run("sources", path, "--check")
    assert done.returncode == 1
    assert "does not answer: Nothing answers at 127.0.0.1:1" in done.stdout


@pytest.mark.parametrize(
    ("tag", "extra", "first", "others"),
    [
        ("PT-202", (), "open lead", {"no supply", "swapped leads"}),
        ("PT-202", ("--supply", "24.1", "--ohms", "inf"), "open lead", set()),
        ("AT-209", ("--drive",), "chassis-ground offset", set()),
        ("WT-206", ("--drive",), "stuck", set()),
        ("PT-201", ("--drive", "--state", "regulator at 100 kPa"), "healthy", set()),
    ],
)
def test_wake_names_the_cause_and_its_evidence(job_file, tag, extra, first, others):
    done = run("wake", job_file, tag, "--seconds", "5", "--json", *extra)
    found = json.loads(done.stdout)
    assert found["verdict"] == first
    assert others <= {one["cause"] for one in found["causes"]}
    assert (done.returncode == 0) == (first == "healthy")
    assert found["causes"][0]["why"]
    assert found["rate_hz"] == pytest.approx(100, rel=0.05)


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("PT-201", "--state", "moonlight"), "PT-201 has no state “moonlight”. It has “gas shut, line vented”"),
        (("WQ-212",), "WQ-212 is a constant channel: it has no signal to wake"),
        (("PT-201", "--nudge", "sideways"), "Expected --nudge up or --nudge down"),
    ],
)
def test_wake_refuses_what_it_cannot_do(job_file, arguments, words):
    done = run("wake", job_file, *arguments, "--seconds", "1")
    assert done.returncode == 2
    assert words in done.stderr


def test_gather_drives_the_stops_and_leaves_the_readings_in_the_job(job_file):
    before = len(read_job(job_file).readings)
    done = run("gather", job_file, "PT-201", "--stops", "0,125,250,125,0", "--json")
    assert done.returncode == 0, done.stderr
    taken = json.loads(done.stdout)["readings"]
    assert [round(one["reference"] / 5) * 5 for one in taken] == [0, 125, 250, 125, 0]
    assert [one["direction"] for one in taken] == ["up", "up", "up", "down", "down"]
    assert [one["set_value"] for one in taken] == [0, 125, 250, 125, 0]
    kept = read_job(job_file).readings[before:]
    assert [one.id for one in kept] == [one["id"] for one in taken]
    assert all(one.shown is not None and one.reference_id == "RP-12" for one in kept)


def test_gather_refuses_a_stop_that_would_harm(job_file):
    done = run("gather", job_file, "PT-201", "--stops", "420")
    assert done.returncode == 2
    assert "beyond what the transducer survives" in done.stderr


def test_the_table_of_causes_can_be_made_anew(tmp_path):
    path = tmp_path / "table.md"
    assert run("confusion", "--runs", "2", "--seed", "5", "--into", path).returncode == 0
    assert "| open lead | 2 | 2 | 2 | 2 | – |" in path.read_text("utf-8")
