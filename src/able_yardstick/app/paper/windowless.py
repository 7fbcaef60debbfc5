"""What drawing needs where there is no window."""

import os

from PySide6.QtWidgets import QApplication

_held: list[QApplication] = []  # gone with it were every font


def ready_to_draw() -> None:
    """Have an application that can measure and draw texts; one that is there already is left as it is."""
    if QApplication.instance() is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        _held.append(QApplication(["able-yardstick"]))
