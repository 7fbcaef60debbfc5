"""Logs on disk: columns come back bit for bit, blocks grow together, a kill loses nothing that was written."""

import signal
import sqlite3
import subprocess
import sys
import time

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from able_yardstick.core.journal.sample import BAD, Series
from able_yardstick.core.path.node import Met
from able_yardstick.core.words.errors import BadTable, NoSuchThing
from able_yardstick.files.log.columns import (
    packed_times,
    packed_values,
    packed_whole,
    unpacked_times,
    unpacked_values,
    unpacked_whole,
)
from able_yardstick.files.log.reader import LogFile
from able_yardstick.files.log.schema import BLOCK
from able_yardstick.files.log.writer import LogEvent, LoggedCalibration, LoggedFeed, LogWriter

FEEDS = (
    LoggedFeed("PT-201", "pt-201", "raw", "PT-201 raw", "Kiln controller", "counts", "counts"),
    LoggedFeed("PT-201", "pt-201", "shown", "PT-201 shown", "Kiln controller", "counts", "kPa"),
)


def series(start, count, values=None, unit="counts"):
    """Samples at 100 Hz with a little jitter, numbered from `start`."""
    numbers = np.arange(start, start + count)
    times = 500.0 + 0.01 * numbers + 1e-5 * np.sin(numbers)
    found = np.round(2000 + 300 * np.sin(numbers / 300)) if values is None else np.asarray(values, dtype=float)
    states = np.where(np.isfinite(found), 0, BAD).astype(np.uint8)
    reasons = {int(number): "the link dropped" for number in numbers[states == BAD]}
    return Series(times, 1.7e9 + times, found, numbers, states, reasons, Met("counts", unit))


@given(arrays.arrays(np.int64, st.integers(0, 300), elements=st.integers(-(2**62), 2**62)), st.integers(0, 2))
def test_whole_numbers_come_back(numbers, order):
    assert unpacked_whole(packed_whole(numbers, order), len(numbers)).tolist() == numbers.tolist()


@given(arrays.arrays(np.float64, st.integers(1, 300), elements=st.floats(width=64)))
def test_values_come_back_bit_for_bit(values):
    found = unpacked_values(packed_values(values), len(values))
    kept = np.where(np.isfinite(values), values, np.nan)  # an endless value is none
    assert np.array_equal(found, kept, equal_nan=True)
    assert np.array_equal(np.signbit(found[np.isfinite(kept)]), np.signbit(kept[np.isfinite(kept)]))


@given(arrays.arrays(np.float64, st.integers(1, 200), elements=st.floats(0, 2e9)))
def test_times_come_back_to_the_microsecond(times):
    found = unpacked_times(packed_times(times), len(times))
    assert np.max(np.abs(found - times)) <= 1e-6


@pytest.mark.parametrize("data", [b"", b"\x01", b"w\x00\x00\x00\x00zz", b"q123456"])
def test_damaged_columns_are_refused_in_words(data):
    with pytest.raises(BadTable, match="block of the log is damaged"):
        unpacked_values(data, 5)


def test_everything_that_was_put_in_comes_out_in_its_order(tmp_path):
    path = tmp_path / "a.yardlog"
    total = 2 * BLOCK + 777
    with LogWriter(path, FEEDS, {"job": "Kiln 2"}) as log:
        for start in range(0, total, 50):
            count = min(50, total - start)
            shown = 100 + np.sin(np.arange(start, start + count) / 500)
            log.append({0: series(start, count), 1: series(start, count, shown, "kPa")})
    with LogFile(path) as read:
        raw, shown = read.series()
        assert (raw.samples, raw.feed) == (total, FEEDS[0])
        whole, wanted = read.read(raw), series(0, total)
        assert np.array_equal(whole.values, wanted.values)
        assert np.array_equal(whole.sequences, wanted.sequences)
        assert np.max(np.abs(whole.times_s - wanted.times_s)) <= 1e-6
        assert np.max(np.abs(whole.walls_s - wanted.walls_s)) <= 2e-6
        assert np.array_equal(read.read(shown).values, 100 + np.sin(np.arange(total) / 500))
        assert whole.met == Met("counts", "counts")
        stretch = read.read(raw, 500 + 10.0, 500 + 20.0)
        assert (stretch.sequences[0], stretch.sequences[-1]) == (1000, 1999)
        assert read.about["job"] == "Kiln 2"
        assert read.of("pt-201", "shown").number == 1
        with pytest.raises(NoSuchThing, match=r"It has PT-201 raw, PT-201 shown\."):
            read.of("PT-999", "raw")
    assert path.stat().st_size < 6 * 2 * total  # two series


