"""What is watched beside the channels, and how rows stand: pairs, values made of channels, order, hidden, pinned."""

from functools import cached_property, lru_cache
from typing import Annotated, ClassVar, Literal, Self, get_args

from pydantic import Field, model_validator

from ..words.record import Finite, Frozen
from .alarm import Alarm, complaint_about

CombineRule = Literal["mean", "weighted by U", "lower", "higher", "middle", "one chosen"]
COMBINE_RULES: tuple[CombineRule, ...] = get_args(CombineRule)
RowOrder = Literal["tagboard", "tag", "attention", "group"]
ROW_ORDERS: tuple[RowOrder, ...] = get_args(RowOrder)


class SensorPair(Frozen):
    """Sensors of one quantity, by their channels' ids; how far the second may be from the first, in the first's unit.

    None: as far as the U of both explains.
    """

    id: str
    channels: tuple[str, ...] = Field(min_length=2, max_length=9)
    allowed: Finite | None = Field(default=None, gt=0)

    @model_validator(mode="after")
    def _are_distinct(self) -> Self:
        if len(set(self.channels)) < len(self.channels):
            raise ValueError("a sensor is compared with another one: the same stands there twice. Choose two")
        return self


class _WatchedBase(Frozen):
    """What every value made of channels has: `title` says its kind in words."""

    title: ClassVar[str]
    id: str
    tag: str = Field(min_length=1)
    name: str = ""
    unit: str = ""
    alarms: tuple[Alarm, ...] = ()

    @model_validator(mode="after")
    def _alarms_fit(self) -> Self:
        complaint = complaint_about(self.alarms)
        if complaint:
            raise ValueError(complaint)
        return self


class FormulaValue(_WatchedBase):
    """A formula over channels, in which each stands by its id in braces: {a1} - {b2}."""

    title: ClassVar[str] = "formula"
    kind: Literal["formula"] = "formula"
    formula: str = Field(min_length=1, max_length=2000)


class CombinedValue(_WatchedBase):
    """One value of several sensors of one quantity; `chosen` is the one taken where one is."""

    title: ClassVar[str] = "combined value"
    kind: Literal["combined"] = "combined"
    channels: tuple[str, ...] = Field(min_length=2, max_length=9)
    rule: CombineRule = "mean"
    chosen: str = ""


class TotalValue(_WatchedBase):
    """What a rate comes to over time: m³/h to m³, from when the watch or the log begins."""

    title: ClassVar[str] = "total over time"
    kind: Literal["total"] = "total"
    channel: str


AnyWatched = Annotated[FormulaValue | CombinedValue | TotalValue, Field(discriminator="kind")]


class WatchedRow(Frozen):
    """How the row of a channel, a pair or a value is shown: by its id. `low` and `high` are in its own unit."""

    id: str
    group: str = ""
    is_hidden: bool = False
    is_pinned: bool = False
    low: Finite | None = None
    high: Finite | None = None
    decimals: int | None = Field(default=None, ge=0, le=9)

    @model_validator(mode="after")
    def _runs_upwards(self) -> Self:
        if self.low is not None and self.high is not None and not self.low < self.high:
            raise ValueError(f"the range shown must run upwards: found {self.low:g} to {self.high:g}")
        return self


@lru_cache(maxsize=1024)
def _as_at_first(row_id: str) -> WatchedRow:
    return WatchedRow(id=row_id)


class WatchList(Frozen):
    """All of it."""

    order: RowOrder = "tagboard"
    rows: tuple[WatchedRow, ...] = ()
    pairs: tuple[SensorPair, ...] = ()
    values: tuple[AnyWatched, ...] = ()

    def row(self, row_id: str) -> WatchedRow:
        """How a row is shown."""
        return self._by_id.get(row_id) or _as_at_first(row_id)

    @cached_property
    def _by_id(self) -> dict[str, WatchedRow]:
        return {row.id: row for row in self.rows}

    def with_row(self, row: WatchedRow) -> "WatchList":
        """With a row shown otherwise; one as all are at first is not kept."""
        rest = tuple(one for one in self.rows if one.id != row.id)
        return self.with_(rows=rest if row == WatchedRow(id=row.id) else (*rest, row))
