"""The card with the path drawn from the data; the values at the hairline follow it."""

from PySide6.QtCore import QEvent, QRectF, QSize
from PySide6.QtGui import QHelpEvent, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QToolTip, QWidget

from ....core.document.channel import WiredChannel
from ....core.job.job import Job
from ...centre.sight import Sight
from ...frame.plain_text import tip
from ...frame.theme import Theme, font
from .content import WireContent, content_or_refusal
from .picture import fault_spot, height_of, layout_in, paint_hairline_row, paint_still

_REACH = 12


class WireDrawing(QWidget):
    """The path of one channel. Nothing is drawn by hand: it is what was described."""

    def __init__(self, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self._sight, self._theme = sight, theme
        self._content: WireContent | None = None
        self._refusal = ""
        self._still: QPixmap | None = None
        self.setAccessibleName("Signal path")
        sight.moved.connect(self._follow)

    def show_channel(self, job: Job, channel: WiredChannel, theme: Theme) -> None:
        """Show a channel's path as it now is."""
        self._theme = theme
        found = content_or_refusal(job, channel)
        self._content = None if isinstance(found, str) else found
        self._refusal = found if isinstance(found, str) else ""
        self.setMinimumHeight(int(height_of(found)) if not isinstance(found, str) else 60)
        self._still = None
        self._describe()
        self.updateGeometry()
        self.update()

    def _describe(self) -> None:
        content = self._content
        if content is None:
            self.setAccessibleDescription(self._refusal)
            return
        titles = [f"{node.title} {node.unit}" for node in content.nodes]
        rows = [f"{title}: {', '.join(texts)}" for title, texts in content.rows]
        self.setAccessibleDescription(f"{' → '.join(titles)}. {'; '.join(rows)}. {content.terminal}. {content.back}")

    @property
    def content(self) -> WireContent | None:
        """What is drawn."""
        return self._content

    def sizeHint(self) -> QSize:
        return QSize(600, self.minimumHeight())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._still = None

    def _follow(self) -> None:
        if self._content is not None and self.isVisible():
            self.update()

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self._content is not None:
            layout = layout_in(QRectF(self.rect()), self._content)
            for n, node in enumerate(self._content.nodes):
                away = fault_spot(layout, self._content, n) - event.pos().toPointF()
                if node.worst and abs(away.x()) < _REACH and abs(away.y()) < _REACH:
                    QToolTip.showText(event.globalPos(), tip(node.tip), self)
                    return True
        return super().event(event)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self._content is None:
            painter.setFont(font(13))
            painter.setPen(self._theme.color("red"))
            painter.drawText(self.rect().adjusted(12, 8, -12, -8), 0x1000, self._refusal)  # word wrap
            painter.end()
            return
        if self._still is None:
            self._still = self._painted(self._content)
        painter.drawPixmap(0, 0, self._still)
        texts = self._content.at(self._sight.pin)
        paint_hairline_row(painter, QRectF(self.rect()), self._content, texts, self._theme)
        painter.end()

    def _painted(self, content: WireContent) -> QPixmap:
        ratio = self.devicePixelRatioF()
        still = QPixmap(self.size() * ratio)
        still.setDevicePixelRatio(ratio)
        still.fill(self._theme.color("paper"))
        painter = QPainter(still)
        paint_still(painter, QRectF(self.rect()), content, self._theme)
        painter.end()
        return still


class WireCard(QScrollArea):
    """The drawing, which scrolls where the window is low."""

    def __init__(self, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self.setWidgetResizable(True)
        self.drawing = WireDrawing(sight, theme)
        self.setWidget(self.drawing)
