"""The strips: every channel's own scale with where it stands, and the last minute on one time axis."""

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF

from ...core.alarms.fault_band import fault_band
from ...core.document.channel import AnyChannel, ConstantChannel, ContinuousChannel, TwoStateChannel
from ...core.document.output import OutputChannel
from ...core.job.job import Job
from ...core.lookout.attention import level_of
from ...core.lookout.standing import ChannelStanding
from ...core.state.scales import Scale, axis_of, contact_scales, scales_of
from ...core.words.errors import YardstickError
from ...core.words.numerals import decimals_for, fixed
from ..centre.flags import alarm_flags
from ..centre.rule.graduations import Ends, graduate
from ..frame.flag_mark import draw_flag
from ..frame.painting import CENTRE, RIGHT, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.state_mark import draw_state
from ..frame.theme import Theme, font
from ..frame.workbench import Workbench
from .watcher import WINDOW_S, Array, Watcher

_ROW, _HEAD, _MARGIN = 51.0, 34.0, 10.0
_NAME, _VALUE, _READ = 124.0, 128.0, 76.0  # widths
_GAP = 18.0
_INSET = 16.0  # of a scale, so that its last labels have room
_LEAST_SHARE = 0.02  # of the pin's span: a trend shows at least so much
_SCALE_SHARE = 0.56  # of what is left for scale and trend


class LookoutPicture(SidePicture):
    """The strips of all channels; a press on one goes to its channel, a move over the trends reads them."""

    def __init__(self, bench: Workbench, watch: Watcher, theme: Theme, go: Callable[[str], None]) -> None:
        self._strips = _Strips(bench, watch, theme, go)
        super().__init__(self._strips, "Lookout: every channel with its scale and its last minute")
        self.shows_raw = False
        watch.changed.connect(self.show_now)

    def turn_raw(self) -> None:
        """Show the raw signal beside each value, or not."""
        self._strips.shows_raw = not self._strips.shows_raw
        self._strips.update()

    def words_of(self, tag: str) -> str:
        """The value of a row as it stands there, with its unit or its word."""
        return self._strips.words_of(tag)


