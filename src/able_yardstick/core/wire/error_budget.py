"""The error budget before any calibration: what tolerances and accuracy come to in engineering units.

First-order propagation after JCGM 100:2008, 5.1.2, eq. (10), with the sensitivities taken by the finite differences
of 5.1.3, note 2. Every tolerance is a limit either way, so it counts as rectangular: divided by the root of three
(4.3.7). `monte_carlo` sends drawn values through the same path instead (JCGM 101:2008, 5.9).
"""

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..document.once import once_per_record
from ..stages import Excitation, PullUp
from ..stages.base import Part
from ..uncertainty.coverage import ROOT_OF_THREE, Contribution, Interval, interval_of
from ..words.errors import NotApplicable, YardstickError

Array = NDArray[np.float64]
DEFAULT_DRAWS = 20_000


class Budget(NamedTuple):
    """All contributions at a value, greatest first, their combined standard uncertainty, and their sum of limits."""

    value: float
    rows: tuple[Contribution, ...]
    combined: float
    worst: float
    remark: str = ""

    @property
    def interval(self) -> Interval:
        """What they come to together at 95 %, by the rule that holds in the whole program."""
        return interval_of(list(self.rows))

    @property
    def expanded(self) -> float:
        """The half-width that holds 95 %, in the channel's unit."""
        return self.interval.expanded


class _Limited(NamedTuple):
    """Something only known within limits: drawn at `shares` from -1 to 1 it gives the value indicated."""

    name: str
    half_width: float
    unit: str
    stage: int | None = None
    part: str = ""
    centre: float = 0.0


def budget_at(channel: ContinuousChannel, value: float) -> Budget:
    """The budget at a value, in the channel's unit.

    Raises: NotApplicable without a described curve, OutOfRange where the value has no signal.
    """
    curve = _curve_of(channel)
    sources, remark = _sources(channel, value)
    found = _indicated(channel, curve, value, _one_at_a_time(sources))
    rows = []
    for n, source in enumerate(sources):
        standard = abs(float(found[2 * n] - found[2 * n + 1])) / 2
        per = standard * ROOT_OF_THREE / source.half_width
        rows.append(Contribution.limit(source.name, source.half_width, source.unit, per))
    rows.sort(key=lambda row: -row.standard)
    combined = float(np.sqrt(sum(row.standard**2 for row in rows)))
    return Budget(value, tuple(rows), combined, sum(row.half_width for row in rows), remark)


def _one_at_a_time(sources: list[_Limited]) -> dict[_Limited, Array]:
    """Shares at which each source in turn stands a standard uncertainty up, then down, and all others are exact."""
    shares = {source: np.zeros(2 * len(sources)) for source in sources}
    for n, source in enumerate(sources):
        shares[source][2 * n : 2 * n + 2] = (1 / ROOT_OF_THREE, -1 / ROOT_OF_THREE)
    return shares


@once_per_record
def along_range(channel: ContinuousChannel) -> tuple[Budget, ...]:
    """Budgets at nine evenly spread values of the range."""
    return tuple(budget_at(channel, float(value)) for value in np.linspace(*channel.range, 9))


def at_ends_and_middle(channel: ContinuousChannel) -> tuple[Budget, ...]:
    """Those of them at both ends of the range and in its middle."""
    return along_range(channel)[::4]


def monte_carlo(channel: ContinuousChannel, value: float, seed: int, draws: int = DEFAULT_DRAWS) -> Array:
    """Values indicated for a true value when every tolerance is drawn from its limits, shape (draws,)."""
    generator = np.random.default_rng(seed)
    curve = _curve_of(channel)
    sources, _ = _sources(channel, value)
    return _indicated(channel, curve, value, {source: generator.uniform(-1, 1, draws) for source in sources})


def _curve_of(channel: ContinuousChannel) -> Curve:
    curve = nominal_curve(channel)
    if curve is None:
        raise NotApplicable(f"{channel.tag} has no described curve: without one no tolerance can be turned into units.")
    return curve


def _sources(channel: ContinuousChannel, value: float) -> tuple[list[_Limited], str]:
    """Everything that is only known within limits, and a remark on what is left out."""
    found, remark = [], ""
    accuracy = _accuracy(channel, value)
    if not np.isfinite(accuracy):
        remark = "The transducer's class does not hold at this value, so its accuracy is left out: check its class."
    elif accuracy > 0:
        found.append(_Limited("transducer's accuracy", accuracy, channel.unit))
    path = channel.path
    for n, part in limited_parts(channel):
        found.append(_Limited(part.says, part.half_width, part.unit, n, part.name, part.value))
    converter = path.converter
    if converter.reference_tolerance_percent > 0 and not follows_reference(channel):
        half = converter.reference_tolerance_percent / 100
        found.append(_Limited("converter's reference", 100 * half, "%", part="reference"))
    found.append(_Limited("one step of the converter", converter.resolution / 2, converter.unit, part="resolution"))
    return found, remark


def limited_parts(channel: ContinuousChannel) -> Iterator[tuple[int, Part]]:
    """The parts of the path that are known within limits only, each with the number of its stage.

    A supply that is the converter's own reference falls out of what is read, so it is not among them.
    """
    path = channel.path
    for n, stage in enumerate(path.supplied):
        shared = path.converter.shares_supply and isinstance(stage, PullUp | Excitation)
        for part in stage.parts(channel.around):
            if part.half_width > 0 and not (shared and part.name in ("supply_v", "voltage_v")):
                yield n, part


def follows_reference(channel: ContinuousChannel) -> bool:
    """Whether the signal rises and falls with the converter's own reference, so that its error falls out."""
    driven = any(isinstance(stage, PullUp | Excitation) for stage in channel.path.stages)
    return channel.path.converter.shares_supply and (driven or channel.transducer.is_ratiometric)


def _accuracy(channel: ContinuousChannel, value: float) -> float:
    part = channel.transducer
    try:
        in_sheet = _sheet_value(channel, value)
        return channel.step_in_unit(float(part.half_width(np.array([in_sheet]))[0]), part.unit)
    except YardstickError:
        return float("nan")


def _sheet_value(channel: ContinuousChannel, value: float) -> float:
    return float(channel.converted(value, channel.unit, channel.transducer.unit))


def _indicated(channel: ContinuousChannel, curve: Curve, value: float, drawn: dict[_Limited, Array]) -> Array:
    """The values indicated for a true value when sources stand at shares of their half-widths, shape (n,)."""
    path, around = channel.path, channel.around
    true = np.full(1, value)
    varied: dict[int, dict[str, Array | float]] = {}
    at_pin, times = np.zeros(1), np.ones(1)
    for source, share in drawn.items():
        amount = source.half_width * share
        if source.stage is not None:
            varied.setdefault(source.stage, {})[source.part] = source.centre + amount
        elif source.part == "resolution":
            at_pin = at_pin + amount
        elif source.part == "reference":
            times = times / (1 + amount / 100)
        else:
            true = true + amount
    output = path.output(curve.signal(true), around)
    pin = path.pin(output, around, varied) * times + at_pin
    return np.atleast_1d(curve.value(pin))
