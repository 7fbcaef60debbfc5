"""How often the verdict is right: every fault of every kind of channel, many seeded runs, as a table.

A run follows the verdict as a person would: it makes the test that is asked for, until one cause is left or nothing
more would tell. `in the set` holds if the true cause was never thrown out, `alone` if it was the only one left.
"""

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from ...core.document.channel import ContinuousChannel, PlantState, TwoStateChannel, WiredChannel
from ...core.document.nominal import nominal_curve
from ...core.job.job import Job
from ...core.journal.sample import Series
from ...core.wake.causes import CAUSES, Cause, causes_for
from ...core.wake.evidence import Evidence
from ...core.wake.expected import expected_at
from ...core.wake.figures import figures_of
from ...core.wake.inputs import look_inputs
from ...core.wake.nudge import Nudge, nudge_of, nudge_seconds, signal_rises
from ...core.wake.reckoned import reckoned_value
from ...core.wake.verdict import Verdict, diagnose
from ...core.wire.landing import wired_channels
from .simulated import SimulatedChannel

RATE_HZ = 100.0
BURST_HZ = 1000.0
LOOK_S = 6.0
_FIRST_SHARE, _OTHER_SHARE = 0.55, 0.2  # of the range; the other state has the lower signal
_NUDGE_SHARE = 0.08
_MOST_TESTS = 7


class Trial(NamedTuple):
    """One run: what was wrong, what the signal alone said, and what was left at the end."""

    tag: str
    cause: Cause
    first: Verdict
    last: Verdict
    tests: int

    @property
    def in_set(self) -> bool:
        """Whether the true cause was named, at once and at the end."""
        return self.cause in self.first.names and self.cause in self.last.names

    @property
    def alone(self) -> bool:
        """Whether it was the only one left."""
        return self.last.names == (self.cause,)


class ConfusionRow(NamedTuple):
    """A line of the table."""

    cause: Cause
    runs: int
    in_first_set: int
    in_set: int
    alone: int
    taken_for: tuple[tuple[str, int], ...]


def runs_of(job: Job, cause: Cause, count: int, first_seed: int) -> Iterator[Trial]:
    """Seeded runs of a cause, over the channels that can have it in turn."""
    able = [channel for channel in wired_channels(job) if cause in causes_for(channel)]
    for n in range(count):
        yield one_run(job, able[n % len(able)], cause, first_seed + n)


def one_run(job: Job, channel: WiredChannel, cause: Cause, seed: int) -> Trial:
    """One run on a channel: a look, and then every test that the verdict asks for."""
    bench = _Bench(job, channel, cause, seed)
    evidence = bench.first_look()
    first = verdict = diagnose(look_inputs(job, channel), evidence)
    tests = 0
    while verdict.next_test is not None and tests < _MOST_TESTS:
        evidence = bench.tested(evidence, verdict.next_test)
        tests += 1
        verdict = diagnose(look_inputs(job, channel), evidence)
    return Trial(channel.tag, cause, first, verdict, tests)


