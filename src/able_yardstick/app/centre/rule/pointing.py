"""Pressing, dragging and the wheel on anything that stands on the shared axis."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from ..sight import Sight
from .layout import GUTTER, ends_of

_GRIP_REACH = 10  # pixels left of the axis that still take hold of it


def point(widget: QWidget, sight: Sight, event: QMouseEvent) -> bool:
    """Move the hairline to where the left button is held; gives whether it was."""
    if not event.buttons() & Qt.MouseButton.LeftButton or event.position().x() < GUTTER - _GRIP_REACH:
        return False
    sight.set_pin(ends_of(widget, sight).signal(event.position().x()))
    return True


def look_closer(sight: Sight, event: QWheelEvent) -> None:
    """The wheel shows a narrower or a wider stretch about the hairline."""
    turned = event.angleDelta().y()
    if turned:
        sight.zoom(0.8 if turned > 0 else 1.25)
    event.accept()
