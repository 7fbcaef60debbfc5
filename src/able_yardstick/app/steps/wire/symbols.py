"""Symbols of the parts of a path, drawn between a signal wire and a return wire."""

from collections.abc import Callable
from itertools import pairwise
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from ...frame.theme import Theme, bold, font


class Pen(NamedTuple):
    """What a symbol is drawn with: the painter, the colours, and the height of both wires."""

    painter: QPainter
    theme: Theme
    signal_y: float
    return_y: float


Symbol = Callable[[Pen, float], None]
BODY = 30.0  # half the width that a block covers of the wires


def _box(pen: Pen, rect: QRectF, fill: str = "paper") -> None:
    pen.painter.setPen(QPen(pen.theme.color("ink"), 1.3))
    pen.painter.setBrush(pen.theme.color(fill))
    pen.painter.drawRoundedRect(rect, 3, 3)


def _wire(pen: Pen, *points: tuple[float, float]) -> None:
    pen.painter.setPen(QPen(pen.theme.color("ink"), 1.2))
    for (x0, y0), (x1, y1) in pairwise(points):
        pen.painter.drawLine(QPointF(x0, y0), QPointF(x1, y1))


def _dot(pen: Pen, x: float, y: float) -> None:
    pen.painter.setPen(Qt.PenStyle.NoPen)
    pen.painter.setBrush(pen.theme.color("ink"))
    pen.painter.drawEllipse(QPointF(x, y), 2.6, 2.6)


def _resistor(pen: Pen, x: float, y: float, *, upright: bool) -> None:
    _box(pen, QRectF(x - 5, y - 12, 10, 24) if upright else QRectF(x - 12, y - 5, 24, 10), "accent_fill")


def _letters(pen: Pen, rect: QRectF, text: str, *, strong: bool = True, color: str = "ink") -> None:
    pen.painter.setFont(bold(12) if strong else font(12))
    pen.painter.setPen(pen.theme.color(color))
    pen.painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)


def _transducer(pen: Pen, x: float) -> None:
    top, bottom = pen.signal_y - 14, pen.return_y + 14
    _box(pen, QRectF(x - BODY, top, 2 * BODY, bottom - top), "gutter")
    middle = (top + bottom) / 2
    pen.painter.setBrush(pen.theme.color("paper"))
    pen.painter.drawEllipse(QPointF(x - 4, middle), 13, 13)
    _wire(pen, (x - 12, middle + 8), (x + 4, middle - 8))
    for y in (pen.signal_y, pen.return_y):
        pen.painter.setBrush(pen.theme.color("paper"))
        pen.painter.drawEllipse(QPointF(x + BODY, y), 3.5, 3.5)


def _contact(pen: Pen, x: float) -> None:
    _transducer_frame(pen, x)
    middle = (pen.signal_y + pen.return_y) / 2
    _wire(pen, (x - 18, middle), (x - 8, middle), (x + 9, middle - 10))
    _wire(pen, (x + 8, middle), (x + 18, middle))
    _dot(pen, x - 8, middle)
    _dot(pen, x + 8, middle)


def _transducer_frame(pen: Pen, x: float) -> None:
    top, bottom = pen.signal_y - 14, pen.return_y + 14
    _box(pen, QRectF(x - BODY, top, 2 * BODY, bottom - top), "gutter")


def _shunt(pen: Pen, x: float) -> None:
    middle = (pen.signal_y + pen.return_y) / 2
    _wire(pen, (x, pen.signal_y), (x, pen.return_y))
    _resistor(pen, x, middle, upright=True)
    _dot(pen, x, pen.signal_y)
    _dot(pen, x, pen.return_y)


def _divider(pen: Pen, x: float) -> None:
    _resistor(pen, x - 13, pen.signal_y, upright=False)
    middle = (pen.signal_y + pen.return_y) / 2
    _wire(pen, (x + 12, pen.signal_y), (x + 12, pen.return_y))
    _resistor(pen, x + 12, middle, upright=True)
    _dot(pen, x + 12, pen.signal_y)
    _dot(pen, x + 12, pen.return_y)


def _pull_up(pen: Pen, x: float) -> None:
    middle = (pen.signal_y + pen.return_y) / 2
    rail = pen.signal_y - 17
    _wire(pen, (x - 9, rail), (x + 9, rail))
    _wire(pen, (x, rail), (x, pen.signal_y))
    _box(pen, QRectF(x - 4, rail + 3, 8, 11), "accent_fill")
    _dot(pen, x, pen.signal_y)
    _letters(pen, QRectF(x - 34, middle - 9, 68, 18), "from supply", strong=False, color="muted")


def _source(pen: Pen, x: float, letter: str) -> None:
    middle = (pen.signal_y + pen.return_y) / 2
    _wire(pen, (x, pen.signal_y), (x, pen.return_y))
    pen.painter.setBrush(pen.theme.color("paper"))
    pen.painter.setPen(QPen(pen.theme.color("ink"), 1.3))
    pen.painter.drawEllipse(QPointF(x, middle), 12, 12)
    _letters(pen, QRectF(x - 12, middle - 12, 24, 24), letter)
    _dot(pen, x, pen.signal_y)
    _dot(pen, x, pen.return_y)


