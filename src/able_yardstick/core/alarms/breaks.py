"""What a break of the wiring does to alarms: which one comes, and which can come no more while it lasts."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.alarm import AlarmKind
from ..document.channel import ContinuousChannel
from ..document.once import once_per_slice
from ..job.job import Job
from ..wire.breaks import Break, breaks_of
from ..words.numerals import significant
from .standing import is_tripped
from .tripping import believed_values


class AlarmBreak(NamedTuple):
    """A break with the alarms that come by it and those that cannot come; both empty where the pin floats."""

    name: str
    counts: int | None
    is_fault: bool
    comes: tuple[AlarmKind, ...]
    cannot: tuple[AlarmKind, ...]
    says: str


@once_per_slice
def alarm_breaks(job: Job, channel: ContinuousChannel) -> tuple[AlarmBreak, ...]:
    """Every break of a channel's wiring, by what its alarms then see; none without alarms.

    Raises: NotApplicable as `believed_values`.
    """
    if not channel.alarms:
        return ()
    believed = believed_values(job, channel)
    return tuple(_judged(channel, one, believed.seen, believed.is_fault) for one in breaks_of(job, channel))


def _judged(
    channel: ContinuousChannel, one: Break, seen: NDArray[np.float64], is_fault: NDArray[np.bool_]
) -> AlarmBreak:
    if one.counts is None:
        return AlarmBreak(one.name, None, False, (), (), "the pin floats: nobody knows which alarm comes")
    value, fault = float(seen[one.counts]), bool(is_fault[one.counts])
    comes = tuple(alarm.kind for alarm in channel.alarms if is_tripped(alarm, value))
    cannot = tuple(alarm.kind for alarm in channel.alarms if alarm.kind not in comes)
    return AlarmBreak(one.name, one.counts, fault, comes, cannot, _words(channel, value, fault, comes, cannot))


def _words(
    channel: ContinuousChannel, value: float, fault: bool, comes: tuple[AlarmKind, ...], cannot: tuple[AlarmKind, ...]
) -> str:
    if np.isnan(value):
        what = "the last value is held"
    elif np.isinf(value):
        what = f"taken for a fault, which {channel.fault_rule.on_fault}"
    else:
        what = f"{significant(value, 4)} {channel.unit} is seen" + (", though it is a fault" if fault else "")
    came = f"the {' and the '.join(comes)} alarm comes" if comes else "no alarm comes"
    lost = f"; the {' and the '.join(cannot)} alarm cannot trip" if cannot else ""
    return f"{what}: {came}{lost}"
