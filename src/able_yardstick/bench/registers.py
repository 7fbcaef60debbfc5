"""Numbers in Modbus registers: their words, and the fewest requests that read them."""

import struct
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.document.sources import MOST_REGISTERS, RegisterFeed, RegisterType, WordOrder
from ..core.words.errors import OutOfRange

Array = NDArray[np.float64]
Words = NDArray[np.uint16]
_CODES: dict[RegisterType, str] = {"u16": ">u2", "s16": ">i2", "u32": ">u4", "s32": ">i4", "f32": ">f4"}
_STRUCT: dict[RegisterType, str] = {"u16": ">H", "s16": ">h", "u32": ">I", "s32": ">i", "f32": ">f"}


class RegisterBlock(NamedTuple):
    """Registers that one request reads, and the feeds among them."""

    address: int
    length: int
    feeds: tuple[RegisterFeed, ...]


def blocks_of(feeds: Iterable[RegisterFeed], most: int = MOST_REGISTERS) -> tuple[RegisterBlock, ...]:
    """The fewest requests that read all feeds: from each first one on, as far as one request reaches.

    Registers between two feeds are read along. Taking every request as far as it goes is optimal for points on a line.
    """
    waiting = sorted(feeds, key=lambda feed: (feed.address, feed.words))
    found: list[RegisterBlock] = []
    while waiting:
        start = waiting[0].address
        taken = [feed for feed in waiting if feed.address + feed.words <= start + most]
        end = max(feed.address + feed.words for feed in taken)
        found.append(RegisterBlock(start, end - start, tuple(taken)))
        waiting = [feed for feed in waiting if feed not in taken]
    return tuple(found)


def decoded(words: Words, feed: RegisterFeed, at: int) -> Array:
    """A feed's values in rows of registers, shape (..., words) to (...,): `at` is its place in each row."""
    part = words[..., at : at + feed.words].astype(">u2")
    if feed.words == 2 and feed.word_order == "low word first":
        part = part[..., ::-1]
    raw = np.ascontiguousarray(part).view(_CODES[feed.type])[..., 0]
    return np.asarray(raw.astype(float) * feed.scale + feed.offset)


def encoded(value: float, kind: RegisterType, order: WordOrder = "high word first") -> list[int]:
    """The words of a value, in the order they are sent. Raises: OutOfRange if it does not fit the type."""
    try:
        data = struct.pack(_STRUCT[kind], value if kind == "f32" else round(value))
    except (struct.error, OverflowError, ValueError) as error:
        raise OutOfRange(f"{value:g} does not fit a register of type {kind}.", found=value) from error
    words = [int.from_bytes(data[n : n + 2], "big") for n in range(0, len(data), 2)]
    return words[::-1] if order == "low word first" else words


def ring_blocks(
    newest: int, known: int, slots: int, stride: int, most: int = MOST_REGISTERS
) -> Sequence[tuple[int, int]]:
    """First slot and number of slots of each request for the scans after `known` up to `newest`.

    Scans that the ring no longer holds are left out: a gap in their numbers tells of them.
    """
    first = max(known + 1, newest - slots + 2)  # the oldest slot may be written again while it is read
    each = max(most // stride, 1)
    found: list[tuple[int, int]] = []
    scan = first
    while scan <= newest:
        slot = scan % slots
        count = min(each, newest - scan + 1, slots - slot)
        found.append((slot, count))
        scan += count
    return found
