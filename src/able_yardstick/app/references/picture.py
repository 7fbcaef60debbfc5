"""The instruments in the centre: what each certificate corrects along its range, and when each is due."""

from collections.abc import Callable
from datetime import date, timedelta

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from ...core.document.reference import Reference
from ...core.words.numerals import significant
from ..frame.painting import CENTRE, LEFT, RIGHT, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.state_mark import draw_state
from ..frame.theme import Theme
from ..frame.workbench import Workbench, now

_ROW, _HEAD, _MARGIN, _NAME, _DUE = 108.0, 40.0, 12.0, 178.0, 210.0
_BEFORE, _AHEAD = timedelta(days=183), timedelta(days=730)
_PLACES = 97
_SOON = timedelta(days=60)


class ReferencesPicture(SidePicture):
    """One row an instrument; pressed, it is the one in the panel."""

    def __init__(self, bench: Workbench, theme: Theme, choose: Callable[[str], None]) -> None:
        self._instruments = _Drawing(bench, theme, choose)
        super().__init__(self._instruments, "The reference instruments of this job")
        bench.changed.connect(lambda _change: self.show_now())

    def show_chosen(self, key: str) -> None:
        """Mark the one in the panel."""
        self._instruments.chosen = key
        self._instruments.update()


class _Drawing(SideDrawing):
    def __init__(self, bench: Workbench, theme: Theme, choose: Callable[[str], None]) -> None:
        super().__init__(theme)
        self._bench, self._choose = bench, choose
        self.chosen = ""
        self._rows: tuple[Reference, ...] = ()

    def show_now(self) -> None:
        self._rows = self._bench.job.references
        self.setMinimumHeight(round(_HEAD + len(self._rows) * _ROW + 8))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, self.minimumHeight())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = int((event.position().y() - _HEAD) // _ROW)
        if 0 <= row < len(self._rows):
            self._choose(self._rows[row].id)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.theme.color("desk"))
        middle = QRectF(_MARGIN + _NAME, 8, self.width() - _NAME - _DUE, 24)
        write(painter, self.theme, QRectF(_MARGIN + 12, 8, _NAME, 24), "Instrument", "muted")
        write(painter, self.theme, middle, "Correction along its range, \u00b1U", "muted")
        write(painter, self.theme, QRectF(self.width() - _DUE, 8, _DUE - 24, 24), "Due", "muted")
        if not self._rows:
            at = QRectF(0, 60, self.width(), 30)
            write(
                painter, self.theme, at, "No instruments yet: add the one beside your sensor.", "muted", CENTRE, size=14
            )
        for n, row in enumerate(self._rows):
            self._paint_row(painter, row, QRectF(_MARGIN, _HEAD + n * _ROW, self.width() - 2 * _MARGIN, _ROW - 6))
        painter.end()

    def _paint_row(self, painter: QPainter, one: Reference, place: QRectF) -> None:
        theme, top = self.theme, place.top()
        is_chosen = one.id == self.chosen
        painter.setPen(QPen(theme.color("accent" if is_chosen else "line"), 1.4 if is_chosen else 1))
        painter.setBrush(theme.color("accent_fill" if is_chosen else "paper"))
        painter.drawRoundedRect(place.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
        overdue = one.due is not None and one.due < now().date()
        level = "open" if one.due is None else ("look" if overdue else "ok")
        draw_state(painter, theme, level, QPointF(place.left() + 14, top + 18), 4.5)
        x, wide = place.left() + 26, _NAME - 34
        write(painter, theme, QRectF(x, top + 8, wide, 20), one.name, "ink", heavy=True, size=13)
        serial = f"serial {one.serial}" if one.serial else "no serial stated"
        known = one.expanded_uncertainty is not None
        uncertainty = f"U {significant(one.expanded_uncertainty or 0.0, 3)} {one.unit}" if known else "U not stated"
        for n, text in enumerate((serial, one.certificate or "no certificate stated", uncertainty)):
            write(painter, theme, QRectF(x, top + 30 + 19 * n, wide, 18), text, "muted")
        self._paint_corrections(
            painter, one, QRectF(place.left() + _NAME + 44, top + 10, place.width() - _NAME - _DUE - 56, _ROW - 46)
        )
        self._paint_due(painter, one, QRectF(place.right() - _DUE + 8, top + 16, _DUE - 24, 40))

    def _paint_corrections(self, painter: QPainter, one: Reference, box: QRectF) -> None:
        """The correction along the range with a band of U about it; the certificate's own lines as dots."""
        theme = self.theme
        if one.stands_for is not None:
            words = f"stands for {significant(one.stands_for, 6)} {one.unit}"
            write(painter, theme, box, words, "ink", CENTRE)
            return
        low, high = _ends(one)
        if low is None or high is None or not low < high:
            write(painter, theme, box, "no range stated", "muted", CENTRE)
            return
        places = np.linspace(low, high, _PLACES)
        known = np.array([one.correction_at(at) for at in places.tolist()])
        wide = one.expanded_uncertainty or 0.0
        most = max(float(np.max(np.abs(known))) + wide, 1e-12) * 1.15

        def point(x: float, y: float) -> QPointF:
            share = (x - low) / (high - low)
            return QPointF(box.left() + share * box.width(), box.center().y() - y / most * box.height() / 2)

        upper = [point(x, y + wide) for x, y in zip(places.tolist(), known.tolist(), strict=True)]
        lower = [point(x, y - wide) for x, y in zip(places.tolist(), known.tolist(), strict=True)]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("teal", 50))
        painter.drawPolygon(QPolygonF([*upper, *lower[::-1]]))
        painter.setPen(QPen(theme.color("line"), 1))
        painter.drawLine(point(low, 0), point(high, 0))
        painter.setPen(QPen(theme.color("teal"), 1.4))
        painter.drawPolyline(QPolygonF([point(x, y) for x, y in zip(places.tolist(), known.tolist(), strict=True)]))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("teal"))
        for line in one.corrections:
            if low <= line.reading <= high:
                painter.drawEllipse(point(line.reading, line.correction), 3, 3)
        for y, text in ((box.top(), f"+{significant(most, 2)}"), (box.bottom() - 16, f"\u2212{significant(most, 2)}")):
            write(painter, theme, QRectF(box.left() - 52, y, 48, 16), text, "muted", RIGHT)
        ends = QRectF(box.left(), box.bottom() + 6, box.width(), 18)
        write(painter, theme, ends, significant(low), "muted", LEFT)
        write(painter, theme, ends, f"{significant(high)} {one.unit}", "muted", RIGHT)
        if not one.corrections:
            inside = QRectF(box.left(), box.top() + 2, box.width(), 18)
            write(painter, theme, inside, "no corrections stated", "muted", CENTRE)

    def _paint_due(self, painter: QPainter, one: Reference, box: QRectF) -> None:
        """From half a year ago to two years ahead: today, and what is left until it is due."""
        theme, today = self.theme, now().date()
        if one.due is None:
            write(painter, theme, box, "no due date stated", "muted")
            return
        whole = (_BEFORE + _AHEAD).days

        def x(when: date) -> float:
            share = (when - (today - _BEFORE)).days / whole
            return box.left() + min(max(share, 0.0), 1.0) * box.width()

        left = one.due - today
        colour = "red" if left.days < 0 else "amber" if left < _SOON else "teal"
        y = box.top() + 8
        painter.fillRect(QRectF(box.left(), y, box.width(), 8), theme.color("faint"))
        a, b = sorted((x(today), x(one.due)))
        painter.fillRect(QRectF(a, y, max(b - a, 2.0), 8), theme.color(colour))
        painter.fillRect(QRectF(x(today) - 1, y - 5, 2, 18), theme.color("ink"))
        write(painter, theme, QRectF(box.left(), y + 14, box.width(), 18), f"{one.due:%d %b %Y}", "ink", heavy=True)
        words = f"overdue by {-left.days} days" if left.days < 0 else f"{left.days} days left"
        role = "red" if left.days < 0 else "muted"
        write(painter, theme, QRectF(box.left(), y + 33, box.width(), 18), words, role)


def _ends(one: Reference) -> tuple[float | None, float | None]:
    """The range, or where the certificate's lines begin and end."""
    readings = [line.reading for line in one.corrections]
    low = one.range_low if one.range_low is not None else min(readings, default=None)
    high = one.range_high if one.range_high is not None else max(readings, default=None)
    return low, high
