"""All that a look at a raw signal is judged by, as one frozen record."""

from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..job.job import Job
from ..wire.breaks import breaks_of, contact_breaks
from ..words.record import Frozen, Reckoned


class LookInputs(Frozen):
    """The channel without its names and choices, and what each break of its wiring reads like at the pin."""

    channel: ContinuousChannel | TwoStateChannel
    breaks: tuple[tuple[str, Reckoned], ...] = ()


def look_inputs(job: Job, channel: WiredChannel) -> LookInputs:
    """What a channel's raw signal is judged by now."""
    if isinstance(channel, TwoStateChannel):
        breaks = contact_breaks(channel)
        bare: WiredChannel = channel.with_(
            id="", device="", tag="-", name="", note="", plant_states=(), landing=None
        )  # fmt: skip
    else:
        breaks = breaks_of(job, channel)
        bare = channel.bare.with_(tolerance=channel.tolerance)
    return LookInputs(channel=bare, breaks=tuple((one.name, one.pin) for one in breaks))
