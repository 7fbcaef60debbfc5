"""The hairline: one line over the Rule and both plots, painted by itself so that moving it repaints little else."""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from ..frame.theme import Theme
from .rule.layout import GUTTER, ROW_HEIGHT, ends_of
from .sight import Sight

_GRIP_WIDTH = 18
_STILL_ALPHA = 190  # of 255: it reads what is below, and does not outshout it
_REACH = 12


class Hairline(QWidget):
    """An overlay over the centre that lets every click through."""

    def __init__(self, parent: QWidget, sight: Sight, theme: Theme) -> None:
        super().__init__(parent)
        self._sight = sight
        self._theme = theme
        self._x = 0.0
        self._stretch = (0, 0)
        self._rule_bottom = 0
        self._marker: Callable[[], QPointF | None] = lambda: None
        self._live: tuple[float, bool] | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        sight.moved.connect(self.follow)
        sight.ranged.connect(self.update)

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self.update()

    def span(self, top: int, rule_bottom: int, bottom: int, marker: Callable[[], QPointF | None]) -> None:
        """From where to where it runs; `marker` gives the point of the curve it crosses."""
        self._stretch, self._rule_bottom, self._marker = (top, bottom), rule_bottom, marker
        self.update()

    @property
    def line_x(self) -> float:
        """Where it stands, in pixels."""
        return float(ends_of(self, self._sight).x(self._sight.pin))

    def show_live(self, pin: float | None, stale: bool) -> None:
        """A triangle where the live signal stands, apart from the hairline; hollow once it is stale."""
        wanted = None if pin is None else (pin, stale)
        if wanted == self._live:
            return
        old, self._live = self._live, wanted
        for place in (old, wanted):
            if place is not None:
                x = int(float(ends_of(self, self._sight).x(place[0])))
                self.update(QRect(x - _REACH, self._stretch[0] - 6, 2 * _REACH + 1, self._rule_bottom + 12))

    @property
    def live_pin(self) -> float | None:
        """Where the live signal stands; None without one."""
        return None if self._live is None else self._live[0]

    @property
    def is_live_stale(self) -> bool:
        """Whether the live signal that is shown no longer stands for the present."""
        return self._live is not None and self._live[1]

    @property
    def bottom(self) -> int:
        """Where it ends, in pixels from the top of the centre."""
        return self._stretch[1]

    def _paint_live(self, painter: QPainter, top: int) -> None:
        if self._live is None:
            return
        pin, stale = self._live
        x = float(ends_of(self, self._sight).x(pin))
        if not GUTTER - 2 <= x <= self.width():
            return
        painter.setPen(QPen(self._theme.color("muted" if stale else "teal"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush if stale else self._theme.color("teal"))
        for row in range((self._rule_bottom - top) // ROW_HEIGHT):
            base = top + row * ROW_HEIGHT + 13.0
            points = [QPointF(x, base - 1), QPointF(x - 5.5, base - 10), QPointF(x + 5.5, base - 10)]
            painter.drawPolygon(QPolygonF(points))

    def follow(self) -> None:
        """Repaint only where the line was and where it is now."""
        old, self._x = self._x, self.line_x
        for x in (old, self._x):
            self.update(QRect(int(x) - _REACH, 0, 2 * _REACH + 1, self.height()))

    def paintEvent(self, _event: QPaintEvent) -> None:
        top, bottom = self._stretch
        if bottom <= top:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        x = self.line_x
        painter.setPen(QPen(self._theme.color("accent", _STILL_ALPHA), 1.0))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        self._paint_live(painter, top)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.color("accent"))
        for y in (top - 4, self._rule_bottom):
            painter.drawRoundedRect(QRectF(x - _GRIP_WIDTH / 2, y, _GRIP_WIDTH, 5), 2, 2)
        point = self._marker()
        if point is not None and top <= point.y() <= bottom:
            painter.setPen(QPen(self._theme.color("accent"), 1.6))
            painter.setBrush(self._theme.color("paper"))
            painter.drawEllipse(QPointF(x, point.y()), 4.5, 4.5)
        painter.end()
