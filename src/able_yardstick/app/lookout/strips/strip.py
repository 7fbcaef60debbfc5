"""What every strip is painted with: the columns, the theme, and what the lookout knows."""

from abc import ABC, abstractmethod
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from ....core.job.job import Job
from ....core.lookout.attention import level_of
from ....core.lookout.rows import LookoutRow
from ....core.lookout.standing import ChannelStanding
from ...frame.painting import write
from ...frame.state_mark import draw_state
from ...frame.theme import Theme
from ..watcher import WINDOW_S, Watcher

MARGIN = 10.0
NAME, VALUE, READ = 124.0, 128.0, 76.0  # widths
_GAP = 18.0
_SCALE_SHARE = 0.56  # of what is left for scale and trend
_STRIPES = {"look": "amber", "fault": "red"}


class StripColumns(NamedTuple):
    """Where scale and trend stand in a strip, from left to right, in pixels."""

    scale: tuple[float, float]
    trend: tuple[float, float]

    @classmethod
    def of(cls, width: float) -> "StripColumns":
        """For a picture of a width."""
        left = MARGIN + NAME + VALUE + 16
        right = left + _SCALE_SHARE * (width - left - READ - MARGIN - _GAP)
        return cls((left, right), (right + _GAP, width - READ - MARGIN - 4))

    def ago_s(self, x: float) -> float | None:
        """The moment at a pixel, in s before now (below 0); None beside the trends."""
        left, right = self.trend
        return -WINDOW_S * (right - x) / (right - left) if left <= x <= right else None

    def x(self, ago_s: float) -> float:
        """The pixel of a moment."""
        left, right = self.trend
        return right + (right - left) * ago_s / WINDOW_S


class StripSheet(NamedTuple):
    """All that a strip is painted from; `ago_s` is where the time hairline stands."""

    job: Job
    watch: Watcher
    theme: Theme
    columns: StripColumns
    shows_raw: bool
    ago_s: float | None
    chosen: str  # the row that has the keys, by its id

    def standing(self, row_id: str) -> ChannelStanding | None:
        """How a row stands."""
        return self.watch.standings.get(row_id)


class Strip(ABC):
    """A kind of row."""

    @abstractmethod
    def height(self, sheet: StripSheet, row: LookoutRow, usual: float) -> float:
        """How high it is, in pixels; `usual` is that of a channel's."""

    @abstractmethod
    def paint(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
        """Paint it into its place, as it was at the last look."""

    def moved(self, sheet: StripSheet, row: LookoutRow, place: QRectF) -> QRectF | None:
        """The part that `paint_live` would paint otherwise by now; None where it would not."""
        return None

    def paint_live(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:  # noqa: B027
        """Paint what moves between two looks, if anything does."""

    @abstractmethod
    def words(self, sheet: StripSheet, row: LookoutRow) -> str:
        """What it says, for those who cannot see it."""


def paint_ground(painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
    """The card of a row with its state, and its frame where it has the keys."""
    standing, theme = sheet.standing(row.id), sheet.theme
    level = "open" if standing is None else level_of(standing)
    is_chosen = row.id == sheet.chosen
    painter.setPen(theme.color("accent" if is_chosen else "line"))
    painter.setBrush(theme.color("paper"))
    painter.drawRoundedRect(place.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
    if level in _STRIPES:
        stripe = QRectF(place.left(), place.top() + 6, 3.5, place.height() - 12)
        painter.fillRect(stripe, theme.color(_STRIPES[level]))
    draw_state(painter, theme, level, QPointF(place.left() + 16, place.top() + 15), 4.5)
    if row.is_pinned:
        write(painter, theme, QRectF(place.left() + NAME - 14, place.top() + 4, 14, 20), "▴", "accent")


def paint_name(painter: QPainter, sheet: StripSheet, place: QRectF, tag: str, name: str) -> None:
    """The tag, and below it what it is, where there is room."""
    left = place.left() + 28
    write(painter, sheet.theme, QRectF(left, place.top() + 4, NAME - 44, 22), tag, "ink", heavy=True, size=13)
    room = NAME - 24 if sheet.shows_raw else NAME + VALUE - 40  # the raw signal stands beside it
    if place.height() > 34:
        write(painter, sheet.theme, QRectF(left, place.top() + 23, room, 18), name, "muted")


def value_place(place: QRectF) -> QRectF:
    """Where a row's value stands."""
    return QRectF(place.left() + NAME, place.top(), VALUE, place.height())


def paint_number(painter: QPainter, sheet: StripSheet, place: QRectF, text: str, unit: str, colour: str) -> None:
    """A number with its unit, or a word."""
    from ...frame.painting import RIGHT

    number = place.adjusted(0, 2, -44 if unit else 0, 0)
    number.setHeight(26)
    write(painter, sheet.theme, number, text, colour, RIGHT, heavy=True, size=17 if unit else 13)
    write(painter, sheet.theme, QRectF(place.right() - 40, place.top() + 5, 44, 22), unit, "muted")


def paint_read(painter: QPainter, sheet: StripSheet, place: QRectF, text: str) -> None:
    """What the time hairline reads."""
    from ...frame.painting import RIGHT

    at = QRectF(sheet.columns.trend[1] + 4, place.top(), READ, place.height())
    write(painter, sheet.theme, at, text, "accent", RIGHT, heavy=True)
