"""Edits of a channel's alarms."""

from ..document.alarm import Alarm, AlarmKind
from ..document.channel import ContinuousChannel


def alarm_of(channel: ContinuousChannel, kind: AlarmKind) -> Alarm | None:
    """The alarm of a kind; None where it is not set."""
    return next((one for one in channel.alarms if one.kind == kind), None)


def with_alarm(channel: ContinuousChannel, alarm: Alarm) -> ContinuousChannel:
    """The channel with an alarm in place of the one of its kind. Raises: InvalidRecord where it cannot stand there."""
    others = tuple(one for one in channel.alarms if one.kind != alarm.kind)
    return channel.with_(alarms=(*others, alarm))


def without_alarm(channel: ContinuousChannel, kind: AlarmKind) -> ContinuousChannel:
    """The channel without the alarm of a kind."""
    return channel.with_(alarms=tuple(one for one in channel.alarms if one.kind != kind))
