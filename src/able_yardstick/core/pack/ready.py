"""All that is searched for to show a packing, made in one go: so that it can be made beside the window."""

from ..document.channel import ContinuousChannel
from ..forms.spec import PackSpec
from ..job.job import Job
from ..words.errors import YardstickError
from ..words.record import digest
from .hand_knots import knots_in, with_moved_knot
from .inputs import pack_inputs
from .packed import is_packed, packed, packed_now
from .spared import fewer_knots


def ready_key(job: Job, channel: ContinuousChannel, specs: tuple[PackSpec, ...]) -> str:
    """What names all that such packings are made from; empty where there is no curve to pack."""
    try:
        return digest(*(pack_inputs(job, channel, spec) for spec in specs), channel.tolerance)
    except YardstickError:
        return ""


def is_ready(job: Job, channel: ContinuousChannel, specs: tuple[PackSpec, ...]) -> bool:
    """Whether a channel's numbers in some forms are kept since they were made; so are those that cannot be made."""
    try:
        return all(is_packed(pack_inputs(job, channel, spec)) for spec in specs)
    except YardstickError:
        return True


def make_ready(job: Job, channel: ContinuousChannel, specs: tuple[PackSpec, ...]) -> None:
    """Make a channel's numbers in some forms, and what is said beside those that its settings ask for.

    Raises: Stopped.
    """
    for spec in specs:
        try:
            packed(pack_inputs(job, channel, spec))
        except YardstickError:
            continue  # the refusal is kept as well
    if channel.pack_spec in specs:
        _make_what_stands_beside(job, channel)


def _make_what_stands_beside(job: Job, channel: ContinuousChannel) -> None:
    try:
        found = packed_now(job, channel)
        fewer_knots(job, channel, found)
        knots = knots_in(found.form)
        if knots is not None:  # what a table is compared with once its knots are dragged
            packed_now(job, with_moved_knot(channel, found.form, 0, knots.signals[0], knots.values[0]))
    except YardstickError:
        return
