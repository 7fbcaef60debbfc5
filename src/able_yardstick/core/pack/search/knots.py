"""A curve as a table of knots: the best one, with what bounds it and what plainer tables would cost."""

from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...curves import Curve, Table
from ...forms.spec import PackSpec
from ...forms.steps import on_step
from ...forms.table import Knots
from ...path.converter import Converter
from ...words.errors import OutOfRange
from .polish import Steps, polished
from .reduce import Placed, fewest_knots, filled, free_knots, values_at
from .room import Grid
from .settle import settled
from .target import Target, target_of

Array = NDArray[np.float64]
_PLACES_A_PIECE = 60  # where the signals are free and the values are not
_FINER, _NEAR = 4, 12  # how often such places are laid closer, and how many either side of a knot
_MORE_KNOTS = 12


class TableReport(NamedTuple):
    """What a table is measured by: bounds proven for its very grid and for knots that stand anywhere.

    `even` are evenly spaced knots with the best values the controller takes, and the error they reach. All hold between
    the table's ends, where it reaches `inside`; `leaves_out` says that the calibration holds further than they.
    """

    bound: float
    free_bound: float
    even: Knots
    even_error: float
    inside: float
    leaves_out: bool = False


class Shared(NamedTuple):
    """Another curve that uses the same table, over its own stretch of signal."""

    curve: Curve
    stretch: tuple[float, float]


class TableOrder(NamedTuple):
    """What a table is asked for: the curve and those that share it, the stretch, and what the controller allows."""

    curve: Curve
    converter: Converter
    spec: PackSpec
    stretch: tuple[float, float]
    shared: tuple[Shared, ...] = ()

    @property
    def ends(self) -> tuple[float, float]:
        """The stretch of all curves together that the converter reads, out to the signal step."""
        low = min([self.stretch[0], *(other.stretch[0] for other in self.shared)])
        high = max([self.stretch[1], *(other.stretch[1] for other in self.shared)])
        step = self.spec.signal_step
        if step is None:
            return low, high
        low, high = max(low, self.converter.low), min(high, self.converter.high)
        places = np.array([np.floor(low / step + 1e-9), np.ceil(high / step - 1e-9)]) * step
        first, last = on_step(places, step).tolist()
        return first, last

    @property
    def target(self) -> Target:
        """The truth at every count of the stretch, as far as knots that are given reach."""
        given = self.given
        if not given:
            return target_of([(self.curve, self.stretch), *self.shared], self.converter)
        curves = [Shared(self.curve, self.stretch), *self.shared]
        within = [(curve, (max(low, given[0]), min(high, given[-1]))) for curve, (low, high) in curves]
        return target_of(within, self.converter)

    @property
    def given(self) -> tuple[float, ...]:
        """The signals of knots that are not placed by the program."""
        if self.spec.spacing == "fixed":
            return self.spec.positions
        return tuple(signal for signal, _ in self.spec.own_knots) if self.spec.spacing == "own" else ()

    def leaves_out(self, ends: tuple[float, float]) -> bool:
        """Whether counts at which the calibration holds lie beyond ends."""
        counts = self.converter.count_of(np.array(self.curve.domain))
        low, high = (float(signal) for signal in self.converter.inverse(counts))
        return low < ends[0] - self.converter.resolution or high > ends[1] + self.converter.resolution

    def grid(self, places: Array, *, fixed: bool = False) -> Grid:
        """Places (p,), signals, with the steps and limits of the values."""
        low, high = self.spec.limit_low, self.spec.limit_high
        return Grid(
            places, self.spec.value_step, -np.inf if low is None else low, np.inf if high is None else high, fixed
        )


def table_of(order: TableOrder) -> tuple[Knots, TableReport]:
    """The table asked for, with its report.

    Raises: OutOfRange if there is no room for it, InvalidRecord if its knots cannot be.
    """
    target, spec = order.target, order.spec
    if spec.spacing == "own":
        signals, values = (np.array(column) for column in zip(*spec.own_knots, strict=True))
        made = Placed(signals, values, target.worst(signals, values), target.spread)
        plain = order._replace(spec=spec.with_(spacing="even", knots=len(signals), own_knots=()))
        beside = _beside_own(plain)
        ends = (float(signals[0]), float(signals[-1]))
        bound = min(beside.free_bound, made.reached)
        report = beside._replace(bound=bound, inside=made.reached, leaves_out=order.leaves_out(ends))
        return _knots(order, made), report
    if spec.spacing == "fixed":
        places = np.array(spec.positions)
        free = free_knots(target, len(places), (float(places[0]), float(places[-1])))
        return _report(order, target, _at_fixed(order, target, places), free)
    if spec.max_error is not None:
        return _report(order, target, *_fewest(order, target, spec.max_error))
    return _report(order, target, *_of_number(order, target, spec.knots))


@lru_cache(maxsize=16)
def _beside_own(order: TableOrder) -> TableReport:
    """What a table of one's own is compared with: the same for all of them, so that one can be dragged about."""
    return table_of(order)[1]


