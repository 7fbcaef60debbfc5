"""`mistakes` on the command line: causes of a job's checks or of a file's, and the table of seeded runs."""

import json
import re

import pytest
from calling import run


def test_checks_of_the_job_name_the_mistake_with_its_evidence(job):
    status, out, error = run("mistakes", job, "AT-209", "--json")
    assert status == 1, error
    found = json.loads(out)
    assert [one["name"] for one in found["causes"]] == ["ground offset"]
    assert found["causes"][0]["unit"] == "V"
    assert found["causes"][0]["value"] == pytest.approx(0.118, abs=0.015)
    assert found["undecided"] == []
    status, out, _ = run("mistakes", job, "AT-209")
    assert re.match(r"Ground offset: 12\d\.\d+ mV on the signal at the pin\. It alone explains the errors", out)
    assert "only an offset: explains 76" in out


def test_checks_of_a_file_with_their_uncertainty(job, tmp_path):
    """250 kPa shown as 25: the point is one place to the left."""
    file = tmp_path / "checks.csv"
    file.write_text("reference,shown\n25,2.5\n100,10\n180,18\n240,24\n")
    status, out, error = run("mistakes", job, "PT-201", "--checks", file, "--u", "0.2", "--json")
    assert status == 1, error
    found = json.loads(out)
    assert "decimal point" in [one["name"] for one in found["causes"]]
    status, _, error = run("mistakes", job, "PT-201", "--checks", file)
    assert status == 2
    assert "Without the uncertainty of each check" in error


def test_sound_checks_exit_with_0_and_both_arguments_are_asked_for(job):
    status, out, _ = run("mistakes", job, "AT-208")
    assert status == 0
    assert "no mistake to name" in out
    status, _, error = run("mistakes", job)
    assert status == 2
    assert "Give a job and a tag" in error


def test_the_table_of_seeded_runs_is_written(tmp_path):
    page = tmp_path / "mistakes.md"
    status, _, error = run("mistakes", "--confusion", "--runs", "1", "--seed", "9", "--into", page)
    assert status == 0, error
    assert page.read_text().count("\n| ") == 24
