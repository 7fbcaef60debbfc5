"""The strip of a channel: its own scale with its faults and alarms, where it stands, and its last minute."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QFontMetricsF, QPainter, QPen, QPixmap

from ....core.alarms.fault_band import fault_band
from ....core.document.channel import AnyChannel, ContinuousChannel, TwoStateChannel
from ....core.job.in_force import curve_in_use
from ....core.job.job import Job
from ....core.lookout.rows import LookoutRow
from ....core.lookout.shown_range import shown_pins
from ....core.lookout.standing import ChannelStanding
from ....core.state.scales import Scale, axis_of, contact_scales, scales_of
from ....core.words.errors import YardstickError
from ...centre.flags import alarm_flags
from ...centre.rule.graduations import Ends, graduate
from ...frame.flag_mark import draw_flag
from ...frame.painting import CENTRE, RIGHT, write
from ...frame.theme import Theme, font
from .strip import Strip, StripSheet, paint_ground, paint_name, paint_number, paint_read, value_place
from .trend import draw_trend, trend_box
from .words import channel_words, number_words, raw_words

_INSET = 16.0  # of a scale, so that its last labels have room
_LEAST_SHARE = 0.02  # of the pin's span: a trend shows at least so much
_AXIS, _BELOW = 17.0, 25.0  # of the scale: below the strip's top, and the room that its labels want
_PLAIN = 30.0  # the height of one without a pin


class ChannelStrip(Strip):
    """The still part of each scale is drawn once for all that it shows."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[tuple[object, ...], QPixmap]] = {}
        self._marks: dict[str, int] = {}  # the pixel at which each live mark was painted last

    def height(self, sheet: StripSheet, row: LookoutRow, usual: float) -> float:
        """What has no pin has no scale either, and is low."""
        channel = sheet.job.document.by_id[row.id]
        return usual if isinstance(channel, ContinuousChannel | TwoStateChannel) else _PLAIN

    def words(self, sheet: StripSheet, row: LookoutRow) -> str:
        channel = sheet.job.document.by_id[row.id]
        return f"{channel.tag} {channel.name}: {channel_words(sheet.job, sheet.watch, channel).plain}"

    def paint(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
        channel = sheet.job.document.by_id[row.id]
        paint_ground(painter, sheet, row, place)
        paint_name(painter, sheet, place, channel.tag, channel.name)
        at = value_place(place)
        paint_number(painter, sheet, at, *channel_words(sheet.job, sheet.watch, channel))
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            room = QRectF(sheet.columns.scale[0], place.top(), place.width(), place.height() - 2)
            write(painter, sheet.theme, room, channel.name, "muted")
            return
        raw = raw_words(sheet.watch, channel) if sheet.shows_raw else ""
        write(painter, sheet.theme, at.adjusted(-30, 24, 0, -2), raw, "teal", RIGHT)
        self.paint_scale(painter, sheet, channel, place)
        _paint_trend(painter, sheet, channel, place)

    def moved(self, sheet: StripSheet, row: LookoutRow, place: QRectF) -> QRectF | None:
        """The scale, where the mark stands at another pixel by now."""
        channel = sheet.job.document.by_id[row.id]
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return None
        now = sheet.watch.pin_now(channel)
        if now is None or round(_mark(sheet, channel, now)) == self._marks.get(row.id):
            return None
        left, right = sheet.columns.scale
        return QRectF(left, place.top(), right - left, place.height())

    def paint_live(self, painter: QPainter, sheet: StripSheet, row: LookoutRow, place: QRectF) -> None:
        """Where it stands now, over where it was in the last minute."""
        channel, standing = sheet.job.document.by_id[row.id], sheet.standing(row.id)
        if standing is None or not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return
        trend, now = sheet.watch.trend(channel), sheet.watch.pin_now(channel)
        if now is not None and len(trend.pins):
            low, high, at = (_mark(sheet, channel, pin) for pin in (trend.low, trend.high, now))
            self._marks[row.id] = round(at)
            _paint_live(painter, sheet.theme, standing, (low, high, at), place.top() + _axis(place.height()))

    def paint_scale(self, painter: QPainter, sheet: StripSheet, channel: AnyChannel, place: QRectF) -> None:
        """The still part of the scale, as wide as the sheet's column says; nothing for what has none."""
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return
        left, right = sheet.columns.scale
        axis = shown_pins(sheet.job, channel)
        picture = self._still(sheet, channel, axis, round(right - left), round(place.height()))
        painter.drawPixmap(QPointF(left, place.top()), picture)

    def _still(
        self, sheet: StripSheet, channel: ContinuousChannel | TwoStateChannel, axis: tuple[float, float], width: int,
        height: int,
    ) -> QPixmap:  # fmt: skip
        wanted = (sheet.job.slice_of(channel), axis, width, height, sheet.theme)
        kept = self._kept.get(channel.id)
        if kept is not None and kept[0] == wanted:
            return kept[1]
        picture = QPixmap(width * 2, height * 2)
        picture.setDevicePixelRatio(2.0)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        _paint_still(painter, sheet.theme, sheet.job, channel, Ends(*axis, _INSET, width - _INSET), _axis(height))
        painter.end()
        self._kept[channel.id] = (wanted, picture)
        return picture


def _axis(height: float) -> float:
    """Where the scale stands below the top of a strip."""
    return min(_AXIS, height - _BELOW)


def _mark(sheet: StripSheet, channel: ContinuousChannel | TwoStateChannel, pin: float) -> float:
    """The pixel of a signal on its scale, held to its ends."""
    left, right = sheet.columns.scale
    low, high = shown_pins(sheet.job, channel)
    share = (min(max(pin, low), high) - low) / (high - low)
    return left + _INSET + share * (right - left - 2 * _INSET)


def _paint_live(
    painter: QPainter, theme: Theme, standing: ChannelStanding, at: tuple[float, float, float], y: float
) -> None:
    """From where to where it was in the last minute, and where it is, in pixels."""
    low, high, now = at
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.color("teal", 70))
    painter.drawRect(QRectF(low, y - 2, max(high - low, 1.0), 4))
    mark = "red" if standing.kind == "fault" else "muted" if standing.kind == "stale" else "teal"
    painter.setPen(QPen(theme.color(mark), 2))
    painter.drawLine(QPointF(now, y - 9), QPointF(now, y + 8))
    painter.drawLine(QPointF(now - 4, y - 9), QPointF(now + 4, y - 9))
    painter.drawLine(QPointF(now - 4, y + 8), QPointF(now + 4, y + 8))


