"""A constant's register drawn as its words and bits, and the bit fields that must agree with it."""

from typing import NamedTuple

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ...core.document.register_constant import BitField, FieldVerdict, RegisterConstant, RegisterValue
from .theme import Theme, bold, font

_CELL, _GAP, _ROW = 20.0, 8.0, 74.0  # a bit, the space between groups of four, and a word's height
_GUTTER = 104.0  # the names of the rows
_WORD_BITS = 16


class WordRow(NamedTuple):
    """One word of a register: its name, its number, and the bits that belong to a field, with the field's words."""

    title: str
    under: str
    number: int
    lit: range
    agrees: bool


def rows_of(constant: RegisterConstant, found: RegisterValue) -> tuple[WordRow, ...]:
    """The words of a constant in the order they are sent, then the word that holds each bit field."""
    words = tuple(WordRow(f"Word {n}", f"0x{word:04X}", word, range(0), True) for n, word in enumerate(found.words, 1))
    return words + tuple(_field_row(*pair) for pair in zip(constant.fields, found.fields, strict=True))


def _field_row(field: BitField, verdict: FieldVerdict) -> WordRow:
    """The word that holds a field's lowest bit; a field that runs over its end is lit as far as the word goes."""
    shift = field.lowest_bit // _WORD_BITS * _WORD_BITS
    lowest = field.lowest_bit - shift
    number = field.register_value >> shift & 0xFFFF
    return WordRow(
        field.name, f"0x{number:04X}", number, range(lowest, min(lowest + field.width, _WORD_BITS)), verdict.agrees
    )


class RegisterPicture(QWidget):
    """Words as sixteen bits each, the highest at the left, in groups of four over their hexadecimal digits."""

    def __init__(self) -> None:
        super().__init__()
        self._rows: tuple[WordRow, ...] = ()
        self._theme: Theme | None = None
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The register's words and bits")

    @property
    def rows(self) -> tuple[WordRow, ...]:
        """What is drawn."""
        return self._rows

    def show_rows(self, rows: tuple[WordRow, ...], theme: Theme) -> None:
        """Draw other words; none hides the picture."""
        self._rows, self._theme = rows, theme
        self.setVisible(bool(rows))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(round(_GUTTER + _WORD_BITS * _CELL + 3 * _GAP) + 2, round(len(self._rows) * _ROW))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left = (self.width() - self.sizeHint().width()) / 2
        for n, row in enumerate(self._rows):
            self._paint_word(painter, row, left, n * _ROW)
        painter.end()

    def _paint_word(self, painter: QPainter, row: WordRow, left: float, top: float) -> None:
        assert self._theme is not None  # shown together with the rows
        colours = self._theme
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.setPen(colours.color("ink"))
        painter.setFont(bold(13))
        painter.drawText(QRectF(left, top + 20, _GUTTER - 14, 18), right, row.title)
        painter.setFont(font(12))
        painter.setPen(colours.color("muted"))
        painter.drawText(QRectF(left, top + 38, _GUTTER - 14, 18), right, row.under)
        lit = "green" if row.agrees else "red"
        for place in range(_WORD_BITS):
            bit = _WORD_BITS - 1 - place
            x = left + _GUTTER + place * _CELL + place // 4 * _GAP
            self._paint_bit(
                painter, QRectF(x, top + 18, _CELL, 24), row.number >> bit & 1, lit if bit in row.lit else ""
            )
            if place % 4 == 0:
                painter.setFont(font(12))
                painter.setPen(colours.color("muted"))
                painter.drawText(QRectF(x, top, 4 * _CELL, 16), Qt.AlignmentFlag.AlignLeft, f"{bit}")
                painter.setFont(bold(13))
                painter.setPen(colours.color("ink"))
                digit = f"{row.number >> (bit - 3) & 0xF:X}"
                painter.drawText(QRectF(x, top + 44, 4 * _CELL, 18), Qt.AlignmentFlag.AlignHCenter, digit)

    def _paint_bit(self, painter: QPainter, cell: QRectF, is_set: int, lit: str) -> None:
        """One bit: filled where it is set, framed in the field's colour where it belongs to one."""
        assert self._theme is not None
        colours = self._theme
        painter.setPen(colours.color(lit or "line"))
        painter.setBrush(colours.color("accent_fill" if is_set else "paper"))
        painter.drawRect(cell.adjusted(1, 1, -1, -1))
        painter.setFont(bold(13) if is_set else font(13))
        painter.setPen(colours.color(lit or ("ink" if is_set else "muted")))
        painter.drawText(cell, Qt.AlignmentFlag.AlignCenter, str(is_set))
