"""Courses against each other: the first along, the others up."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPen

from ...core.lookout.courses import TraceName
from ...core.words.numerals import decimals_for, fixed
from ..centre.rule.graduations import steps_from
from ..frame.painting import CENTRE, RIGHT, write
from ..frame.theme import Theme
from .lanes import COLOURS, LEFT
from .state import ChartState

Array = NDArray[np.float64]
_MOMENTS = 3000
_MARGIN = 0.06


def paint_crossed(painter: QPainter, theme: Theme, state: ChartState, width: float, height: float) -> None:
    """Draw the stretch looked at; says what is missing where there are not two courses."""
    traces = state.shown
    if len(traces) < 2:
        place = QRectF(0, 0, width, height)
        write(painter, theme, place, "Choose two courses: the first is drawn along, the others up.", "muted", CENTRE)
        return
    grid = np.linspace(state.sight.start_s, state.sight.end_s, _MOMENTS)
    along = _at(state, traces[0], grid)
    place = QRectF(LEFT, 12, width - LEFT - 20, height - 64)
    columns = [_at(state, trace, grid) for trace in traces[1:]]
    across, up = _ends(along), _ends(np.concatenate(columns))
    painter.fillRect(place, theme.color("paper"))
    painter.setPen(theme.color("line"))
    painter.drawRect(place)
    _paint_axes(painter, theme, place, across, up)
    write(painter, theme, QRectF(place.left(), place.bottom() + 24, place.width(), 20),
          f"{traces[0].words}, {traces[0].unit}", "muted", CENTRE)  # fmt: skip
    for n, (trace, values) in enumerate(zip(traces[1:], columns, strict=True)):
        colour = COLOURS[n % len(COLOURS)]
        there = np.isfinite(along) & np.isfinite(values)
        x = place.left() + place.width() * (along[there] - across[0]) / (across[1] - across[0])
        y = place.bottom() - place.height() * (values[there] - up[0]) / (up[1] - up[0])
        painter.setPen(QPen(theme.color(colour), 2.2))
        painter.drawPoints([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)])
        at = QRectF(place.left() + 8, place.top() + 4 + 18 * n, 320, 18)
        write(painter, theme, at, f"{trace.words}, {trace.unit}", colour, heavy=True)


def _at(state: ChartState, trace: TraceName, grid: Array) -> Array:
    envelope = state.envelope(trace, _MOMENTS)
    if envelope is None or not len(envelope.times_s):
        return np.full(len(grid), np.nan)
    return np.interp(grid, envelope.times_s, envelope.middles, left=np.nan, right=np.nan)


def _ends(values: Array) -> tuple[float, float]:
    finite = values[np.isfinite(values)]
    low, high = (float(finite.min()), float(finite.max())) if len(finite) else (0.0, 1.0)
    pad = _MARGIN * (high - low) or max(abs(high) * 0.01, 1e-6)
    return low - pad, high + pad


def _paint_axes(
    painter: QPainter, theme: Theme, place: QRectF, across: tuple[float, float], up: tuple[float, float]
) -> None:
    for (low, high), is_across in ((across, True), (up, False)):
        step = steps_from((high - low) / 8)[0]
        for value in np.arange(np.ceil(low / step), np.floor(high / step) + 1) * step:
            share, text = (float(value) - low) / (high - low), fixed(float(value), decimals_for(step))
            painter.setPen(QPen(theme.color("line", 110), 1))
            if is_across:
                x = place.left() + share * place.width()
                painter.drawLine(QPointF(x, place.top()), QPointF(x, place.bottom()))
                write(painter, theme, QRectF(x - 40, place.bottom() + 4, 80, 18), text, "muted", CENTRE)
            else:
                y = place.bottom() - share * place.height()
                painter.drawLine(QPointF(place.left(), y), QPointF(place.right(), y))
                write(painter, theme, QRectF(4, y - 9, LEFT - 12, 18), text, "muted", RIGHT)
