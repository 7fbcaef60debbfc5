"""The page as it will be signed, or as it was: drawn as on paper, in the colours of the screen."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from ....core.document.channel import SignableChannel
from ....core.job.people import person_of
from ....core.results.signed_basis import changed_since_signed, signatures_of
from ....core.sign.blocks import PrintedSheet
from ....core.sign.contents import Signing, draft_of
from ....core.sign.sheet import sheet_of
from ....core.words.errors import YardstickError
from ....files.records.signed import read_record
from ....files.records.signing import next_in_chain, program, records_folder
from ...centre.sight import Sight
from ...frame.theme import Theme
from ...frame.workbench import Workbench, now
from ...paper.page import Colors, Page
from ...paper.typeset import A4, typeset

if TYPE_CHECKING:
    from ....core.sign.chain import LastRecord

_EDGE = 6  # pixels about a page
_CROP = 0.65 * A4.margin  # of the paper's margin, which a screen has no use for
_SEEN = (A4.width - 2 * _CROP, A4.height - 2 * _CROP)


class PageView(QScrollArea):
    """The pages of the channel looked at, as wide as there is room."""

    def __init__(
        self, bench: Workbench, sight: Sight, theme: Theme, last_of: Callable[[SignableChannel], "LastRecord"]
    ) -> None:
        super().__init__()
        self._bench, self._sight, self._last_of = bench, sight, last_of
        self.setWidgetResizable(True)
        self.setObjectName("paper")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("The page as it will be signed")
        self._pages = _Pages(theme)
        self.setWidget(self._pages)
        self.sheet: PrintedSheet | None = None

    def show_channel(self, channel: SignableChannel, theme: Theme) -> None:
        """Show the last record while it holds, else what would be signed now. Raises: YardstickError."""
        self.sheet = self._signed(channel) or self._draft(channel)
        self._pages.show_pages(typeset(self.sheet), theme)
        self.setAccessibleDescription("; ".join(self.sheet.texts[:12]))

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._pages.dress(theme)

    def _draft(self, channel: SignableChannel) -> PrintedSheet:
        job = self._bench.job
        last = self._last_of(channel)
        signing = Signing(
            person_of(job, "technician"), "technician", now(), read_at=self._sight.pin, previous=last.sha256,
            number=last.number + 1,
        )  # fmt: skip
        return sheet_of(draft_of(job, channel, next_in_chain(job, channel, signing), program()))

    def _signed(self, channel: SignableChannel) -> PrintedSheet | None:
        """The last record as it was signed; None where it no longer holds, or its file is not there."""
        job, path = self._bench.job, self._bench.path
        signed = signatures_of(job, channel)
        if path is None or not signed or changed_since_signed(job, channel):
            return None
        try:
            record = read_record(records_folder(path) / signed[-1].file)
        except YardstickError:
            return None
        return sheet_of(record["record"], record["sha256"], record["signatures"])


class _Pages(QWidget):
    """Draws pages one below the other."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._drawn: list[Page] = []

    def show_pages(self, pages: list[Page], theme: Theme) -> None:
        """Show other pages."""
        self._drawn, self._theme = pages, theme
        self._fit()
        self.update()

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self.update()

    @property
    def _scale(self) -> float:
        return max(self.width() - 2 * _EDGE, 100) / _SEEN[0]

    def _fit(self) -> None:
        height = round(len(self._drawn) * (self._scale * _SEEN[1] + 2 * _EDGE))
        if height != self.minimumHeight():
            self.setMinimumHeight(height)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def sizeHint(self) -> QSize:
        return QSize(600, self.minimumHeight())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        theme, scale = self._theme, self._scale
        colors = Colors(theme.color("ink"), theme.color("paper"))
        step = scale * _SEEN[1] + 2 * _EDGE
        for number, page in enumerate(self._drawn):
            top = number * step + _EDGE
            if top > event.rect().bottom() or top + step < event.rect().top():
                continue
            painter.save()
            painter.translate(_EDGE, top)
            painter.scale(scale, scale)
            painter.fillRect(0, 0, round(_SEEN[0]), round(_SEEN[1]), colors.paper)
            painter.translate(-_CROP, -_CROP)
            page.draw(painter, colors)
            painter.restore()
        painter.end()
