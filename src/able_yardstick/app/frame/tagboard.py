"""The tagboard: one card a channel, with what is live or its last reading, its progress and its state."""

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QFocusEvent,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QHBoxLayout, QMenu, QScrollArea, QToolButton, QVBoxLayout, QWidget

from ...core.document.alarm import AlarmKind
from ...core.document.channel import AnyChannel, ContinuousChannel
from ...core.job.job import Job
from ...core.state.progress import GRADUATIONS, ChannelState, StepProgress, state_of
from ...core.words.errors import YardstickError
from ...core.words.numerals import counted
from .card_text import CardText, card_text, text_at
from .flag_mark import AlarmFlag, draw_flag
from .plain_text import PlainLabel, tip
from .state_mark import draw_state
from .theme import Theme, bold, font
from .widgets import discard
from .workbench import Workbench, now

if TYPE_CHECKING:
    from .live import LiveBench

CARD_HEIGHT = 62
_LAID_OUT_MS = 40  # by then a new card has its place
_APART = 52  # of a card: its edges, the flag, and what keeps words apart


class Card(QWidget):
    """One channel. Press it, or go to it with the arrow keys."""

    chosen = Signal(str)
    moved = Signal(int)
    menu_wanted = Signal(str, QPoint)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._channel: AnyChannel | None = None
        self._progress: tuple[StepProgress, ...] = ()
        self._state = ChannelState("open", "")
        self._text: CardText | None = None
        self._live: CardText | None = None
        self._shown: tuple[object, ...] = (None, None, None, None)
        self._selected = False
        self.setFixedHeight(CARD_HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def select(self, selected: bool) -> None:
        """Mark the card as that of the channel looked at.

        One card at a time is in the tab order: the arrow keys go from card to card.
        """
        if selected == self._selected:
            return
        self._selected = selected
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if selected else Qt.FocusPolicy.ClickFocus)
        self.update()

    def show_channel(self, job: Job, channel: AnyChannel, steps: tuple[StepProgress, ...], theme: Theme) -> None:
        """Show a channel as it stands; nothing is done where it shows all that already."""
        text = card_text(job, channel)
        shown = (channel, steps, text, theme)
        if all(one is other for one, other in zip(shown, self._shown, strict=True)):
            return
        self._shown = shown
        self._channel, self._theme = channel, theme
        self._progress, self._state = steps, state_of(steps)
        self._text = text
        self.setAccessibleName(f"{channel.tag}, {channel.name}")
        last = f"Last reading {self._text.value} {self._text.unit}".strip()
        self.setAccessibleDescription(f"{self._state.says}. {last}")
        self.setToolTip(tip(f"{channel.tag} {channel.name}\n{last}, {self._text.raw}\n{self._state.says}"))
        self.update()

    def show_live(self, text: CardText | None) -> None:
        """Show what the channel reads now; None once nothing is live."""
        if text != self._live:
            self._live = text
            self.update()

    @property
    def words(self) -> str:
        """The value as it stands on the card, with its unit, and its age where it is not live."""
        text = self._live or self._text
        parts = () if text is None else (text.value, text.unit, "" if self._live else text.age(now()))
        return " ".join(part for part in parts if part)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._channel:
            self.chosen.emit(self._channel.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.moved.emit(1 if event.key() == Qt.Key.Key_Down else -1)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space) and self._channel:
            self.chosen.emit(self._channel.id)
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self._channel:
            self.menu_wanted.emit(self._channel.id, event.globalPos())

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._channel is None or self._text is None:
            return
        theme = self._theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -2.5)
        edge = theme.color("accent" if self._selected else "line")
        painter.setPen(QPen(edge, 2.2 if self.hasFocus() else 1.2 if self._selected else 1))
        painter.setBrush(theme.color("accent_fill" if self._selected else "paper"))
        painter.drawRoundedRect(frame, 5, 5)
        if self._selected:
            painter.fillRect(QRectF(0, 6, 3.5, frame.height() - 12), theme.color("accent"))
        draw_state(painter, theme, self._state.level, QPointF(15, 14))
        self._paint_words(painter)
        self._paint_progress(painter, frame)
        painter.end()

    def _paint_words(self, painter: QPainter) -> None:
        assert self._channel is not None
        assert self._text is not None
        theme, width = self._theme, self.width()
        painter.setPen(theme.color("ink"))
        painter.setFont(bold(13))
        painter.drawText(QPointF(26, 19), self._channel.tag)
        tag_end = 26 + painter.fontMetrics().horizontalAdvance(self._channel.tag)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        room = int(width - tag_end - 18)
        name = painter.fontMetrics().elidedText(self._channel.name, Qt.TextElideMode.ElideRight, room)
        side = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(tag_end + 8, 5, room, 18), side, name)
        text = self._live or self._text
        value = bold(17) if self._live and text.unit else font(13)
        left = QFontMetricsF(value).horizontalAdvance(text.value) + painter.fontMetrics().horizontalAdvance(text.unit)
        right = f"{text.alarms[-1]} alarm" if text.alarms else text.raw
        if text.alarms and left + painter.fontMetrics().horizontalAdvance(right) > width - _APART:
            right = text.alarms[-1]  # the flag beside it says of what
        painter.setPen(theme.color("red" if text.alarms else "muted"))
        painter.drawText(QRectF(width - 128, 27, 118, 18), Qt.AlignmentFlag.AlignRight, right)
        free = width - 18 - painter.fontMetrics().horizontalAdvance(right)
        if self._channel.kind == "continuous" and self._channel.alarms:
            free -= 14
            draw_flag(painter, theme, free + 4, 28, AlarmFlag(0.0, True, bool(text.alarms)), pole=11)
        painter.setPen(theme.color("ink" if text.unit else "muted"))
        painter.setFont(value)
        painter.drawText(QPointF(11, 42), text.value)
        end = 11 + painter.fontMetrics().horizontalAdvance(text.value) + (5 if text.unit else 0)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        age = "" if self._live else text.age(now())
        unit = f"{text.unit}, {age}" if age else text.unit
        has_room = end + painter.fontMetrics().horizontalAdvance(unit) <= free
        painter.drawText(QPointF(end, 42), unit if has_room else text.unit)

    def _paint_progress(self, painter: QPainter, frame: QRectF) -> None:
        """A graduation for each step: long and filled as it is proven, hollow when stale."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        shown = [step for step in self._progress if step.state != "none"]
        if len(shown) < 2:
            return
        width = (frame.width() - 24) / (len(self._progress) - 1)
        for n, step in enumerate(self._progress):
            x, bottom = 11 + n * width, frame.bottom() - 1
            color = self._theme.color({"failed": "red", "stale": "accent"}.get(step.state, "ink"))
            height = 3 + 6 * step.filled / GRADUATIONS
            rect = QRectF(x, bottom - height, 3, height)
            if step.state == "stale":
                painter.setPen(QPen(color, 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(rect)
            else:
                painter.fillRect(rect, color if step.filled else self._theme.color("line"))

    def sizeHint(self) -> QSize:
        return QSize(210, CARD_HEIGHT)


class Tagboard(QWidget):
    """All channels of the job, one under the other."""

    def __init__(self, bench: Workbench, theme: Theme, menu: QMenu, add_menu: QMenu) -> None:
        super().__init__()
        self.setObjectName("desk")
        self._bench, self._theme, self._menu = bench, theme, menu
        self._cards: list[Card] = []
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.setSpacing(6)
        head = QHBoxLayout()
        title = PlainLabel("Tagboard")
        title.setFont(bold(12))
        self._count = PlainLabel()
        self._count.setProperty("role", "muted")
        self._count.setFont(font(12))
        head.addWidget(title)
        head.addWidget(self._count, 1, Qt.AlignmentFlag.AlignRight)
        layout.addLayout(head)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        self._rows = QVBoxLayout(inside)
        self._rows.setContentsMargins(0, 0, 2, 0)
        self._rows.setSpacing(3)
        self._rows.addStretch(1)
        self._area.setWidget(inside)
        layout.addWidget(self._area, 1)
        layout.addWidget(self._add_button(add_menu))
        self.setMinimumWidth(196)
        self.setMaximumWidth(340)

    def _add_button(self, menu: QMenu) -> QToolButton:
        button = QToolButton()
        button.setText("Add a channel  ▾")
        button.setMenu(menu)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        button.setSizePolicy(button.sizePolicy().Policy.Expanding, button.sizePolicy().Policy.Fixed)
        return button

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme

    def refresh(self) -> None:
        """Show the channels as they now are."""
        channels = self._bench.job.channels
        while len(self._cards) < len(channels):
            self._cards.append(self._new_card())
        while len(self._cards) > len(channels):
            discard(self._cards.pop())
        for card, channel in zip(self._cards, channels, strict=True):
            card.show_channel(self._bench.job, channel, self._bench.progress(channel), self._theme)
        self._count.setText(self._summary())
        self._count.setToolTip("Channels; those to look at (◆); those with a fault (■)")
        self.refresh_selection()

    def show_live(self, live: "LiveBench") -> None:
        """Show what each channel with a source reads now; nothing while it is hidden."""
        if self.isHidden():
            return
        job = self._bench.job
        for card, channel in zip(self._cards, job.channels, strict=False):
            card.show_live(_live_text(job, channel, live))

    def refresh_selection(self) -> None:
        """Show which channel is looked at."""
        selected = self._bench.channel
        for card, channel in zip(self._cards, self._bench.job.channels, strict=True):
            card.select(channel is selected)
        if any(card.hasFocus() for card in self._cards):
            self.focus_selected()

    def _summary(self) -> str:
        levels = [state_of(self._bench.progress(channel)).level for channel in self._bench.job.channels]
        parts = [str(len(levels))]
        looks, faults = levels.count("look"), levels.count("fault")
        if looks and faults:  # shapes alone: words for both are wider than the board
            return f"{parts[0]}  ◆ {looks}  ■ {faults}"
        parts += [f"◆ {looks} to look at"] if looks else []
        parts += [f"■ {counted(faults, 'fault')}"] if faults else []
        return "  ".join(parts)

    def _new_card(self) -> Card:
        card = Card(self._theme)
        card.chosen.connect(self._bench.select)
        card.moved.connect(self._go)
        card.menu_wanted.connect(self._open_menu)
        self._rows.insertWidget(self._rows.count() - 1, card)
        return card

    def _go(self, places: int) -> None:
        self._bench.select_next(places)
        self.focus_selected()

    def focus_selected(self) -> None:
        """Put the keyboard on the card of the channel looked at."""
        card = self._selected_card()
        if card is not None:
            card.setFocus()
            self._area.ensureWidgetVisible(card)

    def _selected_card(self) -> Card | None:
        channel = self._bench.channel
        return None if channel is None else self._cards[self._bench.job.channels.index(channel)]

    def show_selected(self) -> None:
        """Scroll to the card of the channel looked at, once it has its place."""
        card = self._selected_card()
        if card is not None:
            QTimer.singleShot(_LAID_OUT_MS, card, lambda: self._area.ensureWidgetVisible(card))

    def _open_menu(self, channel_id: str, place: QPoint) -> None:
        self._bench.select(channel_id)
        self._menu.popup(place)


def _live_text(job: Job, channel: AnyChannel, live: "LiveBench") -> CardText | None:
    """What a channel reads now; words where its source gives nothing; None where it has none."""
    raw = live.raw(channel)
    if raw is None or not isinstance(channel, ContinuousChannel):
        return None
    try:
        pin = None if raw.is_stale else live.pin(channel)
        if pin is None:
            return CardText("no value comes")
        return text_at(job, channel, pin)._replace(alarms=_standing(job, channel, pin))
    except YardstickError:
        return CardText("—")


def _standing(job: Job, channel: ContinuousChannel, pin: float) -> tuple[AlarmKind, ...]:
    """The alarms that stand at a signal; none where nothing says what the controller makes of it."""
    if not channel.alarms:
        return ()
    from ...core.alarms.standing import standing_alarms

    try:
        return standing_alarms(job, channel, pin)
    except YardstickError:
        return ()
