"""The curves on offer, one row each."""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QGridLayout, QRadioButton, QWidget

from ....core.regression.choice import Candidate
from ....core.regression.fitted import Fitted
from ....core.regression.kinds import ModelName
from ....core.words.numerals import decimals_for, fixed
from ...frame.plain_text import PlainLabel
from ...frame.theme import Theme, bold, font
from ...panel.fields import label, restyle


class ErrorSketch(QWidget):
    """The errors of a candidate in little: what shape they have."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._x: list[float] = []
        self._y: list[float] = []
        self._scale = 1.0
        self._drawn: tuple[object, ...] = ()
        self.setFixedSize(QSize(38, 24))

    def show_errors(self, fitted: Fitted | None, scale: float, theme: Theme) -> None:
        """Take the errors of a fit, drawn to a common scale."""
        order = np.argsort(fitted.signals).tolist() if fitted else []
        x = [fitted.signals[n] for n in order] if fitted else []
        y = [fitted.errors[n] for n in order] if fitted else []
        if (x, y, scale, theme) == self._drawn:
            return
        self._drawn = x, y, scale, theme
        self._theme, self._scale, self._x, self._y = theme, scale or 1.0, x, y
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = self.height() / 2
        painter.setPen(QPen(self._theme.color("line"), 1))
        painter.drawLine(QPointF(0, middle), QPointF(self.width(), middle))
        if len(self._x) > 1:
            low, span = self._x[0], (self._x[-1] - self._x[0]) or 1.0
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self._theme.color("teal"))
            for x, y in zip(self._x, self._y, strict=True):
                share = max(min(y / self._scale, 1.0), -1.0)
                spot = QPointF(3 + (x - low) / span * (self.width() - 6), middle - share * (middle - 3))
                painter.drawEllipse(spot, 1.6, 1.6)
        painter.end()


class Sizes(NamedTuple):
    """The widest error beside the candidates, to which sketches are drawn, and the finest, which sets the digits."""

    widest: float
    finest: float


class CandidateRow(QFrame):
    """One curve on offer: its largest error, standard error and freedom, or why it is refused."""

    def __init__(self, look: Callable[[ModelName], None], model: ModelName, theme: Theme) -> None:
        super().__init__()
        self.model = model
        grid = QGridLayout(self)
        grid.setContentsMargins(6, 4, 4, 4)
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(0)
        self.button = QRadioButton()
        self.button.setFont(bold(13))
        self.button.toggled.connect(lambda on: look(model) if on else None)
        self._numbers = [PlainLabel() for _ in range(3)]
        grid.addWidget(self.button, 0, 0)
        self._words = label("", "muted", 12)
        grid.addWidget(self._words, 1, 0, 1, 5)
        for column, number in enumerate(self._numbers):
            number.setFont(font(13))
            number.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            number.setFixedWidth((40, 40, 22)[column])
            grid.addWidget(number, 0, column + 1)
        self._sketch = ErrorSketch(theme)
        grid.addWidget(self._sketch, 0, 4)
        grid.setColumnStretch(0, 1)

    def show_candidate(
        self, row: Candidate, looked_at: bool, marks: list[str], sizes: Sizes, theme: Theme, unit: str
    ) -> None:
        """Show how a candidate does."""
        fitted = row.fitted
        self.button.blockSignals(True)
        self.button.setChecked(looked_at)
        self.button.blockSignals(False)
        self.button.setEnabled(row.usable)
        self.button.setText(row.title)
        texts = ("—", "—", "—")
        if fitted is not None and fitted.signals:
            spread = "—" if fitted.residual_sd is None else _compact(fitted.residual_sd, sizes.finest)
            texts = (_compact(fitted.largest_error, sizes.finest), spread, str(fitted.dof))
        for part, text in zip(self._numbers, texts, strict=True):
            part.setText(text)
        self._numbers[1].setToolTip(fitted.why_no_spread if fitted and fitted.residual_sd is None else "")
        self._words.setText(row.refusal or self._said(fitted, marks))
        restyle(self._words, "role", "error" if row.refusal else "muted")
        self._sketch.show_errors(fitted, sizes.widest, theme)
        fill = theme.accent_fill if looked_at else "transparent"
        edge = theme.accent if looked_at else "transparent"
        look = f"CandidateRow {{ background: {fill}; border: 1px solid {edge}; border-radius: 5px; }}"
        if look != self.styleSheet():  # which would lay out and paint all of it anew
            self.setStyleSheet(look)
        self.button.setAccessibleDescription(
            f"largest error {texts[0]} {unit}, standard error {texts[1]}. {row.refusal}"
        )

    @staticmethod
    def _said(fitted: Fitted | None, marks: list[str]) -> str:
        if fitted is None:
            return ""
        parts = [*marks]
        if fitted.spec.model == "nominal":
            parts.append("nothing fitted")
        else:
            noun = "knot" if fitted.spec.model in ("table", "pchip") else "number"
            parts.append(f"{fitted.numbers} {noun}" + ("s" if fitted.numbers > 1 else ""))
        return ", ".join([*parts, *([fitted.remark] if fitted.remark else [])])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.button.isEnabled():
            self.button.setChecked(True)
        super().mousePressEvent(event)


def _compact(value: float, finest: float) -> str:
    """A size to two digits of the finest beside it, with fewer decimals where it is far larger."""
    room = 4 - len(f"{value:.0f}")
    return fixed(value, max(min(decimals_for(finest / 10), room), 0))
