"""What is done with whole channels: added from nothing, a kind or the shop's library, copied, moved, set aside."""

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QMessageBox, QWidget

from ...core.document.channel import AnyChannel
from ...core.job.channels import (
    add_axis,
    bring_back,
    duplicate_channel,
    free_tag,
    move_channel,
    new_constant,
    new_continuous,
    new_output,
    new_two_state,
    remove_channel,
)
from ...core.words.errors import YardstickError
from .plain_text import caption
from .widgets import discard
from .workbench import Say, Workbench, new_id

if TYPE_CHECKING:
    from ...core.describe.catalogue import Starter
    from ...core.describe.shop_entry import ShopEntry
    from ..register.shop import Shop


_NEW: dict[str, tuple[str, Callable[[str, str, str], AnyChannel]]] = {  # by the kind: its first tag, and its maker
    "continuous": ("NEW-1", new_continuous),
    "two-state": ("SWITCH-1", new_two_state),
    "constant": ("CONST-1", new_constant),
    "output": ("OUT-1", new_output),
}


class ChannelCommands(QObject):
    """The commands, and the menus they stand in; `begin` goes to the description of a channel that was added."""

    def __init__(
        self, bench: Workbench, shop: Callable[[], "Shop"], begin: Callable[[], None], say: Say, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._bench, self._shop, self._begin, self._say, self._window = bench, shop, begin, say, parent
        self._kinds_menu = self._shop_menu = self._aside_menu = QMenu(parent)

    def fill(self, menu: QMenu, adding: list[QAction], others: list[QAction]) -> None:
        """Put into a menu what adds a channel, from whatever, and then what is done with the one looked at."""
        menu.addActions(adding)
        menu.addSeparator()
        self._kinds_menu = menu.addMenu("Add a transducer of a kind")
        self._kinds_menu.aboutToShow.connect(self._fill_kinds)
        self._shop_menu = menu.addMenu("Add one of the shop's library")
        self._shop_menu.aboutToShow.connect(self._fill_shop)
        self._aside_menu = menu.addMenu("Bring back a channel set aside")
        menu.aboutToShow.connect(self._fill_aside)
        menu.addSeparator()
        menu.addActions(others)

    def _fill_kinds(self) -> None:
        """Generic transducers by group; their list is made when it is first asked for."""
        from ...core.describe.catalogue import groups

        if self._kinds_menu.isEmpty():
            for group, entries in groups().items():
                submenu = self._kinds_menu.addMenu(group)
                for entry in entries:
                    submenu.addAction(entry.title, partial(self.add_from, entry))

    def _fill_shop(self) -> None:
        """The shop's own transducers, as the register has them now."""
        from ...files.register.library import entries

        self._shop_menu.clear()
        try:
            with self._shop().register() as register:
                found = entries(register)
        except YardstickError as error:
            self._shop_menu.addAction(str(error)).setEnabled(False)
            return
        for entry in found:
            words = caption(f"{entry.title}   {entry.source}, vouched for by {entry.vouched_by}")
            self._shop_menu.addAction(words, partial(self.add_shop_entry, entry))
        if not found:
            self._shop_menu.addAction("Nothing is kept yet: see “Keep the transducer …”").setEnabled(False)

    def _fill_aside(self) -> None:
        self._aside_menu.clear()
        aside = self._bench.job.document.set_aside
        self._aside_menu.menuAction().setVisible(bool(aside))
        for one in aside:
            self._aside_menu.addAction(caption(f"{one.tag}  {one.name}".rstrip()), partial(self.bring_back, one.id))

    # -- adding -----------------------------------------------------------------------------------------------------

    def add(self, kind: str) -> None:
        """Add a channel of a kind, and look at its description."""
        wanted, maker = _NEW[kind]
        self._add(wanted, maker)

    def add_from(self, entry: "Starter") -> None:
        """Add a channel of a generic kind, and look at its description."""
        says = f"starts as “{entry.title}”: its figures are assumed until you say where they are from."
        self._add(f"{entry.tag}-1", entry.channel, says)

    def add_shop_entry(self, entry: "ShopEntry") -> None:
        """Add a channel as a copy of what the shop keeps."""
        self._add(f"{entry.tag}-1", entry.channel, f"starts as a copy of “{entry.title}” ({entry.source}).")

    def _add(self, wanted: str, maker: Callable[[str, str, str], AnyChannel], says: str = "") -> None:
        tag = free_tag(self._bench.job, wanted)
        try:
            self._bench.add_channel(f"new channel {tag}", maker(new_id(), new_id(), tag))
        except YardstickError as error:
            self._say(str(error), True)
            return
        self._begin()
        if says:
            self._say(f"{tag} {says}", False)

    def bring_back(self, channel_id: str) -> None:
        """Bring back a channel that was set aside, and look at it."""
        if self._bench.try_edit("channel brought back", lambda job: bring_back(job, channel_id)):
            self._bench.select(channel_id)

    # -- with the channel looked at ---------------------------------------------------------------------------------

    def duplicate(self) -> None:
        """Copy the channel looked at."""
        channel, copy = self._bench.channel, new_id()
        if channel is not None and self._bench.try_edit(
            f"copy of {channel.tag}", lambda job: duplicate_channel(job, channel.id, copy, new_id())
        ):
            self._bench.select(copy)

    def add_axis(self) -> None:
        """Another axis of the device looked at, and look at it."""
        channel, new = self._bench.continuous, new_id()
        if channel is not None and self._bench.try_edit(
            f"another axis of {channel.tag}", lambda job: add_axis(job, channel.id, new)
        ):
            self._bench.select(new)

    def keep_in_library(self) -> None:
        """Keep the transducer of the channel looked at in the shop's library."""
        from ..register.library_dialog import LibraryDialog

        channel = self._bench.continuous
        if channel is None:
            self._say("Choose a channel with a pin: its transducer is what is kept.", True)
            return
        dialog = LibraryDialog(self._shop(), channel, self._window)
        dialog.exec()
        discard(dialog)

    def move(self, places: int) -> None:
        """Move the channel looked at along the tagboard."""
        channel = self._bench.channel
        if channel is not None:
            self._bench.try_edit(f"order of {channel.tag}", lambda job: move_channel(job, channel.id, places))

    def remove(self) -> None:
        """Remove the channel looked at; one with a history is only set aside, once that was agreed to."""
        channel = self._bench.channel
        if channel is None:
            return
        entries = self._bench.job.journal.of(channel.id)
        has_history, count = not entries.is_empty, len(entries.rows.readings)
        kept = f"{channel.tag} has a history ({count} readings), which stays on record. Set the channel aside?"
        if has_history and not self.agreed(kept):
            return
        if self._bench.try_edit(f"removal of {channel.tag}", lambda job: remove_channel(job, channel.id)):
            how = (
                "set aside: find it with Ctrl+K, or undo (Ctrl+Z)" if has_history else "removed. Ctrl+Z brings it back"
            )
            self._say(f"{channel.tag} {how}.", False)

    def agreed(self, question: str) -> bool:
        """Ask, and give whether the answer was yes."""
        yes, no = QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No
        box = QMessageBox(QMessageBox.Icon.Question, "Able Yardstick", "", yes | no, self._window)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(question)
        return box.exec() == yes
