"""Paints the path from left to right: blocks and wires above, the nodes' values in columns below."""

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from ...frame.state_mark import draw_state
from ...frame.theme import Theme, bold, font
from .content import WireContent
from .symbols import BODY, ENDS_WIRES, SYMBOLS, Pen

HEAD = 40.0
WIRES = 104.0
TABLE_HEAD = 34.0
ROW = 22.0
FOOT = 20.0
TITLES = 100.0  # room for the rows' titles
_SIDE = 10.0
_MOST_SPARE = 140.0


def height_of(content: WireContent) -> float:
    """How high a picture has to be: one row for the hairline, and one for each of the content's."""
    return HEAD + WIRES + TABLE_HEAD + ROW * (1 + len(content.rows)) + FOOT


class Layout(NamedTuple):
    """Where things stand within a rectangle."""

    left: float
    top: float
    width: float
    columns: int
    spare: float
    first_row: int = 0

    def column_x(self, n: float) -> float:
        """The middle of a column; half a column further is between two."""
        room = (self.width - TITLES - _SIDE) / max(self.columns, 1)
        return self.left + TITLES + (n + 0.5) * room

    @property
    def column_width(self) -> float:
        """How wide a column is."""
        return (self.width - TITLES - _SIDE) / max(self.columns, 1)

    def row_y(self, n: int) -> float:
        """The top of a row of values; row 0 is the hairline's."""
        return self.top + HEAD + WIRES + self.spare + TABLE_HEAD + (n - self.first_row) * ROW

    @property
    def signal_y(self) -> float:
        """Where the signal's wire runs."""
        return self.top + HEAD + 22 + 0.3 * self.spare

    @property
    def return_y(self) -> float:
        """Where the return's wire runs."""
        return self.top + HEAD + 68 + 0.7 * self.spare


def layout_in(rect: QRectF, content: WireContent, *, hairline: bool = True) -> Layout:
    """The layout of a content in a rectangle, with or without a row for the hairline."""
    spare = min(max(rect.height() - height_of(content), 0.0), _MOST_SPARE)
    return Layout(rect.left(), rect.top(), rect.width(), len(content.nodes), spare, 0 if hairline else 1)


