"""The strips: every channel's own scale with where it stands, pairs and values, the last minute on one time axis."""

from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QContextMenuEvent, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import QMenu

from ...core.lookout.attention import level_of
from ...core.lookout.rows import LookoutRow, lookout_rows
from ..frame.painting import CENTRE, RIGHT, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from .strips.all_strips import all_strips
from .strips.strip import MARGIN, NAME, READ, StripColumns, StripSheet
from .strips.words import row_value
from .watcher import WINDOW_S, Watcher

_HEAD = 26.0
_ROW_LEAST, _ROW_MOST = 43.0, 51.0  # a channel's row, with its distance to the next
_BETWEEN = 4.0
_WIDE = 200.0  # trends that have room for four moments
_STEP_S, _LEAP_S = 1.0, 10.0  # of the time hairline, by keys
RowMenus = Callable[[LookoutRow], QMenu]


class _Placed(NamedTuple):
    row: LookoutRow
    place: QRectF


class LookoutPicture(SidePicture):
    """The strips. A press or Enter on one goes to its channel, a right press asks for more; the trends are read at the
    pointer, or by the arrow keys.
    """

    def __init__(
        self, bench: Workbench, watch: Watcher, theme: Theme, go: Callable[[LookoutRow], None], acts: RowMenus
    ) -> None:
        self._strips = Strips(bench, watch, theme, go, acts)
        super().__init__(self._strips, "Lookout: every channel with its scale and its last minute")
        self.setFocusProxy(self._strips)
        watch.changed.connect(self._looked_at_all)
        watch.looked.connect(self._strips.forget)

    def move_on(self) -> None:
        """Show where everything stands by now, many times a second."""
        if self.isVisible():
            self._strips.move_on()

    def _looked_at_all(self) -> None:
        if self.isVisible():
            self._strips.show_made()

    def turn_raw(self) -> None:
        """Show the raw signal beside each value, or not."""
        self._strips.shows_raw = not self._strips.shows_raw
        self._strips.update()

    def words_of(self, words: str) -> str:
        """The value of a row by its tag, as it stands there, with its unit or its word."""
        return self._strips.words_of(words)

    @property
    def rows(self) -> tuple[str, ...]:
        """The rows that are shown, by their words, from above."""
        return tuple(one.row.words for one in self._strips.placed)


