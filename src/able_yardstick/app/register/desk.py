"""The register's desk: its panel and its picture, made when they are first seen."""

from PySide6.QtCore import QObject

from ..frame.theme import Theme
from ..frame.workbench import Change, Workbench
from .panel import RegisterPanel
from .picture import HistoryPicture
from .shop import Shop


class RegisterDesk(QObject):
    """Holds both; another channel that is chosen while they are in sight has its unit looked at."""

    def __init__(self, bench: Workbench, shop: Shop, theme: Theme, parent: QObject) -> None:
        super().__init__(parent)
        self._shop = shop
        self.panel = RegisterPanel(bench, theme, shop)
        self.picture = HistoryPicture(shop, theme)
        bench.changed.connect(self._follow)

    def _follow(self, change: Change) -> None:
        if change.channel and self.panel.isVisible():
            self._shop.look()
