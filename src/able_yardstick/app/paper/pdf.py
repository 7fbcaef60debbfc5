"""Pages into a PDF, with a record attached inside it."""

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from ...core.words.errors import BadTable
from ...files.output import put_bytes
from .page import Page
from .typeset import Paper

_DPI = 720  # one unit of a page is a dot
_POINT = 10.0  # units


def pdf_of(pages: Sequence[Page], paper: Paper, title: str, attached: tuple[str, bytes] | None = None) -> bytes:
    """The bytes of a PDF; `attached` is a file's name and its bytes."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(_DPI)
    size = QPageSize(QSizeF(paper.width / _POINT, paper.height / _POINT), QPageSize.Unit.Point, paper.name)
    writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
    writer.setTitle(title)
    writer.setCreator("Able Yardstick")
    if attached is not None:
        name, data = attached
        writer.addFileAttachment(name, data, "application/json")
    painter = QPainter(writer)
    for number, page in enumerate(pages):
        if number:
            writer.newPage()
        page.draw(painter)
    painter.end()
    buffer.close()
    return bytes(buffer.data().data())


def save_pdf(path: Path, data: bytes) -> None:
    """Write a PDF that is not there yet. Raises: BadTable."""
    if path.exists():
        raise BadTable(f"{path} is there already: it is not written over. Choose another name.")
    put_bytes(path, data)
