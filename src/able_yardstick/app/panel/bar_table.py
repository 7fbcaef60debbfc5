"""Figures as bars with their numbers: what an error is made of, the largest first."""

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ...core.uncertainty.coverage import Contribution
from ...core.words.numerals import significant
from ..frame.painting import RIGHT, write
from ..frame.theme import Theme, font

_ROW, _NOTE, _BAR = 20.0, 16.0, 10.0
_USUAL = 310  # pixels wide
_NAMES, _NUMBERS = 0.44, 0.2  # of the width


class Bar(NamedTuple):
    """One figure: its name, its number in words, its length from 0 to 1, what is said below it; heavy for a sum."""

    name: str
    number: str
    share: float = 0.0
    note: str = ""
    heavy: bool = False


class BarTable(QWidget):
    """Rows of bars below a heading; gone while there are none."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._theme: Theme | None = None
        self._heading = ""
        self._bars: tuple[Bar, ...] = ()
        self.setAccessibleName(name)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.hide()

    @property
    def bars(self) -> tuple[Bar, ...]:
        """What is drawn."""
        return self._bars

    @property
    def plain(self) -> str:
        """The words and figures, a row each line."""
        lines = [f"{bar.name} {bar.number}" + (f"\n{bar.note}" if bar.note else "") for bar in self._bars]
        return "\n".join([self._heading, *lines] if self._heading else lines)

    def show_bars(self, heading: str, bars: Sequence[Bar], theme: Theme) -> None:
        """Draw other bars; without any nothing is seen."""
        self._heading, self._bars, self._theme = heading, tuple(bars), theme
        self.setAccessibleDescription(self.plain)
        self.updateGeometry()
        self.setVisible(bool(bars))
        self.update()

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        heads = _ROW if self._heading else 0
        return round(heads + sum(_ROW + _note_height(bar.note, width) for bar in self._bars))

    def sizeHint(self) -> QSize:
        return QSize(_USUAL, self.heightForWidth(_USUAL))

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._theme is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        top = 0.0
        if self._heading:
            write(painter, self._theme, QRectF(0, 0, self.width(), _ROW), self._heading, "muted", RIGHT)
            top = _ROW
        for bar in self._bars:
            self._paint_bar(painter, bar, top)
            top += _ROW
            if bar.note:
                high = _note_height(bar.note, self.width())
                painter.setFont(font(12))
                painter.setPen(self._theme.color("muted"))
                place = QRectF(8, top, self.width() - 10, high)
                painter.drawText(place, int(Qt.TextFlag.TextWordWrap), bar.note)
                top += high
        painter.end()

    def _paint_bar(self, painter: QPainter, bar: Bar, top: float) -> None:
        assert self._theme is not None  # asked for by paintEvent only
        names, numbers = _NAMES * self.width(), _NUMBERS * self.width()
        rail = QRectF(names + 6, top + (_ROW - _BAR) / 2, self.width() - names - numbers - 12, _BAR)
        wide = 0.0 if bar.share <= 0 else max(bar.share * rail.width(), 2.0)
        if not bar.heavy:
            painter.fillRect(rail, self._theme.color("faint"))
            painter.fillRect(QRectF(rail.x(), rail.y(), wide, rail.height()), self._theme.color("teal"))
        width = names if not bar.heavy else self.width() - numbers
        write(painter, self._theme, QRectF(0, top, width, _ROW), bar.name, "ink", heavy=bar.heavy)
        number = QRectF(self.width() - numbers, top, numbers, _ROW)
        write(painter, self._theme, number, bar.number, "ink", RIGHT, heavy=bar.heavy)


@lru_cache(maxsize=256)
def _note_height(note: str, width: int) -> float:
    """A note may need two lines."""
    if not note:
        return 0.0
    room = QRectF(0, 0, max(width - 10, 80), 1000)
    lines = QFontMetricsF(font(12)).boundingRect(room, int(Qt.TextFlag.TextWordWrap), note)
    return max(lines.height(), _NOTE) + 2


def origin_words(row: Contribution) -> str:
    """Size, distribution, divisor and sensitivity of a row of a budget."""
    size = f"±{significant(row.size or 0.0, 3)} {row.unit}".strip()
    root = "√3" if row.distribution == "rectangular" else f"{row.divisor:g}"
    factor = significant(row.sensitivity, 4)
    times = "" if factor == "1" else f", × {factor}"
    return f"{size}, {row.distribution}, ÷ {root}{times}"
