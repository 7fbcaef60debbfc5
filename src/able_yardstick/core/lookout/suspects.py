"""Which of two sensors of one quantity is suspect, and the evidence: a row for each thing that speaks against one."""

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..job.job import Job
from ..journal.sample import Series
from ..prove.checks import checks_of, proof_of
from ..results.basis import stale_pack
from ..words.errors import YardstickError
from ..words.numerals import significant
from .certain import certainty_of
from .pairs import noise_of
from .watchable import Watchable

Array = NDArray[np.float64]
_MORE = 1.5  # times: so much more noise than before, or than the other, or U, speaks against a sensor
_MOVES_WITH, _APART_FROM = 0.5, 0.2  # correlation with a third channel's movement
_FEWEST = 20
_FEWEST_FOR_NOISE = 90  # samples: in fewer, noise is half as much again by chance
_SHORTEST_S = 10.0  # watched together: in less, noise moves together by chance


class SuspectRow(NamedTuple):
    """One piece of evidence: what it is, what it says of each, and which it speaks against (a tag; empty: neither)."""

    evidence: str
    first: str
    second: str
    against: str


class Sensed(NamedTuple):
    """A sensor with its values over the stretch, in a unit common to both, and its reference's where one was read."""

    channel: Watchable
    values: Series
    reference: Series | None = None
    expanded: float = float("nan")  # U of a value made of channels, in that unit


def suspicions(
    job: Job, first: Sensed, second: Sensed, thirds: Mapping[str, Series] | None = None
) -> tuple[SuspectRow, ...]:
    """What speaks against which of two; `thirds` are other channels' courses by their tags, in units of their own."""
    both = (first, second)
    tags = (first.channel.tag, second.channel.tag)
    rows = [_proofs(job, both, tags), _certainties(job, both, tags), *_noises(both, tags)]
    rows += _movements(both, tags, thirds or {})
    rows += _references(both, tags)
    return tuple(rows)


def suspect_of(rows: tuple[SuspectRow, ...]) -> str:
    """The one that more speaks against, by its tag; empty where nothing or as much speaks against both."""
    named = [row.against for row in rows if row.against]
    counts = {tag: named.count(tag) for tag in named}
    best = max(counts, key=lambda tag: counts[tag], default="")
    return best if best and sum(count == counts[best] for count in counts.values()) == 1 else ""


def _row(name: str, texts: tuple[str, ...], tags: tuple[str, str], good: tuple[bool, ...]) -> SuspectRow:
    against = "" if good[0] == good[1] else tags[1] if good[0] else tags[0]
    return SuspectRow(name, texts[0], texts[1], against)


def _proofs(job: Job, both: tuple[Sensed, Sensed], tags: tuple[str, str]) -> SuspectRow:
    texts = tuple(_proven(job, one.channel) for one in both)
    if not all(isinstance(one.channel, ContinuousChannel) for one in both):
        return SuspectRow("proof", texts[0], texts[1], "")
    return _row("proof", texts, tags, tuple(text.startswith("proven") for text in texts))


def _proven(job: Job, channel: Watchable) -> str:
    """Whether a channel was proven with the numbers of now, in a few words."""
    if not isinstance(channel, ContinuousChannel):
        return "made of channels"
    try:
        proof = proof_of(job, channel)
    except YardstickError:
        return "checks of other numbers" if checks_of(job, channel) else "not checked"
    if not proof.passed:
        return f"failed, {sum(check.passed for check in proof.checks)} of {len(proof.checks)}"
    return "proven, but out of date" if stale_pack(job, channel) else f"proven, {len(proof.checks)} checks"


def _certainties(job: Job, both: tuple[Sensed, Sensed], tags: tuple[str, str]) -> SuspectRow:
    expanded = [expanded_of(job, one, _mean(one.values)) for one in both]
    texts = tuple("not known" if np.isnan(u) else f"± {significant(u, 2)}" for u in expanded)
    finite = [float("inf") if np.isnan(u) else u for u in expanded]
    return _row("U, k = 2", texts, tags, (finite[0] <= _MORE * finite[1], finite[1] <= _MORE * finite[0]))


