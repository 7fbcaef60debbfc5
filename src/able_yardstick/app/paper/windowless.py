"""What drawing needs where there is no window."""

import os

from PySide6.QtGui import QGuiApplication

_held: list[QGuiApplication] = []  # gone with it were every font


def ready_to_draw() -> None:
    """Have an application that can measure and draw texts; one that is there already is left as it is."""
    if QGuiApplication.instance() is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        _held.append(QGuiApplication(["able-yardstick"]))