class _Bench:
    """A simulated channel, and a person who looks, nudges and measures."""

    def __init__(self, job: Job, channel: WiredChannel, cause: Cause, seed: int) -> None:
        self.job, self.channel = job, channel
        self.sim = SimulatedChannel(channel, np.random.default_rng([seed, CAUSES.index(cause)]))
        self._now_s = float(self.sim.random.uniform(0, 100))
        low, high = self.sim.ends
        span = high - low
        if isinstance(channel, TwoStateChannel):
            self.state, self.second = PlantState(name="first", value=0.0), PlantState(name="second", value=1.0)
        else:
            self.state = PlantState(name="present", value=low + _FIRST_SHARE * span)
            curve = nominal_curve(channel)
            falls = curve is not None and float(curve.signal(high)) < float(curve.signal(low))
            self.second = PlantState(name="other", value=low + (1 - _OTHER_SHARE if falls else _OTHER_SHARE) * span)
        self.go(self.state)
        self.sim.break_by(cause)

    def go(self, state: PlantState) -> None:
        """Bring the plant into a state, and wait."""
        self.sim.move(state.value)
        self.sim.settle()

    def look(self, seconds: float = LOOK_S, rate_hz: float = RATE_HZ) -> Series:
        """Raw counts over some seconds."""
        times = self._now_s + np.arange(int(seconds * rate_hz)) / rate_hz
        self._now_s = float(times[-1]) + 1 / rate_hz
        return Series.of(times, self.sim.run(times).counts.astype(float))

    def first_look(self) -> Evidence:
        """The signal at rest, and what is expected."""
        return Evidence(figures_of(self.channel, self.look()), expected_at(self.channel, self.state))

    def tested(self, evidence: Evidence, test: str) -> Evidence:
        """The evidence with one test more."""
        sim = self.sim
        if test == "nudge":
            return evidence._replace(nudge=self._nudged())
        if test == "meter":
            return evidence._replace(meter_v=sim.meter_v())
        if test == "supply":
            return evidence._replace(supply_v=sim.supply_v())
        if test == "resistance":
            return evidence._replace(leads_ohm=sim.leads_ohm())
        if test == "faster sampling":
            return evidence._replace(burst=figures_of(self.channel, self.look(3.0, BURST_HZ)))
        if test == "shown":
            return self._shown(evidence)
        self.go(self.second)
        other = (expected_at(self.channel, self.second), figures_of(self.channel, self.look()))
        self.go(self.state)
        return evidence._replace(other=other)

    def _nudged(self) -> Nudge | None:
        sim, seconds = self.sim, nudge_seconds(self.channel)
        before = self.look(1.0)
        low, high = sim.ends
        contact = isinstance(self.channel, TwoStateChannel)
        sim.move(1.0 if contact else self.state.value + _NUDGE_SHARE * (high - low))
        found = nudge_of(self.channel, before, self.look(seconds), signal_rises(self.channel))
        self.go(self.state)
        return found

    def _shown(self, evidence: Evidence) -> Evidence:
        """What the controller shows for the raw level, by the described curve; in another unit where that is wrong."""
        channel = self.channel
        assert isinstance(channel, ContinuousChannel)
        reckoned = reckoned_value(channel, evidence.signal.level)
        assert reckoned is not None  # every simulated channel is described
        factor = self.sim.fault.size if self.sim.fault.cause == "wrong unit or scale" else 1.0
        return evidence._replace(shown=reckoned * factor, reckoned=reckoned)


def table(job: Job, count: int, first_seed: int, causes: Sequence[Cause] = CAUSES) -> list[ConfusionRow]:
    """A row for each cause."""
    rows = []
    for cause in causes:
        runs = list(runs_of(job, cause, count * 3 if cause == "healthy" else count, first_seed))
        taken = Counter(run.last.first or "nothing known" for run in runs if run.last.first != cause)
        rows.append(
            ConfusionRow(
                cause, len(runs), sum(cause in run.first.names for run in runs), sum(run.in_set for run in runs),
                sum(run.alone for run in runs), tuple(taken.most_common()),
            )
        )  # fmt: skip
    return rows


def markdown(rows: Sequence[ConfusionRow], seed: int) -> str:
    """The table as a page."""
    head = [
        "# How often Wake names the right cause",
        "",
        "Made by `able-yardstick confusion --into docs/confusion.md`: seeded runs on the demo's channels, from seed",
        f"{seed} on, none of which was used while the rules were made. *At once*: the true cause is in the set that",
        "the signal alone leaves. *In the set*: it was there at once and is still there after every test asked for.",
        "*Alone*: it is the only one left. The last column is what stood first instead.",
        "",
        "| cause | runs | at once | in the set | alone | taken for |",
        "|---|---:|---:|---:|---:|---|",
    ]
    body = [
        f"| {row.cause} | {row.runs} | {row.in_first_set} | {row.in_set} | {row.alone} | "
        f"{', '.join(f'{name} ({times})' for name, times in row.taken_for) or '–'} |"
        for row in rows
    ]
    tail = [
        "",
        "A contact whose leads are shorted and one that is stuck closed cannot be told apart by any of the tests: both",
        "stay in the verdict.",
    ]
    return "\n".join([*head, *body, *tail])
