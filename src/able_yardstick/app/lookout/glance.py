"""At a glance: a few channels as large numerals with their strip, to be read from across the room."""

import math

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent

from ...core.lookout.attention import level_of
from ...core.lookout.rows import LookoutRow, lookout_rows
from ..frame.painting import CENTRE, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.theme import Theme, bold
from ..frame.workbench import Workbench
from .strips.channel_strip import ChannelStrip
from .strips.strip import StripColumns, StripSheet
from .strips.words import ValueWords, row_value
from .watcher import Watcher

MOST = 12
_GAP = 10.0
_SCALE_HEIGHT = 46.0
_TILE_SHAPE = 2.1  # width over height, about
_LARGEST, _SMALLEST = 300, 24  # pixels of a numeral
_STRIPES = {"look": "amber", "fault": "red"}


class GlancePicture(SidePicture):
    """The pinned rows; all, up to a dozen, where none is pinned."""

    def __init__(self, bench: Workbench, watch: Watcher, theme: Theme) -> None:
        self._tiles = _Tiles(bench, watch, theme)
        super().__init__(self._tiles, "Lookout at a glance")
        self.setFocusProxy(self._tiles)
        watch.changed.connect(self.show_now)

    def move_on(self) -> None:
        """Show where everything stands by now, many times a second."""
        if self.isVisible():
            self._tiles.update()

    @property
    def rows(self) -> tuple[str, ...]:
        """The rows that are shown, by their words."""
        return tuple(row.words for row in self._tiles.rows())


class _Tiles(SideDrawing):
    def __init__(self, bench: Workbench, watch: Watcher, theme: Theme) -> None:
        super().__init__(theme)
        self._bench, self._watch = bench, watch
        self._strip = ChannelStrip()
        self._held: dict[str, ValueWords] | None = None  # while it stands still
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Numerals of the lookout")

    def rows(self) -> list[LookoutRow]:
        """What is shown: pinned rows first; a press of the space bar holds the numbers still."""
        levels = {key: level_of(one) for key, one in self._watch.standings.items()}
        rows = [row for row in lookout_rows(self._bench.job, levels) if row.kind != "group"]
        pinned = [row for row in rows if row.is_pinned]
        return (pinned or [row for row in rows if row.id in self._watch.standings] or rows)[:MOST]

    def show_now(self) -> None:
        texts = [f"{row.words} {self._value(row).plain}" for row in self.rows()]
        self.setAccessibleDescription(", ".join(texts))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, 400)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self.hold(self._held is None)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, _event: QMouseEvent) -> None:
        self.hold(self._held is None)

    def hold(self, held: bool) -> None:
        """Let the numbers stand still, or go on."""
        self._held = {row.id: self._value(row) for row in self.rows()} if held else None
        self.update()

    def _value(self, row: LookoutRow) -> ValueWords:
        if self._held is not None and row.id in self._held:
            return self._held[row.id]
        return row_value(self._bench.job, self._watch, row)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), self.theme.color("desk"))
        rows = self.rows()
        if rows:
            across = _columns(len(rows), self.width(), self.height())
            down = math.ceil(len(rows) / across)
            width, height = (self.width() - _GAP) / across, (self.height() - _GAP) / down
            for n, row in enumerate(rows):
                place = QRectF(_GAP + n % across * width, _GAP + n // across * height, width - _GAP, height - _GAP)
                self._paint_tile(painter, row, place)
        painter.end()

    def _paint_tile(self, painter: QPainter, row: LookoutRow, place: QRectF) -> None:
        theme, value, standing = self.theme, self._value(row), self._watch.standings.get(row.id)
        painter.setPen(theme.color("line"))
        painter.setBrush(theme.color("paper"))
        painter.drawRoundedRect(place.adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        level = "open" if standing is None else level_of(standing)
        if level in _STRIPES:
            stripe = QRectF(place.left(), place.top() + 8, 6, place.height() - 16)
            painter.fillRect(stripe, theme.color(_STRIPES[level]))
        size = round(min(max(place.height() / 9, 13), 34))
        head = QRectF(place.left() + 14, place.top() + 6, place.width() - 28, size * 1.5)
        state = "  held still" if self._held is not None else ""
        write(painter, theme, head, f"{row.words}  {value.unit}{state}", "muted", heavy=True, size=size)
        is_channel = row.kind == "channel" and self._has_scale(row)
        foot = _SCALE_HEIGHT
        room = QRectF(place.left() + 12, head.bottom(), place.width() - 24, place.bottom() - head.bottom() - foot - 6)
        numeral = _fitting(value.text, room)
        write(painter, theme, room, value.text, value.colour, CENTRE, heavy=True, size=numeral)
        if is_channel:
            at = QRectF(place.left(), place.bottom() - foot - 4, place.width(), foot)
            sheet = self._sheet(at)
            self._strip.paint_scale(painter, sheet, self._bench.job.document.by_id[row.id], at)
            self._strip.paint_live(painter, sheet, row, at)

    def _has_scale(self, row: LookoutRow) -> bool:
        return self._strip.height(self._sheet(QRectF()), row, 2.0) == 2.0

    def _sheet(self, place: QRectF) -> StripSheet:
        ends = (place.left() + 10, place.right() - 10)
        return StripSheet(self._bench.job, self._watch, self.theme, StripColumns(ends, ends), False, None, "")


def _columns(count: int, width: float, height: float) -> int:
    """So many tiles side by side that they are about as wide as they should be."""

    def off(across: int) -> float:
        return abs(math.log((width / across) / (height / math.ceil(count / across)) / _TILE_SHAPE))

    return min(range(1, count + 1), key=off)


def _fitting(text: str, room: QRectF) -> int:
    """The largest size at which a text fits into a place."""
    size = int(min(max(room.height() * 0.85, _SMALLEST), _LARGEST))
    wide = QFontMetricsF(bold(size)).horizontalAdvance(text)
    return max(int(size * min(room.width() / wide, 1.0)), _SMALLEST) if wide > 0 else size