def _paint_trend(
    painter: QPainter, sheet: StripSheet, channel: ContinuousChannel | TwoStateChannel, place: QRectF
) -> None:
    trend, standing = sheet.watch.trend(channel), sheet.standing(channel.id)
    low, high = axis_of(channel)
    colour = "red" if standing is not None and standing.is_fault else "teal"
    draw_trend(painter, sheet.theme, trend, trend_box(place, sheet.columns.trend), _LEAST_SHARE * (high - low), colour)
    if sheet.ago_s is not None and isinstance(channel, ContinuousChannel):
        pin = trend.at(sheet.ago_s)
        value = None if pin is None else sheet.watch.value_at(channel, pin)
        paint_read(painter, sheet, place, "—" if value is None else number_words(sheet.job, channel, value))


def _paint_still(painter: QPainter, theme: Theme, job: Job, channel: AnyChannel, ends: Ends, y: float) -> None:
    """Graduations as bent as the channel is, its faults, its alarms."""
    assert isinstance(channel, ContinuousChannel | TwoStateChannel)  # of no other is a scale drawn
    scale = _scale_shown(job, channel)
    if isinstance(channel, ContinuousChannel):
        _paint_beyond(painter, theme, job, channel, ends, y)
        _paint_faults(painter, theme, channel, ends, y)
    if scale is None:
        painter.setPen(QPen(theme.color("line"), 1))
        painter.drawLine(QPointF(ends.left, y), QPointF(ends.right, y))
        return
    if isinstance(channel, TwoStateChannel):
        _paint_states(painter, theme, channel, ends, y)
        return
    painter.setFont(font(12))
    marks = graduate(scale, ends, QFontMetricsF(font(12)).horizontalAdvance)
    painter.setPen(QPen(theme.color("ink"), 1))
    usable = np.clip(np.array(scale.usable), ends.low, ends.high)
    low, high = (float(x) for x in ends.x(usable))
    painter.drawLine(QPointF(low, y), QPointF(high, y))
    for x in marks.minor:
        painter.drawLine(QPointF(x, y), QPointF(x, y + 4))
    for mark in marks.major:
        painter.drawLine(QPointF(mark.x, y), QPointF(mark.x, y + 8))
        painter.drawText(QRectF(mark.x - 40, y + 9, 80, 16), int(CENTRE), mark.text)
    for flag in alarm_flags(job, channel):
        if ends.low <= flag.pin <= ends.high:
            draw_flag(painter, theme, float(ends.x(flag.pin)), 1, flag, pole=y - 1)


def _scale_shown(job: Job, channel: ContinuousChannel | TwoStateChannel) -> Scale | None:
    """What the controller shows, else the quantity; None where nothing is known of either."""
    try:
        if isinstance(channel, TwoStateChannel):
            return contact_scales(job, channel)[0]
        known = {scale.key: scale for scale in scales_of(job, channel)}
    except YardstickError:
        return None
    return known.get("quantity", known.get("shown"))


def _paint_beyond(painter: QPainter, theme: Theme, job: Job, channel: ContinuousChannel, ends: Ends, y: float) -> None:
    """Where the curve in use is carried on beyond what it was made from."""
    use = curve_in_use(job, channel)
    if use is None:
        return
    low, high = sorted(use.curve.domain)
    for start, end in ((ends.low, min(low, ends.high)), (max(high, ends.low), ends.high)):
        if start < end:
            left, right = (float(x) for x in ends.x(np.array([start, end])))
            painter.fillRect(QRectF(left, y - 5, right - left, 5), theme.color("muted", 80))


def _paint_faults(painter: QPainter, theme: Theme, channel: ContinuousChannel, ends: Ends, y: float) -> None:
    band = fault_band(channel)
    if band is None:
        return
    crossed = QBrush(theme.color("red", 130), Qt.BrushStyle.DiagCrossPattern)
    for start, end in ((ends.low, band.low), (band.high, ends.high)):
        if start < end and start < ends.high and end > ends.low:
            left, right = (float(x) for x in ends.x(np.clip([start, end], ends.low, ends.high)))
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