def _amplifier(pen: Pen, x: float) -> None:
    pen.painter.setPen(QPen(pen.theme.color("ink"), 1.3))
    pen.painter.setBrush(pen.theme.color("accent_fill"))
    points = [QPointF(x - 16, pen.signal_y - 17), QPointF(x + 19, pen.signal_y), QPointF(x - 16, pen.signal_y + 17)]
    pen.painter.drawPolygon(QPolygonF(points))


def _leads(pen: Pen, x: float) -> None:
    dashed = QPen(pen.theme.color("muted"), 1, Qt.PenStyle.DashLine)
    pen.painter.setPen(dashed)
    pen.painter.setBrush(Qt.BrushStyle.NoBrush)
    pen.painter.drawRoundedRect(QRectF(x - BODY, pen.signal_y - 9, 2 * BODY, pen.return_y - pen.signal_y + 18), 9, 9)


def _cold_junction(pen: Pen, x: float) -> None:
    middle = (pen.signal_y + pen.return_y) / 2
    for y in (pen.signal_y, pen.return_y):
        _box(pen, QRectF(x - 7, y - 5, 14, 10), "paper")
        _dot(pen, x, y)
    pen.painter.setPen(QPen(pen.theme.color("ink"), 1.2))
    pen.painter.setBrush(pen.theme.color("accent_fill"))
    pen.painter.drawRoundedRect(QRectF(x - 2.5, middle - 12, 5, 18), 2, 2)
    pen.painter.drawEllipse(QPointF(x, middle + 8), 4.5, 4.5)


def _filter(pen: Pen, x: float) -> None:
    middle = (pen.signal_y + pen.return_y) / 2
    _resistor(pen, x - 12, pen.signal_y, upright=False)
    _wire(pen, (x + 12, pen.signal_y), (x + 12, middle - 3))
    _wire(pen, (x + 12, middle + 3), (x + 12, pen.return_y))
    for y in (middle - 3, middle + 3):
        _wire(pen, (x + 3, y), (x + 21, y))


def _clamp(pen: Pen, x: float) -> None:
    middle = (pen.signal_y + pen.return_y) / 2
    _resistor(pen, x - 13, pen.signal_y, upright=False)
    _wire(pen, (x + 12, pen.signal_y), (x + 12, pen.return_y))
    pen.painter.setBrush(pen.theme.color("paper"))
    points = [QPointF(x + 5, middle + 6), QPointF(x + 19, middle + 6), QPointF(x + 12, middle - 6)]
    pen.painter.drawPolygon(QPolygonF(points))
    _wire(pen, (x + 5, middle - 6), (x + 19, middle - 6))


def _ground_offset(pen: Pen, x: float) -> None:
    pen.painter.setPen(QPen(pen.theme.color("red"), 1.3))
    pen.painter.setBrush(pen.theme.color("paper"))
    pen.painter.drawEllipse(QPointF(x, pen.return_y), 11, 11)
    _letters(pen, QRectF(x - 11, pen.return_y - 11, 22, 22), "±", color="red")


def _converter(pen: Pen, x: float) -> None:
    top, bottom = pen.signal_y - 14, pen.return_y + 14
    _box(pen, QRectF(x - BODY, top, 2 * BODY, bottom - top), "gutter")
    for y in (pen.signal_y, pen.return_y):
        pen.painter.setPen(QPen(pen.theme.color("ink"), 1.2))
        pen.painter.setBrush(pen.theme.color("paper"))
        pen.painter.drawEllipse(QPointF(x - BODY + 10, y), 5, 5)
        pen.painter.drawLine(QPointF(x - BODY + 7, y + 3), QPointF(x - BODY + 13, y - 3))
    pen.painter.setPen(QPen(pen.theme.color("teal"), 1.6))
    middle = (top + bottom) / 2
    steps = [(x - 8 + 7 * (n // 2 + n % 2), middle + 14 - 9 * (n // 2)) for n in range(8)]
    for (x0, y0), (x1, y1) in pairwise(steps):
        pen.painter.drawLine(QPointF(x0, y0), QPointF(x1, y1))


def _controller(pen: Pen, x: float) -> None:
    top, bottom = pen.signal_y - 14, pen.return_y + 14
    _box(pen, QRectF(x - BODY, top, 2 * BODY, bottom - top), "paper")
    _letters(pen, QRectF(x - BODY, top, 2 * BODY, bottom - top), "y = f(n)", strong=False)


SYMBOLS: dict[str, Symbol] = {
    "transducer": _transducer,
    "contact": _contact,
    "shunt": _shunt,
    "divider": _divider,
    "excitation": lambda pen, x: _source(pen, x, "V"),
    "current source": lambda pen, x: _source(pen, x, "I"),
    "amplifier": _amplifier,
    "leads": _leads,
    "cold junction": _cold_junction,
    "pull-up": _pull_up,
    "pulse pull-up": _pull_up,
    "filter": _filter,
    "clamp": _clamp,
    "ground offset": _ground_offset,
    "converter": _converter,
    "controller": _controller,
}
# what ends the wires on its right-hand side: behind it there are only numbers
ENDS_WIRES = ("converter",)