def test_gaps_events_and_calibrations_are_kept_in_order(tmp_path):
    path = tmp_path / "a.yardlog"
    with LogWriter(path, FEEDS, {}) as log:
        log.append(
            {0: series(0, 4, [1, 2, np.nan, 4])},
            [LogEvent(1.7e9, 501.0, "note", "", "burner lit")],
            [LoggedCalibration(1.7e9, 500.5, "pt-201", "abc", "{}")],
        )
    with LogFile(path) as read:
        found = read.read(read.series()[0])
        assert found.states.tolist() == [0, 0, BAD, 0]
        assert np.isnan(found.values[2])
        assert [(event.kind, event.says) for event in read.events()] == [
            ("gap", "the link dropped"), ("note", "burner lit"),
        ]  # fmt: skip
        assert [row.revision for row in read.calibrations()] == ["abc"]


@pytest.mark.parametrize("pixels", [40, 400, 4000, 400_000])
def test_an_envelope_holds_every_sample_at_any_width(tmp_path, pixels):
    path = tmp_path / "a.yardlog"
    total = 5 * BLOCK + 100
    spiked = series(0, total)
    spiked.values[12_345] = 4095.0
    with LogWriter(path, FEEDS, {}) as log:
        log.append({0: spiked})
    with LogFile(path) as read:
        one = read.series()[0]
        found = read.envelope(one, one.first_s, one.last_s + 1, pixels)
        assert len(found.times_s) <= max(4 * pixels, 200)
        assert np.nanmax(found.highs) == 4095.0
        assert np.nanmin(found.lows) == spiked.values.min()
        assert np.all(found.lows <= found.highs)


def test_a_log_never_writes_over_anything_and_says_what_it_is_not(tmp_path):
    path = tmp_path / "a.yardlog"
    path.write_text("mine")
    with pytest.raises(BadTable, match="never writes over anything"):
        LogWriter(path, FEEDS, {})
    with pytest.raises(BadTable, match="no log that can be read"):
        LogFile(path)
    with pytest.raises(BadTable, match="is not there"):
        LogFile(tmp_path / "b.yardlog")
    other = tmp_path / "c.db"
    base = sqlite3.connect(other)
    base.execute("CREATE TABLE about (name TEXT, value TEXT)")
    base.commit()
    base.close()
    with pytest.raises(BadTable, match="expected able-yardstick-log 1"):
        LogFile(other)


_WRITES = """
import sys, time
import numpy as np
from pathlib import Path
sys.path.insert(0, {tests!r})
from test_log_file import FEEDS, series
from able_yardstick.files.log.writer import LogWriter
log = LogWriter(Path({path!r}), FEEDS, {{}})
print("ready", flush=True)
start = 0
while True:
    log.append({{0: series(start, 500), 1: series(start, 500)}})
    start += 500
    print(start, flush=True)
"""


@pytest.mark.slow
def test_a_kill_at_any_moment_loses_nothing_that_was_told_written(tmp_path):
    draw = np.random.default_rng(5)
    for n in range(6):
        path = tmp_path / f"{n}.yardlog"
        script = _WRITES.format(tests=str(__file__).rpartition("/")[0], path=str(path))
        with subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True) as process:
            assert process.stdout.readline() == "ready\n"
            time.sleep(draw.uniform(0.05, 0.6))
            process.send_signal(signal.SIGKILL)
            told = [line for line in process.stdout.read().split("\n") if line]
        with LogFile(path) as read:
            for one in read.series():
                found = read.read(one)
                assert len(found) >= int(told[-1] if told else 0)
                assert np.array_equal(found.sequences, np.arange(len(found)))
