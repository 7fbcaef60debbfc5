"""Sensors of a log with what they can be compared with: a reference that was read beside, or another channel."""

from collections.abc import Callable
from datetime import UTC, datetime
from typing import NamedTuple

from ...core.document.channel import ContinuousChannel
from ...core.document.reference import Reference
from ...core.gather.gathering import Circumstances, WindowPair
from ...core.gather.natural_pairs import NaturalReadings, natural_readings
from ...core.job.job import Job
from ...core.journal.sample import Series
from ...core.lookout.suspects import expanded_at
from ...core.words.errors import NotApplicable
from .courses import LogCourses
from .reader import LogSeries


class ComparedWith(NamedTuple):
    """What a sensor may be compared with: a logged reference, or another channel's values; its words."""

    key: str
    words: str


def comparable(courses: LogCourses, channel: ContinuousChannel) -> tuple[ComparedWith, ...]:
    """What a log has beside a sensor: its references first."""
    found = [
        ComparedWith(str(one.number), f"its reference, {one.feed.source}")
        for one in courses.log.series()
        if one.feed.channel == channel.id and one.feed.role == "reference"
    ]
    others = [
        ComparedWith(trace.key, f"{trace.tag}, taken for right")
        for trace in courses.measured()
        if trace.role == "value" and trace.id != channel.id and trace.unit == channel.unit
    ]
    return (*found, *others)


def readings_from(
    courses: LogCourses, channel: ContinuousChannel, key: str, stretch_s: tuple[float, float],
    new_id: Callable[[], str],
) -> NaturalReadings:  # fmt: skip
    """Readings of a sensor over a stretch of monotonic time in s.

    Raises: NotApplicable without a raw signal, TooFewReadings, UnitMismatch.
    """
    raw = next((one for one in courses.log.series() if one.feed.channel == channel.id and one.feed.role == "raw"), None)
    if raw is None:
        raise NotApplicable(f"No raw signal of {channel.tag} was logged.")

    def about(time_s: float) -> Circumstances:
        when = datetime.fromtimestamp(courses.wall_s(time_s), UTC).replace(microsecond=0)
        return Circumstances(new_id(), when, source=f"from the log {courses.title}")

    sensor = courses.log.read(raw, *stretch_s)
    if key.isdecimal():
        one = next(row for row in courses.log.series() if row.number == int(key))
        pair = WindowPair(sensor, courses.log.read(one, *stretch_s), one.feed.unit)
        return natural_readings(channel, pair, _instrument(courses.job, one), about)
    return _by_other(courses, channel, key, sensor, stretch_s, about)


def _instrument(job: Job, one: LogSeries) -> Reference | None:
    """The instrument that a logged reference was read by, as the job's sources say."""
    feeds = [feed for source in job.sources for feed in source.every_feed]
    name = next((feed.reference for feed in feeds if feed.name == one.feed.name and feed.role == "reference"), "")
    return next((known for known in job.references if known.id == name), None)


def _by_other(
    courses: LogCourses, channel: ContinuousChannel, key: str, sensor: Series, stretch_s: tuple[float, float],
    about: Callable[[float], Circumstances],
) -> NaturalReadings:  # fmt: skip
    """Another channel taken for right: its U stands in for a certificate's."""
    trace = next(one for one in courses.measured() if one.key == key)
    other = courses.job.continuous(trace.id)
    pair = WindowPair(sensor, courses.read(trace, *stretch_s), trace.unit)
    found = natural_readings(channel, pair, None, about)
    rows = []
    for reading in found.readings:
        expanded = expanded_at(courses.job, other, reading.reference)
        known = {"reference_standard": expanded / 2} if expanded > 0 else {}
        rows.append(reading.with_(**known, reference_note=f"{other.tag} was taken for right"))
    return found._replace(readings=tuple(rows))