def paint_still(painter: QPainter, rect: QRectF, content: WireContent, theme: Theme, *, hairline: bool = True) -> None:
    """Everything but the hairline's values, for which room is left where `hairline` says so."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    layout = layout_in(rect, content, hairline=hairline)
    _paint_wires(painter, layout, content, theme)
    _paint_blocks(painter, layout, content, theme)
    _paint_faults(painter, layout, content, theme)
    _paint_table(painter, layout, content, theme)
    _paint_foot(painter, rect, layout, content, theme)


def _block_x(layout: Layout, content: WireContent, n: int) -> float:
    """Where the n-th block stands: between the node before it and the one after it."""
    lead = len(content.nodes) - len(content.blocks)
    return layout.column_x(n + lead - 0.5)


def _paint_wires(painter: QPainter, layout: Layout, content: WireContent, theme: Theme) -> None:
    kinds = [block.kind for block in content.blocks]
    ends = [n for n, kind in enumerate(kinds) if kind in ENDS_WIRES]
    first = _block_x(layout, content, 0) + BODY if content.blocks else layout.left
    last = _block_x(layout, content, ends[0]) - BODY if ends else layout.column_x(len(content.nodes) - 0.7)
    starts = kinds and kinds[0] in ("transducer", "contact")
    left = first if starts else layout.column_x(-0.3)
    for y, color, width in ((layout.signal_y, "teal", 1.8), (layout.return_y, "muted", 1.8)):
        painter.setPen(QPen(theme.color(color), width))
        painter.drawLine(QPointF(left, y), QPointF(last, y))
    if content.loop_supply:
        x, y = layout.column_x(len(content.nodes) - len(content.blocks)), layout.return_y
        painter.setPen(QPen(theme.color("ink"), 1.3))
        painter.setBrush(theme.color("paper"))
        painter.drawRoundedRect(QRectF(x - 23, y - 10, 46, 20), 3, 3)
        painter.setFont(bold(11))
        painter.drawText(QRectF(x - 23, y - 10, 46, 20), Qt.AlignmentFlag.AlignCenter, content.loop_supply)
    for n in ends:  # numbers behind the converter
        after = _block_x(layout, content, n) + BODY
        nodes_end = layout.column_x(len(content.nodes) - 1) + 14
        middle = (layout.signal_y + layout.return_y) / 2
        painter.setPen(QPen(theme.color("teal"), 1.4, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(after, middle), QPointF(nodes_end, middle))


def _paint_blocks(painter: QPainter, layout: Layout, content: WireContent, theme: Theme) -> None:
    pen = Pen(painter, theme, layout.signal_y, layout.return_y)
    room = layout.column_width - 4
    for n, block in enumerate(content.blocks):
        x = _block_x(layout, content, n)
        SYMBOLS[block.kind](pen, x)
        for text, drawn, color, y in (
            (block.title, bold(12), "ink", layout.top + 2),
            (block.caption, font(12), "muted", layout.top + 18),
        ):
            painter.setFont(drawn)
            painter.setPen(theme.color(color))
            words = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room))
            painter.drawText(QRectF(x - room / 2, y, room, 16), Qt.AlignmentFlag.AlignCenter, words)


def fault_spot(layout: Layout, content: WireContent, n: int) -> QPointF:
    """Where the sign of what a check found at a node stands."""
    behind = content.nodes[n].key in ("counts", "shown")
    middle = (layout.signal_y + layout.return_y) / 2
    return QPointF(layout.column_x(n), middle if behind or content.nodes[n].key == "quantity" else layout.signal_y)


def _paint_faults(painter: QPainter, layout: Layout, content: WireContent, theme: Theme) -> None:
    for n, node in enumerate(content.nodes):
        if node.worst:
            draw_state(painter, theme, node.worst, fault_spot(layout, content, n), 5.5)


def _paint_table(painter: QPainter, layout: Layout, content: WireContent, theme: Theme) -> None:
    top = layout.row_y(layout.first_row) - TABLE_HEAD
    room = layout.column_width - 2
    for n, node in enumerate(content.nodes):
        rect = QRectF(layout.column_x(n) - room / 2, top + 2, room, 15)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        words = painter.fontMetrics().elidedText(node.title, Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, words)
        painter.drawText(rect.translated(0, 14), Qt.AlignmentFlag.AlignCenter, node.unit)
    for row, (title, texts) in enumerate(content.rows, 1):
        y = layout.row_y(row)
        painter.setPen(theme.color("faint"))
        painter.drawLine(QPointF(layout.left + _SIDE, y), QPointF(layout.left + layout.width - _SIDE, y))
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(layout.left + _SIDE, y, TITLES, ROW), Qt.AlignmentFlag.AlignVCenter, title)
        painter.setPen(theme.color("ink"))
        _paint_texts(painter, layout, texts, y)


def _paint_texts(painter: QPainter, layout: Layout, texts: tuple[str, ...], y: float) -> None:
    room = layout.column_width
    for n, text in enumerate(texts):
        words = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(QRectF(layout.column_x(n) - room / 2, y, room, ROW), Qt.AlignmentFlag.AlignCenter, words)


def _paint_foot(painter: QPainter, rect: QRectF, layout: Layout, content: WireContent, theme: Theme) -> None:
    painter.setFont(font(12))
    y = layout.row_y(1 + len(content.rows))
    landed = f"lands on {content.terminal}" if content.terminal else "not landed on a terminal yet"
    words = [part for part in (landed, content.used) if part]
    if content.supply:
        words.insert(0, f"supply {content.supply}")
    painter.setPen(theme.color("muted"))
    line = painter.fontMetrics().elidedText(
        "   ·   ".join(words), Qt.TextElideMode.ElideRight, int(rect.width() - 2 * _SIDE)
    )
    painter.drawText(QRectF(rect.left() + _SIDE, y, rect.width(), FOOT), Qt.AlignmentFlag.AlignVCenter, line)
    if content.back:
        painter.setPen(theme.color("red" if content.back_is_wrong else "muted"))
        spot = QRectF(layout.left + _SIDE, layout.return_y - 9, TITLES + 30, 18)
        if content.blocks and content.blocks[0].kind in ("transducer", "contact"):
            spot = QRectF(layout.column_x(0.9), layout.return_y + 16, 190, 16)
        painter.drawText(spot, Qt.AlignmentFlag.AlignVCenter, content.back)


def _paint_on_wire(
    painter: QPainter, layout: Layout, content: WireContent, texts: tuple[str, ...], theme: Theme
) -> None:
    """The values of the electrical nodes, above the signal's wire."""
    painter.setFont(bold(11))
    painter.setPen(theme.color("teal"))
    room = layout.column_width - 2 * BODY
    slender = ("shunt", "pull-up", "pulse pull-up", "excitation", "current source", "cold junction")
    lead = len(content.nodes) - len(content.blocks)
    for n, (node, text) in enumerate(zip(content.nodes, texts, strict=True)):
        words = f"{text} {node.unit}"
        wide = painter.fontMetrics().horizontalAdvance(words)
        after = content.blocks[n - lead + 1].kind if n - lead + 1 < len(content.blocks) else ""
        if node.key in ("quantity", "counts", "shown") or wide > room - 4 + (BODY / 2 if after in slender else 0):
            continue
        top = layout.signal_y - (24 if node.worst else 19)
        left = max(layout.column_x(n) - wide / 2, layout.column_x(n) - room / 2 + 4)
        painter.drawText(QRectF(left, top, wide + 4, 16), Qt.AlignmentFlag.AlignVCenter, words)


def paint_hairline_row(
    painter: QPainter, rect: QRectF, content: WireContent, texts: tuple[str, ...], theme: Theme
) -> None:
    """The values at the hairline."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    layout = layout_in(rect, content)
    y = layout.row_y(0)
    painter.setPen(QPen(theme.color("accent"), 1.2))
    painter.setBrush(theme.color("accent_fill"))
    painter.drawRoundedRect(QRectF(layout.left + 5, y, layout.width - 10, ROW - 1), 4, 4)
    painter.setFont(bold(12))
    painter.setPen(theme.color("ink"))
    painter.drawText(QRectF(layout.left + _SIDE, y, TITLES, ROW), Qt.AlignmentFlag.AlignVCenter, "At the hairline")
    _paint_texts(painter, layout, texts, y)
    _paint_on_wire(painter, layout, content, texts, theme)
