"""Five checks of a channel with a mistake in it, and what Prove names: many seeded runs, as a table."""

from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ....core.curves import AnyCurve, Table
from ....core.document.channel import ContinuousChannel
from ....core.document.nominal import nominal_curve
from ....core.job.job import Job
from ....core.prove.mistakes.base import MistakeCase
from ....core.prove.mistakes.naming import Checks, Naming, named
from ..simulated import SimulatedChannel
from .scenes import SCENES, InForceLaw, Scene, scene_of

Array = NDArray[np.float64]
_SHARES = (0.06, 0.28, 0.5, 0.73, 0.95)  # of the range, about which the checks lie
_JITTER = 0.04
_SCANS, _RATE_HZ = 120, 100.0
_STOPS = 33  # at which a sound plant is calibrated
_REFERENCE_SHARE = 2.5e-4  # standard uncertainty of a reference, of the range
_HALF = 1 / np.sqrt(12)
_CLEARLY = 1.8  # times the uncertainty: a mistake that is still alone with so much more of it can be told apart


class MistakeRun(NamedTuple):
    """What was wrong and what was named; `can_tell` says that checks without noise, less sure, still name it alone."""

    tag: str
    mistake: str
    naming: Naming
    can_tell: bool

    @property
    def names(self) -> tuple[str, ...]:
        """The causes named."""
        return tuple(cause.name for cause in self.naming.suspects)


class MistakeRow(NamedTuple):
    """A line of the table."""

    mistake: str
    runs: int
    in_set: int
    can_tell: int
    alone: int
    taken_for: tuple[tuple[str, int], ...]


def one_run(job: Job, channel: ContinuousChannel, mistake: str, seed: int) -> MistakeRun | None:
    """One seeded run; None where the channel cannot have the mistake, or it changes nothing a check would see."""
    number = 0 if mistake == "healthy" else 1 + list(SCENES).index(mistake)
    draw = np.random.default_rng([seed, number])
    scene = scene_of(mistake, job, channel, draw)
    curve = nominal_curve(channel)
    if scene is None or curve is None:
        return None
    sound = _calibrated(SimulatedChannel(channel, np.random.default_rng([seed, 99]))) if scene.calibrated else curve
    case = MistakeCase(channel, sound, sound, scene.calibrated, _mates(job, channel))
    plant = SimulatedChannel(scene.plant, np.random.default_rng([seed, 99]))
    taken = _checks(plant, channel, _reading(case, scene), draw)
    if taken is None:
        return None
    checks, still = taken
    clear = named(case, still)
    if mistake != "healthy" and clear.is_sound:
        return None
    alone = [one.name for one in clear.suspects] == [mistake]
    return MistakeRun(channel.tag, mistake, named(case, checks), alone)


def _calibrated(plant: SimulatedChannel) -> AnyCurve:
    """A table through what the sound plant's pin gives at many stops, going up."""
    low, high = plant.ends
    values = np.linspace(low, high, _STOPS)
    return Table.through(np.array([_settled(plant, one)[0] for one in values.tolist()]), values)


def _settled(plant: SimulatedChannel, value: float) -> tuple[float, NDArray[np.int64]]:
    """The mean signal at the pin and the counts while the plant stands at a value."""
    plant.move(value)
    plant.falling = False
    plant.settle()
    block = plant.run(np.arange(_SCANS) / _RATE_HZ)
    return float(block.pin.mean()), block.counts


def _mates(job: Job, channel: ContinuousChannel) -> tuple[tuple[str, AnyCurve], ...]:
    found = []
    for other in job.channels:
        if isinstance(other, ContinuousChannel) and other.id != channel.id:
            curve = nominal_curve(other)
            if curve is not None and other.path.pin_unit == channel.path.pin_unit:
                found.append((other.tag, curve))
    return tuple(found)


def _reading(case: MistakeCase, scene: Scene) -> InForceLaw:
    read = case.read
    return read if scene.reading is None else scene.reading(read)


def _checks(
    plant: SimulatedChannel, channel: ContinuousChannel, reading: InForceLaw, draw: np.random.Generator
) -> tuple[Checks, Checks] | None:
    """Five checks as they are taken, and the same without noise and less sure; None where nothing can be read."""
    low, span = channel.range[0], channel.span
    shares = np.array(_SHARES) + draw.uniform(-_JITTER, _JITTER, len(_SHARES))
    digit = 10.0 ** np.floor(np.log10(1e-4 * span))
    nominal = channel.path.converter.nominal
    true = low + span * shares
    rows = []
    for value in true.tolist():
        pin, counts = _settled(plant, value)
        values = reading(nominal.inverse(counts))
        still = float(reading(np.array([pin * nominal.high / plant.channel.path.converter.end]))[0])
        spread = float(values.std(ddof=1)) / np.sqrt(len(values))
        rows.append((float(values.mean()), still, spread))
    means, stills, spreads = (np.array(column) for column in zip(*rows, strict=True))
    if not (np.all(np.isfinite(means)) and np.all(np.isfinite(stills))):
        return None
    reference = _REFERENCE_SHARE * span
    standard = np.sqrt(reference**2 + spreads**2 + (_HALF * digit) ** 2)
    seen = true + draw.normal(0, reference, len(true))
    is_cut = np.allclose(stills, stills[0]) or _is_whole(stills)
    shown = stills if is_cut else np.round(means / digit) * digit
    return Checks(seen, shown, standard), Checks(true, stills, _CLEARLY * standard)


def _is_whole(values: Array) -> bool:
    """Whether a display shows whole steps only: then it is read once, and not as a mean of what flickers."""
    step = 10.0 ** np.floor(np.log10(np.abs(values).max() + 1e-12) - 2)
    return bool(np.all(np.abs(values / step - np.round(values / step)) < 1e-9))


def runs_of_mistake(job: Job, mistake: str, count: int, first_seed: int) -> list[MistakeRun]:
    """So many seeded runs over the channels that can have a mistake, in turn; fewer where hardly any can."""
    channels = [one for one in job.channels if isinstance(one, ContinuousChannel)]
    found: list[MistakeRun] = []
    for seed in range(first_seed, first_seed + 2 * count + 20):
        for channel in channels:
            run = one_run(job, channel, mistake, seed) if len(found) < count else None
            if run is not None:
                found.append(run)
    return found


def mistake_table(job: Job, count: int, first_seed: int, mistakes: Sequence[str] = ()) -> list[MistakeRow]:
    """A row for each mistake, healthy first."""
    rows = []
    for mistake in mistakes or ("healthy", *SCENES):
        runs = runs_of_mistake(job, mistake, count, first_seed)
        wanted = [run.naming.is_sound if mistake == "healthy" else mistake in run.names for run in runs]
        told = [run for run in runs if run.can_tell]
        taken = Counter(", ".join(run.names) or "nothing" for run, right in zip(runs, wanted, strict=True) if not right)
        rows.append(
            MistakeRow(
                mistake, len(runs), sum(wanted), len(told), sum(run.names == (mistake,) for run in told),
                tuple(taken.most_common(3)),
            )
        )  # fmt: skip
    return rows