def expanded_of(job: Job, sensed: Sensed, value: float) -> float:
    """U of what is compared at a value, in its unit; NaN where it is not known."""
    channel = sensed.channel
    return expanded_at(job, channel, value) if isinstance(channel, ContinuousChannel) else sensed.expanded


def expanded_at(job: Job, channel: ContinuousChannel, value: float) -> float:
    """U of a channel at a value, in its unit; NaN where it is not known."""
    known = certainty_of(job, channel)
    return float("nan") if known is None or np.isnan(value) else float(known.at(value))


def _mean(series: Series) -> float:
    good = series.good.values
    return float(good.mean()) if len(good) else float("nan")


def _noises(both: tuple[Sensed, Sensed], tags: tuple[str, str]) -> list[SuspectRow]:
    if any(len(one.values.good) < _FEWEST_FOR_NOISE for one in both):
        return []
    spreads = [noise_of(one.values) for one in both]
    quiet = tuple(late <= _MORE * early for early, late in spreads)
    texts = tuple(f"{significant(late, 2)}, was {significant(early, 2)}" for early, late in spreads)
    late = [pair[1] for pair in spreads]
    small = (late[0] <= _MORE * late[1], late[1] <= _MORE * late[0])
    return [
        _row("noise against its own past", texts, tags, quiet),
        _row("noise against the other", tuple(significant(one, 2) for one in late), tags, small),
    ]


def _movements(both: tuple[Sensed, Sensed], tags: tuple[str, str], thirds: Mapping[str, Series]) -> list[SuspectRow]:
    """How much each moves together with some third channel: one that does not where the other does is suspect."""
    best: tuple[float, str, tuple[float, float]] | None = None
    for tag, third in thirds.items():
        found = tuple(_likeness(one.values.good, third.good) for one in both)
        if not any(np.isnan(found)) and (best is None or max(map(abs, found)) > best[0]):
            best = (max(map(abs, found)), tag, (found[0], found[1]))
    if best is None or best[0] < _MOVES_WITH:
        return []
    apart = tuple(abs(one) >= _APART_FROM for one in best[2])
    return [_row(f"moves with {best[1]}", tuple(f"{one:.2f}".replace("-", "−") for one in best[2]), tags, apart)]


def _likeness(one: Series, other: Series) -> float:
    """The correlation of two courses over the time they have in common; NaN where they have too little."""
    if len(one) < _FEWEST or len(other) < _FEWEST:
        return float("nan")
    start, end = max(one.times_s[0], other.times_s[0]), min(one.times_s[-1], other.times_s[-1])
    grid = np.linspace(start, end, 60)
    if end - start < _SHORTEST_S:
        return float("nan")
    a, b = (np.interp(grid, series.times_s, series.values) for series in (one, other))
    a, b = a - a.mean(), b - b.mean()
    size = float(np.sqrt((a @ a) * (b @ b)))
    return float(a @ b) / size if size > 0 else float("nan")


def _off(values: Series, reference: Series) -> float:
    """How far values are from a reference on the mean, while both were read; NaN where they never were."""
    if not len(reference):
        return float("nan")
    beside = values.since(float(reference.times_s[0]), float(reference.times_s[-1]))
    if not len(beside):
        return float("nan")
    return abs(float((beside.values - np.interp(beside.times_s, reference.times_s, reference.values)).mean()))


def _references(both: tuple[Sensed, Sensed], tags: tuple[str, str]) -> list[SuspectRow]:
    """How far each is from a reference that was read beside it."""
    off = [float("nan") if one.reference is None else _off(one.values.good, one.reference.good) for one in both]
    if all(np.isnan(one) for one in off):
        return []
    texts = tuple("none read" if np.isnan(one) else f"{significant(one, 2)} off" for one in off)
    if any(np.isnan(one) for one in off):
        return [SuspectRow("its reference", texts[0], texts[1], "")]
    good = (off[0] <= _MORE * off[1], off[1] <= _MORE * off[0])
    return [_row("its reference", texts, tags, good)]
