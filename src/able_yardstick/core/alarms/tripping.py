"""The very counts at which alarms trip and clear, by the controller's own arithmetic, and the true values there."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.alarm import Alarm
from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..document.once import once_per_slice
from ..fit.budget import reach_of
from ..forms.any_form import AnyForm
from ..job.in_force import curve_in_use, kept_packing
from ..job.job import Job
from ..wire.error_budget import budget_at
from ..words.errors import NotApplicable, YardstickError
from .fault_band import fault_band

Array = NDArray[np.float64]


class AlarmPoint(NamedTuple):
    """Where an alarm changes: the first count that does it, the signal where that begins, what is then shown.

    `true` is the value truly there by the channel's curve and `doubt` its U, in the channel's unit; None where nothing
    is known of it.
    """

    counts: int
    pin: float
    shown: float
    true: float | None
    doubt: float | None


class Tripping(NamedTuple):
    """An alarm with where it comes as the value goes towards it, and where it goes; None where it never does."""

    alarm: Alarm
    trips: AlarmPoint | None
    clears: AlarmPoint | None


class Believed(NamedTuple):
    """What alarms see at every count, (full count + 1,) in the channel's unit, and which counts are no value at all.

    A fault reads as without end, up or down, where the controller says so, and as no number where the last is held.
    """

    seen: Array
    is_fault: NDArray[np.bool_]
    rises: bool


_READS = {"reads low": -np.inf, "reads high": np.inf, "last value held": np.nan}


@once_per_slice
def believed_values(job: Job, channel: ContinuousChannel) -> Believed:
    """What the alarms of a channel see of each count. Raises: NotApplicable without numbers or a described curve."""
    shown = _shown_everywhere(job, channel)
    converter = channel.path.converter
    counts = converter.every_count()
    band = fault_band(channel)
    # limits of its own a controller holds against what it takes its counts for, a sensor's are true ones
    signals = (converter.nominal if channel.fault_rule.stated else converter).inverse(counts)
    is_fault = np.zeros(len(counts), dtype=bool)
    if band is not None:
        slack = converter.per_count * 1e-6
        is_fault = (signals < band.low - slack) | (signals > band.high + slack)
    seen = shown.copy()
    if channel.fault_rule.on_fault != "shown as it is":
        seen[is_fault] = _READS[channel.fault_rule.on_fault]
    return Believed(seen, is_fault, _rises(channel, shown))


def _shown_everywhere(job: Job, channel: ContinuousChannel) -> Array:
    """What the controller shows at every count: by the numbers kept, else by the curve that they would be made from."""
    converter = channel.path.converter
    record = kept_packing(job, channel)
    if record is not None:
        return _of_form(record.form, record.unit, channel)
    use = curve_in_use(job, channel)
    if use is None:
        raise NotApplicable(
            f"{channel.tag} has neither numbers nor a curve: nothing says what trips an alarm. Pack it."
        )
    pins = np.clip(converter.inverse(converter.every_count()), *use.curve.limits)
    return np.asarray(use.curve.value(pins))


def _of_form(form: AnyForm, unit: str, channel: ContinuousChannel) -> Array:
    counts = channel.path.converter.every_count()
    shown = np.asarray(form.shown(counts, channel.path.converter.nominal))
    return shown if unit == channel.unit else channel.converted(shown, unit, channel.unit)


def _rises(channel: ContinuousChannel, shown: Array) -> bool:
    """Whether values rise with the counts over the range."""
    curve, converter = nominal_curve(channel), channel.path.converter
    if curve is None:
        return bool(shown[-1] >= shown[0])
    low, high = converter.count_of(curve.signal(np.array(channel.range)))
    return bool(low <= high)


@once_per_slice
def trippings(job: Job, channel: ContinuousChannel, with_true: bool = True) -> tuple[Tripping, ...]:
    """Every alarm of a channel with its counts, and the true values there where they are wanted.

    Raises: NotApplicable as `believed_values`.
    """
    if not channel.alarms:
        return ()
    believed = believed_values(job, channel)
    return tuple(_tripping(job, channel, believed, alarm, with_true) for alarm in channel.alarms)


def _tripping(job: Job, channel: ContinuousChannel, believed: Believed, alarm: Alarm, with_true: bool) -> Tripping:
    seen = believed.seen
    tripped = seen >= alarm.limit if alarm.is_high else seen <= alarm.limit
    cleared = _is_clear(seen, alarm)
    sound = np.flatnonzero(~believed.is_fault)
    upwards = sound if believed.rises else sound[::-1]
    towards = upwards if alarm.is_high else upwards[::-1]
    points = (_first(towards, tripped), _first(towards[::-1], cleared))
    steps = (1 if believed.rises else -1) * (1 if alarm.is_high else -1)
    trip, clear = (
        None if count is None else _point(job, channel, believed, count, step, with_true)
        for count, step in zip(points, (steps, -steps), strict=True)
    )
    return Tripping(alarm, trip, clear)


def _is_clear(seen: Array, alarm: Alarm) -> NDArray[np.bool_]:
    """Where an alarm that came would go: beyond its dead band, and below (above) the limit itself without one."""
    if alarm.dead_band == 0:
        return seen < alarm.limit if alarm.is_high else seen > alarm.limit
    return seen <= alarm.clears_at if alarm.is_high else seen >= alarm.clears_at


def _first(way: NDArray[np.int64], where: NDArray[np.bool_]) -> int | None:
    """The first count on a way at which something is so."""
    found = way[where[way]]
    return int(found[0]) if len(found) else None


def _point(
    job: Job, channel: ContinuousChannel, believed: Believed, count: int, step: int, with_true: bool
) -> AlarmPoint:
    """A count that is reached from below (step 1) or from above (−1): the signal at its near edge."""
    converter = channel.path.converter
    low, high = converter.quantiser.interval(count)
    edge = low if step > 0 else high
    pin = float(converter.inverse(edge if np.isfinite(edge) else float(count)))
    true, doubt = true_value(job, channel, pin) if with_true else (None, None)
    return AlarmPoint(count, pin, float(believed.seen[count]), true, doubt)


def true_value(job: Job, channel: ContinuousChannel, pin: float) -> tuple[float | None, float | None]:
    """The value truly there at a signal of the pin, by the curve in use, and its U; None for what is not known."""
    use = curve_in_use(job, channel)
    if use is None or not use.curve.limits[0] <= pin <= use.curve.limits[1]:
        return None, None
    value = float(use.curve.value(pin))
    record = job.fit_of(channel.id)
    try:
        reach = None if record is None else reach_of(job, channel, record.fitted.spec.model)
        if reach is not None:
            return value, float(np.interp(pin, reach.pins, reach.expanded))
        return value, budget_at(channel, value).expanded
    except YardstickError:
        return value, None
