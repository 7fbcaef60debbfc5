"""A label for the sensor: tag, serial, days, numbers, and the record's hash as a QR code."""

from typing import Any

from PySide6.QtCore import QRectF, Qt

from .page import Fill, Page, Style, Text, rectangle
from .typeset import Paper

LABEL = Paper("Label 62 x 29 mm", 1757.0, 822.0, 40.0)
_QR, _EDGE = 700.0, 50.0
_TAG, _BOLD, _PLAIN, _SMALL = Style(130, True), Style(74, True), Style(70), Style(64)
_MOST_NUMBERS = 3


def label_page(sealed: dict[str, Any], due: str = "") -> Page:
    """The label of a sealed record."""
    record, page = sealed["record"], Page()
    left, width = 2 * _EDGE + _QR, LABEL.width - 3 * _EDGE - _QR
    page.drawn += _code(sealed["sha256"])
    unit, channel = record.get("unit") or {}, record["channel"]
    lines = [
        (channel["tag"], _TAG, 170.0),
        (channel["name"], _PLAIN, 98.0),
        (f"serial {unit.get('serial') or 'not stated'}", _BOLD, 98.0),
        (f"signed {record['signed'][:10]}", _PLAIN, 98.0),
    ]
    lines += [(f"due {due}", _BOLD, 98.0)] if due else []
    lines += [(words, _SMALL, 85.0) for words in _numbers(record)]
    y = _EDGE
    for text, style, height in lines:
        if y + height > LABEL.height:
            break
        page.drawn.append(Text(QRectF(left, y, width, height), _fitted(text, style, width), style))
        y += height
    return page


def _fitted(text: str, style: Style, width: float) -> str:
    return style.metrics.elidedText(text, Qt.TextElideMode.ElideRight, width)


def _numbers(record: dict[str, Any]) -> list[str]:
    """The first of the numbers that are in the controller."""
    rows = (record.get("numbers") or {}).get("rows", [])[:_MOST_NUMBERS]
    return [" ".join(f"{cell:.6g}" if isinstance(cell, float) else str(cell) for cell in row) for row in rows]


def _code(sha256: str) -> list[Fill]:
    """The QR code of a hash (ISO/IEC 18004), in its square."""
    import segno

    matrix = segno.make(f"sha256:{sha256}", error="m", micro=False).matrix
    size = _QR / (len(matrix) + 2)
    return [
        Fill(rectangle(_EDGE + (x + 1) * size, _EDGE + (y + 1) * size, size * 1.02, size * 1.02), 0.0)
        for y, row in enumerate(matrix)
        for x, dark in enumerate(row)
        if dark
    ]
