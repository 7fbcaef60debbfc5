"""Values made of channels while they are watched: as they stand now, and as they stood over the last minutes."""

from collections import deque
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..alarms.standing import is_tripped
from ..document.channel import ContinuousChannel
from ..document.watched import AnyWatched, TotalValue
from ..job.job import Job
from ..words.errors import YardstickError
from ..words.numerals import significant
from .derived import DerivedCourse, InputCourse, derived, inputs_of, step_of_total, total_gain
from .standing import ChannelStanding
from .suspects import expanded_at

Array = NDArray[np.float64]
_KEPT = 4096  # looks: four a second for a quarter of an hour
_NOW = np.zeros(1)


class ValueNow(NamedTuple):
    """A value now with its expanded uncertainty, in its unit; NaN where dead or not known. `remark` says why."""

    value: float
    expanded: float
    remark: str

    def standing(self, value: AnyWatched) -> ChannelStanding:
        """The same as a row's standing: dead as its inputs are, or with the alarms that stand."""
        if np.isnan(self.value):
            return ChannelStanding("unscaled", "no value", self.remark or "One of its inputs gives no value.")
        standing = [one for one in value.alarms if is_tripped(one, self.value)]
        if standing:
            limit = significant(standing[-1].limit, 5)
            says = f"{significant(self.value, 5)} {value.unit}, its limit is {limit}."
            return ChannelStanding("alarm", f"{standing[-1].kind} alarm", says, self.value)
        if "gives no value" in self.remark:
            return ChannelStanding("beyond", "an input is missing", self.remark, self.value)
        return ChannelStanding("value", "", self.remark, self.value)


class ValueWatch:
    """Remembers what the values were at each look; totals are counted from the first one."""

    def __init__(self) -> None:
        self._past: dict[str, deque[tuple[float, float]]] = {}
        self._totals: dict[str, tuple[float, float, float, float]] = {}  # time, rate, total, its U

    def look(self, job: Job, standings: Mapping[str, ChannelStanding], now_s: float) -> dict[str, ValueNow]:
        """All values by their ids, as the channels stand at a monotonic time in s."""
        inputs = {one: course for one in _needed(job) if (course := _input(job, one, standings)) is not None}
        found: dict[str, ValueNow] = {}
        for value in job.watch.values:
            found[value.id] = now = self._value(value, inputs, now_s)
            self._past.setdefault(value.id, deque(maxlen=_KEPT)).append((now_s, now.value))
        return found

    def course(self, value_id: str) -> tuple[Array, Array]:
        """When a value was looked at, in monotonic s, and what it was; shapes (n,)."""
        rows = np.array(self._past.get(value_id, ()), dtype=float).reshape(-1, 2)
        rows = rows[np.isfinite(rows[:, 1])]
        return rows[:, 0], rows[:, 1]

    def _value(self, value: AnyWatched, inputs: Mapping[str, InputCourse], now_s: float) -> ValueNow:
        try:
            if isinstance(value, TotalValue):
                return self._total(value, inputs, now_s)
            return _last(derived(value, inputs, _NOW))
        except YardstickError as error:
            return ValueNow(float("nan"), float("nan"), str(error))

    def _total(self, value: TotalValue, inputs: Mapping[str, InputCourse], now_s: float) -> ValueNow:
        """One more step of a total. A look without a value adds nothing."""
        derived(value, inputs, _NOW)  # which refuses what does not fit
        course = inputs[value.channel]
        rate, doubt, gain = float(course.values[0]), float(course.expanded[0]), total_gain(value, course.unit)
        before_s, before, total, expanded = self._totals.get(value.id, (now_s, rate, 0.0, 0.0))
        if not np.isnan(rate) and not np.isnan(before):
            total += float(step_of_total(gain, *(np.asarray(one) for one in (before, rate, now_s - before_s))))
            expanded += abs(gain) * doubt * (now_s - before_s)
        self._totals[value.id] = (now_s, rate, total, expanded)
        told = f"{course.tag} gives no value: nothing is added." if np.isnan(rate) else ""
        return ValueNow(total, expanded, told)


def _last(found: DerivedCourse) -> ValueNow:
    return ValueNow(float(found.values[-1]), float(found.expanded[-1]), found.remark)


def _needed(job: Job) -> list[str]:
    return list(dict.fromkeys(one for value in job.watch.values for one in inputs_of(value)))


def _input(job: Job, channel_id: str, standings: Mapping[str, ChannelStanding]) -> InputCourse | None:
    """A channel as it stands, as an input; without a value where it is not to be believed; None where it is gone."""
    channel = job.document.by_id.get(channel_id)
    if channel is None:
        return None
    standing = standings.get(channel_id)
    is_dead = standing is None or standing.is_fault or standing.kind == "unscaled" or standing.value is None
    number = float("nan") if is_dead or standing is None or standing.value is None else standing.value
    expanded = expanded_at(job, channel, number) if isinstance(channel, ContinuousChannel) else float("nan")
    unit = channel.unit if isinstance(channel, ContinuousChannel) else "1"
    return InputCourse(channel.tag, unit, np.array([number]), np.array([expanded]))
