"""A row's number or word, its unit, and its colour: the same in a strip, at a glance and for a reader of the screen."""

from typing import NamedTuple

from ....core.document.channel import AnyChannel, ConstantChannel, ContinuousChannel, TwoStateChannel
from ....core.document.output import OutputChannel
from ....core.document.watched import AnyWatched
from ....core.job.job import Job
from ....core.lookout.rows import LookoutRow
from ....core.lookout.shown_range import shown_decimals, watched_decimals
from ....core.lookout.watchable import watchable
from ....core.words.numerals import decimals_for, fixed
from ..watcher import Watcher


class ValueWords(NamedTuple):
    """A number or a word, its unit (none with a word), and the colour of it."""

    text: str
    unit: str
    colour: str

    @property
    def plain(self) -> str:
        """In one piece."""
        return f"{self.text} {self.unit}".strip()


def channel_words(job: Job, watch: Watcher, channel: AnyChannel) -> ValueWords:
    """A channel's value as it stands; never a number where none is to be believed."""
    standing = watch.standings.get(channel.id)
    if isinstance(channel, ConstantChannel):
        return ValueWords(f"{fixed(channel.value, channel.decimals)} {channel.unit}".strip(), "", "ink")
    if isinstance(channel, OutputChannel):
        return ValueWords("an output", "", "muted")
    if standing is None:
        return ValueWords("not live", "", "muted")
    if standing.is_fault or not isinstance(channel, ContinuousChannel) or standing.value is None:
        return ValueWords(standing.words, "", "red" if standing.kind == "fault" else "ink")
    if standing.kind == "unscaled":
        pin = fixed(standing.value, decimals_for(channel.path.converter.per_count))
        return ValueWords(pin, channel.path.pin_unit, "muted")
    colour = "red" if standing.kind == "alarm" else "ink"
    return ValueWords(number_words(job, channel, standing.value), channel.unit, colour)


def number_words(job: Job, channel: ContinuousChannel, value: float) -> str:
    """A value of a channel to the digits its U supports."""
    return fixed(value, shown_decimals(job, channel, value))


def raw_words(watch: Watcher, channel: AnyChannel) -> str:
    """The signal at the pin and the count; that the number is not scaled, where nothing says what it means."""
    trend = watch.trend(channel)
    if not len(trend.pins) or not isinstance(channel, ContinuousChannel | TwoStateChannel):
        return ""
    converter = channel.path.converter
    pin = float(trend.pins[-1])
    text = f"{fixed(pin, decimals_for(converter.per_count))} {channel.path.pin_unit}, {int(converter.count_of(pin))}"
    standing = watch.standings.get(channel.id)
    return f"{text}, not scaled" if standing is not None and standing.kind == "unscaled" else text


def watched_words(job: Job, watch: Watcher, value: AnyWatched) -> ValueWords:
    """A value made of channels as it stands."""
    standing, now = watch.standings.get(value.id), watch.values.get(value.id)
    if standing is None or now is None:
        return ValueWords("not live", "", "muted")
    if standing.kind == "unscaled" or standing.value is None:
        return ValueWords(standing.words, "", "muted")
    text = fixed(standing.value, watched_decimals(job, value, standing.value, now.expanded))
    return ValueWords(text, value.unit or "\u200b", "red" if standing.kind == "alarm" else "ink")


def pair_value(job: Job, watch: Watcher, pair_id: str) -> ValueWords:
    """How far a pair is apart."""
    found, standing = watch.pairs.get(pair_id), watch.standings.get(pair_id)
    if found is None:
        return ValueWords("not live" if standing is None else standing.words, "", "muted")
    sign = "+" if found.difference > 0 else "−"
    text, unit = (
        f"{sign}{fixed(abs(found.difference), decimals_for(found.resolution))}",
        watchable(job, found.first).unit,
    )
    return ValueWords(text, unit, "amber" if found.is_apart else "ink")


def row_value(job: Job, watch: Watcher, row: LookoutRow) -> ValueWords:
    """The words of any row."""
    if row.kind == "channel":
        return channel_words(job, watch, job.channel(row.id))
    if row.kind == "pair":
        return pair_value(job, watch, row.id)
    return watched_words(job, watch, next(one for one in job.watch.values if one.id == row.id))
