"""A log reckoned anew with other numbers: old and new values of each count, and the alarms that come or not."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..document.alarm import Alarm
from ..document.channel import ContinuousChannel
from ..forms.any_form import AnyForm
from ..journal.sample import Series
from ..words.errors import NotApplicable

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
    doubt: Array | None = None  # half the width of what a new value may be, where only old values were kept

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
    good = counts if not counts.states.any() else counts.good  # GOOD is 0: nothing is copied of a sound log
    at = np.rint(good.values).astype(np.intp)
    before, after = old.take(at, mode="clip"), new.take(at, mode="clip")
    gained, lost = [], []
    for alarm in alarms:
        was, would = (alarm_spans(good.times_s, values, alarm) for values in (before, after))
        gained += [span for span in would if not _meets(span, was)]
        lost += [span for span in was if not _meets(span, would)]
    return Relogged(good.times_s, before, after, tuple(gained), tuple(lost))


def relogged_from_shown(shown: Series, old: Array, new: Array, alarms: tuple[Alarm, ...] = ()) -> Relogged:
    """Values that a controller showed, where no counts were kept: taken back through the numbers that made them.

    `old` and `new` are tables of values, shape (full count + 1,) each, in the channel's unit. As many counts show a
    value as its last digit hides: the new value is midway among theirs, `doubt` half their
    spread. Raises: NotApplicable where the old numbers do not run one way, so that a value has counts far apart.
    """
    steps = np.diff(old)
    if np.any(steps > 0) and np.any(steps < 0):
        raise NotApplicable("The old numbers do not run one way: what was shown cannot be taken back to counts.")
    good = shown.good
    rising = old if old[-1] >= old[0] else old[::-1]
    half = _last_digit(good.values) / 2
    first = np.searchsorted(rising, good.values - half, side="left")
    last = np.searchsorted(rising, good.values + half, side="right") - 1
    nearest = np.clip(np.searchsorted(rising, good.values), 0, len(rising) - 1)
    first, last = np.where(first > last, nearest, first), np.where(first > last, nearest, last)
    first, last = np.clip(first, 0, len(rising) - 1), np.clip(last, 0, len(rising) - 1)
    turned = new if old[-1] >= old[0] else new[::-1]
    ends = np.stack([turned[first], turned[last]])
    counts = (first + last) // 2 if old[-1] >= old[0] else len(old) - 1 - (first + last) // 2
    found = relogged(good.scaled(counts.astype(float)), old, new, alarms)
    return found._replace(old=good.values, new=ends.mean(axis=0), doubt=np.abs(ends[1] - ends[0]) / 2)


def _last_digit(values: Array) -> float:
    """The step of the last digit that values (n,) were kept to; 0 where they have all theirs."""
    for decimals in range(7):
        if np.allclose(values, np.round(values, decimals), rtol=0, atol=1e-9):
            return float(10.0**-decimals)
    return 0.0


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
