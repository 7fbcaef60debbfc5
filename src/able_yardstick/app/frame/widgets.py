"""Small helpers for widgets."""

from PySide6.QtWidgets import QWidget


def discard(widget: QWidget) -> None:
    """Take a widget away now; Qt frees it when it next can."""
    widget.hide()
    widget.deleteLater()