def _report(order: TableOrder, target: Target, made: Placed, free: Placed) -> tuple[Knots, TableReport]:
    ends = (float(made.signals[0]), float(made.signals[-1]))
    spread = ends if order.given else order.ends  # over the whole curve, which the best table need not reach
    places = on_step(np.linspace(*spread, len(made.signals)), order.spec.signal_step)
    if np.any(np.diff(places) <= 0):
        places = made.signals
    even = made if np.array_equal(places, made.signals) else _at_fixed(order, target, places)
    report = TableReport(
        made.bound, free.bound, _knots(order, even), even.reached, made.reached, order.leaves_out(ends)
    )
    return _knots(order, made), report


def _knots(order: TableOrder, placed: Placed) -> Knots:
    values = on_step(placed.values, order.spec.value_step)
    return Knots(signals=tuple(placed.signals.tolist()), values=tuple(values.tolist()), clamp=order.spec.clamp)


def _at_fixed(order: TableOrder, target: Target, places: Array) -> Placed:
    """The best values the controller takes at fixed places."""
    free = values_at(target, places)
    grid = order.grid(places, fixed=True)
    if grid.value_step is None and not np.isfinite([grid.lowest, grid.highest]).any():
        return free
    return settled(target, grid, len(places), free)


def _of_number(order: TableOrder, target: Target, knots: int) -> tuple[Placed, Placed]:
    """So many knots, best or evenly placed, and the best of free ones."""
    free = free_knots(target, knots, order.ends)
    if order.spec.spacing == "even":
        places = on_step(np.linspace(*order.ends, knots), order.spec.signal_step)
        _refuse_crowded(places)
        return _at_fixed(order, target, places), free
    if order.spec.signal_step is None and order.spec.value_step is None:
        return _own_rows(order, target, knots) or free, free
    places = _places(order, knots)
    if len(places) < knots:
        _refuse_crowded(np.zeros(2))
    found = settled(target, order.grid(places), knots, free)
    if order.spec.signal_step is None:  # what was proven holds for knots at short numbers only
        found = _refined(order, target, found)._replace(bound=free.bound)
    return found, free


def _refined(order: TableOrder, target: Target, found: Placed) -> Placed:
    """Knots whose signals may be any number, moved about in finer and finer steps around where they stand."""
    grid, ends = order.grid(found.signals), found.signals[[0, -1]]
    gap = float(np.ptp(ends)) / (_PLACES_A_PIECE * (len(found.signals) - 1))
    for _ in range(_FINER):
        gap = _short_step(gap / 4)
        near = on_step(found.signals[:, None] + gap * np.arange(-_NEAR, _NEAR + 1), gap).ravel()
        places = np.unique(np.concatenate([near[(near > ends[0]) & (near < ends[1])], found.signals]))
        better = polished(target, Steps(places, grid.value_step, grid.lowest, grid.highest), found)
        found = min(found, better, key=lambda placed: placed.reached)
    return found


def _own_rows(order: TableOrder, target: Target, knots: int) -> Placed | None:
    """A straight table's own rows, where so many knots can hold them all: nothing is better, to the last digit."""
    curve = order.curve
    if not isinstance(curve, Table) or order.shared or len(curve.signals) > knots:
        return None
    if (curve.signals[0], curve.signals[-1]) != order.ends:
        return None
    signals, values = filled(np.array([curve.signals, curve.values]).T, knots)
    return Placed(signals, values, target.worst(signals, values), target.spread)


def _refuse_crowded(places: Array) -> None:
    if np.any(np.diff(places) <= 0):
        raise OutOfRange("two knots fall on one signal: take fewer knots, a wider stretch or a finer signal step")


def _places(order: TableOrder, knots: int) -> Array:
    """The signals where knots may stand; where any will do, short numbers close together."""
    low, high = order.ends
    step = order.spec.signal_step
    if step is None:
        step = _short_step((high - low) / (_PLACES_A_PIECE * (knots - 1)))
        inside = np.arange(np.floor(low / step) + 1, np.ceil(high / step)) * step
        return np.concatenate([[low], on_step(inside, step), [high]])
    return on_step(np.arange(round(low / step), round(high / step) + 1, dtype=np.float64) * step, step)


def _short_step(wanted: float) -> float:
    """The next smaller of 1, 2, 5 times a power of ten."""
    power = 10.0 ** np.floor(np.log10(wanted))
    return float(max(factor * power for factor in (1, 2, 5) if factor * power <= wanted * (1 + 1e-9)))


def _fewest(order: TableOrder, target: Target, error: float) -> tuple[Placed, Placed]:
    """The fewest knots within an error: as many as free ones need, and more while the grid asks for it."""
    least = fewest_knots(target, error)
    for knots in range(least, least + _MORE_KNOTS):
        made, free = _of_number(order, target, knots)
        if made.reached <= error * (1 + 1e-9):
            return made, free
    raise OutOfRange(
        f"{least} knots would keep within {error:.4g} if they could stand anywhere, but in these steps even "
        f"{least + _MORE_KNOTS - 1} reach only {made.reached:.4g}. Allow more, or choose finer steps.",
        found=made.reached,
    )


@lru_cache(maxsize=64)
def fewest_within(order: TableOrder, error: float) -> int | None:
    """How many freely placed knots keep within an error; None if none do."""
    try:
        return fewest_knots(order.target, error)
    except OutOfRange:
        return None
