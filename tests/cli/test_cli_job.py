"""A job made and filled without a window, to numbers for a controller."""

import json

import pytest
from calling import run

from able_yardstick.files.jobfile import JobFile, read_job


@pytest.fixture
def job(tmp_path):
    """An empty job."""
    status, out, _ = run("new", tmp_path / "bench", "--title", "Bench")
    assert status == 0
    path = tmp_path / "bench.yardstick.json"
    assert out.strip() == str(path)
    assert read_job(path).title == "Bench"
    return path


def done(*words):
    status, out, error = run(*words)
    assert (status, error) == (0, "")
    return out


def refused(*words):
    status, _, error = run(*words)
    assert status == 2
    return error


def test_a_script_does_what_a_hand_does(job):
    """250 kPa over 0.5 to 4.5 V, read three times in three units."""
    done("add", job, "PT-1", "--kind", "Pressure Ratiometric", "--name", "Burner gas")
    done("set", job, "PT-1", "transducer.range_high=250", "transducer.source=similar part",
         "transducer.rating.values=[0, 250]")  # fmt: skip
    done("read", job, "PT-1", "--reference", "0", "--raw", "0.503V; 0.505V", "--way", "up")
    done("read", job, "PT-1", "--reference", "1.25bar", "--raw", "2501mV", "--origin", "assumed")
    told = json.loads(done("read", job, "PT-1", "--reference", "250", "--raw", "3689counts", "--json"))
    assert (told["raw"]["node"], told["raw"]["digit"], told["source"]) == ("counts", 1.0, "command line")
    made = read_job(job)
    channel = made.tagged("PT-1")
    assert (channel.name, channel.range, channel.transducer.source) == ("Burner gas", (0.0, 250.0), "similar part")
    first, second, _ = [row.reading for row in made.amended(channel.id, "gather")]
    assert (first.raw.mean, first.raw.count, first.direction) == (pytest.approx(0.504), 2, "up")
    assert (second.reference, second.reference_unit, second.raw.unit, second.origin) == (1.25, "bar", "mV", "assumed")
    assert channel.in_unit(second.reference, second.reference_unit)[0] == pytest.approx(125.0)


def test_what_cannot_be_is_refused_and_nothing_is_set(job):
    done("add", job, "PT-1", "--kind", "Pressure Ratiometric")
    before = job.read_bytes()
    assert "was left as it is" in refused("new", job)
    assert "There are Pressure: Transmitter, 4 to 20 mA;" in refused("add", job, "X", "--kind", "4 to 20")
    assert "each must be distinct" in refused("add", job, "PT-1")
    assert "Names there: quantity, unit, range_low" in refused("set", job, "PT-1", "transducer.rang=3")
    both = refused("set", job, "PT-1", "name=new", "transducer.range_high=-3")
    assert "the range must run upwards" in both
    assert "Nothing was set." in both
    assert "“A” is read nowhere on the way of PT-1" in refused("read", job, "PT-1", "--reference", 1, "--raw", "4A")
    assert "Expected a number" in refused("read", job, "PT-1", "--reference", "soon", "--raw", "4V")
    neither = refused("read", job, "PT-1", "--reference", 1)
    assert "a reading needs the raw signal, or what the controller showed" in neither
    assert job.read_bytes() == before


def test_a_job_that_is_open_elsewhere_is_not_touched(job):
    held, _ = JobFile.open(job)
    try:
        assert "is open" in refused("add", job, "PT-1")
    finally:
        held.close()
