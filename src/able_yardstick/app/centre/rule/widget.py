"""Draws the stacked scales; a readout beside each takes a typed value, and all others follow."""

from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QFocusEvent,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QLineEdit, QWidget

from ....core.document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ....core.document.output import OutputChannel
from ....core.state.scales import Scale, ScaleKey, one_count, pin_for
from ....core.units.electrical import signal_gain
from ....core.units.typed import number_and_unit
from ....core.words.errors import YardstickError
from ....core.words.numerals import parse_number
from ...frame.flag_mark import AlarmFlag, draw_flag
from ...frame.plain_text import tip as as_tip
from ...frame.theme import Theme, bold, font
from ...frame.widgets import discard
from ..sight import Sight
from .graduations import Graduations, graduate, made_by
from .layout import GUTTER, READOUT_WIDTH, READOUT_X, ROW_HEIGHT, TITLE_X, ends_of
from .pointing import look_closer, point

_KEY_STEP = 0.01
_WORDS_MORE = 14  # pixels that a state in words has more room than a number
_PAGE_STEP = 0.1
_COLORS: dict[ScaleKey, str] = {"quantity": "blue", "state": "blue", "shown": "ink"}  # the electrical ones are teal


class RuleContent(NamedTuple):
    """What the Rule shows: scales, the reach of the curve, the working range, and where readings stand (pins)."""

    channel: WiredChannel | OutputChannel
    scales: tuple[Scale, ...]
    reach: tuple[float, float] | None
    working: tuple[float, float] | None
    readings: tuple[float, ...]
    faults: tuple[tuple[float, float], ...] = ()
    next_pin: float | None = None  # where the next reading would help most
    flags: tuple[AlarmFlag, ...] = ()


