"""Where the chain stops before the range does: an amplifier at its rail, a clamp, a converter's end."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from ..stages import Amplifier, AnyStage
from ..stages.base import MILLI
from ..words.errors import YardstickError
from ..words.numerals import significant
from .channel import ContinuousChannel
from .once import once_per_record

_HALVINGS = 50
_SLACK = 1e-9


class Saturation(NamedTuple):
    """One end of the range that is not reached: the last value that is, in the channel's unit, and what stops there.

    `gain` is the one that would do for the part that stops, where another would.
    """

    end: Literal["lower", "upper"]
    value: float
    part: str
    gain: float | None

    def says(self, unit: str) -> str:
        """What cannot be read, and why, in a sentence."""
        beyond = "Above" if self.end == "upper" else "Below"
        return f"{beyond} {significant(self.value, 4)} {unit} nothing more is read: {self.part}"

    @property
    def cure(self) -> str:
        """The gain that would do; empty where no gain would."""
        return "" if self.gain is None else f"A gain of {significant(self.gain, 4)} would do."


class _Limit(NamedTuple):
    """What stands in the way of a value: the part, and the gain with which it would not."""

    part: str
    gain: float | None


@once_per_record
def saturations(channel: ContinuousChannel) -> tuple[Saturation, ...]:
    """The ends of the range that the chain does not reach; none where nothing is rated, or neither end is reached."""
    low, high = channel.range
    try:
        stopped = {end: _limit_at(channel, value) for end, value in (("lower", low), ("upper", high))}
    except YardstickError:
        return ()
    if None not in stopped.values():
        return ()
    found = list(_found(channel, stopped["lower"], stopped["upper"]))
    return tuple(found)


def _found(channel: ContinuousChannel, lower: _Limit | None, upper: _Limit | None) -> Iterator[Saturation]:
    low, high = channel.range
    if lower is not None:
        yield Saturation("lower", _last_value(channel, high, low), lower.part, lower.gain)
    if upper is not None:
        yield Saturation("upper", _last_value(channel, low, high), upper.part, upper.gain)


def _last_value(channel: ContinuousChannel, good: float, bad: float) -> float:
    """The last value that is read between one that is and one that is not."""
    for _ in range(_HALVINGS):
        middle = (good + bad) / 2
        if _limit_at(channel, middle) is None:
            good = middle
        else:
            bad = middle
    return good


def _limit_at(channel: ContinuousChannel, value: float) -> _Limit | None:
    """What keeps a value, in the channel's unit, from being read; None if it is read or nothing is rated."""
    part, path, around = channel.transducer, channel.path, channel.around
    curve = part.nominal(around)
    if curve is None:
        return None
    signal = float(curve.signal(float(channel.converted(value, channel.unit, part.unit)), around))
    for stage, load_ohm in path.loaded_stages():
        entered, signal = signal, float(stage.forward(signal, around, load_ohm))
        low, high = stage.output_limits
        if not low - _SLACK <= signal <= high + _SLACK:
            return _Limit(
                f"the {stage.title.lower()} ends at {significant(high if signal > high else low)} {stage.gives}",
                _gain_for(stage, entered, high if signal > high else low),
            )
    converter = path.converter
    if not converter.start - converter.per_count <= signal <= converter.end + converter.per_count:
        end = converter.end if signal > converter.end else converter.start
        return _Limit(f"the converter ends at {significant(end)} {converter.unit}", None)
    return None


def _gain_for(stage: AnyStage, entered: float, most: float) -> float | None:
    """The gain, in V per V, of an amplifier that brings the mV that enter it just to its rail."""
    if not isinstance(stage, Amplifier) or not entered:
        return None
    gain = MILLI * (most - stage.zero_v) / entered
    return gain if gain > 0 else None


def saturation_words(channel: ContinuousChannel) -> str:
    """What of the range cannot be read, in sentences; empty where all of it can."""
    return " ".join(f"{one.says(channel.unit)}." for one in saturations(channel))