class Strips(SideDrawing):
    """The drawing: it lays the rows out, and has the keys of one of them."""

    def __init__(
        self, bench: Workbench, watch: Watcher, theme: Theme, go: Callable[[LookoutRow], None], acts: RowMenus
    ) -> None:
        super().__init__(theme)
        self._bench, self._watch, self._go, self._acts = bench, watch, go, acts
        self.shows_raw = False
        self.placed: tuple[_Placed, ...] = ()
        self._ago_s: float | None = None  # where the time hairline stands, below 0
        self._chosen = ""
        self._painters = all_strips()
        self._drawn: dict[str, QPixmap] = {}  # each row as it was at the last look, but for its live mark
        self._drawn_by: object = None
        self._laid_out_for: tuple[object, ...] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Rows of the lookout")

    # -- layout -----------------------------------------------------------------------------------------------------

    def show_now(self) -> None:
        self._drawn.clear()
        self._laid_out_for = None
        self._lay_out()
        self.update(self.visibleRegion().boundingRect())

    def show_made(self) -> None:
        """What is made of channels stands otherwise by now, and rows may come in another order."""
        self._lay_out()
        made = frozenset(one.row.id for one in self.placed if one.row.kind in ("pair", "value"))
        self.forget(made)

    def forget(self, rows: frozenset[str]) -> None:
        """Draw some rows anew, as they were looked at again."""
        for one in self.placed:
            if one.row.id in rows and self._drawn.pop(one.row.id, None) is not None:
                self.update(one.place.toAlignedRect())

    def move_on(self) -> None:
        """Paint anew what moved since it was painted last, of the rows in sight."""
        sheet, seen = self._sheet(), QRectF(self.visibleRegion().boundingRect())
        for row, place in self.placed:
            if place.intersects(seen) and row.id in self._drawn:
                part = self._painters[row.kind].moved(sheet, row, place)
                if part is not None:
                    self.update(part.toAlignedRect())

    def _sheet(self) -> StripSheet:
        columns, chosen = StripColumns.of(self.width()), self._chosen if self.hasFocus() else ""
        return StripSheet(self._bench.job, self._watch, self.theme, columns, self.shows_raw, self._ago_s, chosen)

    def _lay_out(self) -> None:
        """Rows from above; those of channels are as high as lets all of them be seen, within reason."""
        sheet = self._sheet()
        levels = {key: level_of(one) for key, one in self._watch.standings.items()}
        by_levels = levels if sheet.job.watch.order == "attention" else None
        view = self.parentWidget()
        compared = frozenset(self._watch.pairs)
        wanted = (sheet.job.document, by_levels, compared, self.width(), 0 if view is None else view.height())
        if (
            self._laid_out_for is not None
            and wanted[1:] == self._laid_out_for[1:]
            and wanted[0] is self._laid_out_for[0]
        ):
            return
        self._laid_out_for = wanted
        self._drawn.clear()
        rows = lookout_rows(sheet.job, levels)
        fixed = sum(self._height(sheet, row, 0.0) for row in rows)
        flexible = sum(self._height(sheet, row, 1.0) for row in rows) - fixed
        room = (self.height() if view is None else view.height()) - _HEAD - _BETWEEN * len(rows) - 4
        usual = min(max((room - fixed) / flexible if flexible else 0.0, _ROW_LEAST - _BETWEEN), _ROW_MOST - _BETWEEN)
        top, placed = _HEAD, []
        for row in rows:
            height = float(int(self._height(sheet, row, usual)))
            placed.append(_Placed(row, QRectF(MARGIN, top, self.width() - 2 * MARGIN, height)))
            top += height + _BETWEEN
        self.placed = tuple(placed)
        self.setMinimumHeight(round(top + 2))
        self.update()

    def _height(self, sheet: StripSheet, row: LookoutRow, usual: float) -> float:
        return self._painters[row.kind].height(sheet, row, usual)

    def sizeHint(self) -> QSize:
        return QSize(640, self.minimumHeight())

    def _at(self, y: float) -> LookoutRow | None:
        found = (one.row for one in self.placed if one.place.top() <= y <= one.place.bottom())
        return next((row for row in found if row.kind != "group"), None)

    # -- hands ------------------------------------------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._ago_s = StripColumns.of(self.width()).ago_s(event.position().x())
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = self._at(event.position().y())
        if row is None:
            return
        self._choose(row)
        if event.button() == Qt.MouseButton.LeftButton:
            self._go(row)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        by_key = event.reason() == QContextMenuEvent.Reason.Keyboard
        placed = next((one for one in self.placed if one.row.id == self._chosen), None)
        row = placed.row if by_key and placed is not None else self._at(event.pos().y())
        if row is None:
            event.ignore()  # the picture's own
            return
        at = placed.place.bottomLeft().toPoint() + QPoint(30, 0) if by_key and placed is not None else event.pos()
        self._choose(row)
        self._acts(row).popup(self.mapToGlobal(at))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._step(1 if key == Qt.Key.Key_Down else -1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            leap = _LEAP_S if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _STEP_S
            self._read_at(leap if key == Qt.Key.Key_Right else -leap)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and (row := self._chosen_row) is not None:
            self._go(row)
        else:
            super().keyPressEvent(event)

    def _step(self, places: int) -> None:
        """To a row further down, or up."""
        rows = [one.row for one in self.placed if one.row.kind != "group"]
        if not rows:
            return
        at = next((n for n, row in enumerate(rows) if row.id == self._chosen), -1 if places > 0 else len(rows))
        self._choose(rows[min(max(at + places, 0), len(rows) - 1)])

    def _read_at(self, by_s: float) -> None:
        """Move the time hairline; past now it is gone."""
        at = (0.0 if self._ago_s is None else self._ago_s) + by_s
        self._ago_s = None if at > 0 else max(at, -WINDOW_S)
        self.update()

    def _choose(self, row: LookoutRow) -> None:
        self._chosen = row.id
        placed = next(one.place for one in self.placed if one.row.id == row.id)
        self._tell()
        view = self.parentWidget()
        area = None if view is None else view.parentWidget()
        if isinstance(area, SidePicture):
            area.ensureVisible(0, round(placed.center().y()), 0, round(placed.height()))
        self.update()

    def _tell(self) -> None:
        """What the row with the keys says, to a reader of the screen."""
        row = self._chosen_row
        self.setAccessibleDescription("" if row is None else self._painters[row.kind].words(self._sheet(), row))

    @property
    def _chosen_row(self) -> LookoutRow | None:
        return next((one.row for one in self.placed if one.row.id == self._chosen), None)

    def focusInEvent(self, event: QFocusEvent) -> None:
        if self._chosen_row is None:
            self._step(1)
        super().focusInEvent(event)

    def words_of(self, words: str) -> str:
        """The words of a row's value."""
        row = next(one.row for one in self.placed if one.row.words == words)
        return row_value(self._bench.job, self._watch, row).plain

    # -- painting ---------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), self.theme.color("desk"))
        sheet = self._sheet()
        self._paint_head(painter, sheet)
        by = (sheet.job, self.theme, self.width(), self.shows_raw, self._ago_s, sheet.chosen)
        if by != self._drawn_by:
            self._drawn.clear()
            self._drawn_by = by
        known = {*sheet.job.document.by_id, *(one.id for one in sheet.job.watch.values)}
        for row, place in self.placed:
            is_there = row.kind in ("pair", "group") or row.id in known
            if is_there and place.bottom() >= event.rect().top() and place.top() <= event.rect().bottom():
                painter.drawPixmap(place.topLeft(), self._row_drawn(sheet, row, place))
                self._painters[row.kind].paint_live(painter, sheet, row, place)
        if not self.placed:
            words = "No channel yet. Back to the steps (Esc) adds one."
            if sheet.job.channels:
                words = "Every row is hidden. The panel shows them again."
            write(painter, self.theme, QRectF(0, _HEAD, self.width(), 80), words, "muted", CENTRE, size=13)
        if self._ago_s is not None:
            x = sheet.columns.x(self._ago_s)
            painter.setPen(QPen(self.theme.color("accent"), 1))
            painter.drawLine(QPointF(x, _HEAD - 6), QPointF(x, self.height()))
        painter.end()

    def _row_drawn(self, sheet: StripSheet, row: LookoutRow, place: QRectF) -> QPixmap:
        """A row without its live mark, drawn once for each look."""
        if row.id not in self._drawn:
            ratio = self.devicePixelRatioF()
            picture = QPixmap((place.size() * ratio).toSize())
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            painter = QPainter(picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(-place.topLeft())
            self._painters[row.kind].paint(painter, sheet, row, place)
            painter.end()
            self._drawn[row.id] = picture
        return self._drawn[row.id]

    def _paint_head(self, painter: QPainter, sheet: StripSheet) -> None:
        right = sheet.columns.trend[1]
        write(painter, self.theme, QRectF(MARGIN + 12, 2, NAME, 22), "Channel", "muted")
        write(painter, self.theme, QRectF(sheet.columns.scale[0], 2, 200, 22), "where it stands", "muted")
        is_wide = right - sheet.columns.trend[0] > _WIDE
        for ago in (60, 40, 20, 0) if is_wide else (60, 0):
            words = f"\u2212{ago} s" if ago else "now"
            write(painter, self.theme, QRectF(sheet.columns.x(-ago) - 30, 2, 60, 22), words, "muted", CENTRE)
        if self._ago_s is not None:
            at = QRectF(right + 4, 2, READ, 22)
            write(painter, self.theme, at, f"\u2212{-self._ago_s:.0f} s", "accent", RIGHT, heavy=True)
