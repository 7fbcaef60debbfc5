"""The links of a job in the centre: how often each gives a value, its gaps, its last minute, and what it feeds."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QPainter, QPaintEvent, QPen, QPolygonF

from ...core.document.output import OutputChannel
from ...core.document.sources import AnySource
from ...core.job.job import Job
from ...core.words.numerals import significant
from ..frame.live import LiveBench
from ..frame.painting import CENTRE, RIGHT, write
from ..frame.side_picture import SideDrawing, SidePicture
from ..frame.state_mark import draw_state
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from .link_rows import WINDOW_S, LinkRow, rows_of

_ROW, _HEAD, _LINE, _MARGIN, _COLUMN = 96.0, 40.0, 26.0, 12.0, 40.0
_NAME, _RATE, _LAST = 176.0, 104.0, 112.0  # widths
_LEVELS = {"off": "open", "connecting": "open", "answering": "ok", "waiting": "fault"}
_ROLES = ("raw", "shown", "reference", "meter", "alarms")
_SIGNS = {
    "raw": "▼ raw",
    "shown": "□ shown by the controller",
    "reference": "○ reference",
    "meter": "◇ meter",
    "alarms": "⚑ alarms",
}
_ENOUGH = 0.95  # of what was asked for


class LinksPicture(SidePicture):
    """Drawn anew four times a second while it is seen."""

    def __init__(self, bench: Workbench, live: LiveBench, theme: Theme) -> None:
        self._links = _Drawing(bench, live, theme)
        super().__init__(self._links, "The links of this job")
        live.slow_ticked.connect(self.show_now)
        live.connected.connect(lambda _on: self.show_now())

    @property
    def rows(self) -> tuple[LinkRow, ...]:
        """What is drawn."""
        return self._links.rows


class _Drawing(SideDrawing):
    def __init__(self, bench: Workbench, live: LiveBench, theme: Theme) -> None:
        super().__init__(theme)
        self._bench, self._live = bench, live
        self.rows: tuple[LinkRow, ...] = ()

    def show_now(self) -> None:
        channel = self._bench.channel
        self.rows = rows_of(self._bench.job, self._live, channel.id if channel else "")
        self.setMinimumHeight(round(_HEAD + len(self.rows) * _ROW + 80 + _LINE * (len(self.rows) + 1)))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(640, self.minimumHeight())

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.theme.color("desk"))
        self._paint_head(painter)
        for n, row in enumerate(self.rows):
            self._paint_row(painter, row, QRectF(_MARGIN, _HEAD + n * _ROW, self.width() - 2 * _MARGIN, _ROW - 6))
        if self.rows:
            top = _HEAD + len(self.rows) * _ROW + 4
            self._paint_feeds(painter, QRectF(_MARGIN, top, self.width() - 2 * _MARGIN, self.height() - top - 8))
        painter.end()

    def _trace_room(self) -> tuple[float, float]:
        return _MARGIN + _NAME + _RATE + 54, self.width() - _MARGIN - _LAST

    def _paint_head(self, painter: QPainter) -> None:
        left, right = self._trace_room()
        write(painter, self.theme, QRectF(_MARGIN + 12, 8, _NAME, 24), "Link", "muted")
        write(painter, self.theme, QRectF(_MARGIN + _NAME, 8, _RATE, 24), "given, asked", "muted")
        for ago in (60, 40, 20, 0):
            x = right - (right - left) * ago / WINDOW_S
            words = f"\u2212{ago} s" if ago else "now"
            write(painter, self.theme, QRectF(x - 30, 8, 60, 24), words, "muted", CENTRE)
        write(painter, self.theme, QRectF(right, 8, _LAST - 12, 24), "last value", "muted", RIGHT)

    def _paint_row(self, painter: QPainter, row: LinkRow, place: QRectF) -> None:
        theme, top = self.theme, place.top()
        painter.setPen(theme.color("line"))
        painter.setBrush(theme.color("paper"))
        painter.drawRoundedRect(place.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
        standing = "off" if row.status is None else row.status.standing
        level = _LEVELS[standing]
        slow = row.share is not None and standing == "answering" and row.share < _ENOUGH
        draw_state(painter, theme, "look" if slow or row.gaps else level, QPointF(place.left() + 14, top + 18), 4.5)
        x, wide = place.left() + 26, _NAME - 34
        write(painter, theme, QRectF(x, top + 8, wide, 20), row.source.name, "ink", heavy=True, size=13)
        write(painter, theme, QRectF(x, top + 29, wide, 18), row.source.title, "muted")
        write(painter, theme, QRectF(x, top + 47, wide, 18), row.source.address, "muted")
        words, colour = _standing_words(row, standing, slow)
        write(painter, theme, QRectF(x, top + 66, wide, 18), words, colour, heavy=colour != "muted")
        self._paint_rate(painter, row, place.left() + _NAME, top, slow)
        self._paint_trace(painter, row, top)
        self._paint_last(painter, row, place)

    def _paint_rate(self, painter: QPainter, row: LinkRow, x: float, top: float, slow: bool) -> None:
        theme, wide = self.theme, _RATE - 16
        given = significant(row.given_hz, 3) if row.status is not None else "—"
        write(painter, theme, QRectF(x, top + 8, wide, 20), given, "ink", heavy=True, size=13)
        asked = "a second" if row.asked_hz is None else f"of {significant(row.asked_hz, 3)} / s"
        write(painter, theme, QRectF(x, top + 29, wide, 18), asked, "muted")
        if row.asked_hz is None:
            write(painter, theme, QRectF(x, top + 47, wide, 18), "as they come", "muted")
            return
        painter.fillRect(QRectF(x, top + 51, wide, 9), theme.color("faint"))
        share = row.share or 0.0
        painter.fillRect(QRectF(x, top + 51, wide * share, 9), theme.color("amber" if slow else "teal"))
        said = "" if row.status is None or row.share is None else f"{share:.0%}, {row.status.lost} lost"
        write(painter, theme, QRectF(x, top + 66, wide, 18), said, "muted")

    def _paint_trace(self, painter: QPainter, row: LinkRow, top: float) -> None:
        theme = self.theme
        left, right = self._trace_room()
        box = QRectF(left, top + 10, right - left, _ROW - 28)
        painter.fillRect(box, theme.color("desk"))
        for gap in row.gaps:
            a, b = (right + (right - left) * at / WINDOW_S for at in (max(gap.begin_s, -WINDOW_S), gap.end_s))
            hatched = QRectF(a, box.top(), max(b - a, 2.0), box.height())
            painter.fillRect(hatched, QBrush(theme.color("red"), Qt.BrushStyle.DiagCrossPattern))
            words = f"{significant(gap.end_s - gap.begin_s, 2)} s"
            write(painter, theme, QRectF(a - 40, box.top() - 2, 80, 16), words, "red", CENTRE)
        if len(row.values) < 2:
            write(painter, theme, box, "no values yet" if row.status is not None else "", "muted", CENTRE)
            return
        low, high = float(row.values.min()), float(row.values.max())
        pad = (high - low) * 0.1 or abs(high) * 0.01 or 1.0
        across, up = (right - left) / WINDOW_S, box.height() / (high - low + 2 * pad)
        points = [
            QPointF(right + across * t, box.bottom() - up * (v - low + pad))
            for t, v in zip(row.times_s.tolist(), row.values.tolist(), strict=True)
        ]
        painter.setPen(QPen(theme.color("teal"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))
        for text, y in ((significant(high, 4), box.top()), (significant(low, 4), box.bottom() - 14)):
            write(painter, theme, QRectF(left - 54, y - 2, 49, 18), text, "muted", RIGHT)

    def _paint_last(self, painter: QPainter, row: LinkRow, place: QRectF) -> None:
        theme = self.theme
        at = QRectF(place.right() - _LAST + 8, place.top(), _LAST - 20, 20)
        if len(row.values):
            last = significant(float(row.values[-1]), 5)
            write(painter, theme, at.translated(0, 8), last, "ink", RIGHT, heavy=True, size=15)
            write(painter, theme, at.translated(0, 31), row.unit, "muted", RIGHT)
        write(painter, theme, at.translated(0, 66 if not len(row.values) else 49), row.feed, "muted", RIGHT)

    # -- what feeds which channel -----------------------------------------------------------------------------------

    def _paint_feeds(self, painter: QPainter, place: QRectF) -> None:
        theme, job = self.theme, self._bench.job
        painter.setPen(theme.color("line"))
        painter.setBrush(theme.color("paper"))
        high = 68 + _LINE * len(self.rows)
        painter.drawRoundedRect(QRectF(place.left() + 0.5, place.top() + 0.5, place.width() - 1, high), 5, 5)
        write(painter, theme, QRectF(place.left() + 12, place.top() + 6, _NAME, 20), "What feeds which channel", "ink",
              heavy=True, size=13)  # fmt: skip
        key = "   ".join(_SIGNS.values())
        write(painter, theme, QRectF(place.left() + 190, place.top() + 6, place.width() - 200, 20), key, "muted")
        begin = place.left() + _NAME - 20
        room = max(int((place.right() - begin - 8) // _COLUMN), 1)
        shown = _channels_shown(job, room)
        for n, (_key, tag) in enumerate(shown):
            at = QRectF(begin + n * _COLUMN, place.top() + 28, _COLUMN, 16)
            first, _, second = tag.partition("-")
            write(painter, theme, at, first, "muted", CENTRE)
            write(painter, theme, at.translated(0, 15), second, "muted", CENTRE)
        for line, row in enumerate(self.rows):
            y = place.top() + 62 + line * _LINE
            write(painter, theme, QRectF(place.left() + 12, y, _NAME - 40, _LINE), row.source.name, "ink")
            for n, (key, _tag) in enumerate(shown):
                signs = feed_signs(row.source, key)
                at = QRectF(begin + n * _COLUMN, y, _COLUMN, _LINE)
                write(painter, theme, at, signs or "·", "teal" if signs else "muted", CENTRE)


def _standing_words(row: LinkRow, standing: str, slow: bool) -> tuple[str, str]:
    if not row.source.enabled:
        return "switched off", "muted"
    if row.gaps:
        return f"{len(row.gaps)} gap{'s' if len(row.gaps) > 1 else ''} in this minute", "accent"
    if standing == "answering" and not row.given_hz:
        return "answers, no value now", "muted"
    if slow:
        return "slower than asked", "accent"
    words = {"off": "not connected", "connecting": "connecting …", "answering": "answers", "waiting": "does not answer"}
    return words[standing], "red" if standing == "waiting" else "muted"


def _channels_shown(job: Job, room: int) -> list[tuple[str, str]]:
    """The channels that there is room for, those that a source gives anything of first; ids and tags."""
    fed = {feed.channel for source in job.sources for feed in source.every_feed}
    known = [channel for channel in job.channels if channel.id in fed or not isinstance(channel, OutputChannel)]
    ordered = sorted(known, key=lambda channel: channel.id not in fed)[:room]
    kept = {channel.id for channel in ordered}
    return [(channel.id, channel.tag) for channel in job.channels if channel.id in kept]


def feed_signs(source: AnySource, channel_id: str) -> str:
    """What a source gives of a channel, as signs."""
    roles = {feed.role for feed in source.every_feed if feed.channel == channel_id}
    return "".join(_SIGNS[role][0] for role in _ROLES if role in roles)
