"""A log reckoned anew with other numbers: old and new values of each count, and the alarms that come or not."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..document.alarm import Alarm
from ..document.channel import ContinuousChannel
from ..forms.any_form import AnyForm
from ..journal.sample import Series

Array = NDArray[np.float64]


class AlarmSpan(NamedTuple):
    """While an alarm stood: from when to when, by the times given in s; the end is the last moment of the stretch."""

    kind: str
    start_s: float
    end_s: float


class Relogged(NamedTuple):
    """Old and new values at the moments of a log, shapes (n,), in the channel's unit; the alarms gained and lost."""

    times_s: Array
    old: Array
    new: Array
    gained: tuple[AlarmSpan, ...]
    lost: tuple[AlarmSpan, ...]

    @property
    def difference(self) -> Array:
        """New less old, shape (n,), in the channel's unit."""
        return self.new - self.old


def values_of_form(form: AnyForm, unit: str, channel: ContinuousChannel) -> Array:
    """What a controller shows at every count by a form in a unit, (full count + 1,), in the channel's unit."""
    converter = channel.path.converter
    shown = form.shown(converter.every_count(), converter.nominal)
    return np.asarray(channel.converted(shown, unit, channel.unit))


def values_of_curve(curve: Curve, channel: ContinuousChannel) -> Array:
    """The values of every count by a curve of the true signal at the pin, in the channel's unit; held at its limits."""
    converter = channel.path.converter
    return np.asarray(curve.value(np.clip(converter.inverse(converter.every_count()), *curve.limits)))


def relogged(counts: Series, old: Array, new: Array, alarms: tuple[Alarm, ...] = ()) -> Relogged:
    """Counts of a log by an old and a new table of values, shape (full count + 1,) each, in the channel's unit.

    The arithmetic is that of the controller, count by count: a log of any length costs two look-ups a sample.
    """
    good = counts.good
    at = np.clip(np.rint(good.values), 0, len(old) - 1).astype(np.int64)
    before, after = old[at], new[at]
    gained, lost = [], []
    for alarm in alarms:
        was, would = (alarm_spans(good.times_s, values, alarm) for values in (before, after))
        gained += [span for span in would if not _meets(span, was)]
        lost += [span for span in was if not _meets(span, would)]
    return Relogged(good.times_s, before, after, tuple(gained), tuple(lost))


def _meets(span: AlarmSpan, others: tuple[AlarmSpan, ...]) -> bool:
    return any(span.start_s <= other.end_s and other.start_s <= span.end_s for other in others)


def alarm_spans(times_s: Array, values: Array, alarm: Alarm) -> tuple[AlarmSpan, ...]:
    """While an alarm stands over values (n,) at times in s (n,): its delay is waited for, its dead band held.

    Only the moments at which anything changes are gone through.
    """
    if not len(values):
        return ()
    past = values >= alarm.limit if alarm.is_high else values <= alarm.limit
    clear = values < alarm.clears_at if alarm.is_high else values > alarm.clears_at
    state = np.where(past, 1, np.where(clear, -1, 0))
    changes = np.flatnonzero(np.diff(state, prepend=state[0] - 1))
    found: list[AlarmSpan] = []
    since: float | None = None
    started: float | None = None
    for n, at in enumerate(changes.tolist()):
        ends = float(times_s[changes[n + 1]]) if n + 1 < len(changes) else float(times_s[-1])
        if state[at] == 1:
            since = float(times_s[at]) if since is None else since
            if started is None and ends - since >= alarm.delay_s:
                started = since + alarm.delay_s
        else:
            since = None
            if state[at] == -1 and started is not None:
                found.append(AlarmSpan(alarm.kind, started, float(times_s[at])))
                started = None
    if started is not None:
        found.append(AlarmSpan(alarm.kind, started, float(times_s[-1])))
    return tuple(found)
