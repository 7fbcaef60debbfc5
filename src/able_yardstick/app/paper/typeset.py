"""Blocks of words set into pages: one below the other, a table broken between its rows, its head told again."""

from collections.abc import Sequence
from typing import NamedTuple

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt

from ...core.sign.blocks import (
    Block,
    Facts,
    PrintedSheet,
    PrintedVerdict,
    RulePicture,
    SideBySide,
    Tabled,
    Verdicts,
    Words,
)
from ...core.words.errors import BadTable
from .page import Fill, MarkAt, MarkShape, Page, Stroke, Style, Text, rectangle
from .rule_drawing import draw_rule

HEAD, TITLE, STRONG = Style(100, True), Style(200, True), Style(85, True)
PLAIN, NAME, SMALL = Style(85), Style(85, muted=True), Style(75, muted=True)
_MARKS: dict[str, MarkShape] = {"good": "disc", "bad": "square", "open": "ring"}
_ROW, _GAP, _HEAD_ROW = 122.0, 90.0, 150.0
_TALL = 185.0  # room to write in
_MOST_NAME = 0.5  # of the width
_NAME_GAP = 60.0
_BETWEEN = 160.0  # two blocks beside each other
_BOX = 340.0
_FOOT = 160.0


class Paper(NamedTuple):
    """A size of paper and its margin, in tenths of a point."""

    name: str
    width: float
    height: float
    margin: float = 520.0


A4, LETTER = Paper("A4", 5953.0, 8419.0), Paper("Letter", 6120.0, 7920.0)


def typeset(sheet: PrintedSheet, paper: Paper = A4) -> list[Page]:
    """The pages of a sheet, each with its foot."""
    setter = _Setter(paper)
    setter.head(sheet)
    for block in sheet.blocks:
        setter.set(block)
    for number, page in enumerate(setter.pages, 1):
        _foot(page, paper, sheet.foot, f"page {number} of {len(setter.pages)}")
    return setter.pages


def _foot(page: Page, paper: Paper, foot: str, number: str) -> None:
    top, width = paper.height - paper.margin, paper.width - 2 * paper.margin
    where = QRectF(paper.margin, top, width, _ROW)
    page.drawn += [Text(where, foot, SMALL), Text(where, number, SMALL, "right")]


