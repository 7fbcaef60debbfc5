"""Counters that wrap, digits that are garbled, clocks that jump: no sample is later than now, and leaps are said."""

import time

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.bench.counter import Counter
from able_yardstick.bench.link import Link, opened_by
from able_yardstick.bench.source import Batch, OpenSource, SourceClock
from able_yardstick.bench.stream import Stream
from able_yardstick.core.document.sources import ColumnFeed, Feed, ManualSource, ReplaySource
from able_yardstick.core.gather.steady import SteadyRule, steadiness


@given(
    width=st.sampled_from([1 << 8, 1 << 16, 1 << 32, 1000, 10_000]),
    steps=st.lists(st.integers(1, 9), min_size=2, max_size=60),
    data=st.data(),
)
def test_a_counter_goes_on_where_its_width_ends(width, steps, data):
    start = data.draw(st.integers(max(width - 100, 0), width - 1))
    true = start + np.cumsum(steps)
    found, leap = Counter().unwrapped(true % width, 50)
    assert np.diff(found).tolist() == steps[1:]
    assert leap == ""


@given(at=st.integers(1, 18), wrong=st.one_of(st.floats(allow_nan=True), st.integers(0, 10**12).map(float)))
def test_one_garbled_number_moves_no_other(at, wrong):
    numbers = np.arange(500.0, 520.0)
    numbers[at] = wrong
    counter = Counter()
    found, leap = counter.unwrapped(numbers, 100)
    assert np.all(np.diff(found) > 0)
    assert found[-1] - found[0] <= 19 + 2 * 100
    if abs(wrong - (500 + at)) > 300 or not np.isfinite(wrong):
        assert leap
        assert counter.leaps in (1, 2)


@given(
    clock=st.lists(st.floats(-1e9, 1e9) | st.sampled_from([0.0, 4294967.2, 4294967.29]), min_size=1, max_size=30),
    batches=st.integers(1, 5),
)
def test_whatever_a_clock_says_no_sample_is_later_than_now(clock, batches):
    ours, stream = SourceClock(wraps_s=2**32 / 1000), Stream()
    for n in range(batches):
        times = ours.ours(np.array(clock))
        now = time.monotonic()
        stream.append(times, times, np.ones(len(clock)), np.arange(len(clock)) + 1000 * n, now)
        kept = stream.window().times_s
        assert np.all(kept <= now)
        assert np.all(np.diff(kept) >= 0)


def test_the_end_of_a_millisecond_clock_is_no_leap():
    clock, wraps = SourceClock(wraps_s=2**32 / 1000), 2**32 / 1000
    clock.ours(np.array([wraps - 0.03, wraps - 0.02]))
    times = clock.ours(np.array([wraps - 0.01, 0.0, 0.01]))
    assert clock.leap == ""
    assert np.diff(times) == pytest.approx([0.01, 0.01])


def test_a_clock_set_back_is_said_and_followed_from_there():
    clock = SourceClock()
    clock.ours(np.array([100.0, 100.01]))
    times = clock.ours(np.array([7.0, 7.01]))
    assert "leapt" in clock.leap
    assert abs(times[-1] - time.monotonic()) < 0.3
    clock.ours(np.array([7.02]))
    assert clock.leap == ""


class Leaping(OpenSource):
    """A source whose second batch has doubtful times."""

    period_s = 0.01

    def __init__(self, spec):
        self.spec, self.polls = spec, 0

    def open(self):
        return "leaps"

    def poll(self):
        self.polls += 1
        if self.polls <= 40:
            now = time.monotonic()
            leap = "its clock leapt by 9 s" if self.polls == 20 else ""
            yield Batch("x", np.array([now]), np.array([5.0]), np.array([self.polls]), leap)

    def close(self):
        pass


def test_a_window_that_holds_a_leap_is_spoilt_in_words():
    link = Link(ManualSource(id="m", name="M", feeds=(Feed(name="x"),)), make=Leaping)
    link.start()
    while link.source.polls <= 40:
        time.sleep(0.01)
    link.stop()
    window = link.streams["x"].window()
    assert any("clock leapt by 9 s" in reason for reason in window.reasons.values())
    found = steadiness(window, SteadyRule(window_s=0.3, spread=1.0, slope=1.0))
    assert not found.steady
    assert "leapt" in found.reason


def replay(tmp_path, times, **changes):
    path = tmp_path / "log.csv"
    path.write_text("time (s),x\n" + "".join(f"{t:.9g},{n}\n" for n, t in enumerate(times)), encoding="utf-8")
    feeds = (ColumnFeed(name="x", column="x", node="pin", unit="V"),)
    return ReplaySource(id="r", name="R", path=str(path), time_column="time", feeds=feeds, **changes)


def test_a_log_whose_time_goes_back_or_leaps_says_so(tmp_path):
    source = opened_by(replay(tmp_path, [0, 1, 2, 1.5, 3, 4, 5000, 5001]))
    told = source.open()
    assert "goes back 1 time, first at line 5" in told
    assert "leaps by 4996 s at line 8" in told


def test_a_log_is_played_at_once_however_long_it_is(tmp_path):
    link = Link(replay(tmp_path, np.arange(150_000) * 1e-4, speed=10_000))
    link.start()
    while link.streams["x"].total < 150_000 and not link.status.error:
        time.sleep(0.01)
    link.stop()
    assert link.status.error == ""
    assert link.streams["x"].window(newest=3).values.tolist() == [149_997, 149_998, 149_999]


@pytest.mark.parametrize("jump_s", [3600.0, -3600.0])
def test_a_jump_of_the_clock_on_the_wall_moves_no_monotonic_time(jump_s, monkeypatch):
    link = Link(ManualSource(id="m", name="M", feeds=(Feed(name="x"),)), make=Leaping)
    link.start()
    while link.source.polls < 10:
        time.sleep(0.005)
    wall = time.time
    monkeypatch.setattr(time, "time", lambda: wall() + jump_s)
    while link.source.polls <= 19:
        time.sleep(0.005)
    link.stop()
    window = link.streams["x"].window()
    assert np.all(np.diff(window.times_s) >= 0)
    assert window.length_s < 5
    assert np.ptp(window.walls_s) > 3000  # the wall's own times are kept as they were


def test_after_a_suspension_a_window_is_not_taken_for_whole(monkeypatch):
    link = Link(ManualSource(id="m", name="M", feeds=(Feed(name="x"),)), make=Leaping)
    link.start()
    while link.source.polls < 10:
        time.sleep(0.005)
    steady = time.monotonic
    monkeypatch.setattr(time, "monotonic", lambda: steady() + 600.0)
    while link.source.polls <= 19:
        time.sleep(0.005)
    link.stop()
    window = link.streams["x"].window()
    assert window.length_s > 599
    rule = SteadyRule(window_s=2.0, spread=1.0, slope=1.0)
    assert not steadiness(window, rule).steady


def test_a_replay_goes_on_from_where_a_suspension_left_it(tmp_path, monkeypatch):
    """What was due meanwhile comes at once, and none of it is later than now."""
    link = Link(replay(tmp_path, np.arange(2000) * 0.01))
    link.start()
    while link.streams["x"].total < 20:
        time.sleep(0.01)
    steady = time.monotonic
    monkeypatch.setattr(time, "monotonic", lambda: steady() + 600.0)
    while link.streams["x"].total < 2000:
        time.sleep(0.01)
    now = time.monotonic()
    link.stop()
    window = link.streams["x"].window()
    assert np.all(window.times_s <= now)
    assert window.good.values.tolist() == list(range(2000))
