"""A unit over its visits: when they were, the errors at one stop with what is expected next, and every stop."""

from datetime import date, timedelta
from itertools import pairwise
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from ...core.drift.leaving import allowed_at, leaving
from ...core.drift.visit import StopError, Visit
from ...core.words.errors import YardstickError
from ...core.words.numerals import decimals_for, fixed, signed, significant
from ..frame.painting import CENTRE, LEFT, RIGHT, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.theme import Theme, font
from .seen_table import ROW, paint_seen, steps_seen
from .shop import Shop, UnitSeen

_LEFT, _RIGHT, _MARGIN = 132.0, 16.0, 10.0
_HEAD, _VISITS, _GAP, _EVERY = 34.0, 74.0, 10.0, 150.0
_AHEAD = timedelta(days=540)
_DAYS_A_YEAR = 365.25
_STEPS = 48
_LEAST_ERRORS = 210.0


class HistoryPicture(SidePicture):
    """The unit looked at."""

    def __init__(self, shop: Shop, theme: Theme) -> None:
        self.drawing = _Drawing(shop, theme)
        super().__init__(self.drawing, "A unit over its visits")
        shop.changed.connect(self.show_now)


class _Times(NamedTuple):
    """Days across the picture."""

    first: date
    last: date
    left: float
    right: float

    def x(self, day: date) -> float:
        share = (day - self.first).days / max((self.last - self.first).days, 1)
        return self.left + share * (self.right - self.left)


class _Lane(NamedTuple):
    """A stretch of height for errors of at most so much."""

    top: float
    bottom: float
    most: float

    def y(self, error: float) -> float:
        middle, half = (self.top + self.bottom) / 2, (self.bottom - self.top) / 2
        return middle - half * max(min(error / self.most, 1.0), -1.0)


