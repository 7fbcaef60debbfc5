"""Which alarms stand at a signal, by what the controller makes of it."""

from ..document.alarm import Alarm, AlarmKind
from ..document.channel import ContinuousChannel
from ..job.job import Job
from .tripping import believed_values


def is_tripped(alarm: Alarm, value: float) -> bool:
    """Whether an alarm comes at a value; none does at one that is not there."""
    return value >= alarm.limit if alarm.is_high else value <= alarm.limit


def standing_alarms(job: Job, channel: ContinuousChannel, pin: float) -> tuple[AlarmKind, ...]:
    """The alarms that come at a true signal at the pin, in its unit, whatever was before; delays are not waited for.

    Raises: NotApplicable where nothing says what the controller makes of its counts.
    """
    if not channel.alarms:
        return ()
    seen = float(believed_values(job, channel).seen[int(channel.path.converter.count_of(pin))])
    return tuple(alarm.kind for alarm in channel.alarms if is_tripped(alarm, seen))
