"""Columns of samples as bytes and back, without a loss: differences in the fewest bytes, then deflated.

Values that are whole, or that a single-precision number holds, are kept as those; all others as they are.
"""

import zlib

import numpy as np
from numpy.typing import NDArray

from ...core.words.errors import BadTable

Array = NDArray[np.float64]
WholeNumbers = NDArray[np.int64]
_MICRO = 1e6
_LEVEL = 6
_MOST_WHOLE = 2.0**53
_WIDTHS: tuple[str, ...] = ("<i1", "<i2", "<i4", "<i8")


def packed_whole(numbers: WholeNumbers, order: int) -> bytes:
    """WholeNumbers numbers (n,) by their differences of an order, each in as few bytes as the largest needs."""
    steps = np.asarray(numbers, dtype=np.int64)
    for _ in range(order):
        steps = np.diff(steps, prepend=np.int64(0))
    first = steps[:order].astype("<i8")  # the first ones are no differences: kept whole, so that they widen nothing
    rest = steps[order:]
    most = int(np.abs(rest).max()) if len(rest) else 0
    width = next(n for n, kind in enumerate(_WIDTHS) if most <= np.iinfo(kind).max)
    body = first.tobytes() + rest.astype(_WIDTHS[width]).tobytes()
    return bytes([order, width]) + zlib.compress(body, _LEVEL)


def unpacked_whole(data: bytes, count: int) -> WholeNumbers:
    """The numbers (count,) again. Raises: BadTable where the bytes are of no such column."""
    try:
        order, width = data[0], data[1]
        body = zlib.decompress(data[2:])
        first = np.frombuffer(body, "<i8", min(order, count))
        rest = np.frombuffer(body, _WIDTHS[width], max(count - order, 0), offset=8 * len(first))
    except (IndexError, ValueError, zlib.error) as error:
        raise BadTable("A block of the log is damaged: its numbers cannot be read.") from error
    steps = np.concatenate([first.astype(np.int64), rest.astype(np.int64)])
    for _ in range(order):
        steps = np.cumsum(steps)
    return steps


def packed_times(times_s: Array) -> bytes:
    """Times in s, to the microsecond."""
    return packed_whole(np.round(times_s * _MICRO).astype(np.int64), 2)


def unpacked_times(data: bytes, count: int) -> Array:
    """The times in s again, shape (count,). Raises: BadTable."""
    return unpacked_whole(data, count) / _MICRO


def packed_values(values: Array) -> bytes:
    """Values (n,), NaN where there is none, bit for bit."""
    missing = ~np.isfinite(values)
    filled = np.where(missing, 0.0, values)
    holes = zlib.compress(np.packbits(missing).tobytes(), _LEVEL) if missing.any() else b""
    head = len(holes).to_bytes(4, "little") + holes
    is_whole = bool(np.all(filled == np.rint(filled)) and np.all(np.abs(filled) < _MOST_WHOLE))
    if is_whole and not np.any(np.signbit(filled) & (filled == 0)):
        return b"w" + head + packed_whole(filled.astype(np.int64), 1)
    with np.errstate(over="ignore"):
        short = filled.astype("<f4")
    if np.array_equal(short.astype(float), filled):
        return b"f" + head + zlib.compress(_by_bytes(short), _LEVEL)
    return b"d" + head + zlib.compress(_by_bytes(filled.astype("<f8")), _LEVEL)


def _by_bytes(numbers: NDArray[np.generic]) -> bytes:
    """All first bytes, then all second ones …: alike bytes beside each other deflate better."""
    return numbers.view(np.uint8).reshape(len(numbers), numbers.itemsize).T.tobytes()


def unpacked_values(data: bytes, count: int) -> Array:
    """The values again, shape (count,). Raises: BadTable."""
    try:
        kind, size = data[:1], int.from_bytes(data[1:5], "little")
        holes, body = data[5 : 5 + size], data[5 + size :]
        if kind == b"w":
            values = unpacked_whole(body, count).astype(float)
        else:
            width = {b"f": "<f4", b"d": "<f8"}[kind]
            raw = np.frombuffer(zlib.decompress(body), np.uint8).reshape(-1, count)
            values = np.ascontiguousarray(raw.T).view(width).reshape(count).astype(float)
        if holes:
            missing = np.unpackbits(np.frombuffer(zlib.decompress(holes), np.uint8), count=count).astype(bool)
            values[missing] = np.nan
    except (KeyError, ValueError, zlib.error) as error:
        raise BadTable("A block of the log is damaged: its values cannot be read.") from error
    return values