class _Setter:
    """Sets blocks at a height that goes down the page."""

    def __init__(self, paper: Paper) -> None:
        self.paper, self.left, self.width = paper, paper.margin, paper.width - 2 * paper.margin
        self.bottom = paper.height - paper.margin - _FOOT
        self.pages = [Page()]
        self.y = paper.margin

    @property
    def _page(self) -> Page:
        return self.pages[-1]

    def _room(self, height: float) -> bool:
        """Begin another page where so much does not fit; whether it did."""
        if self.y + height <= self.bottom or self.y <= self.paper.margin:
            return False
        self.pages.append(Page())
        self.y = self.paper.margin
        return True

    def _text(self, text: str, style: Style, x: float, y: float, width: float, align: str = "left") -> None:
        self._page.drawn.append(Text(QRectF(x, y, width, style.size * 1.6), text, style, align))  # type: ignore[arg-type]

    def _line(self, width: float = 5.0) -> None:
        self._page.drawn.append(Stroke(QLineF(self.left, self.y, self.left + self.width, self.y), width))

    def head(self, sheet: PrintedSheet) -> None:
        """The head of the first page."""
        self._text(sheet.title, TITLE, self.left, self.y, self.width)
        self._text(sheet.subtitle, Style(100), self.left, self.y + 270, self.width)
        for row, text in enumerate(sheet.aside):
            style = STRONG if row == 0 else PLAIN
            self._text(text, style, self.left, self.y + 60 + row * _ROW, self.width, "right")
        self.y += 440
        self._line(12.0)
        self.y += _GAP

    def set(self, block: Block) -> None:
        """Set a block, and some space after it."""
        match block:
            case Verdicts(rows):
                self._verdicts(rows)
            case RulePicture():
                self._picture(block)
            case Tabled():
                self._grid(block)
            case SideBySide(left, right):
                self._beside(left, right)
            case Facts() | Words():
                self._room(min(_height(block, self.width), self.bottom - self.paper.margin))
                self.y += self._part(block, self.left, self.width)
        self.y += _GAP

    def _verdicts(self, rows: Sequence[PrintedVerdict]) -> None:
        self._room(_BOX)
        width = self.width / len(rows)
        for n, one in enumerate(rows):
            x = self.left + n * width
            self._page.drawn.append(Fill(rectangle(x, self.y, width, _BOX), 1.0, 8.0))
            self._page.drawn.append(MarkAt(_MARKS[one.mark], QPointF(x + 110, self.y + _BOX / 2), 45))
            self._text(one.says, Style(95, True), x + 220, self.y + 45, width - 240)
            self._text(one.more, PLAIN, x + 220, self.y + 185, width - 240)
        self.y += _BOX

    def _beside(self, left: Facts | Words, right: Facts | Words) -> None:
        width = (self.width - _BETWEEN) / 2
        self._room(max(_height(left, width), _height(right, width)))
        heights = (self._part(left, self.left, width), self._part(right, self.left + width + _BETWEEN, width))
        self.y += max(heights)

    def _part(self, block: Facts | Words, x: float, width: float) -> float:
        """Set facts or words at the height where we are; how high they are."""
        self._text(block.heading, HEAD, x, self.y, width)
        y = self.y + _HEAD_ROW
        if isinstance(block, Words):
            height = _wrapped(block.text, PLAIN, width)
            self._page.drawn.append(Text(QRectF(x, y, width, height + 20), block.text, PLAIN, wraps=True))
            return _HEAD_ROW + height
        names = _name_width(block, width)
        for name, text in block.rows:
            height = _fact_height(name, text, names, width)
            self._page.drawn.append(Text(QRectF(x, y, names - _NAME_GAP, height + 20), name, NAME, wraps=True))
            self._page.drawn.append(Text(QRectF(x + names, y, width - names, height + 20), text, PLAIN, wraps=True))
            y += height
        return y - self.y

    def _picture(self, picture: RulePicture) -> None:
        drawing = draw_rule(picture, self.width)
        self._room(drawing.height)
        self._page.drawn += drawing.at(self.left, self.y)
        self.y += drawing.height

    def _grid(self, grid: Tabled) -> None:
        widths = _column_widths(grid, self.width)
        self._room(_HEAD_ROW + 3 * _ROW)
        self._text(grid.heading, HEAD, self.left, self.y, self.width)
        self.y += _HEAD_ROW
        self._cells(grid.columns, widths, NAME)
        extra = _TALL - _ROW if grid.is_tall else 0.0
        for row in grid.rows:
            if self._room(_ROW + extra):
                self._cells(grid.columns, widths, NAME)
            self._page.drawn.append(Stroke(QLineF(self.left, self.y, self.left + self.width, self.y), 2.0, muted=True))
            self.y += extra
            self._cells(row, widths, PLAIN)
        if grid.is_tall:
            self._line(2.0)

    def _cells(self, cells: Sequence[str], widths: Sequence[float], style: Style) -> None:
        x = self.left
        for n, (text, width) in enumerate(zip(cells, widths, strict=True)):
            self._text(text, style, x, self.y + 10, width - 50, "left" if n == 0 else "right")
            x += width
        self.y += _ROW


def _column_widths(grid: Tabled, width: float) -> list[float]:
    """As wide as the widest text of each column asks, what is left shared alike."""
    metrics = PLAIN.metrics
    columns = [[grid.columns[n], *(row[n] for row in grid.rows)] for n in range(len(grid.columns))]
    wanted = [max(metrics.horizontalAdvance(text) for text in column) + 70 for column in columns]
    left = width - sum(wanted)
    share = left / len(wanted) if left > 0 else 0.0
    scale = 1.0 if left >= 0 else width / sum(wanted)
    return [one * scale + share for one in wanted]


def _wrapped(text: str, style: Style, width: float) -> float:
    """How high a text is that is broken into lines."""
    flags = Qt.TextFlag.TextWordWrap.value
    return max(style.metrics.boundingRect(QRectF(0, 0, width, 1e6), flags, text).height(), _ROW)


def _name_width(block: Facts, width: float) -> float:
    """How wide the names of facts are set, with the gap after them."""
    widest = max((NAME.metrics.horizontalAdvance(name) for name, _text in block.rows), default=0.0)
    return min(widest + 20, _MOST_NAME * width) + _NAME_GAP


def _fact_height(name: str, text: str, names: float, width: float) -> float:
    return max(_wrapped(text, PLAIN, width - names), _wrapped(name, NAME, names - _NAME_GAP))


def _height(block: Facts | Words, width: float) -> float:
    if isinstance(block, Words):
        return _HEAD_ROW + _wrapped(block.text, PLAIN, width)
    names = _name_width(block, width)
    return _HEAD_ROW + sum(_fact_height(name, text, names, width) for name, text in block.rows)


def paper_named(name: str) -> Paper:
    """A size of paper by its name. Raises: BadTable for another than A4 or Letter."""
    found = next((one for one in (A4, LETTER) if one.name.casefold() == name.casefold()), None)
    if found is None:
        raise BadTable(f"Expected A4 or Letter as the size of the paper, found “{name}”.")
    return found
