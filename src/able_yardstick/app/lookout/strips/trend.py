"""A course over the last minute, drawn into its box: the least and the largest of each pixel."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from ...frame.theme import Theme
from ..watcher import WINDOW_S, Trend

Array = NDArray[np.float64]


def trend_box(place: QRectF, ends: tuple[float, float]) -> QRectF:
    """Where a row's trend stands."""
    return QRectF(ends[0], place.top() + 4, ends[1] - ends[0], place.height() - 8)


def draw_trend(painter: QPainter, theme: Theme, trend: Trend, box: QRectF, least: float, colour: str = "teal") -> None:
    """Draw a trend in its own scale, at least `least` of its unit high."""
    painter.fillRect(box, theme.color("desk"))
    if len(trend.pins) > 1:
        draw_course(painter, theme, trend, box, _range_of((trend,), least), colour)


def draw_course(
    painter: QPainter, theme: Theme, trend: Trend, box: QRectF, shown: tuple[float, float], colour: str
) -> None:
    """Draw a trend in a given range of its unit."""
    if len(trend.pins) < 2:
        return
    painter.setPen(QPen(theme.color(colour), 1.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    key = (box.x(), box.y(), box.width(), box.height(), *shown)
    if key not in trend.drawn:
        trend.drawn[key] = QPolygonF(_polyline(trend, box, shown))
    painter.drawPolyline(trend.drawn[key])


def common_range(trends: tuple[Trend, ...], least: float) -> tuple[float, float]:
    """A range that shows all of several trends; 0 to 1 where there is nothing."""
    return _range_of(tuple(one for one in trends if len(one.pins)), least)


def _range_of(trends: tuple[Trend, ...], least: float) -> tuple[float, float]:
    if not trends:
        return 0.0, 1.0
    low, high = min(one.low for one in trends), max(one.high for one in trends)
    pad = max((high - low) * 0.1, (least - (high - low)) / 2, 1e-12)
    return low - pad, high + pad


def _polyline(trend: Trend, box: QRectF, shown: tuple[float, float]) -> list[QPointF]:
    """The least and the largest of each pixel's samples, from left to right."""
    low, high = shown
    x = box.right() + box.width() * trend.ago_s / WINDOW_S
    y = box.bottom() - box.height() * (trend.pins - low) / (high - low)
    column = np.floor(x).astype(int)
    first = np.flatnonzero(np.diff(column, prepend=column[0] - 1))
    both = np.stack([np.minimum.reduceat(y, first), np.maximum.reduceat(y, first)], axis=1)
    at = np.repeat(x[first], 2)
    both[1::2] = both[1::2, ::-1]  # up and down in turn, so that no line is drawn twice
    return [QPointF(a, b) for a, b in zip(at.tolist(), both.ravel().tolist(), strict=True) if a >= box.left()]
