"""The strip of a pair: a magnified stretch of scale where its difference shows against what is allowed."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPen

from ....core.document.channel import ContinuousChannel
from ....core.lookout.apart import PairStanding
from ....core.lookout.rows import LookoutRow
from ....core.lookout.watchable import Watchable, in_unit_of, watchable
from ....core.words.numerals import decimals_for, fixed, significant
from ...centre.rule.graduations import steps_from
from ...frame.painting import CENTRE, RIGHT, write
from ...frame.theme import font
from ..watcher import Trend
from .strip import NAME, Strip, StripSheet, paint_ground, paint_number, paint_read, value_place
from .trend import common_range, draw_course, trend_box
from .words import pair_value

_HEIGHT, _PLAIN = 68.0, 30.0
_LABELS, _FINE = 5, 5  # at most so many labels, with so many marks from one to the next
_AXIS = 40.0


class PairStrip(Strip):
    """Two sensors on one stretch of scale, the band allowed about the first, and both of their courses."""

    def height(self, sheet: StripSheet, row: LookoutRow, usual: float) -> float:
        """Higher than a channel's, as it has two marks with their tags; a line while there is nothing to compare."""
        return _HEIGHT if row.id in sheet.watch.pairs else _PLAIN

    def words(self, sheet: StripSheet, row: LookoutRow) -> str:
        standing = sheet.standing(row.id)
        return f"{row.words}: {standing.says if standing else 'not live'}"

    def paint(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
        paint_ground(painter, sheet, row, place)
        theme, found = sheet.theme, sheet.watch.pairs.get(row.id)
        names = QRectF(place.left() + 28, place.top() + 4, NAME, 22)
        write(painter, theme, names, row.words, "ink", heavy=True, size=13)
        paint_number(painter, sheet, value_place(place), *pair_value(sheet.job, sheet.watch, row.id))
        if found is None:
            return
        says = _allowed_words(found)
        write(painter, theme, QRectF(place.left() + 28, place.top() + 24, NAME + 100, 18), says, "muted")
        trusted = f"{found.told_suspect} is suspect" if found.told_suspect else ""
        write(painter, theme, QRectF(place.left() + 28, place.top() + 42, NAME + 100, 18), trusted, "amber")
        _paint_magnified(painter, sheet, found, place)
        _paint_courses(painter, sheet, found, place)


def _allowed_words(found: PairStanding) -> str:
    if np.isnan(found.allowed):
        return "nothing says what is allowed"
    state = "apart" if found.is_apart else "together"
    return f"{state}; {significant(found.allowed, 2)} allowed, {found.allowed_by}"


def _paint_magnified(painter: QPainter, sheet: StripSheet, found: PairStanding, place: QRectF) -> None:
    """A stretch of scale about both, at least three times what is allowed wide."""
    theme, (left, right) = sheet.theme, sheet.columns.scale
    allowed = 0.0 if np.isnan(found.allowed) else found.allowed
    middle = (found.means[0] + found.means[1]) / 2
    half = max(1.2 * abs(found.difference), 1.6 * allowed, 1e-9 * max(abs(middle), 1.0))
    y = place.top() + _AXIS

    def x(value: float) -> float:
        return left + 16 + (right - left - 32) * (value - middle + half) / (2 * half)

    if allowed:
        start, end = (max(min(x(found.means[0] + side * allowed), right), left) for side in (-1, 1))
        painter.fillRect(QRectF(start, y - 7, end - start, 7), theme.color("allowed"))
    painter.setPen(QPen(theme.color("ink"), 1))
    painter.drawLine(QPointF(x(middle - half), y), QPointF(x(middle + half), y))
    step = next(iter(steps_from(2 * half / _LABELS)))
    fine = np.arange(np.ceil((middle - half) / step * _FINE), np.floor((middle + half) / step * _FINE) + 1)
    for value in fine * step / _FINE:
        painter.drawLine(QPointF(x(float(value)), y), QPointF(x(float(value)), y + 3))
    painter.setFont(font(12))
    for value in np.arange(np.ceil((middle - half) / step), np.floor((middle + half) / step) + 1) * step:
        at = x(float(value))
        painter.drawLine(QPointF(at, y), QPointF(at, y + 6))
        painter.drawText(QRectF(at - 40, y + 6, 80, 16), int(CENTRE), fixed(float(value), decimals_for(step)))
    _paint_marks(painter, sheet, found, [x(one) for one in found.means], y)


def _paint_marks(painter: QPainter, sheet: StripSheet, found: PairStanding, at: list[float], y: float) -> None:
    """Both sensors with their tags away from each other."""
    theme, measure = sheet.theme, QFontMetricsF(font(12))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.color("amber" if found.is_apart else "teal", 120))
    painter.drawRect(QRectF(min(at), y - 12, abs(at[1] - at[0]), 3))
    for n, (x, channel_id) in enumerate(zip(at, (found.first, found.second), strict=True)):
        tag = watchable(sheet.job, channel_id).tag
        suspect = tag == found.told_suspect
        painter.setPen(QPen(theme.color("amber" if suspect else "teal"), 2))
        painter.drawLine(QPointF(x, y - 14), QPointF(x, y + 4))
        is_left = at[n] < at[1 - n] or (at[n] == at[1 - n] and n == 0)
        width = measure.horizontalAdvance(tag) + 6
        place = QRectF(x - width if is_left else x, y - 32, width, 17)
        write(painter, theme, place, tag, "amber" if suspect else "teal", RIGHT if is_left else CENTRE)


def _paint_courses(painter: QPainter, sheet: StripSheet, found: PairStanding, place: QRectF) -> None:
    job = sheet.job
    box = trend_box(place, sheet.columns.trend)
    painter.fillRect(box, sheet.theme.color("desk"))
    first = watchable(job, found.first)
    trends = [_trend_of(sheet, first, watchable(job, one)) for one in (found.first, found.second)]
    shown = common_range(tuple(trends), 0.0)
    for trend, channel_id in zip(trends, (found.first, found.second), strict=True):
        suspect = watchable(job, channel_id).tag == found.told_suspect
        draw_course(painter, sheet.theme, trend, box, shown, "amber" if suspect else "teal")
    if sheet.ago_s is not None:
        both = [trend.at(sheet.ago_s) for trend in trends]
        if both[0] is not None and both[1] is not None:
            gap = both[1] - both[0]
            paint_read(painter, sheet, place, f"{'+' if gap > 0 else '−'}{significant(abs(gap), 2)}")


def _trend_of(sheet: StripSheet, first: Watchable, one: Watchable) -> Trend:
    """The last minute of one of a pair, in the first one's unit."""
    if not isinstance(one, ContinuousChannel):
        trend = sheet.watch.value_trend(one)
        return Trend(trend.ago_s, in_unit_of(first, one.unit, trend.pins))
    course, pins = sheet.watch.course(one), sheet.watch.trend(one)
    count = min(len(course), len(pins.ago_s))
    values = course.values[len(course) - count :]
    return Trend(pins.ago_s[len(pins.ago_s) - count :], in_unit_of(first, one.unit, values))
