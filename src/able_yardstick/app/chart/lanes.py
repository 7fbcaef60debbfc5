"""Lanes of the chart: one for each unit, with its own axis, all on one axis of time."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from ...core.document.channel import ContinuousChannel
from ...core.document.watched import AnyWatched
from ...core.lookout.courses import Envelope, TraceName
from ...core.words.numerals import decimals_for, fixed
from ..centre.rule.graduations import steps_from
from ..frame.painting import RIGHT, write
from ..frame.theme import Theme
from .state import ChartState

Pixels = float | NDArray[np.float64]
LEFT, RIGHT_ROOM, TOP, BOTTOM = 74.0, 14.0, 26.0, 26.0
_GAP = 8.0
_LEAST_LANE = 70.0
_UNIT_ROOM = 27.0  # at the top of an axis
_NAMES = 22.0  # the height of the names over the courses
_LABEL_EVERY = 34.0
_GAP_STEPS = 8.0  # times the usual step: a gap, which is left open
COLOURS = ("teal", "blue", "accent", "green", "ink", "red")


class Drawn(NamedTuple):
    """A course in a lane: its words, colour, and what is drawn of it; `laid` is reckoned, not logged."""

    words: str
    colour: str
    envelope: Envelope
    trace: TraceName | None


class Lane(NamedTuple):
    """Courses of one unit, the range of values shown, and the place in the picture."""

    unit: str
    drawn: tuple[Drawn, ...]
    low: float
    high: float
    place: QRectF

    def y(self, value: Pixels) -> Pixels:
        """The pixel of a value."""
        return self.place.bottom() - self.place.height() * (value - self.low) / (self.high - self.low)


def lanes_of(state: ChartState, width: float, height: float) -> list[Lane]:
    """All lanes of what is drawn now, from above, for a picture of a size."""
    pixels = max(round(width - LEFT - RIGHT_ROOM), 1)
    found: dict[str, list[Drawn]] = {}
    for trace in state.shown:
        envelope = state.envelope(trace, pixels)
        if envelope is not None:
            row = found.setdefault(trace.unit, [])
            row.append(Drawn(trace.words, COLOURS[len(row) % len(COLOURS)], envelope, trace))
    for laid in state.laid:
        row = found.setdefault(laid.unit, [])
        drawn = laid.envelope(state.sight.start_s, state.sight.end_s, pixels)
        row.append(Drawn(laid.words, COLOURS[len(row) % len(COLOURS)], drawn, None))
    each = max((height - TOP - BOTTOM) / max(len(found), 1), _LEAST_LANE)
    lanes = []
    for n, (unit, rows) in enumerate(found.items()):
        place = QRectF(LEFT, TOP + n * each, width - LEFT - RIGHT_ROOM, each - _GAP)
        low, high = _range(state, rows, place.height())
        lanes.append(Lane(unit.removeprefix("\u200b"), tuple(rows), low, high, place))
    return lanes


def least_height(lanes: int) -> float:
    """The least height for so many lanes."""
    return TOP + BOTTOM + lanes * _LEAST_LANE


def _range(state: ChartState, rows: list[Drawn], height: float) -> tuple[float, float]:
    """As set for the rows, else all that is drawn with a margin, and room for the names above it."""
    sides = [side for one in rows for side in (one.envelope.lows, one.envelope.highs)]
    values = np.concatenate([np.zeros(0), *sides])
    values = values[np.isfinite(values)]
    low, high = (float(values.min()), float(values.max())) if len(values) else (0.0, 1.0)
    pad = 0.08 * (high - low) or max(abs(high) * 0.01, 1e-6)
    low, high = low - pad, high + pad / 2 + (high - low + 2 * pad) * _NAMES / max(height - _NAMES, 1.0)
    if state.courses is not None:
        for one in rows:
            if one.trace is not None and one.trace.role in ("value", "made"):
                row = state.courses.job.watch.row(one.trace.id)
                low = row.low if row.low is not None else low
                high = row.high if row.high is not None else high
    return (low, high) if high > low else (low, low + 1.0)


def paint_lane(painter: QPainter, theme: Theme, state: ChartState, lane: Lane) -> None:
    """Axis, limits, courses and their names."""
    painter.fillRect(lane.place, theme.color("paper"))
    painter.setPen(theme.color("line"))
    painter.drawRect(lane.place)
    _paint_axis(painter, theme, lane)
    painter.save()
    painter.setClipRect(lane.place)
    _paint_limits(painter, theme, state, lane)
    for drawn in lane.drawn:
        _paint_course(painter, theme, state, lane, drawn)
    painter.restore()
    x = lane.place.left() + 8
    for drawn in lane.drawn:
        room = QRectF(x, lane.place.top() + 3, 240, 18)
        write(painter, theme, room, drawn.words, drawn.colour, heavy=True)
        x += painter.fontMetrics().horizontalAdvance(drawn.words) + 18


def _paint_axis(painter: QPainter, theme: Theme, lane: Lane) -> None:
    write(painter, theme, QRectF(4, lane.place.top() + 1, LEFT - 12, 18), lane.unit, "muted", RIGHT)
    most = max(int(lane.place.height() / _LABEL_EVERY), 1)
    step = steps_from((lane.high - lane.low) / most)[0]
    first, last = np.ceil(lane.low / step), np.floor(lane.high / step)
    for value in np.arange(first, last + 1) * step:
        y = float(lane.y(float(value)))
        painter.setPen(QPen(theme.color("line", 110), 1))
        painter.drawLine(QPointF(lane.place.left(), y), QPointF(lane.place.right(), y))
        if y - lane.place.top() > _UNIT_ROOM:
            text = fixed(float(value), decimals_for(step))
            write(painter, theme, QRectF(4, y - 9, LEFT - 12, 18), text, "muted", RIGHT)


def _paint_limits(painter: QPainter, theme: Theme, state: ChartState, lane: Lane) -> None:
    """The alarms of what is drawn, where they lie within the lane."""
    if state.courses is None:
        return
    job = state.courses.job
    values = {one.id: one for one in job.watch.values}
    for drawn in lane.drawn:
        trace = drawn.trace
        if trace is None or trace.role not in ("value", "shown", "made"):
            continue
        whose: AnyWatched | ContinuousChannel | None = values.get(trace.id)
        channel = job.document.by_id.get(trace.id)
        whose = channel if isinstance(channel, ContinuousChannel) else whose
        for alarm in () if whose is None else whose.alarms:
            if lane.low < alarm.limit < lane.high:
                y = float(lane.y(alarm.limit))
                colour = "red" if alarm.kind in ("low low", "high high") else "amber"
                painter.setPen(QPen(theme.color(colour), 1, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(lane.place.left(), y), QPointF(lane.place.right(), y))
                at = QRectF(lane.place.right() - 170, y - 16, 164, 16)
                write(painter, theme, at, f"{trace.tag} {alarm.kind}", colour, RIGHT)


def time_x(state: ChartState, place: QRectF, times_s: Pixels) -> Pixels:
    """The pixel of a moment."""
    return place.left() + place.width() * (times_s - state.sight.start_s) / state.sight.length_s


def _paint_course(painter: QPainter, theme: Theme, state: ChartState, lane: Lane, drawn: Drawn) -> None:
    """From the least to the largest of each moment, without a break but where there is no number."""
    envelope = drawn.envelope
    there = np.isfinite(envelope.lows) & np.isfinite(envelope.highs)
    if not there.any():
        return
    style = Qt.PenStyle.SolidLine if drawn.trace is not None else Qt.PenStyle.DashLine
    painter.setPen(QPen(theme.color(drawn.colour), 1.3, style))
    x = np.asarray(time_x(state, lane.place, envelope.times_s))
    low, high = np.asarray(lane.y(envelope.lows)), np.asarray(lane.y(envelope.highs))
    for start, end in _unbroken(envelope.times_s, there):
        both = np.stack([low[start:end], high[start:end]], axis=1)
        both[1::2] = both[1::2, ::-1]  # up and down in turn, so that no line is drawn twice
        if np.array_equal(low[start:end], high[start:end]):
            points = zip(x[start:end].tolist(), low[start:end].tolist(), strict=True)
        else:
            points = zip(np.repeat(x[start:end], 2).tolist(), both.ravel().tolist(), strict=True)
        painter.drawPolyline(QPolygonF([QPointF(a, b) for a, b in points]))


def _unbroken(times_s: NDArray[np.float64], there: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Stretches (start, end) without a missing value and without a step far longer than the usual one."""
    steps = np.diff(times_s)
    usual = float(np.median(steps)) if len(steps) else 0.0
    after_gap = np.concatenate([[False], steps > _GAP_STEPS * usual])
    number = np.cumsum(after_gap | (there & ~np.concatenate([[False], there[:-1]])))
    found = []
    for one in np.unique(number[there]):
        rows = np.flatnonzero((number == one) & there)
        found.append((int(rows[0]), int(rows[-1]) + 1))
    return found
