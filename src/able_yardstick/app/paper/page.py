"""A page as what is drawn on it, in tenths of a point; it is drawn alike on screen, on paper and into a PDF."""

from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from ..frame.theme import bold, font

Align = Literal["left", "right", "centre"]
MarkShape = Literal["disc", "square", "ring", "diamond"]
_FLAGS = {
    "left": Qt.AlignmentFlag.AlignLeft,
    "right": Qt.AlignmentFlag.AlignRight,
    "centre": Qt.AlignmentFlag.AlignHCenter,
}
_FORMS = ("calt", "liga", "clig")  # other shapes of letters beside each other, which a PDF has no letters for
_MUTED = 0.35  # how much of the paper is in what is muted


class Style(NamedTuple):
    """How a text is set: its size in tenths of a point, whether it is bold, and whether it is muted."""

    size: int
    bold: bool = False
    muted: bool = False

    @property
    def font(self) -> QFont:
        """The font, not fitted to any grid of pixels; its figures as they are, or a PDF could not be searched."""
        made = bold(self.size) if self.bold else font(self.size)
        made.unsetFeature(QFont.Tag("tnum"))
        for name in _FORMS:
            made.setFeature(QFont.Tag(name), 0)
        made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
        return made

    @property
    def metrics(self) -> QFontMetricsF:
        """What measures texts of it."""
        return QFontMetricsF(self.font)


class Colors(NamedTuple):
    """What pages are drawn with."""

    ink: QColor
    paper: QColor

    def mixed(self, share: float) -> QColor:
        """Ink with a share of the paper in it."""
        ink, paper = self.ink, self.paper
        pairs = ((ink.red(), paper.red()), (ink.green(), paper.green()), (ink.blue(), paper.blue()))
        return QColor(*(round((1 - share) * one + share * other) for one, other in pairs))


PRINT = Colors(QColor("#000000"), QColor("#FFFFFF"))


class Text(NamedTuple):
    """A text in a rectangle; broken into lines where `wraps`."""

    where: QRectF
    text: str
    style: Style
    align: Align = "left"
    wraps: bool = False


class Stroke(NamedTuple):
    """A line, so wide; dashed where asked."""

    line: QLineF
    width: float = 5.0
    dashed: bool = False
    muted: bool = False


class Fill(NamedTuple):
    """A shape filled with ink of which a share is paper; with an outline where asked."""

    shape: QPolygonF
    paper_share: float
    outline: float = 0.0


class MarkAt(NamedTuple):
    """A mark at a point, in ink, full or open."""

    shape: MarkShape
    at: QPointF
    radius: float = 30.0


PageItem = Text | Stroke | Fill | MarkAt


@dataclass
class Page:
    """What is drawn on one page, in its order."""

    drawn: list[PageItem] = field(default_factory=list)

    def draw(self, painter: QPainter, colors: Colors = PRINT) -> None:
        """Draw it with a painter whose unit is a tenth of a point."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for one in self.drawn:
            match one:
                case Text():
                    _draw_text(painter, one, colors)
                case Stroke(line, width, dashed, muted):
                    painter.setPen(_pen(colors.mixed(_MUTED if muted else 0.0), width, dashed))
                    painter.drawLine(line)
                case Fill(shape, share, outline):
                    painter.setPen(_pen(colors.ink, outline) if outline else QPen(Qt.PenStyle.NoPen))
                    painter.setBrush(colors.mixed(share))
                    painter.drawPolygon(shape)
                case MarkAt():
                    _draw_mark(painter, one, colors)


def rectangle(x: float, y: float, width: float, height: float) -> QPolygonF:
    """The shape of a rectangle."""
    return QPolygonF(QRectF(x, y, width, height))


def _pen(color: QColor, width: float, dashed: bool = False) -> QPen:
    made = QPen(color, width)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    if dashed:
        made.setDashPattern([4, 3])
    return made


def _draw_text(painter: QPainter, one: Text, colors: Colors) -> None:
    painter.setFont(one.style.font)
    painter.setPen(colors.mixed(_MUTED if one.style.muted else 0.0))
    flags = _FLAGS[one.align].value | Qt.AlignmentFlag.AlignTop.value
    flags |= Qt.TextFlag.TextWordWrap.value if one.wraps else Qt.TextFlag.TextSingleLine.value
    painter.drawText(one.where, flags, one.text)


def _draw_mark(painter: QPainter, one: MarkAt, colors: Colors) -> None:
    radius, at = one.radius, one.at
    is_open = one.shape in ("ring", "diamond")
    painter.setPen(_pen(colors.ink, radius / 4))
    painter.setBrush(QBrush(colors.paper if is_open else colors.ink))
    if one.shape in ("disc", "ring"):
        painter.drawEllipse(at, radius, radius)
    elif one.shape == "square":
        painter.drawRect(QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius))
    else:
        corners = ((0, -1), (1, 0), (0, 1), (-1, 0))
        painter.drawPolygon(QPolygonF([at + QPointF(x * radius * 1.25, y * radius * 1.25) for x, y in corners]))
