"""The strip of a value made of channels, and the head of a group."""

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from ....core.document.watched import AnyWatched, CombinedValue, FormulaValue
from ....core.job.job import Job
from ....core.lookout.combining import COMBINING
from ....core.lookout.naming import shown_formula
from ....core.lookout.rows import LookoutRow
from ....core.lookout.shown_range import watched_decimals
from ....core.words.numerals import fixed, significant
from ...frame.painting import write
from .strip import Strip, StripSheet, paint_ground, paint_name, paint_number, paint_read, value_place
from .trend import draw_trend, trend_box
from .words import watched_words

_GROUP = 24.0


class ValueStrip(Strip):
    """What it is made of stands where a channel has its scale."""

    def height(self, sheet: StripSheet, row: LookoutRow, usual: float) -> float:
        """As a channel's."""
        return usual

    def words(self, sheet: StripSheet, row: LookoutRow) -> str:
        value = _value(sheet, row)
        return f"{value.tag}: {watched_words(sheet.job, sheet.watch, value).plain}"

    def paint(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
        value = _value(sheet, row)
        paint_ground(painter, sheet, row, place)
        paint_name(painter, sheet, place, value.tag, value.name or value.title)
        paint_number(painter, sheet, value_place(place), *watched_words(sheet.job, sheet.watch, value))
        left, right = sheet.columns.scale
        width, now = right - left, sheet.watch.values.get(value.id)
        write(painter, sheet.theme, QRectF(left, place.top() + 3, width, 20), made_of(sheet.job, value), "ink")
        known = now is not None and np.isfinite(now.expanded)
        says = f"± {significant(now.expanded, 2)} {value.unit}" if now is not None and known else ""
        remark = now.remark if now is not None else ""
        write(painter, sheet.theme, QRectF(left, place.top() + 22, width, 20), remark or says, "muted")
        trend = sheet.watch.value_trend(value)
        draw_trend(painter, sheet.theme, trend, trend_box(place, sheet.columns.trend), 0.0)
        if sheet.ago_s is not None:
            at = trend.at(sheet.ago_s)
            decimals = 0 if at is None or now is None else watched_decimals(sheet.job, value, at, now.expanded)
            paint_read(painter, sheet, place, "—" if at is None else fixed(at, decimals))


def _value(sheet: StripSheet, row: LookoutRow) -> AnyWatched:
    return next(one for one in sheet.job.watch.values if one.id == row.id)


def made_of(job: Job, value: AnyWatched) -> str:
    """What a value is made of, in words."""
    tags = {channel.id: channel.tag for channel in job.channels}
    if isinstance(value, FormulaValue):
        return f"= {shown_formula(value.formula, tags)}"
    if isinstance(value, CombinedValue):
        return f"{COMBINING[value.rule].says}: {', '.join(tags.get(one, '?') for one in value.channels)}"
    return f"{tags.get(value.channel, '?')} over time, since the bench was connected"


class GroupStrip(Strip):
    """The name of a group over its rows."""

    def height(self, sheet: StripSheet, row: LookoutRow, usual: float) -> float:
        """A line."""
        return _GROUP

    def words(self, sheet: StripSheet, row: LookoutRow) -> str:
        return row.words

    def paint(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
        write(painter, sheet.theme, place.adjusted(4, 0, 0, 0), row.words, "muted", heavy=True)
