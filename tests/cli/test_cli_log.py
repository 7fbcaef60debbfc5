"""Logs by commands: exported, reckoned anew, compared in pairs; what is missing is said."""

import json

import numpy as np
import pytest
from calling import run

from able_yardstick.core.forms.straight import SlopeOffset
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.path.node import Met
from able_yardstick.demo import demo_text
from able_yardstick.files.log.writer import LoggedCalibration, LoggedFeed, LogWriter

JOB = Job.model_validate_json(demo_text())
TIMES = np.arange(0, 1200, 0.5)
LOW = next(alarm.limit for alarm in JOB.continuous("pt-201").alarms if alarm.kind == "low")
LEAST = round((LOW + 2 + 31.25) / 62.5 * 819)  # 2 kPa above the limit by the job's numbers, 3 below it by the old ones


@pytest.fixture
def log(tmp_path):
    """Twenty minutes of PT-201 raw, and of two probes of which the second jumps up in the middle."""
    feeds = (
        LoggedFeed("PT-201", "pt-201", "raw", "raw", "Kiln controller", "counts", "counts"),
        LoggedFeed("AT-208", "at-208", "shown", "a", "Kiln controller", "counts", "% O2"),
        LoggedFeed("AT-209", "at-209", "shown", "b", "Kiln controller", "counts", "% O2"),
    )
    draw = np.random.default_rng(1)
    oxygen = 8 + 0.3 * np.sin(TIMES / 40)
    rows = (
        np.round(LEAST + 800 + 800 * np.sin(TIMES / 100)), oxygen + draw.normal(0, 0.02, len(TIMES)),
        oxygen + draw.normal(0, 0.02, len(TIMES)) + 0.3 * (TIMES > 600),
    )  # fmt: skip
    record = JOB.pack_of("pt-201").with_(form=SlopeOffset(slope=62.5, offset=-36.25))
    path = tmp_path / "kiln.yardlog"
    with LogWriter(path, feeds, {}) as writer:
        samples = {n: Series.of(TIMES, row, Met("counts", feeds[n].unit)) for n, row in enumerate(rows)}
        writer.append(samples, (), [LoggedCalibration(0.0, 0.0, "pt-201", record.revision, record.model_dump_json())])
    return path


def test_a_stretch_is_exported_and_a_wrong_time_is_refused(log, tmp_path):
    into = tmp_path / "a.csv"
    _, out, _ = run("log-export", log, "--csv", into, "--channels", "AT-208,AT-209", "--from", "10", "--to", "20")
    assert "20 rows of 2 series" in out
    assert into.read_text().splitlines()[0] == '"time, UTC",s,AT-208 shown,AT-209 shown'
    status, _, error = run("log-export", log, "--csv", into, "--from", "yesterday")
    assert (status, "found “yesterday”" in error) == (2, True)
    assert "Expected where it goes" in run("log-export", log)[2]


def test_a_log_is_reckoned_anew_with_the_jobs_numbers(log, demo_file):
    found = json.loads(run("relog", log, "PT-201", "--job", demo_file, "--json")[1])
    assert found["samples"] == len(TIMES)
    record = JOB.pack_of("pt-201").form
    middle = (LEAST + 800) * 5 / 4095
    change = (record.slope * middle + record.offset) - (62.5 * middle - 36.25)
    assert found["difference"]["mean"] == pytest.approx(change, abs=0.3)
    assert [span["kind"] for span in found["alarms"]["lost"]] == ["low"] * len(found["alarms"]["lost"])
    assert found["alarms"]["lost"]
    assert "Expected --fit 1 to" in run("relog", log, "PT-201", "--job", demo_file, "--fit", "9")[2]
    assert "were in force" in run("relog", log, "AT-208", "--job", demo_file)[2]
    assert "No numbers are kept for IT-207" in run("relog", log, "IT-207", "--job", demo_file)[2]


def test_two_probes_that_part_are_told_with_the_moment_and_the_suspect(log, demo_file):
    status, out, _ = run("pairs", log, "AT-208", "AT-209", "--allowed", "0.16", "--job", demo_file, "--json")
    found = json.loads(out)
    assert status == 0  # 0.15 on the mean of the whole stretch
    assert found["difference"]["mean"] == pytest.approx(0.15, abs=0.005)
    low, high = found["parted_at"]["interval"]
    assert low <= 600 <= high
    assert found["parted_at"]["size"] == pytest.approx(0.3, abs=0.01)
    assert found["suspect"] == "AT-209"
    assert run("pairs", log, "AT-208", "AT-209", "--allowed", "0.1")[0] == 1
    assert "The log has no shown of PT-201" in run("pairs", log, "AT-208", "PT-201")[2]


def test_a_table_with_times_does_as_well(tmp_path, demo_file):
    draw = np.random.default_rng(2)
    path = tmp_path / "foreign.csv"
    rows = [f"2026-11-29T14:{n // 60:02d}:{n % 60:02d};{8 + draw.normal(0, 0.02):.3f};"
            f"{8 + draw.normal(0, 0.02) + 0.2 * (n > 900):.3f}".replace(".", ",") for n in range(1800)]  # fmt: skip
    path.write_text("\n".join(["time;AT-208;AT-209", *rows]))
    found = json.loads(run("pairs", path, "AT-208", "AT-209", "--json")[1])
    low, high = found["parted_at"]["interval"]
    assert low <= 900 <= high
    assert "has no column XX-1. It has AT-208, AT-209" in run("pairs", path, "AT-208", "XX-1")[2]
    counts = tmp_path / "counts.csv"
    counts.write_text("\n".join(["s,PT-201 raw", *(f"{n / 10},{1000 + n}" for n in range(500))]))
    assert json.loads(run("relog", counts, "PT-201", "--job", demo_file, "--json")[1])["difference"]["most"] == 0.0
    bad = tmp_path / "bad.csv"
    bad.write_text("a,b\n1,2\n")
    assert "has no column of times" in run("pairs", bad, "a", "b")[2]
    bad.write_text("time,a,b\n5,1,2\n4,1,2\n")
    assert "do not rise" in run("pairs", bad, "a", "b")[2]


def test_a_table_does_as_well_where_a_stretch_is_exported(tmp_path):
    path, into = tmp_path / "other.csv", tmp_path / "out.csv"
    rows = "\n".join(f"2026-11-29T10:00:{n:02d},{n},{2 * n}" for n in range(30))
    path.write_text(f"time,AT-208,AT-209 (%)\n{rows}\n")
    _, out, _ = run("log-export", path, "--csv", into, "--channels", "AT-209", "--from", "10", "--to", "20")
    assert "10 rows of 1 series" in out
    assert into.read_text().splitlines()[3] == "2026-11-29T10:00:10.000,0.0,20.0"
    assert "has no column AT-210" in run("log-export", path, "--csv", into, "--channels", "AT-210")[2]
