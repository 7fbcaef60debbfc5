"""A meter and the controller at the same terminal: their difference split into reference and offset."""

from typing import NamedTuple

from ..words.numerals import signed, significant

_APART_SHARE = 0.05


class MeterPair(NamedTuple):
    """What the controller takes the signal for, and what a meter read there at the same moment, both in V."""

    seen_v: float
    meter_v: float


class MeterSplit(NamedTuple):
    """seen = meter x gain + offset. One pair settles only one of the two; then the other is as it should be."""

    gain: float
    offset_v: float
    is_solved: bool
    says: str


def split_of(pairs: tuple[MeterPair, ...], span_v: float) -> MeterSplit | None:
    """The split by the two pairs furthest apart in a converter's span; by one pair both ways of reading it.

    A gain above 1 means that the converter's reference is lower than it believes, by as much. None without a pair.
    """
    if not pairs:
        return None
    low, high = min(pairs, key=lambda pair: pair.meter_v), max(pairs, key=lambda pair: pair.meter_v)
    if high.meter_v - low.meter_v < _APART_SHARE * span_v:
        return _one(pairs[-1])
    gain = (high.seen_v - low.seen_v) / (high.meter_v - low.meter_v)
    offset = low.seen_v - gain * low.meter_v
    says = (
        f"Two places settle it: offset {significant(1000 * offset, 2)} mV at the return, and a reference "
        f"{_percent(1 / gain - 1)} off its nominal."
    )
    return MeterSplit(gain, offset, True, says)


def _one(pair: MeterPair) -> MeterSplit:
    off = pair.seen_v - pair.meter_v
    start = f"The controller sees {significant(1000 * off, 3)} mV against the meter"
    if abs(pair.meter_v) < 1e-3 or abs(pair.seen_v) < 1e-3:
        return MeterSplit(1.0, off, False, f"{start}: at zero that is an offset at the return.")
    says = (
        f"{start}, {_percent(off / pair.meter_v)}. If all of it is offset, the return is off by that; if all of it is "
        f"the reference, that is {_percent(pair.meter_v / pair.seen_v - 1)} off. A second place tells: change "
        "the plant's state, look, and measure again."
    )
    return MeterSplit(1.0, off, False, says)


def _percent(share: float) -> str:
    return f"{signed(100 * share, 2)} %"
