"""One plot on the shared axis: pyqtgraph's, with its margins fixed so that it stands under the Rule to the pixel."""

from typing import NamedTuple

import numpy as np
import pyqtgraph as pg
from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFont,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QFrame, QGraphicsPathItem, QGraphicsRectItem, QLabel

from ....core.words.numerals import decimals_for, fixed
from ...frame.flag_mark import AlarmFlag, draw_flag
from ...frame.plain_text import PlainLabel
from ...frame.theme import Theme, bold, font
from ..rule.layout import GUTTER, RIGHT
from ..rule.pointing import look_closer, point
from ..sight import Sight
from .picture import Band, DrawnLine, MarkKind, Marks, PlotContent, Whiskers


class MarkLook(NamedTuple):
    """How a kind of mark is drawn."""

    symbol: str
    color: str
    size: int = 9
    is_hollow: bool = False


_LOOKS: dict[MarkKind, MarkLook] = {
    "up": MarkLook("t1", "teal"),
    "down": MarkLook("t", "teal", is_hollow=True),
    "plain": MarkLook("o", "teal"),
    "excluded": MarkLook("x", "red", is_hollow=True),
    "knot": MarkLook("s", "ink", 6),
    "found": MarkLook("d", "muted", 8, is_hollow=True),
    "found failed": MarkLook("d", "muted", 8, is_hollow=True),
    "left": MarkLook("o", "teal"),
    "failed": MarkLook("o", "red"),
    "stale": MarkLook("o", "muted", is_hollow=True),
    "rated": MarkLook("s", "blue", is_hollow=True),
    "assumed": MarkLook("p", "accent", is_hollow=True),
    "worst": MarkLook("o", "red", is_hollow=True),
}
_MANY_SAMPLES = 2000
_GRIP = 9  # pixels around a knot that take hold of it
_WORDS_WIDTH = GUTTER - 70


_FILLS: dict[str, tuple[str, int]] = {
    "tolerance": ("allowed", 140),
    "confidence": ("teal", 60),
    "missed": ("muted", 38),
}


class ValueAxis(pg.AxisItem):  # type: ignore[misc]  # pyqtgraph has no types
    """Numbers as the rest of the program writes them."""

    def tickStrings(self, values: list[float], _scale: float, spacing: float) -> list[str]:
        return [fixed(value, decimals_for(spacing)) for value in values]


