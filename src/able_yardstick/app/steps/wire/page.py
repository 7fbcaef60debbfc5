"""The wiring list as a drawn page: each channel's path and its leads, for the technician's folder."""

from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from ....core.document.channel import WiredChannel
from ....core.job.job import Job
from ....core.wire.landing import WiringRow, landed, wired_channels, wiring_rows
from ....core.words.errors import BadTable
from ...frame.theme import DAY, bold, font
from .content import WireContent, content_or_refusal
from .picture import ROW, height_of, paint_still

_WIDTH = 1000.0  # of a page, in the units that are drawn in
_ROW = 19.0
_GAP = 26.0
_COLUMNS = (("Headline", 0.0), ("Colour", 130.0), ("Strip", 240.0), ("Connector", 320.0), ("Channel", 420.0),
            ("Register", 500.0), ("Shield", 590.0), ("Note", 760.0))  # fmt: skip


def save_wiring_pdf(path: Path, job: Job) -> None:
    """Write the page or pages. Raises: BadTable if nothing is wired, or the file cannot be written."""
    wired = [channel for channel in wired_channels(job) if landed(job, channel) is not None]
    if not wired:
        raise BadTable("No channel is landed on a terminal yet: there is no wiring to list.")
    try:
        path.touch()
    except OSError as error:
        raise BadTable(f"{path} cannot be written: {error.strerror or error}. Choose another place.") from error
    writer = QPdfWriter(str(path))
    writer.setTitle(f"Wiring of {job.title}")
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageOrientation(QPageLayout.Orientation.Portrait)
    writer.setPageMargins(QMarginsF(14, 14, 14, 14), QPageLayout.Unit.Millimeter)
    writer.setResolution(144)
    painter = QPainter(writer)
    size = QSizeF(writer.width(), writer.height())
    scale = size.width() / _WIDTH
    painter.scale(scale, scale)
    _paint_pages(painter, writer, job, wired, size.height() / scale)
    painter.end()


def _paint_pages(painter: QPainter, writer: QPdfWriter, job: Job, wired: list[WiredChannel], page: float) -> None:
    y = _paint_title(painter, job)
    for channel in wired:
        content, rows = content_or_refusal(job, channel), wiring_rows(job, channel)
        drawn = 0.0 if isinstance(content, str) else height_of(content) - ROW
        needed = 30 + drawn + _ROW * (len(rows) + 1) + _GAP
        if y + needed > page:
            writer.newPage()
            y = 0.0
        y = _paint_channel(painter, channel, content, rows, y)


def _paint_title(painter: QPainter, job: Job) -> float:
    painter.setFont(bold(20))
    painter.setPen(DAY.color("ink"))
    painter.drawText(QRectF(0, 0, _WIDTH, 28), Qt.AlignmentFlag.AlignVCenter, f"Wiring: {job.title}")
    painter.setFont(font(12))
    painter.setPen(DAY.color("muted"))
    names = ", ".join(f"{one.name} {one.revision}".strip() for one in job.controllers)
    painter.drawText(QRectF(0, 28, _WIDTH, 18), Qt.AlignmentFlag.AlignVCenter, f"{names}; job revision {job.revision}")
    return 58.0


def _paint_channel(
    painter: QPainter, channel: WiredChannel, content: WireContent | str, rows: list[WiringRow], top: float
) -> float:
    painter.setFont(bold(15))
    painter.setPen(DAY.color("ink"))
    painter.drawText(QRectF(0, top, _WIDTH, 22), Qt.AlignmentFlag.AlignVCenter, f"{channel.tag}  {channel.name}")
    y = top + 24
    if not isinstance(content, str):
        painter.save()
        painter.translate(0, y)
        paint_still(painter, QRectF(0, 0, _WIDTH, height_of(content)), content, DAY, hairline=False)
        painter.restore()
        y += height_of(content) - ROW
    painter.setFont(bold(11))
    for title, x in _COLUMNS:
        painter.drawText(QRectF(x, y, 200, _ROW), Qt.AlignmentFlag.AlignVCenter, title)
    painter.setFont(font(12))
    for n, row in enumerate(rows, 1):
        painter.setPen(QPen(DAY.color("faint"), 1))
        painter.drawLine(0, int(y + n * _ROW), int(_WIDTH), int(y + n * _ROW))
        painter.setPen(DAY.color("ink"))
        for (_, x), text in zip(_COLUMNS, _cells(row), strict=True):
            painter.drawText(QRectF(x, y + n * _ROW, _WIDTH - x, _ROW), Qt.AlignmentFlag.AlignVCenter, text)
    return y + _ROW * (len(rows) + 1) + _GAP


def _cells(row: WiringRow) -> Iterator[str]:
    colour = row.colour or "—"
    yield from (row.function, colour, row.strip, row.connector, row.channel, row.register, row.shield, row.note)