class Readout(QLineEdit):
    """The reading of one scale at the hairline; Enter moves the hairline to what is typed."""

    asked = Signal(str)
    left = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("readout")
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setFont(bold(13))
        self.returnPressed.connect(lambda: self.asked.emit(self.text()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if self.isModified():
            self.left.emit()

    def mark_wrong(self, wrong: bool) -> None:
        """Show or clear the look of a wrong entry."""
        if bool(self.property("wrong")) != wrong:
            self.setProperty("wrong", wrong)
            self.style().unpolish(self)
            self.style().polish(self)


class Rule(QWidget):
    """The scales of a channel over one axis. Drag, arrow keys or a typed value move the hairline."""

    refused = Signal(str)  # why nothing follows; empty when all is well

    def __init__(self, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self._sight = sight
        self._theme = theme
        self._content: RuleContent | None = None
        self._readouts: dict[ScaleKey, Readout] = {}
        self._graduations: dict[ScaleKey, Graduations] = {}
        self._kept: dict[ScaleKey, tuple[tuple[object, ...], Graduations]] = {}  # with what each rests on
        self._picture: QPixmap | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Rule")
        self.setAccessibleDescription("Scales read at one hairline. Arrow keys move it, with Shift by one count.")
        sight.moved.connect(self._read)
        sight.ranged.connect(self._regraduate)

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self._redraw()

    def show_content(self, content: RuleContent) -> None:
        """Show another channel, or the same one changed."""
        self._content = content
        keys = [scale.key for scale in content.scales]
        for key in [key for key in self._readouts if key not in keys]:
            discard(self._readouts.pop(key))
        for row, scale in enumerate(content.scales):
            readout = self._readouts.get(scale.key) or self._new_readout(scale.key)
            readout.setAccessibleName(f"{scale.title} at the hairline, {scale.unit}")
            readout.setReadOnly(scale.words is not None)
            readout.setFont(bold(13) if scale.words is None else font(12))
            tip = f"Type a value in {scale.unit} and press Enter" if scale.words is None else "Read from the pin"
            readout.setToolTip(as_tip(tip))
            more = 0 if scale.words is None else _WORDS_MORE
            readout.setGeometry(READOUT_X - more, row * ROW_HEIGHT + 8, READOUT_WIDTH + more, 24)
            readout.show()
        self.setFixedHeight(ROW_HEIGHT * len(content.scales) + 1)
        self._regraduate()
        self._read()

    def _new_readout(self, key: ScaleKey) -> Readout:
        readout = Readout(self)
        readout.asked.connect(lambda text: self._go_to(key, text))
        readout.left.connect(self._settle)
        self._readouts[key] = readout
        return readout

    def readout(self, key: ScaleKey) -> Readout:
        """The field of a scale."""
        return self._readouts[key]

    # -- reading and typing -----------------------------------------------------------------------------------------

    def _read(self) -> None:
        """Show every scale's reading at the hairline, except where someone is typing."""
        for scale in self._content.scales if self._content else ():
            readout = self._readouts[scale.key]
            if readout.hasFocus() and readout.isModified():
                continue
            reads = scale.reads(self._sight.pin) or scale.key == "shown"
            readout.setText(scale.text(self._sight.pin) if reads else "—")
            readout.mark_wrong(False)

    def _settle(self) -> None:
        """Drop what was typed half-way."""
        for readout in self._readouts.values():
            readout.setModified(False)
        self.refused.emit("")
        self._read()

    def _go_to(self, key: ScaleKey, text: str) -> None:
        if self._content is None:
            return
        try:
            pin = pin_for(self._content.scales, key, self._typed(key, text), self._sight.pin)
        except YardstickError as error:
            self._readouts[key].mark_wrong(True)
            self.refused.emit(str(error))
            return
        self._readouts[key].setModified(False)
        self.refused.emit("")
        self._sight.set_pin(pin)
        self._readouts[key].selectAll()

    def _typed(self, key: ScaleKey, text: str) -> float:
        """The value typed, in the scale's unit; it may carry one of its own. Raises: YardstickError."""
        assert self._content is not None
        number, unit = number_and_unit(text)
        value = parse_number(number)
        if not unit:
            return value
        channel = self._content.channel
        if key in ("quantity", "shown") and isinstance(channel, ContinuousChannel):
            return channel.in_unit(value, unit)[0]
        scale = next(scale for scale in self._content.scales if scale.key == key)
        return value * signal_gain(unit, scale.unit)  # type: ignore[arg-type]  # electrical scales only

    # -- moving the hairline ----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if point(self, self._sight, event):
            self.setFocus(Qt.FocusReason.MouseFocusReason)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        point(self, self._sight, event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        look_closer(self._sight, event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        low, high = self._sight.axis
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        sign = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if sign and fine and self._content is not None:
            self._sight.set_pin(self._sight.pin + sign * one_count(self._content.channel))
        elif sign:
            self._sight.step(sign * _KEY_STEP)
        elif event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._sight.step(_PAGE_STEP if event.key() == Qt.Key.Key_PageUp else -_PAGE_STEP)
        elif event.key() in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._sight.set_pin(low if event.key() == Qt.Key.Key_Home else high)
        else:
            super().keyPressEvent(event)

    # -- drawing ----------------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._regraduate()

    def _regraduate(self) -> None:
        if self._content is None:
            return
        metrics = QFontMetricsF(font(12))
        ends = ends_of(self, self._sight)
        kept, self._kept = self._kept, {}
        self._graduations = {}
        for scale in self._content.scales:
            if scale.words is None:
                rests_on = (scale.usable, ends, made_by(scale.grade))
                old = kept.get(scale.key)
                same = old is not None and rests_on[2] is not None and old[0] == rests_on
                found = old[1] if old is not None and same else graduate(scale, ends, metrics.horizontalAdvance)
                self._kept[scale.key] = (rests_on, found)
                self._graduations[scale.key] = found
        self._redraw()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._picture is None:
            self._picture = self._drawn()
        painter = QPainter(self)
        painter.setClipRect(event.rect())
        painter.drawPixmap(0, 0, self._picture)
        if self.hasFocus():
            painter.setPen(QPen(self._theme.color("accent"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.end()

    def _drawn(self) -> QPixmap:
        """All but the hairline, which moves over it: drawn anew only when it is another."""
        ratio = self.devicePixelRatioF()
        picture = QPixmap(self.size() * ratio)
        picture.setDevicePixelRatio(ratio)
        painter = QPainter(picture)
        painter.fillRect(self.rect(), self._theme.color("paper"))
        painter.fillRect(0, 0, GUTTER, self.height(), self._theme.color("gutter"))
        for row, scale in enumerate(self._content.scales if self._content else ()):
            self._paint_row(painter, row * ROW_HEIGHT, scale)
        painter.setPen(self._theme.color("line"))
        painter.drawLine(GUTTER, 0, GUTTER, self.height())
        painter.end()
        return picture

    def _redraw(self) -> None:
        self._picture = None
        self.update()

    def _paint_row(self, painter: QPainter, top: int, scale: Scale) -> None:
        theme = self._theme
        if (top // ROW_HEIGHT) % 2:
            painter.fillRect(GUTTER, top, self.width() - GUTTER, ROW_HEIGHT, theme.color("desk"))
        painter.fillRect(0, top + 7, 3, ROW_HEIGHT - 14, theme.color(_COLORS.get(scale.key, "teal")))
        painter.setPen(theme.color("ink"))
        painter.setFont(bold(12))
        painter.drawText(QRectF(TITLE_X, top + 5, READOUT_X - TITLE_X - 2, 17), 0, scale.title)
        painter.setPen(theme.color("muted"))
        painter.setFont(font(12))
        caption = ", ".join(part for part in (scale.unit, scale.caption) if part)
        elided = painter.fontMetrics().elidedText(caption, Qt.TextElideMode.ElideRight, READOUT_X - TITLE_X - 4)
        painter.drawText(QRectF(TITLE_X, top + 21, READOUT_X - TITLE_X - 2, 16), 0, elided)
        painter.save()
        painter.setClipRect(GUTTER + 1, top, self.width() - GUTTER, ROW_HEIGHT)
        if scale.words is not None:
            self._paint_states(painter, top)
        else:
            self._paint_bands(painter, top, scale)
            self._paint_graduations(painter, top, scale)
        if scale.key == "pin":
            self._paint_readings(painter, top)
        if self._content is not None and scale is self._flagged(self._content):
            for flag in self._content.flags:
                draw_flag(painter, self._theme, float(ends_of(self, self._sight).x(flag.pin)), top, flag)
        painter.restore()

    def _paint_bands(self, painter: QPainter, top: int, scale: Scale) -> None:
        """Hatch what lies beyond the reach of the curve, and name what a scale cannot say."""
        content = self._content
        if content is None:
            return
        ends = ends_of(self, self._sight)
        left, right = (float(x) for x in ends.x(np.array(scale.usable)))
        base = top + 13
        if scale.key in ("quantity", "shown") and content.reach is not None:
            hatch = QBrush(self._theme.color("muted"), Qt.BrushStyle.BDiagPattern)
            low, high = (float(x) for x in ends.x(np.array(content.reach)))
            for start, end in ((left, min(low, right)), (max(high, left), right)):
                if end > start + 0.5:
                    painter.fillRect(QRectF(start, base, end - start, 8), hatch)
        elif scale.key not in ("quantity", "shown"):
            crossed = QBrush(self._theme.color("red", 120), Qt.BrushStyle.DiagCrossPattern)
            for zone in content.faults:
                start, end = (float(x) for x in ends.x(np.array(zone)))
                painter.fillRect(QRectF(start, base, end - start, 8), crossed)
        if scale.note:
            painter.setFont(font(12))
            painter.setPen(self._theme.color("accent"))
            room = self.width() - right - 12
            x = right + 8 if room > 150 else left + 4
            if room <= 150 and scale is self._flagged(content):  # past the flags that stand there
                poles = (float(ends.x(flag.pin)) for flag in content.flags)
                x = max((pole + 14 for pole in poles if x - 12 < pole < x + 90), default=x)
            painter.drawText(QPointF(x, base - 3 if room <= 150 else base + 9), scale.note)

    def _paint_states(self, painter: QPainter, top: int) -> None:
        """A stretch for each state of a contact, and the dead band between them."""
        channel = self._content.channel if self._content else None
        if not isinstance(channel, TwoStateChannel):
            return
        ends, half = ends_of(self, self._sight), channel.dead_band / 2
        low, high = self._sight.axis
        below, above = float(ends.x(channel.threshold - half)), float(ends.x(channel.threshold + half))
        words = (channel.closed_means, channel.open_means)
        left, right = words if channel.pin_levels[0] < channel.pin_levels[1] else words[::-1]
        painter.setFont(bold(12))
        stretches = ((float(ends.x(low)), below, left, "gutter"), (above, float(ends.x(high)), right, "allowed"))
        for start, end, text, fill in stretches:
            rect = QRectF(start, top + 9, end - start, 24)
            painter.setPen(QPen(self._theme.color("line"), 1))
            painter.setBrush(self._theme.color(fill))
            painter.drawRect(rect)
            painter.setPen(self._theme.color("ink"))
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)
        if above > below:
            hatch = QBrush(self._theme.color("muted"), Qt.BrushStyle.BDiagPattern)
            painter.fillRect(QRectF(below, top + 9, above - below, 24), hatch)

    def _paint_graduations(self, painter: QPainter, top: int, scale: Scale) -> None:
        theme = self._theme
        ends = ends_of(self, self._sight)
        left, right = (float(x) for x in ends.x(np.array(scale.usable)))
        base = top + 13
        marks = self._graduations.get(scale.key, Graduations((), ()))
        painter.setPen(QPen(theme.color("ink"), 1))
        painter.drawLine(QPointF(left, base), QPointF(right, base))
        painter.setPen(QPen(theme.color("muted"), 1))
        for x in marks.minor:
            painter.drawLine(QPointF(x, base), QPointF(x, base + 5))
        painter.setFont(font(12))
        for mark in marks.major:
            painter.setPen(QPen(theme.color("ink"), 1))
            painter.drawLine(QPointF(mark.x, base), QPointF(mark.x, base + 9))
            if mark.text and mark.x - painter.fontMetrics().horizontalAdvance(mark.text) / 2 > GUTTER + 1:
                painter.drawText(QRectF(mark.x - 60, base + 9, 120, 18), Qt.AlignmentFlag.AlignHCenter, mark.text)
        painter.setPen(QPen(theme.color("ink"), 2))
        for x in (left, right):
            painter.drawLine(QPointF(x, base - 5), QPointF(x, base + 9))

    def _paint_readings(self, painter: QPainter, top: int) -> None:
        content = self._content
        if content is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.color("teal"))
        for x in sorted(set(np.round(ends_of(self, self._sight).x(np.array(content.readings)), 0).tolist())):
            painter.drawEllipse(QPointF(x, top + 13.0), 2.8, 2.8)
        if content.next_pin is not None:
            self._paint_next(painter, top, content.next_pin)
        if content.working is not None:
            for pin, turn in zip(content.working, (1, -1), strict=True):
                self._paint_range_end(painter, top, pin, turn)

    @staticmethod
    def _flagged(content: RuleContent) -> Scale | None:
        """The scale that alarms stand on: what the controller shows, else the quantity."""
        known = {scale.key: scale for scale in content.scales}
        return known.get("shown", known.get("quantity"))

    def _paint_next(self, painter: QPainter, top: int, pin: float) -> None:
        """A hollow ring where the next reading would help most."""
        painter.setPen(QPen(self._theme.color("accent"), 1.6))
        painter.setBrush(self._theme.color("paper"))
        painter.drawEllipse(QPointF(float(ends_of(self, self._sight).x(pin)), top + 13.0), 4.2, 4.2)
        painter.setPen(Qt.PenStyle.NoPen)

    def _paint_range_end(self, painter: QPainter, top: int, pin: float, turn: int) -> None:
        """A small pennant at an end of the working range, pointing into it."""
        x = float(ends_of(self, self._sight).x(pin))
        painter.setBrush(self._theme.color("blue"))
        points = [QPointF(x, top + 2), QPointF(x + 7 * turn, top + 5.5), QPointF(x, top + 9)]
        painter.drawPolygon(QPolygonF(points))
