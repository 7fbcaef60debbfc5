"""The jaws lane: at each check a fixed jaw for the reference and a moving one for what was shown."""

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QFrame

from ...frame.theme import Theme, bold, font
from ..rule.layout import GUTTER, TITLE_X, ends_of
from ..sight import Sight
from .picture import Band, MarkKind, Marks, PlotContent

FULL_TOLERANCE = 15.0  # pixels between the jaws at the whole tolerance
_FURTHEST = 40.0
_ROWS: tuple[tuple[str, tuple[MarkKind, ...]], ...] = (
    ("found", ("found", "found failed")),
    ("left", ("left", "failed")),
)


class Jaws(NamedTuple):
    """An error as jaws: `share` of the tolerance apart, signed, at a place in pixels, and how it was judged."""

    x: float
    share: float
    passed: bool


def draw_jaws(painter: QPainter, theme: Theme, jaws: Jaws, y: float, filled: bool) -> None:
    """A pair of jaws; marks show where the tolerance ends."""
    x = jaws.x
    gap = max(min(jaws.share * FULL_TOLERANCE, _FURTHEST), -_FURTHEST)
    color = theme.color("teal" if jaws.passed else "red")
    painter.setPen(QPen(theme.color("green" if jaws.passed else "red"), 1))
    for side in (-1, 1):
        painter.drawLine(QPointF(x + side * FULL_TOLERANCE, y - 3), QPointF(x + side * FULL_TOLERANCE, y + 1))
    painter.setPen(QPen(color, 1.3))
    painter.drawLine(QPointF(x, y), QPointF(x + gap, y))
    _jaw(painter, x, y, -1, theme.color("blue"), True)
    _jaw(painter, x + gap, y, 1, color, filled)


def _jaw(painter: QPainter, x: float, y: float, side: int, color: QColor, filled: bool) -> None:
    painter.setPen(QPen(color, 1.3))
    painter.setBrush(color if filled else Qt.BrushStyle.NoBrush)
    painter.drawPolygon(
        QPolygonF([QPointF(x, y), QPointF(x + 5 * side, y), QPointF(x + 5 * side, y + 4), QPointF(x, y + 11)])
    )


class JawsLane(QFrame):
    """As found above as left, on the Rule's axis."""

    def __init__(self, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self._sight = sight
        self._theme = theme
        self._marks: dict[MarkKind, Marks] = {}
        self._allowed: Band | None = None
        self.setFixedHeight(62)
        self.setAccessibleName("Jaws")
        sight.ranged.connect(self.update)

    def show_content(self, content: PlotContent, theme: Theme) -> None:
        """Take the errors of the error plot, and the tolerance band they close on."""
        self._marks = {marks.kind: marks for marks in content.marks}
        self._allowed = next((band for band in content.bands if band.style == "tolerance"), None)
        self._theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(self._theme.color("ink"))
        painter.setFont(bold(12))
        painter.drawText(QPointF(TITLE_X, 22), "Jaws")
        painter.setFont(font(12))
        painter.setPen(self._theme.color("muted"))
        painter.drawText(QPointF(TITLE_X, 38), "closing on the")
        painter.drawText(QPointF(TITLE_X, 52), "tolerance marks")
        for row, (word, kinds) in enumerate(_ROWS):
            y = 14 + 26 * row
            painter.setFont(font(12))
            painter.setPen(self._theme.color("muted"))
            painter.drawText(QRectF(GUTTER - 88, y - 5, 80, 18), Qt.AlignmentFlag.AlignRight, f"as {word}")
            self._paint_row(painter, kinds, y)
        painter.end()

    def errors(self, kind: MarkKind) -> Iterator[Jaws]:
        """The marks of a kind, their errors as shares of the tolerance there."""
        marks, band = self._marks.get(kind), self._allowed
        if marks is None:
            return
        allowed = np.interp(marks.x, band.x, band.high) if band else np.ones_like(marks.x)
        places = ends_of(self, self._sight).x(marks.x).tolist()
        for x, share in zip(places, (marks.y / allowed).tolist(), strict=True):
            yield Jaws(x, share, kind in ("found", "left"))

    def _paint_row(self, painter: QPainter, kinds: tuple[MarkKind, ...], y: float) -> None:
        found = "found" in kinds
        rows = [row for kind in kinds for row in self.errors(kind)]
        if not rows or self._allowed is None:
            painter.setPen(self._theme.color("muted"))
            words = "not seen before a change" if found else "no checks of this packing yet"
            if rows:
                words = "no error allowed is stated, so nothing to close on"
            painter.drawText(QPointF(GUTTER + 12, y + 8), words)
            return
        taken = -1e9
        for jaws in sorted(rows):
            # repeats of a stop lie on one another: the first stands for them
            if jaws.x - taken >= 2 * FULL_TOLERANCE + 8:
                draw_jaws(painter, self._theme, jaws, y, not found)
                taken = jaws.x
