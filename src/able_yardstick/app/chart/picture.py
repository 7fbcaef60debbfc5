"""The chart's picture: lanes against time, or courses against each other, with a pair of cursors."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent

from ...core.lookout.sighted import CursorName
from ..frame.painting import CENTRE, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.theme import Theme
from .crossed import paint_crossed
from .lanes import BOTTOM, LEFT, RIGHT_ROOM, TOP, lanes_of, least_height, paint_lane, time_x
from .state import ChartState
from .time_axis import clock_marks, clock_words

_NOTHING = "Nothing to draw: connect the bench (F4), or open a log."
_CLOCK_EVERY = 96.0
_WORDS = 116.0  # the width of a cursor's words
_PRESS = 4.0  # pixels that a press may move without being a drag
_ZOOM = 1.3
_STEP = 0.01  # of the stretch, a cursor by a key
_PAN = 0.25


class ChartPicture(SidePicture):
    """Dragging moves, the wheel zooms, a press sets cursor A, with Shift B; all of it by keys too."""

    def __init__(self, state: ChartState, theme: Theme) -> None:
        self.chart = ChartDrawing(state, theme)
        super().__init__(self.chart, "Chart: courses against time")
        self.setFocusProxy(self.chart)
        state.changed.connect(self.show_now)
        state.moved.connect(self.show_now)

    def move_on(self) -> None:
        """Go with what is live."""
        if self.isVisible():
            self.chart.move_on()


class ChartDrawing(SideDrawing):
    """Draws what the state says, and moves it."""

    def __init__(self, state: ChartState, theme: Theme) -> None:
        super().__init__(theme)
        self._state = state
        self._pressed: tuple[float, float, float] | None = None  # where, and the stretch then
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Chart")

    def show_now(self) -> None:
        lanes = len({trace.unit for trace in self._state.shown} | {laid.unit for laid in self._state.laid})
        self.setMinimumHeight(0 if self._state.is_crossed else round(least_height(lanes)))
        self.update()

    def move_on(self) -> None:
        """Go with what is live."""
        if self._state.tick():
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, 400)

    # -- hands ------------------------------------------------------------------------------------------------------

    @property
    def _place(self) -> QRectF:
        return QRectF(LEFT, TOP, max(self.width() - LEFT - RIGHT_ROOM, 1.0), max(self.height() - TOP - BOTTOM, 1.0))

    def moment(self, x: float) -> float:
        """The moment at a pixel, in s."""
        sight, place = self._state.sight, self._place
        return sight.start_s + sight.length_s * (x - place.left()) / place.width()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if event.button() == Qt.MouseButton.LeftButton and not self._state.is_crossed:
            sight = self._state.sight
            self._pressed = (event.position().x(), sight.start_s, sight.end_s)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            return
        x, start, end = self._pressed
        by = (event.position().x() - x) / self._place.width() * (end - start)
        if abs(event.position().x() - x) >= _PRESS:
            self._state.see(self._state.sight._replace(start_s=start - by, end_s=end - by, is_held=True))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        pressed, self._pressed = self._pressed, None
        if pressed is not None and abs(event.position().x() - pressed[0]) < _PRESS:
            name: CursorName = "B" if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else "A"
            self._state.see(self._state.sight.with_cursor(name, self.moment(event.position().x())))

    def mouseDoubleClickEvent(self, _event: QMouseEvent) -> None:
        self._pressed = None
        self._state.see_all()

    def wheelEvent(self, event: QWheelEvent) -> None:
        turns = event.angleDelta().y() / 120
        self._state.see(self._state.sight.zoomed(_ZOOM**-turns, self.moment(event.position().x())))
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        act = self._key_act(event)
        if act is None:
            super().keyPressEvent(event)

    def _key_act(self, event: QKeyEvent) -> object:
        """Do what a key does; None where it does nothing here."""
        state, sight, key = self._state, self._state.sight, event.key()
        held = event.modifiers()
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            sign = 1 if key == Qt.Key.Key_Right else -1
            if held & Qt.KeyboardModifier.ControlModifier:
                state.see(sight.moved(sign * _PAN * sight.length_s))
            else:
                self._move_cursor("B" if held & Qt.KeyboardModifier.ShiftModifier else "A", sign)
            return key
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            middle = (sight.start_s + sight.end_s) / 2
            state.see(sight.zoomed(1 / _ZOOM if key == Qt.Key.Key_Up else _ZOOM, middle))
            return key
        if key == Qt.Key.Key_Home:
            state.see_all()
            return key
        if key == Qt.Key.Key_Space:
            state.hold(not sight.is_held)
            return key
        if key == Qt.Key.Key_Delete:
            state.see(sight._replace(a_s=None, b_s=None))
            return key
        return None

    def _move_cursor(self, name: CursorName, sign: int) -> None:
        sight = self._state.sight
        now = sight.a_s if name == "A" else sight.b_s
        at = (sight.start_s + sight.end_s) / 2 if now is None else now + sign * _STEP * sight.length_s
        self._state.see(sight.with_cursor(name, at))

    # -- painting ---------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter, theme, state = QPainter(self), self.theme, self._state
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), theme.color("desk"))
        if not state.shown and not state.laid:
            whole = QRectF(0, 0, self.width(), self.height())
            words = _NOTHING if state.courses is None else "Choose at the right what is drawn."
            write(painter, theme, whole, words, "muted", CENTRE, size=13)
        elif state.is_crossed:
            paint_crossed(painter, theme, state, self.width(), self.height())
        else:
            for lane in lanes_of(state, self.width(), self.height()):
                paint_lane(painter, theme, state, lane)
            self._paint_times(painter)
            self._paint_happenings(painter)
            self._paint_cursors(painter)
        painter.end()

    def _x(self, time_s: float) -> float:
        return float(time_x(self._state, self._place, time_s))

    def _paint_times(self, painter: QPainter) -> None:
        state, place = self._state, self._place
        if state.courses is None:
            return
        ahead = state.courses.wall_s(0.0)
        marks = clock_marks(state.sight.start_s + ahead, state.sight.end_s + ahead, int(place.width() / _CLOCK_EVERY))
        for wall_s, words in marks:
            x = self._x(wall_s - ahead)
            painter.setPen(QPen(self.theme.color("line"), 1))
            painter.drawLine(QPointF(x, place.bottom() - 8), QPointF(x, place.bottom() - 3))
            if x + _CLOCK_EVERY / 3 < self.width():  # else it would be cut off
                write(painter, self.theme, QRectF(x - 50, place.bottom(), 100, 20), words, "muted", CENTRE)

    def _paint_happenings(self, painter: QPainter) -> None:
        """Notes where they were made, the others as plain marks; words only where there is room."""
        state, place, free = self._state, self._place, 0.0
        for one in () if state.courses is None else state.courses.happenings():
            if state.sight.start_s <= one.time_s <= state.sight.end_s:
                x = self._x(one.time_s)
                painter.setPen(QPen(self.theme.color("blue"), 1, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(x, place.top()), QPointF(x, place.bottom() - 8))
                if x >= free and one.kind == "note":
                    write(painter, self.theme, QRectF(x + 3, 4, 150, 18), one.says, "blue")
                    free = x + 156

    def _paint_cursors(self, painter: QPainter) -> None:
        state, place = self._state, self._place
        for name, at in (("A", state.sight.a_s), ("B", state.sight.b_s)):
            if at is None or state.courses is None or not state.sight.start_s <= at <= state.sight.end_s:
                continue
            x = self._x(at)
            painter.setPen(QPen(self.theme.color("accent"), 1))
            painter.drawLine(QPointF(x, place.top() - 4), QPointF(x, place.bottom() - 8))
            step = state.sight.length_s / 500
            words = f"{name} {clock_words(state.courses.wall_s(at), min(step, 1.0))}"
            left = min(max(x - _WORDS / 2, 0.0), self.width() - _WORDS)
            write(painter, self.theme, QRectF(left, 3, _WORDS, 18), words, "accent", CENTRE, heavy=True)
