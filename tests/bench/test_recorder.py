"""The recorder over the rig's real protocols: nothing lost, notes and calibrations kept, the past before it began."""

import json
import signal
import subprocess
import sys
import time

import numpy as np
import pytest

from able_yardstick.bench.hub import Hub
from able_yardstick.bench.recorder import Recorder
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.words.errors import NotApplicable
from able_yardstick.files.jobfile import JobFile
from able_yardstick.files.log.reader import LogFile
from rigging import places_of, start_rig, stop_rig, until


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


@pytest.fixture
def hub(rig, demo_job):
    made = Hub()
    made.run(with_places(demo_job, rig))
    until(lambda: made.of_channel("pt-201", "raw").stream.total > 0)
    yield made
    made.stop()
    made.wait()


def test_every_scan_is_kept_with_its_number_and_both_clocks(hub, demo_job, tmp_path):
    with Recorder(tmp_path / "a.yardlog", hub.feeds(), demo_job) as recorder:
        recorder.note("burner lit", channel="pt-201")
        time.sleep(2.0)
        totals = recorder.stop()
    assert totals.lost == 0
    with LogFile(tmp_path / "a.yardlog") as read:
        raw = read.read(read.of("PT-201", "raw"))
        assert len(raw) > 150
        assert np.array_equal(np.diff(raw.sequences), np.ones(len(raw) - 1))
        assert abs(float(raw.walls_s[-1]) - time.time()) < 10
        assert sum(one.samples for one in read.series()) == totals.kept
        assert {"raw", "shown", "reference", "alarms"} <= {one.feed.role for one in read.series()}
        assert [event.says for event in read.events() if event.kind == "note"] == ["burner lit"]
        kept = {row.channel: row.revision for row in read.calibrations()}
        assert kept["pt-201"] == demo_job.pack_of("pt-201").revision
        assert json.loads(read.about["document"])["title"] == demo_job.title


def test_the_seconds_before_it_began_are_kept_too(hub, demo_job, tmp_path):
    until(lambda: hub.of_channel("pt-201", "raw").stream.window().length_s > 1.5)
    Recorder(tmp_path / "a.yardlog", hub.feeds(), demo_job, past_s=1.0).stop()
    with LogFile(tmp_path / "a.yardlog") as read:
        assert read.read(read.of("PT-201", "raw")).length_s == pytest.approx(1.0, abs=0.3)


def test_without_a_source_there_is_nothing_to_log(demo_job, tmp_path):
    with pytest.raises(NotApplicable, match="No source gives anything to log"):
        Recorder(tmp_path / "a.yardlog", (), demo_job)


def test_the_command_logs_until_it_is_interrupted_and_tells_what_it_kept(rig, demo_job, tmp_path):
    job, path = tmp_path / "job.json", tmp_path / "a.yardlog"
    JobFile.create(job, demo_job.with_(sources=with_places(demo_job, rig))).close()
    command = [sys.executable, "-m", "able_yardstick", "log", str(job), "--into", str(path), "--note", "by hand"]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    until(path.exists)
    time.sleep(1.5)
    process.send_signal(signal.SIGINT)
    out, err = process.communicate(timeout=20)
    assert process.returncode == 0, err
    assert json.loads(out)["kept"] > 500
    with LogFile(path) as read:
        assert read.events()[0].says == "by hand"
