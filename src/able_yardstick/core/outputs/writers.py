"""What writes an output: the channel it follows, the conditions, another output; and which of them clash."""

from itertools import combinations
from typing import NamedTuple

from ..document.channel import AnyChannel, ContinuousChannel, TwoStateChannel
from ..document.output import OutputChannel, OutputCondition
from ..job.job import Job
from ..words.errors import NoSuchThing
from ..words.numerals import significant


class Clash(NamedTuple):
    """Two that write one output at one moment, in words; and which of them wins, where that is settled."""

    says: str
    settled: str


def channel_or_none(job: Job, channel_id: str) -> AnyChannel | None:
    """The channel of an id; None where it is gone."""
    try:
        return job.channel(channel_id)
    except NoSuchThing:
        return None


def followed(job: Job, channel: OutputChannel) -> ContinuousChannel | None:
    """The channel that an output follows; None where it is set by hand, or what it followed is gone."""
    found = channel_or_none(job, channel.follows) if channel.follows else None
    return found if isinstance(found, ContinuousChannel) else None


def condition_words(job: Job, condition: OutputCondition) -> str:
    """When a condition holds."""
    source = channel_or_none(job, condition.channel)
    tag = source.tag if source is not None else "a channel that is gone"
    return f"{tag} is {condition.when}" if condition.is_of_contact else f"the {condition.when} alarm of {tag} stands"


def missing_words(job: Job, condition: OutputCondition) -> str:
    """Why a condition can never hold; empty where it can."""
    source = channel_or_none(job, condition.channel)
    if source is None:
        return "the channel it looks at is gone"
    if condition.is_of_contact:
        return "" if isinstance(source, TwoStateChannel) else f"{source.tag} is no contact"
    if not isinstance(source, ContinuousChannel):
        return f"{source.tag} has no alarms"
    known = {alarm.kind for alarm in source.alarms}
    return "" if condition.when in known else f"{source.tag} has no {condition.when} alarm"


def clashes(job: Job, channel: OutputChannel) -> tuple[Clash, ...]:
    """Every two that write other values at one moment: conditions, what it follows, outputs on the same terminal."""
    found = []
    for one, other in combinations(channel.conditions, 2):
        if one.can_hold_with(other) and one.value != other.value:
            both = f"While {condition_words(job, one)} and {condition_words(job, other)}"
            values = f"it is written {_value(channel, one)} and {_value(channel, other)}"
            settled = f"{_value(channel, one)} wins, which stands first" if channel.first_holds else ""
            found.append(Clash(f"{both}, {values}.", settled))
    source = followed(job, channel)
    for one in channel.conditions if source is not None else ():
        assert source is not None
        says = f"While {condition_words(job, one)}, it is written {_value(channel, one)} and what {source.tag} is."
        settled = f"{_value(channel, one)} wins over what it follows" if channel.first_holds else ""
        found.append(Clash(says, settled))
    return (*found, *_same_place(job, channel))


def _value(channel: OutputChannel, condition: OutputCondition) -> str:
    return f"{significant(condition.value, 6)} {channel.unit}".strip()


def _same_place(job: Job, channel: OutputChannel) -> list[Clash]:
    """Other outputs on the same terminal, or whose counts go to the same register."""
    if channel.landing is None:
        return []
    place = _places_of(job, channel)
    others = [one for one in job.channels if isinstance(one, OutputChannel) and one.id != channel.id]
    return [
        Clash(f"{other.tag} is written to the same terminal: one of the two overwrites the other.", "")
        for other in others
        if place & _places_of(job, other)
    ]


def _places_of(job: Job, channel: OutputChannel) -> set[tuple[str, str]]:
    """The terminal and the register of an output, each with the controller it belongs to."""
    landing = channel.landing
    if landing is None:
        return set()
    found = {(landing.controller, landing.terminal)}
    address = address_of(job, channel)
    return found if address is None else {*found, (landing.controller, f"register {address}")}


def address_of(job: Job, channel: OutputChannel) -> int | None:
    """The register that an output's count is written to; None where none is described."""
    landing = channel.landing
    if landing is None:
        return None
    try:
        return job.controller(landing.controller).terminal(landing.terminal).output_address
    except NoSuchThing:
        return None
