"""Keeping a channel's transducer in the shop's library: what it is called, where it is from, who vouches for it."""

from PySide6.QtWidgets import QWidget

from ...core.describe.shop_entry import entry_of
from ...core.document.channel import ContinuousChannel
from ...core.job.people import person_of
from ..panel.ask_dialog import AskDialog
from .shop import Shop


class LibraryDialog(AskDialog):
    """Asks, and keeps the entry."""

    def __init__(self, shop: Shop, channel: ContinuousChannel, parent: QWidget) -> None:
        about = "Every bench on this register can start a channel from it, as a copy. One with its name is replaced."
        super().__init__("Keep in the shop's library", about, self._take, parent)
        self._shop, self._channel = shop, channel
        self.title = self.add_line("Called", channel.name or channel.tag)
        self.source = self.add_line("Figures from", channel.transducer.source, "data sheet, certificate, who measured")
        self.vouched = self.add_line("Vouched for by", person_of(shop.bench.job, "technician"))

    def _take(self) -> None:
        from ...files.register.library import put_entry

        entry = entry_of(self._channel, self.title.text(), self.source.text(), self.vouched.text())
        with self._shop.register() as register:
            put_entry(register, entry)
        self._shop.say(f"“{entry.title}” is in the shop's library.", False)