class _Drawing(SideDrawing):
    def __init__(self, shop: Shop, theme: Theme) -> None:
        super().__init__(theme)
        self._shop = shop
        self.stops: list[tuple[QRectF, float]] = []
        self.setMinimumHeight(round(_HEAD + _VISITS + _LEAST_ERRORS + _EVERY + 3 * _GAP))

    def show_now(self) -> None:
        self.setAccessibleDescription("" if self._shop.unit is None else self._shop.unit.title)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, self.minimumHeight())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for place, value in self.stops:
            if place.contains(event.position()):
                self._shop.draw_stop(value)
                return

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.stops = []
        unit = self._shop.unit
        if unit is None or not unit.visits:
            self._say_nothing(painter, unit)
        else:
            self._paint(painter, unit)
        painter.end()

    def _say_nothing(self, painter: QPainter, unit: UnitSeen | None) -> None:
        says = self._shop.busy or self._shop.refusal or (
            "No record of this unit is in the register yet. Sign it (Ctrl+8), or hand in its records."
            if unit is not None else "Choose a channel, or find a unit at the right."
        )  # fmt: skip
        painter.setFont(font(13))
        painter.setPen(self.theme.color("muted"))
        flags = int(Qt.AlignmentFlag.AlignHCenter) | int(Qt.TextFlag.TextWordWrap)
        painter.drawText(QRectF(24, 40, self.width() - 48, 90), flags, says)

    def _paint(self, painter: QPainter, unit: UnitSeen) -> None:
        theme = self.theme
        write(painter, theme, QRectF(_MARGIN, 4, 420, 24), unit.title, "ink", heavy=True, size=14)
        has_errors = unit.visits[-1].has_errors
        legend = "◇ as found  ● as left  bars U" if has_errors else "● as expected  ■ not  ○ not tried"
        write(painter, theme, QRectF(430, 4, self.width() - 442, 24), legend, "muted", RIGHT)
        times = self._times(unit)
        top = _HEAD
        self._paint_visits(painter, unit, times, top)
        top += _VISITS + _GAP
        if not has_errors:
            self._paint_rehearsed(painter, unit, times, top)
            return
        bottom = max(self.height() - _EVERY - 2 * _GAP, top + _LEAST_ERRORS)
        self._paint_stop(painter, unit, times, top, bottom)
        self._paint_every(painter, unit, bottom + _GAP, bottom + _GAP + _EVERY)

    def _paint_rehearsed(self, painter: QPainter, unit: UnitSeen, times: _Times, top: float) -> None:
        rows = QRectF(_MARGIN + 8, top + 28, _LEFT - 22, ROW * len(steps_seen(unit.visits)))
        self._card(painter, top, rows.bottom() + 8, "What was seen", "")
        paint_seen(painter, self.theme, unit.visits, [times.x(visit.day) for visit in unit.visits], rows)

    def _times(self, unit: UnitSeen) -> _Times:
        days = [visit.day for visit in unit.visits]
        ahead = max(days) + _AHEAD
        if unit.due is not None:
            ahead = max(ahead, unit.due.due + timedelta(days=120))
        return _Times(min(days) - timedelta(days=60), ahead, _LEFT + 20, self.width() - _RIGHT - 24)

    def _put(
        self, painter: QPainter, x: float, y: float, width: float, text: str, colour: str,
        side: Qt.AlignmentFlag = LEFT, *, heavy: bool = False,
    ) -> None:  # fmt: skip
        """Write a line of text, so wide, from a corner on."""
        write(painter, self.theme, QRectF(x, y, width, 16), text, colour, side, heavy=heavy)

    def _card(self, painter: QPainter, top: float, bottom: float, title: str, about: str) -> None:
        place = QRectF(_MARGIN, top, self.width() - 2 * _MARGIN, bottom - top)
        painter.setPen(QPen(self.theme.color("line"), 1))
        painter.setBrush(self.theme.color("paper"))
        painter.drawRoundedRect(place, 4, 4)
        write(painter, self.theme, QRectF(_MARGIN + 8, top + 6, _LEFT - 22, 18), title, "ink", heavy=True)
        painter.setPen(self.theme.color("muted"))
        painter.setFont(font(12))
        flags = int(Qt.AlignmentFlag.AlignLeft) | int(Qt.TextFlag.TextWordWrap)
        painter.drawText(QRectF(_MARGIN + 8, top + 24, _LEFT - 26, bottom - top - 26), flags, about)

    def _paint_visits(self, painter: QPainter, unit: UnitSeen, times: _Times, top: float) -> None:
        theme, count = self.theme, len(unit.visits)
        self._card(painter, top, top + _VISITS, "Visits", f"{count} in the register")
        axis = top + 50
        painter.setPen(QPen(theme.color("ink"), 1.5))
        painter.drawLine(QPointF(times.left - 12, axis), QPointF(times.right + 12, axis))
        for year in range(times.first.year, times.last.year + 2):
            day = date(year, 1, 1)
            if times.first <= day <= times.last:
                x = times.x(day)
                painter.setPen(QPen(theme.color("muted"), 1))
                painter.drawLine(QPointF(x, axis), QPointF(x, axis + 6))
                self._put(painter, x - 30, axis + 5, 60, str(year), "muted", CENTRE)
        free = -1e9
        for number, visit in enumerate(unit.visits, 1):
            x = times.x(visit.day)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color("primary"))
            painter.drawRoundedRect(QRectF(x - 9, axis - 20, 18, 18), 3, 3)
            write(painter, theme, QRectF(x - 9, axis - 20, 18, 18), str(number), "primary_ink", CENTRE, heavy=True)
            if x - 40 > free:
                self._put(painter, x - 45, top + 8, 90, f"{visit.day}", "ink", CENTRE)
                free = x + 42
        if unit.due is not None:
            x = times.x(unit.due.due)
            painter.setPen(QPen(theme.color("accent"), 2))
            painter.drawLine(QPointF(x, axis), QPointF(x, axis - 22))
            painter.setBrush(theme.color("accent"))
            painter.drawPolygon(QPolygonF([QPointF(x, axis - 22), QPointF(x + 12, axis - 17), QPointF(x, axis - 12)]))
            self._put(painter, x - 40, top + 8, 120, f"due {unit.due.due}", "accent", CENTRE, heavy=True)

    # -- one stop over time -----------------------------------------------------------------------------------------

    def _paint_stop(self, painter: QPainter, unit: UnitSeen, times: _Times, top: float, bottom: float) -> None:
        theme, value = self.theme, self._shop.stop_drawn
        if value is None:
            return
        last = unit.visits[-1]
        title = f"Error at {significant(value, 4)} {last.unit}"
        self._card(
            painter, top, bottom, title, f"{last.unit}, shown minus reference. Press a stop below for its errors."
        )
        allowed = allowed_at(last.allowed, value)
        rows = [(visit, _near(visit.found, value), _near(visit.left, value)) for visit in unit.visits]
        sizes = [abs(one.error) + _bar(one) for _visit, *pair in rows for one in pair if one is not None]
        most = 1.15 * max([*sizes, allowed if allowed < float("inf") else 0.0, 1e-9])
        lane = _Lane(top + 12, bottom - 12, most)
        self._paint_allowed(painter, lane, times, allowed)
        self._paint_expected(painter, unit, times, lane, value)
        before: QPointF | None = None
        for visit, found, left in rows:
            x = times.x(visit.day)
            at = None if found is None else QPointF(x, lane.y(found.error))
            if before is not None and at is not None:
                painter.setPen(QPen(theme.color("muted"), 1, Qt.PenStyle.DotLine))
                painter.drawLine(before, at)
            if found is not None:
                self._mark(painter, lane, x, found, True, allowed)
                write(
                    painter,
                    theme,
                    QRectF(x - 66, lane.y(found.error) - 20, 58, 16),
                    signed(found.error, 2),
                    "ink",
                    RIGHT,
                )
            if left is not None:
                self._mark(painter, lane, x, left, False, allowed)
                write(
                    painter, theme, QRectF(x + 8, lane.y(left.error) + 4, 58, 16), signed(left.error, 2), "teal", LEFT
                )
            before = None if left is None else QPointF(x, lane.y(left.error))

    def _paint_allowed(self, painter: QPainter, lane: _Lane, times: _Times, allowed: float) -> None:
        theme = self.theme
        if allowed < float("inf"):
            painter.fillRect(
                QRectF(_LEFT, lane.y(allowed), times.right + 20 - _LEFT, lane.y(-allowed) - lane.y(allowed)),
                theme.color("allowed", 110),
            )
            for edge in (allowed, -allowed):
                painter.setPen(QPen(theme.color("red"), 1.2))
                painter.drawLine(QPointF(_LEFT, lane.y(edge)), QPointF(times.right + 20, lane.y(edge)))
            told = f"allowed ±{significant(allowed, 3)}"
            self._put(painter, _LEFT + 4, lane.y(allowed) - 17, 160, told, "red")
        painter.setPen(QPen(theme.color("muted"), 1))
        painter.drawLine(QPointF(_LEFT, lane.y(0)), QPointF(times.right + 20, lane.y(0)))

    def _paint_expected(self, painter: QPainter, unit: UnitSeen, times: _Times, lane: _Lane, value: float) -> None:
        """The band of what is expected after the last visit, and when it leaves what is allowed."""
        theme, trend = self.theme, unit.trend
        if trend is None:
            return
        last, days = unit.visits[-1], (times.last - unit.visits[-1].day).days
        upper, lower, line = [], [], []
        try:
            for step in range(_STEPS + 1):
                ahead = days * step / _STEPS
                mean, half = trend.expected(value, ahead / _DAYS_A_YEAR)
                x = times.x(last.day) + (times.right - times.x(last.day)) * step / _STEPS
                upper.append(QPointF(x, lane.y(mean + half)))
                lower.append(QPointF(x, lane.y(mean - half)))
                line.append(QPointF(x, lane.y(mean)))
            gone = leaving(trend)
        except YardstickError:
            return
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("blue", 60))
        painter.drawPolygon(QPolygonF([*upper, *reversed(lower)]))
        painter.setPen(QPen(theme.color("blue"), 1.6, Qt.PenStyle.DashLine))
        painter.drawPolyline(QPolygonF(line))
        if gone.value == value and gone.may is not None:
            says = f"may leave from {gone.may}" + (f", does on {gone.does}" if gone.does else "")
            self._put(painter, times.right - 320, lane.bottom - 16, 336, says, "blue", RIGHT, heavy=True)

    def _mark(self, painter: QPainter, lane: _Lane, x: float, one: StopError, is_found: bool, allowed: float) -> None:
        theme = self.theme
        name = "teal" if not is_found else "red" if abs(one.error) > allowed else "ink"
        painter.setPen(QPen(theme.color(name), 1.4))
        bar = _bar(one)
        if bar > 0:
            painter.drawLine(QPointF(x, lane.y(one.error - bar)), QPointF(x, lane.y(one.error + bar)))
        at = QPointF(x, lane.y(one.error))
        if is_found:
            painter.setBrush(theme.color("paper"))
            painter.drawPolygon(QPolygonF([at + QPointF(*by) for by in ((0, -6), (6, 0), (0, 6), (-6, 0))]))
        else:
            painter.setBrush(theme.color("teal"))
            painter.drawEllipse(at, 4, 4)

    # -- every stop -------------------------------------------------------------------------------------------------

    def _paint_every(self, painter: QPainter, unit: UnitSeen, top: float, bottom: float) -> None:
        theme = self.theme
        self._card(painter, top, bottom, "Every stop", "as left at a visit, then as found at the next")
        spans = list(pairwise(unit.visits))
        if not spans:
            write(painter, theme, QRectF(_LEFT, top + 30, 460, 18), "The next visit will show what moved.", "muted")
            return
        pairs = [one for before, after in spans for one in (*before.left, *after.found)]
        allowed = max((most for _value, most in unit.visits[-1].allowed), default=0.0)
        most = 1.15 * max([*(abs(one.error) + _bar(one) for one in pairs), allowed, 1e-9])
        lane = _Lane(top + 24, bottom - 22, most)
        width = (self.width() - _LEFT - _RIGHT - 10) / len(spans)
        for number, (before, after) in enumerate(spans):
            self._paint_span(
                painter, lane, QRectF(_LEFT + number * width, top, width, bottom - top), before, after, number
            )

    def _paint_span(
        self, painter: QPainter, lane: _Lane, place: QRectF, before: Visit, after: Visit, number: int
    ) -> None:
        theme = self.theme
        months = (after.years - before.years) * 12
        title = f"{number + 1} to {number + 2}: {months:.1f} months"
        write(
            painter, theme, QRectF(place.left(), place.top() + 4, place.width(), 16), title, "ink", CENTRE, heavy=True
        )
        painter.setPen(QPen(theme.color("line"), 1))
        painter.drawLine(QPointF(place.left() + 4, lane.y(0)), QPointF(place.right() - 4, lane.y(0)))
        if not after.found:
            write(
                painter,
                theme,
                QRectF(place.left(), lane.y(0) - 22, place.width(), 16),
                "not seen as found",
                "muted",
                CENTRE,
            )
            return
        step = place.width() / len(after.found)
        free = -1e9
        for n, found in enumerate(after.found):
            x = place.left() + (n + 0.5) * step
            left = _near(before.left, found.value)
            if left is not None:
                painter.setPen(QPen(theme.color("muted"), 1, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(x - 5, lane.y(left.error)), QPointF(x + 5, lane.y(found.error)))
                self._mark(painter, lane, x - 5, left, False, float("inf"))
            self._mark(painter, lane, x + 5, found, True, allowed_at(after.allowed, found.value))
            self.stops.append((QRectF(x - step / 2, place.top(), step, place.height()), found.value))
            if x - 18 > free:
                write(
                    painter,
                    theme,
                    QRectF(x - 24, lane.bottom + 3, 48, 16),
                    _stop_words(found.value, after),
                    "muted",
                    CENTRE,
                )
                free = x + 18


def _stop_words(value: float, visit: Visit) -> str:
    """A stop as a number as fine as stops are told apart."""
    span = visit.found[-1].value - visit.found[0].value
    decimals = decimals_for(span / 50) if span > 0 else 2
    return fixed(round(value, decimals) + 0.0, decimals)


def _bar(one: StopError) -> float:
    """U of an error, with k = 2; 0 where it is not known."""
    return 2 * one.standard if one.standard == one.standard else 0.0


def _near(stops: tuple[StopError, ...], value: float) -> StopError | None:
    """The error at a value: that of its stop, or between two in proportion; None beyond them."""
    if not stops:
        return None
    nearest = min(stops, key=lambda stop: abs(stop.value - value))
    span = stops[-1].value - stops[0].value
    if abs(nearest.value - value) <= 0.02 * span or len(stops) < 2:
        return nearest
    for low, high in pairwise(stops):
        if low.value <= value <= high.value:
            share = (value - low.value) / (high.value - low.value)
            error = low.error + share * (high.error - low.error)
            return StopError(value, error, max(low.standard, high.standard))
    return None