class _Strips(SideDrawing):
    def __init__(self, bench: Workbench, watch: Watcher, theme: Theme, go: Callable[[str], None]) -> None:
        super().__init__(theme)
        self._bench, self._watch, self._go = bench, watch, go
        self.shows_raw = False
        self._ago_s: float | None = None  # where the time hairline stands, below 0
        self._kept: dict[str, tuple[tuple[object, ...], QPixmap]] = {}  # each row's scale, with what it was drawn of
        self.setMouseTracking(True)

    def show_now(self) -> None:
        self.setMinimumHeight(round(_HEAD + _ROW * len(self._bench.job.channels) + 8))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, self.minimumHeight())

    # -- places -----------------------------------------------------------------------------------------------------

    def _scale_ends(self) -> tuple[float, float]:
        left = _MARGIN + _NAME + _VALUE + 16
        room = self.width() - left - _READ - _MARGIN - _GAP
        return left, left + _SCALE_SHARE * room

    def _trend_ends(self) -> tuple[float, float]:
        return self._scale_ends()[1] + _GAP, self.width() - _READ - _MARGIN - 4

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        left, right = self._trend_ends()
        x = event.position().x()
        self._ago_s = -WINDOW_S * (right - x) / (right - left) if left <= x <= right else None
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = int((event.position().y() - _HEAD) // _ROW)
        channels = self._bench.job.channels
        if event.button() == Qt.MouseButton.LeftButton and 0 <= row < len(channels):
            self._go(channels[row].id)

    # -- painting ---------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), self.theme.color("desk"))
        self._paint_head(painter)
        for n, channel in enumerate(self._bench.job.channels):
            place = QRectF(_MARGIN, _HEAD + n * _ROW, self.width() - 2 * _MARGIN, _ROW - 4)
            if place.bottom() >= event.rect().top() and place.top() <= event.rect().bottom():
                self._paint_row(painter, channel, place)
        if self._ago_s is not None:
            left, right = self._trend_ends()
            x = right + (right - left) * self._ago_s / WINDOW_S
            painter.setPen(QPen(self.theme.color("accent"), 1))
            painter.drawLine(QPointF(x, _HEAD - 8), QPointF(x, self.height()))
        painter.end()

    def _paint_head(self, painter: QPainter) -> None:
        left, right = self._trend_ends()
        write(painter, self.theme, QRectF(_MARGIN + 12, 4, _NAME, 24), "Channel", "muted")
        write(painter, self.theme, QRectF(self._scale_ends()[0], 4, 200, 24), "where it stands", "muted")
        for ago in (60, 40, 20, 0):
            x = right - (right - left) * ago / WINDOW_S
            words = f"\u2212{ago} s" if ago else "now"
            write(painter, self.theme, QRectF(x - 30, 4, 60, 24), words, "muted", CENTRE)
        if self._ago_s is not None:
            at = QRectF(right + 4, 4, _READ, 24)
            write(painter, self.theme, at, f"\u2212{-self._ago_s:.0f} s", "accent", RIGHT, heavy=True)

    def _paint_row(self, painter: QPainter, channel: AnyChannel, place: QRectF) -> None:
        theme, top = self.theme, place.top()
        standing = self._watch.standings.get(channel.id)
        level = "open" if standing is None else level_of(standing)
        painter.setPen(theme.color("line"))
        painter.setBrush(theme.color("paper"))
        painter.drawRoundedRect(place.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
        if level in ("look", "fault"):
            painter.fillRect(QRectF(place.left(), top + 6, 3.5, place.height() - 12), theme.color(_STRIPES[level]))
        draw_state(painter, theme, level, QPointF(place.left() + 16, top + 16), 4.5)
        write(
            painter, theme, QRectF(place.left() + 28, top + 5, _NAME - 28, 22), channel.tag, "ink", heavy=True, size=13
        )
        write(painter, theme, QRectF(place.left() + 28, top + 25, _NAME - 24, 18), channel.name, "muted")
        self._paint_value(painter, channel, standing, QRectF(place.left() + _NAME, top, _VALUE, place.height()))
        self._paint_scale(painter, channel, standing, place)
        self._paint_trend(painter, channel, standing, place)

    def _paint_value(
        self, painter: QPainter, channel: AnyChannel, standing: ChannelStanding | None, place: QRectF
    ) -> None:
        text, unit, colour = self._value_words(channel, standing)
        number = place.adjusted(0, 3, -44 if unit else 0, 0)
        number.setHeight(26)
        write(painter, self.theme, number, text, colour, RIGHT, heavy=True, size=17 if unit else 13)
        write(painter, self.theme, QRectF(place.right() - 40, place.top() + 6, 44, 22), unit, "muted")
        raw = self._raw_words(channel) if self.shows_raw else ""
        write(painter, self.theme, place.adjusted(0, 27, 0, -2), raw, "teal", RIGHT)

    def _value_words(self, channel: AnyChannel, standing: ChannelStanding | None) -> tuple[str, str, str]:
        """The number or the word of a row, its unit, and the colour of the two."""
        if isinstance(channel, ConstantChannel):
            return f"{fixed(channel.value, channel.decimals)} {channel.unit}".strip(), "", "ink"
        if isinstance(channel, OutputChannel):
            return "an output", "", "muted"
        if standing is None:
            return "not live", "", "muted"
        if standing.is_fault or not isinstance(channel, ContinuousChannel) or standing.value is None:
            return standing.words, "", "red" if standing.kind == "fault" else "ink"
        if standing.kind == "unscaled":
            return fixed(standing.value, decimals_for(channel.path.converter.per_count)), channel.path.pin_unit, "muted"
        return self._number(channel, standing.value), channel.unit, "red" if standing.kind == "alarm" else "ink"

    def words_of(self, tag: str) -> str:
        """The words of a row's value."""
        channel = self._bench.job.tagged(tag)
        text, unit, _colour = self._value_words(channel, self._watch.standings.get(channel.id))
        return f"{text} {unit}".strip()

    def _number(self, channel: ContinuousChannel, value: float) -> str:
        """To the digits that the error allowed supports, else a thousandth of the span."""
        return fixed(value, decimals_for((channel.allowed_error(value) or channel.span / 200) / 5))

    def _raw_words(self, channel: AnyChannel) -> str:
        trend = self._watch.trend(channel)
        if not len(trend.pins) or not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return ""
        converter = channel.path.converter
        pin = float(trend.pins[-1])
        return (
            f"{fixed(pin, decimals_for(converter.per_count))} {channel.path.pin_unit}, {int(converter.count_of(pin))}"
        )

    # -- the scale of a row -----------------------------------------------------------------------------------------

    def _paint_scale(
        self, painter: QPainter, channel: AnyChannel, standing: ChannelStanding | None, place: QRectF
    ) -> None:
        left, right = self._scale_ends()
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return
        picture = self._scale_of(channel, round(right - left), round(place.height()))
        painter.drawPixmap(QPointF(left, place.top()), picture)
        trend = self._watch.trend(channel)
        if standing is None or not len(trend.pins):
            return
        ends = Ends(*axis_of(channel), left + _INSET, right - _INSET)
        low, high, now = (float(x) for x in ends.x(np.array([trend.pins.min(), trend.pins.max(), trend.pins[-1]])))
        y = place.top() + 17
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.color("teal", 70))
        painter.drawRect(QRectF(low, y - 2, max(high - low, 1.0), 4))
        mark = "red" if standing.kind == "fault" else "muted" if standing.kind == "stale" else "teal"
        painter.setPen(QPen(self.theme.color(mark), 2))
        painter.drawLine(QPointF(now, y - 9), QPointF(now, y + 8))
        painter.drawLine(QPointF(now - 4, y - 9), QPointF(now + 4, y - 9))
        painter.drawLine(QPointF(now - 4, y + 8), QPointF(now + 4, y + 8))

    def _scale_of(self, channel: ContinuousChannel | TwoStateChannel, width: int, height: int) -> QPixmap:
        """The still part of a row's scale, drawn once for all that it shows."""
        job = self._bench.job
        wanted = (job.slice_of(channel), width, height, self.theme)
        kept = self._kept.get(channel.id)
        if kept is not None and kept[0] == wanted:
            return kept[1]
        picture = QPixmap(width * 2, height * 2)
        picture.setDevicePixelRatio(2.0)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        _paint_still(painter, self.theme, job, channel, float(width))
        painter.end()
        self._kept[channel.id] = (wanted, picture)
        return picture

    # -- the trend --------------------------------------------------------------------------------------------------

    def _paint_trend(
        self, painter: QPainter, channel: AnyChannel, standing: ChannelStanding | None, place: QRectF
    ) -> None:
        left, right = self._trend_ends()
        box = QRectF(left, place.top() + 5, right - left, place.height() - 10)
        painter.fillRect(box, self.theme.color("desk"))
        trend = self._watch.trend(channel)
        if len(trend.pins) < 2 or not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return
        painter.setPen(QPen(self.theme.color("red" if standing is not None and standing.is_fault else "teal"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        low, high = axis_of(channel)
        painter.drawPolyline(QPolygonF(_polyline(trend.ago_s, trend.pins, box, _LEAST_SHARE * (high - low))))
        if self._ago_s is not None and isinstance(channel, ContinuousChannel):
            pin = trend.at(self._ago_s)
            value = None if pin is None else self._watch.value_at(channel, pin)
            text = "\u2014" if value is None else self._number(channel, value)
            at = QRectF(right + 4, place.top(), _READ, place.height())
            write(painter, self.theme, at, text, "accent", RIGHT, heavy=True)


_STRIPES = {"look": "amber", "fault": "red"}


def _polyline(ago_s: Array, pins: Array, box: QRectF, least: float) -> list[QPointF]:
    """The least and the largest of each pixel's samples, from left to right; shapes (n,), s and the pin's unit.

    The box is at least `least` of the pin's unit high, so that plain noise does not look like movement.
    """
    low, high = float(pins.min()), float(pins.max())
    pad = max((high - low) * 0.1, (least - (high - low)) / 2)
    x = box.right() + box.width() * ago_s / WINDOW_S
    y = box.bottom() - box.height() * (pins - low + pad) / (high - low + 2 * pad)
    column = np.floor(x).astype(int)
    first = np.flatnonzero(np.diff(column, prepend=column[0] - 1))
    both = np.stack([np.minimum.reduceat(y, first), np.maximum.reduceat(y, first)], axis=1)
    at = np.repeat(x[first], 2)
    both[1::2] = both[1::2, ::-1]  # up and down in turn, so that no line is drawn twice
    return [QPointF(a, b) for a, b in zip(at.tolist(), both.ravel().tolist(), strict=True) if a >= box.left()]


def _paint_still(
    painter: QPainter, theme: Theme, job: Job, channel: ContinuousChannel | TwoStateChannel, width: float
) -> None:
    """Graduations as bent as the channel is, its faults, its alarms."""
    ends, y = Ends(*axis_of(channel), _INSET, width - _INSET), 17.0
    scale = _scale_shown(job, channel)
    if isinstance(channel, ContinuousChannel):
        _paint_faults(painter, theme, channel, ends, y)
    if scale is None:
        painter.setPen(QPen(theme.color("line"), 1))
        painter.drawLine(QPointF(0, y), QPointF(width, y))
        return
    if isinstance(channel, TwoStateChannel):
        _paint_states(painter, theme, channel, ends, y)
        return
    painter.setFont(font(12))
    measure = QFontMetricsF(font(12))
    marks = graduate(scale, ends, measure.horizontalAdvance)
    painter.setPen(QPen(theme.color("ink"), 1))
    low, high = (float(x) for x in ends.x(np.array(scale.usable)))
    painter.drawLine(QPointF(low, y), QPointF(high, y))
    for x in marks.minor:
        painter.drawLine(QPointF(x, y), QPointF(x, y + 4))
    for mark in marks.major:
        painter.drawLine(QPointF(mark.x, y), QPointF(mark.x, y + 8))
        painter.drawText(QRectF(mark.x - 40, y + 9, 80, 16), int(CENTRE), mark.text)
    assert isinstance(channel, ContinuousChannel)  # a contact was painted above
    for flag in alarm_flags(job, channel):
        draw_flag(painter, theme, float(ends.x(flag.pin)), 1, flag, pole=16)


def _scale_shown(job: Job, channel: ContinuousChannel | TwoStateChannel) -> Scale | None:
    """What the controller shows, else the quantity; None where nothing is known of either."""
    try:
        if isinstance(channel, TwoStateChannel):
            return contact_scales(job, channel)[0]
        known = {scale.key: scale for scale in scales_of(job, channel)}
    except YardstickError:
        return None
    return known.get("quantity", known.get("shown"))


def _paint_faults(painter: QPainter, theme: Theme, channel: ContinuousChannel, ends: Ends, y: float) -> None:
    band = fault_band(channel)
    if band is None:
        return
    crossed = QBrush(theme.color("red", 130), Qt.BrushStyle.DiagCrossPattern)
    for start, end in ((ends.low, band.low), (band.high, ends.high)):
        if start < end:
            left, right = (float(x) for x in ends.x(np.array([start, end])))
            painter.fillRect(QRectF(left, y, right - left, 8), crossed)


def _paint_states(painter: QPainter, theme: Theme, channel: TwoStateChannel, ends: Ends, y: float) -> None:
    half = channel.dead_band / 2
    below, above = (float(ends.x(channel.threshold + side * half)) for side in (-1, 1))
    words = (channel.closed_means, channel.open_means)
    left, right = words if channel.pin_levels[0] < channel.pin_levels[1] else words[::-1]
    painter.setPen(QPen(theme.color("ink"), 1))
    painter.drawLine(QPointF(ends.left, y), QPointF(ends.right, y))
    painter.fillRect(QRectF(below, y - 5, above - below, 10), theme.color("faint"))
    painter.drawRect(QRectF(below, y - 5, above - below, 10))
    write(painter, theme, QRectF(ends.left, y + 8, below - ends.left, 18), left, "muted")
    write(painter, theme, QRectF(above, y + 8, ends.right - above, 18), right, "muted", RIGHT)
