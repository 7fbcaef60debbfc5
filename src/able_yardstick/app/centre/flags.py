"""Where the alarms of a channel stand on its axis."""

from ...core.document.channel import ContinuousChannel
from ...core.job.job import Job
from ...core.words.errors import YardstickError
from ..frame.flag_mark import AlarmFlag


def alarm_flags(job: Job, channel: ContinuousChannel) -> tuple[AlarmFlag, ...]:
    """Where a channel's alarms come, on the side of the axis where they stand; none that never comes."""
    if not channel.alarms:
        return ()
    from ...core.alarms.tripping import believed_values, trippings

    try:
        found, rises = trippings(job, channel, with_true=False), believed_values(job, channel).rises
    except YardstickError:
        return ()  # nothing is packed or described yet: the panel says so
    return tuple(
        AlarmFlag(one.trips.pin, one.alarm.is_high == rises, one.alarm.kind in ("low low", "high high"))
        for one in found
        if one.trips is not None
    )
