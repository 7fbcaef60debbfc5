"""The wiring list of any channel, whichever way its signal runs."""

from ..document.channel import AnyChannel, WiredChannel
from ..document.output import OutputChannel
from ..job.job import Job
from ..wire.landing import WiringRow, wiring_rows
from .landing import output_wiring_rows


def wiring_of(job: Job, channel: AnyChannel) -> list[WiringRow]:
    """The list of a channel's leads; empty where it has no terminal."""
    if isinstance(channel, OutputChannel):
        return output_wiring_rows(job, channel)
    return wiring_rows(job, channel) if isinstance(channel, WiredChannel) else []