class AlignedPlot(QFrame):
    """A plot whose horizontal axis is the Rule's.

    Pressing and dragging in it moves the hairline; on a knot that can be moved it moves the knot instead.
    """

    knot_dragged = Signal(int, float, float)  # which knot, and the signal and value it is taken to
    knot_dropped = Signal()

    def __init__(self, title: str, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self.knots_move = False
        self._held: int | None = None
        self._sight = sight
        self._theme = theme
        self._content: PlotContent | None = None
        # drawn into a picture, which is then shown: so the hairline moves over it without drawing it again
        self._view = pg.PlotWidget(self, axisItems={"left": ValueAxis("left")}, enableMenu=False)
        self._view.hide()
        self._picture: QPixmap | None = None
        self._flags: tuple[AlarmFlag, ...] = ()
        self._view.setFrameShape(QFrame.Shape.NoFrame)
        self._view.setBackground(None)
        self._view.setStyleSheet("background: transparent")
        self._view.viewport().setAutoFillBackground(False)
        self._view.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._title, self._unit, self._words = (self._label(text) for text in (title, "", ""))
        for label in (self._unit, self._words):
            label.setProperty("role", "muted")
        self._words.setWordWrap(True)
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._drawn_content: tuple[object, ...] | None = None
        self._dressed: Theme | None = None
        self._prepare()
        sight.ranged.connect(self._range)
        self.setAccessibleName(title)
        self.setMinimumHeight(96)

    def _label(self, text: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        return label

    def _prepare(self) -> None:
        item = self._view.getPlotItem()
        item.hideButtons()
        item.setMouseEnabled(False, False)
        item.hideAxis("bottom")
        item.layout.setContentsMargins(0, 8, RIGHT - 1, 8)
        item.layout.setSpacing(0)
        item.getAxis("left").setWidth(GUTTER - 1)
        item.getAxis("left").setStyle(tickLength=-5, tickTextOffset=6)
        item.getAxis("left").enableAutoSIPrefix(False)
        item.getViewBox().setDefaultPadding(0)

    @property
    def content(self) -> PlotContent | None:
        """What is shown."""
        return self._content

    def show_content(self, content: PlotContent, title: str, unit: str, theme: Theme) -> None:
        """Draw anew, unless just that is drawn already."""
        wanted = (content, title, unit, theme)
        if self._drawn_content is not None and _is_same(wanted, self._drawn_content):
            self._content = content
            return
        self._drawn_content = wanted
        self._content, self._theme = content, theme
        self._title.setText(title)
        self._title.setFont(bold(12))
        self._unit.setText(unit)
        self._unit.setFont(font(12))
        self._words.setText(content.words)
        self._words.setFont(font(12))
        self.setAccessibleDescription(content.words)
        self._draw(content)
        self._place()

    def show_flags(self, flags: tuple[AlarmFlag, ...]) -> None:
        """Show where alarms come."""
        if flags != self._flags:
            self._flags = flags
            self.update()

    @property
    def flags(self) -> tuple[AlarmFlag, ...]:
        """The alarms shown."""
        return self._flags

    def _paint_flags(self, painter: QPainter) -> None:
        """A dotted line where each alarm in view comes, its flag at the top."""
        low, high = self._sight.view
        painter.setClipRect(self.rect().adjusted(GUTTER + 1, 1, -1, -1))
        for flag in self._flags:
            if low <= flag.pin <= high:
                x = self.pixel_of(flag.pin, 0.0).x()
                painter.setPen(QPen(self._theme.color("red" if flag.is_second else "accent"), 1, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(x, 8), QPointF(x, self.height() - 8))
                draw_flag(painter, self._theme, x, 2, flag, pole=12)

    def _draw(self, content: PlotContent) -> None:
        item = self._view.getPlotItem()
        item.clear()
        if self._dressed is not self._theme:
            self._dress_axis(item.getAxis("left"))
            self._dressed = self._theme
        item.getViewBox().setYRange(*content.y_range, padding=0)
        self._range()
        for band in content.bands:
            self._draw_band(item, band)
        self._draw_reach(item, content)
        item.addItem(pg.InfiniteLine(0, angle=0, pen=pg.mkPen(self._theme.color("line"), width=1)), ignoreBounds=True)
        for line in content.lines:
            self._draw_line(item, line)
        if content.whiskers is not None:
            self._draw_whiskers(item, content.whiskers)
        for marks in content.marks:
            if content.stems:
                self._draw_stems(item, marks)
            self._draw_marks(item, marks)

    def _dress_axis(self, axis: pg.AxisItem) -> None:
        axis.setPen(pg.mkPen(self._theme.color("line")))
        axis.setTextPen(pg.mkPen(self._theme.color("muted")))
        tick_font: QFont = font(12)
        axis.setTickFont(tick_font)
        self._view.getPlotItem().showGrid(y=True, alpha=0.18)

    def _draw_band(self, item: pg.PlotItem, band: Band) -> None:
        theme = self._theme
        edge = pg.mkPen(theme.color("red"), width=1) if band.style == "tolerance" else pg.mkPen(None)
        fill = theme.color(*_FILLS[band.style])
        around = np.concatenate([band.x, band.x[::-1]]), np.concatenate([band.low, band.high[::-1]])
        area = QGraphicsPathItem(pg.arrayToQPath(*around))
        area.setBrush(pg.mkBrush(fill))
        area.setPen(pg.mkPen(None))
        area.setZValue(-10)
        item.addItem(area, ignoreBounds=True)
        if band.style == "tolerance":
            for y in (band.low, band.high):
                item.addItem(pg.PlotCurveItem(band.x, y, pen=edge), ignoreBounds=True)

    def _draw_reach(self, item: pg.PlotItem, content: PlotContent) -> None:
        """Hatch what lies beyond the curve's reach."""
        if content.reach is None:
            return
        low, high = self._sight.axis
        bottom, top = content.y_range
        hatch = QBrush(self._theme.color("muted", 90), Qt.BrushStyle.BDiagPattern)
        for start, end in ((low, min(content.reach[0], high)), (max(content.reach[1], low), high)):
            if end - start > 1e-6 * (high - low):
                region = QGraphicsRectItem(start, bottom, end - start, top - bottom)
                region.setBrush(hatch)
                region.setPen(pg.mkPen(None))
                region.setZValue(-5)
                item.addItem(region, ignoreBounds=True)

    def _draw_line(self, item: pg.PlotItem, line: DrawnLine) -> None:
        color, style = {
            "curve": ("ink", Qt.PenStyle.SolidLine),
            "beyond": ("ink", Qt.PenStyle.DashLine),
            "described": ("blue", Qt.PenStyle.DashLine),
            "shift": ("teal", Qt.PenStyle.DotLine),
            "error": ("ink", Qt.PenStyle.SolidLine),
            "even": ("accent", Qt.PenStyle.DashLine),
            "bound": ("green", Qt.PenStyle.DotLine),
            "further": ("teal", Qt.PenStyle.DotLine),
            "accepted": ("green", Qt.PenStyle.SolidLine),
            "accepted beyond": ("green", Qt.PenStyle.DashLine),
            "mistake": ("accent", Qt.PenStyle.DashLine),
        }[line.style]
        pen = pg.mkPen(self._theme.color(color), width=1, style=style)
        if len(line.x) <= _MANY_SAMPLES:
            item.addItem(pg.PlotCurveItem(line.x, line.y, pen=pen, antialias=True), ignoreBounds=True)
            return
        drawn = pg.PlotDataItem(line.x, line.y, pen=pen, antialias=True)
        item.addItem(drawn, ignoreBounds=True)
        drawn.setDownsampling(auto=True, method="peak")
        drawn.setClipToView(True)

    def _draw_marks(self, item: pg.PlotItem, marks: Marks) -> None:
        look, color = _LOOKS[marks.kind], self._mark_color(marks.kind)
        brush = pg.mkBrush(self._theme.color("paper") if look.is_hollow else color)
        pen = pg.mkPen(color, width=1.4)
        drawn = pg.ScatterPlotItem(marks.x, marks.y, symbol=look.symbol, size=look.size, brush=brush, pen=pen)
        item.addItem(drawn, ignoreBounds=True)

    def _draw_whiskers(self, item: pg.PlotItem, whiskers: Whiskers) -> None:
        pen = pg.mkPen(self._theme.color("teal"), width=1)
        bars = pg.ErrorBarItem(
            x=whiskers.x, y=whiskers.y, width=2 * whiskers.half_x, height=2 * whiskers.half_y, beam=None, pen=pen
        )
        item.addItem(bars, ignoreBounds=True)

    def _draw_stems(self, item: pg.PlotItem, marks: Marks) -> None:
        """A line from zero to each error: the gap between the jaws."""
        x = np.repeat(marks.x, 2)
        y = np.stack([np.zeros_like(marks.y), marks.y], axis=1).ravel()
        pen = pg.mkPen(self._mark_color(marks.kind), width=1)
        item.addItem(pg.PlotCurveItem(x, y, connect="pairs", pen=pen), ignoreBounds=True)

    def _mark_color(self, kind: MarkKind) -> QColor:
        return self._theme.color(_LOOKS[kind].color)

    # -- the shared axis --------------------------------------------------------------------------------------------

    def _range(self) -> None:
        self._view.getPlotItem().getViewBox().setXRange(*self._sight.view, padding=0)
        self._redraw()

    def _redraw(self) -> None:
        self._picture = None
        self.update()

    def _drawn(self) -> QPixmap:
        """The plot as a picture, drawn when it is first asked for after a change."""
        if self._picture is None:
            self._picture = self._view.grab()
        return self._picture

    def pixel_of(self, signal: float, value: float) -> QPointF:
        """Where a point of the plot lies, in this widget's coordinates."""
        self._drawn()
        scene = self._view.getPlotItem().getViewBox().mapViewToScene(QPointF(signal, value))
        corner = self._view.geometry().topLeft() + self._view.viewport().geometry().topLeft()
        return QPointF(self._view.viewportTransform().map(scene)) + QPointF(corner)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        inside = self.rect().adjusted(1, 1, -1, -1)
        inside.setWidth(GUTTER)
        painter.fillRect(inside, self._theme.color("gutter"))
        painter.setPen(self._theme.color("line"))
        painter.drawLine(inside.topRight(), inside.bottomRight())
        painter.drawPixmap(self._view.geometry().topLeft(), self._drawn())
        self._paint_flags(painter)
        painter.end()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place()

    def _place(self) -> None:
        self._title.move(12, 9)
        self._unit.move(12, 26)
        for label in (self._title, self._unit):
            label.adjustSize()
        self._view.setGeometry(self.rect().adjusted(1, 1, -1, -1))
        self._redraw()
        self._words.setGeometry(12, 46, _WORDS_WIDTH, max(self.height() - 52, 0))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = self._knot_at(event.position())
        if self._held is None:
            point(self, self._sight, event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None:
            point(self, self._sight, event)
            return
        signal, value = self.value_at(event.position())
        self.knot_dragged.emit(self._held, signal, value)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._held = None
            self.knot_dropped.emit()
        super().mouseReleaseEvent(event)

    def _knot_at(self, position: QPointF) -> int | None:
        """The knot under the pointer, if there is one."""
        knots = [marks for marks in self._content.marks if marks.kind == "knot"] if self._content else []
        if not knots or not self.knots_move:
            return None
        away = [
            (self.pixel_of(float(x), float(y)) - position).manhattanLength()
            for x, y in zip(knots[0].x, knots[0].y, strict=True)
        ]
        nearest = int(np.argmin(away))
        return nearest if away[nearest] <= _GRIP else None

    def value_at(self, position: QPointF) -> tuple[float, float]:
        """Signal and value at a place of this widget."""
        self._drawn()
        corner = self._view.geometry().topLeft() + self._view.viewport().geometry().topLeft()
        scene = self._view.mapToScene((position - QPointF(corner)).toPoint())
        found = self._view.getPlotItem().getViewBox().mapSceneToView(scene)
        return float(found.x()), float(found.y())

    def wheelEvent(self, event: QWheelEvent) -> None:
        look_closer(self._sight, event)


def _is_same(one: object, other: object) -> bool:
    """Whether two nested rows of arrays, words and numbers are alike to the last number."""
    if isinstance(one, np.ndarray) or isinstance(other, np.ndarray):
        return np.array_equal(one, other, equal_nan=True)  # type: ignore[arg-type]  # which are not alike then
    if isinstance(one, tuple) and isinstance(other, tuple):
        return len(one) == len(other) and all(map(_is_same, one, other))
    return bool(one == other)
