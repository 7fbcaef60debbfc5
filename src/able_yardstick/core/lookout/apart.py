"""Sensors of one quantity at this moment: how far apart they are, what is allowed, and which is suspect."""

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from ..document.watched import SensorPair
from ..job.job import Job
from ..journal.sample import Series
from ..words.errors import NotApplicable
from ..words.numerals import significant
from .standing import ChannelStanding
from .suspects import Sensed, SuspectRow, expanded_of, suspect_of, suspicions
from .watchable import in_unit_of, watchable

RECENT_S = 5.0  # over which a difference is averaged before it is judged
_FEWEST = 3
_FINE = 10.0  # of what is allowed


class PairStanding(NamedTuple):
    """Two of a pair that are furthest apart, by their ids; all numbers in the first sensor's unit.

    `difference` is the second's mean less the first's over the last seconds; `allowed` is NaN where nothing says how
    much it may be, and `allowed_by` says what does.
    """

    first: str
    second: str
    means: tuple[float, float]
    difference: float
    allowed: float
    allowed_by: str
    evidence: tuple[SuspectRow, ...]
    suspect: str

    @property
    def is_apart(self) -> bool:
        """Whether they are further apart than is allowed."""
        return abs(self.difference) > self.allowed

    @property
    def told_suspect(self) -> str:
        """The one that is suspect, once they are apart: of two that agree nobody asks."""
        return self.suspect if self.is_apart else ""

    @property
    def resolution(self) -> float:
        """The step to which their difference is worth telling, in the first's unit."""
        return self.allowed / _FINE if self.allowed > 0 else abs(self.difference) / _FINE

    def standing(self, job: Job) -> ChannelStanding:
        """The same as a row's standing, in words."""
        tags = [watchable(job, one).tag for one in (self.first, self.second)]
        unit = watchable(job, self.first).unit
        side = "more" if self.difference > 0 else "less"
        gap = significant(abs(self.difference), 2)
        allowed = "" if np.isnan(self.allowed) else f", {significant(self.allowed, 2)} allowed ({self.allowed_by})"
        says = f"{tags[1]} reads {gap} {unit} {side} than {tags[0]}{allowed}."
        if not self.is_apart:
            return ChannelStanding("value", "", says, self.difference)
        if self.suspect:
            trusted = tags[0] if self.suspect == tags[1] else tags[1]
            why = [row.evidence for row in self.evidence if row.against == self.suspect]
            speaks = "speaks" if len(why) == 1 else "speak"
            says += f" {trusted} is trusted: {' and '.join(why)} {speaks} against {self.suspect}."
        else:
            says += " Nothing tells which of the two is wrong."
        return ChannelStanding("apart", "apart", says, self.difference, self.suspect)


def pair_now(
    job: Job, pair: SensorPair, courses: Mapping[str, Series], references: Mapping[str, Series] | None = None,
    made: Mapping[str, float] | None = None,
) -> PairStanding:  # fmt: skip
    """How a pair stands by its sensors' courses of values, each in its own unit, by their ids.

    `references` are what was read beside channels, `made` the U of values made of channels, in the same units.
    Raises: NotApplicable where one of them gives nothing now, NoSuchThing, UnitMismatch.
    """
    first = watchable(job, pair.channels[0])
    sensed: list[Sensed] = []
    for one in pair.channels:
        member, course = watchable(job, one), courses.get(one)
        if course is None or len(course.good) < _FEWEST:
            raise NotApplicable(f"{member.tag} gives no value now: there is nothing to compare.")
        values = course.scaled(in_unit_of(first, member.unit, course.values))
        reference = (references or {}).get(one)
        read = None if reference is None else reference.scaled(in_unit_of(first, member.unit, reference.values))
        sensed.append(Sensed(member, values, read, (made or {}).get(one, float("nan"))))
    means = [_recent_mean(one.values) for one in sensed]
    low, high = int(np.argmin(means)), int(np.argmax(means))
    at = (0, 1) if len(sensed) == 2 else (min(low, high), max(low, high))
    a, b = sensed[at[0]], sensed[at[1]]
    known = job.document.by_id
    thirds = {known[key].tag: one for key, one in courses.items() if key in known and key not in pair.channels}
    evidence = suspicions(job, a, b, thirds)
    allowed, by = _allowed(job, pair, a, b)
    return PairStanding(
        a.channel.id, b.channel.id, (means[at[0]], means[at[1]]), means[at[1]] - means[at[0]], allowed, by, evidence,
        suspect_of(evidence),
    )  # fmt: skip


def _recent_mean(series: Series) -> float:
    good = series.good
    return float(good.values[good.times_s >= good.times_s[-1] - RECENT_S].mean())


def _allowed(job: Job, pair: SensorPair, one: Sensed, other: Sensed) -> tuple[float, str]:
    """As typed; else what the U of both comes to (JCGM 100:2008, 5.1.2)."""
    if pair.allowed is not None:
        return pair.allowed, "as stated"
    first, second = (expanded_of(job, sensed, _recent_mean(sensed.values)) for sensed in (one, other))
    return float(np.hypot(first, second)), "from the U of both"
