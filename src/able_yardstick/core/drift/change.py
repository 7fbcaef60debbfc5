"""What a unit did since its last visit: whether it moved by more than both uncertainties explain, and in which way."""

from typing import Literal, NamedTuple

import numpy as np

from ..uncertainty.coverage import two_sided
from .trend import DriftTrend, StopDifference

_FALSE = 0.05  # of the flags are false at most, all stops together
DriftKind = Literal["zero", "gain", "bend"]
_SURE = 2.0


class DriftChange(NamedTuple):
    """The stops that moved by more than is explained since the visit before, the worst first."""

    moved: tuple[StopDifference, ...]
    compared: int

    @property
    def is_flagged(self) -> bool:
        """Whether any did."""
        return bool(self.moved)


def change_at_last(trend: DriftTrend) -> DriftChange:
    """What moved between the last two visits; the level of each stop is set so that all together keep 5 %."""
    last = max(row.after for row in trend.differences)
    rows = [row for row in trend.differences if row.after == last]
    most = two_sided(1 - _FALSE / len(rows))
    moved = [row for row in rows if abs(row.difference) > most * row.standard]
    return DriftChange(tuple(sorted(moved, key=lambda row: -abs(row.difference) / row.standard)), len(rows))


def kinds_of(trend: DriftTrend) -> tuple[DriftKind, ...]:
    """Which ways of drifting are seen: those that are at least twice their standard uncertainty."""
    sizes = np.sqrt(np.diag(trend.covariance)) * trend.scale
    names: tuple[DriftKind, ...] = ("zero", "gain")
    found = [name for name, rate, size in zip(names, trend.rates, sizes, strict=False) if abs(rate) > _SURE * size]
    if _is_bent(trend):
        found.append("bend")
    return tuple(found)


def _is_bent(trend: DriftTrend) -> bool:
    """Whether the differences a year bend over the values by more than their scatter, by weighted least squares."""
    values = np.array([row.value for row in trend.differences])
    if len(np.unique(values)) < 4:
        return False
    years = np.array([row.years for row in trend.differences])
    standard = np.array([row.standard for row in trend.differences])
    apart = values - trend.centre
    design = np.column_stack([years, years * apart, years * apart**2]) / standard[:, None]
    moved = np.array([row.difference for row in trend.differences]) / standard
    inner = np.linalg.pinv(design.T @ design)
    bend, size = float((inner @ design.T @ moved)[2]), float(np.sqrt(inner[2, 2]))
    return abs(bend) > 3 * size * trend.scale
