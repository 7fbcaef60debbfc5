"""Numbers in Modbus registers, and the fewest requests that read them."""

import struct

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.bench.registers import blocks_of, decoded, encoded, ring_blocks
from able_yardstick.core.document.sources import RegisterFeed
from able_yardstick.core.words.errors import OutOfRange

LIMITS = {"u16": (0, 2**16 - 1), "s16": (-(2**15), 2**15 - 1), "u32": (0, 2**32 - 1), "s32": (-(2**31), 2**31 - 1)}


@given(st.data())
def test_a_whole_number_comes_back_from_its_registers(data):
    kind = data.draw(st.sampled_from(sorted(LIMITS)))
    order = data.draw(st.sampled_from(["high word first", "low word first"]))
    value = data.draw(st.integers(*LIMITS[kind]))
    words = np.array([7, *encoded(value, kind, order), 9], dtype=np.uint16)
    feed = RegisterFeed(name="x", address=0, type=kind, word_order=order)
    assert decoded(words, feed, 1) == value


@given(
    st.floats(width=32, allow_nan=False, allow_infinity=False), st.sampled_from(["high word first", "low word first"])
)
def test_a_float_comes_back_to_the_last_bit(value, order):
    feed = RegisterFeed(name="x", address=0, type="f32", word_order=order)
    assert decoded(np.array(encoded(value, "f32", order), dtype=np.uint16), feed, 0) == value


def test_the_high_word_is_the_one_the_standard_sends_first():
    assert encoded(1.0, "f32") == list(struct.unpack(">HH", struct.pack(">f", 1.0)))
    assert encoded(0x12345678, "u32") == [0x1234, 0x5678]
    assert encoded(0x12345678, "u32", "low word first") == [0x5678, 0x1234]
    assert encoded(-1, "s16") == [0xFFFF]


def test_what_does_not_fit_is_refused():
    with pytest.raises(OutOfRange, match="70000 does not fit a register of type u16"):
        encoded(70000, "u16")


def test_scale_and_offset_apply_to_every_row():
    feed = RegisterFeed(name="x", address=0, scale=0.1, offset=-40)
    rows = np.array([[400, 1], [650, 2]], dtype=np.uint16)
    assert decoded(rows, feed, 0) == pytest.approx([0.0, 25.0])


@given(
    st.sets(st.tuples(st.integers(0, 900), st.sampled_from(["u16", "f32"])), min_size=1, max_size=40),
    st.integers(4, 125),
)
def test_every_feed_is_in_one_request_and_no_request_is_too_long(places, most):
    feeds = [RegisterFeed(name=f"{at} {kind}", address=at, type=kind) for at, kind in places]
    blocks = blocks_of(feeds, most)
    found = [feed for block in blocks for feed in block.feeds]
    assert sorted(feed.name for feed in found) == sorted(feed.name for feed in feeds)
    for block in blocks:
        assert block.length <= most
        for feed in block.feeds:
            assert block.address <= feed.address <= feed.address + feed.words <= block.address + block.length
    singles = [feed for feed in feeds if feed.words == 1]
    if len(singles) == len(feeds):
        assert len(blocks) == _fewest([feed.address for feed in feeds], most)


def _fewest(addresses, most):
    """By trying every start: the fewest stretches of `most` registers that hold all addresses."""
    rest, count = sorted(set(addresses)), 0
    while rest:
        rest = [at for at in rest if at >= rest[0] + most]
        count += 1
    return count


@given(st.integers(0, 10_000), st.integers(0, 200), st.integers(8, 64), st.integers(5, 40))
def test_the_scans_of_a_ring_are_read_once_each_in_order(known, more, slots, stride):
    newest = known + more
    read = [slot + n for slot, count in ring_blocks(newest, known, slots, stride) for n in range(count)]
    expected = range(max(known + 1, newest - slots + 2), newest + 1)
    assert read == [scan % slots for scan in expected]
    assert all(count * stride <= max(125, stride) for _, count in ring_blocks(newest, known, slots, stride))
    assert all(slot + count <= slots for slot, count in ring_blocks(newest, known, slots, stride))


def test_nothing_new_needs_no_request():
    assert list(ring_blocks(50, 50, 64, 15)) == []
