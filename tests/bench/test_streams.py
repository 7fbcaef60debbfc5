"""Streams of samples: bounded, in order, gaps left open, losses counted."""

import threading

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.bench.stream import Stream
from able_yardstick.core.journal.sample import BAD


def put(stream, numbers, values=None):
    numbers = np.array(numbers)
    times = numbers / 100.0
    stream.append(
        times, times, np.array(values if values is not None else numbers, dtype=float), numbers, float(times[-1])
    )


@given(st.lists(st.integers(1, 300), min_size=1, max_size=30))
def test_a_stream_keeps_the_newest_in_order(sizes):
    stream = Stream(capacity=1000)
    numbers = np.arange(sum(sizes))
    for end, size in zip(np.cumsum(sizes), sizes, strict=True):
        put(stream, numbers[end - size : end])
    window = stream.window()
    assert len(window) <= 1000
    assert list(window.sequences) == list(numbers[-len(window) :])
    assert (window.lost, window.out_of_order, stream.lost, stream.total) == (0, 0, 0, len(numbers))
    assert len(window) >= min(len(numbers), 300)


def test_missing_numbers_are_counted_as_lost():
    stream = Stream()
    put(stream, [1, 2, 3])
    put(stream, [7, 8])
    assert stream.lost == 3
    assert stream.window().lost == 3
    put(stream, [5])
    assert stream.out_of_order == 1
    put(stream, [5000])
    put(stream, [1, 2])  # the source started anew
    assert stream.out_of_order == 1


def test_a_gap_is_marked_once_and_never_filled():
    stream = Stream()
    put(stream, [1, 2, 3])
    stream.mark_gap("no answer")
    stream.mark_gap("no answer")
    put(stream, [9])
    window = stream.window()
    assert [sample.state for sample in window] == ["good", "good", "good", "bad", "good"]
    bad = list(window)[3]
    assert (bad.value, bad.reason) == (None, "no answer")
    assert list(window.good.values) == [1, 2, 3, 9]


def test_a_value_that_is_no_number_is_bad():
    stream = Stream()
    put(stream, [1, 2], [1.0, np.nan])
    assert stream.window().states[1] == BAD


def test_after_gives_only_what_is_later():
    stream = Stream()
    put(stream, [10, 20, 30])
    assert list(stream.after(0.2).sequences) == [30]
    assert list(stream.window(seconds=0.1).sequences) == [20, 30]
    assert list(stream.window(newest=2).sequences) == [20, 30]


def test_a_reader_beside_a_writer_never_sees_a_torn_stretch():
    stream = Stream(capacity=5000)
    wrong = []

    def read():
        for _ in range(400):
            window = stream.window()
            if len(window) and not (np.diff(window.sequences) == 1).all():
                wrong.append(window)

    reader = threading.Thread(target=read)
    reader.start()
    for start in range(0, 40_000, 40):
        put(stream, range(start, start + 40))
    reader.join()
    assert wrong == []
