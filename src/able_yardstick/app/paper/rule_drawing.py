"""The Rule and the errors under it as they stand on paper, with the hairline through all of them."""

from itertools import pairwise
from typing import NamedTuple

from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QPolygonF

from ...core.sign.blocks import ErrorMark, RulePicture, ScaleRow
from .page import Fill, MarkAt, PageItem, Stroke, Style, Text, rectangle

_TITLES = 820.0  # the width of the names before the scales
_RIGHT = 220.0
_SCALE, _HEAD = 380.0, 190.0
_ERRORS = 1500.0
_LEGEND = 170.0
_LABEL, _NAME, _TICK = Style(85, True), Style(80, muted=True), Style(80)
_READ = Style(90, True)


class Drawing(NamedTuple):
    """What is drawn, from its own corner on, and how high it is."""

    drawn: list[PageItem]
    height: float

    def at(self, x: float, y: float) -> list[PageItem]:
        """The same, moved to a place."""
        return [_moved(one, QPointF(x, y)) for one in self.drawn]


def draw_rule(picture: RulePicture, width: float) -> Drawing:
    """A picture so wide."""
    axis = _Axis(_TITLES, width - _RIGHT)
    drawn: list[PageItem] = [Text(QRectF(0, 0, width, _HEAD), picture.heading, Style(100, True))]
    y = _HEAD + 60
    for scale in picture.scales:
        drawn += _scale(scale, axis, y, axis.x(picture.at))
        y += _SCALE
    bottom = y + _ERRORS if picture.legend else y
    drawn += _errors(picture, axis, y) if picture.legend else []
    at = axis.x(picture.at)
    hairline: list[PageItem] = [Stroke(QLineF(at, _HEAD, at, bottom), 10.0)]
    hairline += [Fill(rectangle(at - 50, top, 100, 26), 0.0) for top in (_HEAD, bottom - 26)]
    drawn += hairline
    y = _HEAD + 60
    for scale in picture.scales:
        drawn += _flag(scale, at, y)
        y += _SCALE
    if not picture.legend:
        return Drawing(drawn, bottom)
    drawn.append(Text(QRectF(_TITLES, bottom + 30, width - _TITLES, _LEGEND), picture.legend, _NAME))
    return Drawing(drawn, bottom + _LEGEND)


class _Axis(NamedTuple):
    left: float
    right: float

    def x(self, share: float) -> float:
        return self.left + share * (self.right - self.left)


def _scale(scale: ScaleRow, axis: _Axis, y: float, hairline: float) -> list[PageItem]:
    drawn: list[PageItem] = [
        Text(QRectF(0, y - 40, _TITLES - 60, 130), scale.title, _LABEL),
        Text(QRectF(0, y + 85, _TITLES - 60, 130), scale.unit, _NAME),
    ]
    if not scale.graduations:
        return drawn
    ends = [axis.x(one.at) for one in scale.graduations]
    drawn.append(Stroke(QLineF(min(ends), y, max(ends), y), 8.0))
    taken = [_flag_ends(scale, hairline)]
    for one in sorted(scale.graduations, key=lambda one: one.at):
        x, half = axis.x(one.at), _TICK.metrics.horizontalAdvance(one.text) / 2 + 20
        drawn.append(Stroke(QLineF(x, y, x, y + 60), 8.0))
        if all(x + half < left or x - half > right for left, right in taken):
            drawn.append(Text(QRectF(x - 400, y + 75, 800, 120), one.text, _TICK, "centre"))
            taken.append((x - half, x + half))
    return drawn


def _flag_ends(scale: ScaleRow, at: float) -> tuple[float, float]:
    half = _READ.metrics.horizontalAdvance(scale.reads) / 2 + 50 if scale.reads else 0.0
    return at - half, at + half


def _flag(scale: ScaleRow, at: float, y: float) -> list[PageItem]:
    """What a scale reads at the hairline, in a box over its figures."""
    if not scale.reads:
        return []
    left, right = _flag_ends(scale, at)
    box = QRectF(left, y + 60, right - left, 160)
    drawn: list[PageItem] = [Fill(QPolygonF(box), 1.0, 9.0)]
    drawn.append(Text(box.adjusted(0, 22, 0, 0), scale.reads, _READ, "centre"))
    return drawn


def _errors(picture: RulePicture, axis: _Axis, top: float) -> list[PageItem]:
    most = picture.extent
    middle, half = top + _ERRORS / 2, _ERRORS / 2 - 40

    def y(error: float) -> float:
        return middle - half * min(max(error / most, -1.0), 1.0)

    drawn: list[PageItem] = []
    if len(picture.allowed) > 1:
        above = [QPointF(axis.x(at), y(allowed)) for at, allowed in picture.allowed]
        below = [QPointF(axis.x(at), y(-allowed)) for at, allowed in reversed(picture.allowed)]
        drawn.append(Fill(QPolygonF([*above, *below]), 0.93))
        for edge in (above, below):
            drawn += [Stroke(QLineF(a, b), 8.0) for a, b in pairwise(edge)]
    for level, text in picture.levels:
        drawn.append(Stroke(QLineF(axis.left - 60, y(level), axis.left - 20, y(level)), 5.0))
        drawn.append(Text(QRectF(axis.left - 600, y(level) - 60, 520, 120), text, _TICK, "right"))
    drawn.append(Stroke(QLineF(axis.left, middle, axis.right, middle), 4.0))
    for mark in picture.errors:
        ends = (y(mark.error - mark.expanded), y(mark.error + mark.expanded))
        drawn += _mark(mark, axis.x(mark.at), y(mark.error), *ends)
    return drawn


def _mark(mark: ErrorMark, x: float, y: float, low: float, high: float) -> list[PageItem]:
    drawn: list[PageItem] = []
    if mark.expanded > 0:
        drawn.append(Stroke(QLineF(x, low, x, high), 6.0))
        drawn += [Stroke(QLineF(x - 25, end, x + 25, end), 6.0) for end in (low, high)]
    drawn.append(MarkAt("diamond" if mark.is_found else "disc", QPointF(x, y)))
    return drawn


def _moved(one: PageItem, by: QPointF) -> PageItem:
    match one:
        case Text():
            return one._replace(where=one.where.translated(by))
        case Stroke():
            return one._replace(line=one.line.translated(by))
        case Fill():
            return one._replace(shape=one.shape.translated(by))
        case MarkAt():
            return one._replace(at=one.at + by)
