"""Alarms in words: where each trips and clears, and the breaks by which none comes."""

from collections.abc import Sequence

from ..document.channel import ContinuousChannel
from ..words.numerals import decimals_for, fixed, significant
from .breaks import AlarmBreak
from .tripping import AlarmPoint, Tripping

_FINE = 10_000  # parts of the span that a figure without a doubt is told to


def point_words(point: AlarmPoint | None, channel: ContinuousChannel) -> str:
    """A point with its count, signal, what is shown there and what that truly is."""
    if point is None:
        return "never: no count does it"
    decimals = decimals_for(point.doubt / 10 if point.doubt else channel.span / _FINE)
    true = "" if point.true is None else f", truly {fixed(point.true, decimals)}"
    doubt = "" if point.doubt is None else f" ± {significant(point.doubt, 2)}"
    pin = f"{significant(point.pin, 5)} {channel.path.pin_unit}"
    return f"at count {point.counts} ({pin}), shown as {fixed(point.shown, decimals)}{true}{doubt} {channel.unit}"


def tripping_words(one: Tripping, channel: ContinuousChannel) -> str:
    """An alarm in a few lines."""
    alarm = one.alarm
    sense = "at or above" if alarm.is_high else "at or below"
    delay = f", after {significant(alarm.delay_s)} s" if alarm.delay_s else ""
    head = f"{alarm.kind.capitalize()}: comes {sense} {significant(alarm.limit)} {channel.unit}{delay}"
    return f"{head}.\nTrips {point_words(one.trips, channel)}.\nClears {point_words(one.clears, channel)}."


def break_words(breaks: Sequence[AlarmBreak]) -> tuple[str, ...]:
    """A sentence for each break."""
    return tuple(f"{one.name.capitalize()}: {one.says}." for one in breaks)


def silent_breaks(breaks: Sequence[AlarmBreak]) -> tuple[str, ...]:
    """The breaks by which no alarm comes, though alarms are set."""
    return tuple(one.name for one in breaks if one.counts is not None and not one.comes)


def alarms_summary(found: Sequence[Tripping], breaks: Sequence[AlarmBreak]) -> str:
    """What stands, shortly."""
    if not found:
        return "none"
    names = ", ".join(f"{one.alarm.kind} {significant(one.alarm.limit)}" for one in found)
    silent = silent_breaks(breaks)
    return f"{names}; none comes by: {', '.join(silent)}" if silent else names
