"""`trim` on the command line: numbers to change, what is left, and what it cannot know."""

import json

import pytest
from calling import run

from able_yardstick.demo import demo_text


@pytest.fixture
def line(tmp_path):
    path = tmp_path / "line.csv"
    path.write_text("signal V,value\n0,0\n5,100\n")
    return path


def checks(tmp_path, *rows):
    path = tmp_path / "checks.csv"
    path.write_text("reference,shown\n" + "".join(f"{true},{shown}\n" for true, shown in rows))
    return path


def told(*words):
    status, out, error = run("trim", *words, "--json")
    assert status == 0, error
    return json.loads(out)


def test_one_mismatch_is_an_offset_and_says_what_it_cannot_know(line, tmp_path):
    found = told(checks(tmp_path, (50, 50.4)), line, "--decimals", 3)
    assert found["numbers"]["slope"] == 20
    assert found["numbers"]["offset"] == pytest.approx(-0.4)
    assert found["in_signal"] == pytest.approx([0.02], abs=1e-9)
    assert found["left"] == pytest.approx([0.0], abs=1e-9)
    assert "whether the gain is off too it cannot" in found["advice"][0]


def test_a_gain_is_changed_with_the_evidence_and_left_alone_when_asked(line, tmp_path):
    file = checks(tmp_path, (0, 0.01), (50, 50.5), (100, 101))
    found = told(file, line, "--u", 0.1, "--decimals", 4, "--limit", "100mV")
    assert found["numbers"]["slope"] == pytest.approx(20 / 1.0099, abs=1e-3)
    assert max(map(abs, found["left"])) < 0.05
    assert len(found["advice"]) == 1
    only = told(file, line, "--u", 0.1, "--decimals", 4, "--offset-only")
    assert only["numbers"]["slope"] == 20
    assert only["left"] == pytest.approx([0.01 - 1.51 / 3, 0.5 - 1.51 / 3, 1 - 1.51 / 3], abs=1e-3)


def test_more_than_the_wiring_explains_points_at_the_return_lead(line, tmp_path):
    file = checks(tmp_path, (50, 52))
    assert "look at the return lead" in told(file, line)["advice"][-1]
    assert "return lead" not in told(file, line, "--limit", "150mV")["advice"][-1]
    status, _, error = run("trim", file, line, "--limit", "3mA")
    assert status == 2
    assert "mA" in error


def test_the_kept_numbers_of_a_job_are_trimmed_in_their_own_form(tmp_path):
    job = tmp_path / "kiln.yardstick.json"
    job.write_text(demo_text())
    file = checks(tmp_path, (2.01, 2.17), (8.0, 8.15), (14.99, 15.17))
    found = told(file, job, "AT-209", "--u", 0.03)
    assert (found["form"], found["unit"], found["gain"]) == ("knots", "% O2", 0.0)
    assert found["offset"] == pytest.approx(0.49 / 3)
    assert max(map(abs, found["left"])) < 0.04
    text = run("trim", file, job, "AT-209", "--u", "0.03")[1]
    assert "in the signal" in text
    status, _, error = run("trim", file, job, "AT-209", "--form", "slope")
    assert status == 2
    assert "packed as knots" in error
    status, _, error = run("trim", file, job, "TT-203")
    assert status == 2
    assert "nothing to trim" in error


def test_counts_of_a_file_stand_for_themselves(tmp_path):
    path = tmp_path / "counts.csv"
    path.write_text("counts,value\n400,10\n3600,90\n")
    found = told(checks(tmp_path, (50, 51)), path, "--full-count", 4000)
    assert found["numbers"]["slope"] * 1000 + found["numbers"]["offset"] == pytest.approx(24)
    assert found["in_signal"] == pytest.approx([40])
    status, _, error = run("trim", checks(tmp_path, (50, 51)), path, "--bits", 10)
    assert status == 2
    assert "converter ends at 1023" in error
