"""The curve over its errors: a straight line takes less room than what it is off by, a bent curve more."""

from collections.abc import MutableMapping
from typing import Literal

from PySide6.QtCore import QByteArray, Qt
from PySide6.QtWidgets import QSplitter, QWidget

Bend = Literal["straight", "bent"]
_SHARES: dict[Bend, tuple[int, int]] = {"straight": (130, 390), "bent": (300, 220)}


class PlotSplitter(QSplitter):
    """Two plots. Where a person draws the line between them is kept apart for straight and for bent curves."""

    def __init__(self, curve: QWidget, errors: QWidget, kept: MutableMapping[Bend, QByteArray]) -> None:
        super().__init__(Qt.Orientation.Vertical)
        self._kept = kept
        self._bend: Bend | None = None
        self.setHandleWidth(6)
        self.setChildrenCollapsible(False)
        self.setStyleSheet("QSplitter::handle { background: transparent; }")
        for widget in (curve, errors):
            self.addWidget(widget)
        self.splitterMoved.connect(self._keep)

    def show_bend(self, bend: Bend) -> None:
        """Give the plots the room that such a curve needs."""
        if bend == self._bend:
            return
        self._bend = bend
        kept = self._kept.get(bend)
        if kept is None or not self.restoreState(kept):
            self.setSizes(list(_SHARES[bend]))

    def _keep(self) -> None:
        if self._bend is not None:
            self._kept[self._bend] = self.saveState()
