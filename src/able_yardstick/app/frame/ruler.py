"""The step ruler: the steps of a channel as a graduated scale that fills as each is proven."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from ...core.state.progress import GRADUATIONS, StepName, StepProgress
from .plain_text import tip
from .theme import Theme, bold, font

_WORDS = {"empty": "", "none": "", "begun": "begun", "proven": "", "stale": "out of date", "failed": "failed"}
_HEIGHT = 50
_LEFT = 14
_NUMBERED_FROM = 96  # pixels a step has


class StepRuler(QWidget):
    """Press a step, or move along with the arrow keys."""

    chosen = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._steps: tuple[StepProgress, ...] = ()
        self._current: StepName = "describe"
        self._is_aside = False
        self.setFixedHeight(_HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Steps")

    def show_steps(self, steps: tuple[StepProgress, ...], current: StepName, theme: Theme) -> None:
        """Show a channel's progress."""
        self._steps, self._current, self._theme = steps, current, theme
        said = "; ".join(f"{step.step} {step.state}: {step.says}" for step in steps)
        self.setAccessibleDescription(f"Now at {current}. {said}")
        self.update()

    def _width(self) -> float:
        return (self.width() - _LEFT) / max(len(self._steps), 1)

    def show_aside(self, aside: bool) -> None:
        """Whether something beside the steps is looked at: then none of them is the present one."""
        if aside != self._is_aside:
            self._is_aside = aside
            self.update()

    def _step_at(self, x: float) -> StepProgress | None:
        at = int((x - _LEFT + 6) // self._width()) if self._steps else -1
        return self._steps[at] if 0 <= at < len(self._steps) else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        step = self._step_at(event.position().x())
        if step is not None and step.state != "none":
            self.chosen.emit(step.step)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        step = self._step_at(event.position().x())
        self.setToolTip(tip(f"{step.step.capitalize()}: {step.says}") if step else "")
        reachable = step is not None and step.state != "none"
        self.setCursor(Qt.CursorShape.PointingHandCursor if reachable else Qt.CursorShape.ArrowCursor)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        sign = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        names = [step.step for step in self._steps if step.state != "none"]
        if sign and self._current in names:
            self.chosen.emit(names[min(max(names.index(self._current) + sign, 0), len(names) - 1)])
        else:
            super().keyPressEvent(event)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.color("desk"))
        painter.setPen(self._theme.color("line"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        for number, step in enumerate(self._steps):
            painter.save()
            self._paint_step(painter, number, step)
            painter.restore()
        if self.hasFocus():
            painter.setPen(QPen(self._theme.color("accent"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -2))
        painter.end()

    def _paint_step(self, painter: QPainter, number: int, step: StepProgress) -> None:
        theme, left, width = self._theme, _LEFT + number * self._width(), self._width()
        title = step.step.capitalize()
        roomy = width > _NUMBERED_FROM
        painter.setFont(bold(13 if roomy else 12))
        title_width = painter.fontMetrics().horizontalAdvance(title)
        if step.step == self._current and not self._is_aside:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme.color("accent"), 1.3))
            painter.setBrush(theme.color("accent_fill"))
            painter.drawRoundedRect(QRectF(left - 7, 5, title_width + (32 if roomy else 14), 23), 5, 5)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        if roomy:
            painter.setPen(theme.color("muted"))
            painter.setFont(font(12))
            painter.drawText(QPointF(left, 21), str(number + 1))
        painter.setPen(theme.color("muted" if step.state in ("empty", "none") else "ink"))
        painter.setFont(bold(13 if roomy else 12))
        painter.drawText(QPointF(left + (13 if roomy else 0), 21), title)
        word = _WORDS[step.state]
        if word and width > title_width + 110:
            painter.setFont(font(12))
            painter.setPen(theme.color({"stale": "accent", "failed": "red"}.get(step.state, "muted")))
            painter.drawText(QPointF(left + title_width + 32, 21), word)
        self._paint_graduations(painter, left, step)

    def _paint_graduations(self, painter: QPainter, left: float, step: StepProgress) -> None:
        theme, gap, bottom = self._theme, self._width() / GRADUATIONS, self.height() - 2
        color = theme.color({"failed": "red", "stale": "accent"}.get(step.state, "ink"))
        for n in range(GRADUATIONS):
            x, height = left + n * gap, 16 if n == 0 else 9
            rect = QRectF(x, bottom - height, 3, height)
            if n < step.filled and step.state == "stale":
                painter.setPen(QPen(color, 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(rect)
            elif n < step.filled:
                painter.fillRect(rect, color)
            else:
                painter.fillRect(QRectF(x, bottom - height, 1, height), theme.color("line" if n else "muted"))
