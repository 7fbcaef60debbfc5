"""Text as it was written: what a person typed, or a wire brought, is never read as markup or as a shortcut."""

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget


class PlainLabel(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def tip(text: str) -> str:
    """A text for a tip, which Qt would read as markup where it looks like some."""
    return f"<p>{escape(text)}</p>".replace("\n", "<br>") if "<" in text else text


def caption(text: str) -> str:
    """A text for a button or a menu, where a lone & would mark a shortcut."""
    return text.replace("&", "&&")
