"""What the shop's library keeps, for every bench to start from; taken out, and put back as it was."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.words.errors import YardstickError
from ..panel.fields import Complaint, label
from .shop import Shop

if TYPE_CHECKING:
    from ...files.register.library import KeptEntry
    from ...files.register.store import Register

_LIST_HEIGHT = 84


class LibraryBox(QWidget):
    """The list, and what can be done with the chosen entry."""

    def __init__(self, shop: Shop) -> None:
        super().__init__()
        self._shop = shop
        self._kept: list[KeptEntry] = []
        self._taken: KeptEntry | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.says = label("", "muted", 12)
        self.list = QListWidget()
        self.list.setAccessibleName("The shop's library")
        self.list.setFixedHeight(_LIST_HEIGHT)
        self.list.currentRowChanged.connect(lambda _row: self._show_story())
        self.out = QPushButton("Take the chosen one out")
        self.out.clicked.connect(self.take_out)
        self.back = QPushButton()
        self.back.clicked.connect(self.put_back)
        self.back.hide()
        self.complaint = Complaint()
        for widget in (self.list, self.says, self.out, self.back, self.complaint):
            column.addWidget(widget)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def refresh(self) -> None:
        """Show what is kept now."""
        from ...files.register.library import kept

        try:
            with self._shop.register() as register:
                self._kept = kept(register)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.list.clear()
        for one in self._kept:
            self.list.addItem(QListWidgetItem(f"{one.name} ({one.kind})"))
        self.list.setVisible(bool(self._kept))
        self.out.setVisible(bool(self._kept))
        self._show_story()

    def _show_story(self) -> None:
        one = self._chosen()
        if one is not None:
            self.says.setText(f"From {one.source}; vouched for by {one.vouched}.")
        elif self._kept:
            self.says.setText("Choose one to see where it is from and who vouches for it.")
        else:
            self.says.setText(
                "Nothing is kept yet. Ctrl+K finds “Keep the transducer in the shop's library …” for the channel "
                "looked at."
            )
        self.out.setEnabled(one is not None)

    def _chosen(self) -> "KeptEntry | None":
        row = self.list.currentRow()
        return self._kept[row] if 0 <= row < len(self._kept) else None

    def take_out(self) -> None:
        """Take the chosen entry out; what was started from it stays as it is."""
        from ...files.register.library import take_out

        one = self._chosen()
        if one is None:
            return
        if self._change(lambda register: take_out(register, one)):
            self._taken = one
            self.back.setText(f"Put “{one.name}” back")
            self.back.show()

    def put_back(self) -> None:
        """Keep again what was taken out last."""
        from ...files.register.library import keep

        one = self._taken
        if one is not None and self._change(lambda register: keep(register, one)):
            self._taken = None
            self.back.hide()

    def _change(self, change: "Callable[[Register], None]") -> bool:
        """Change the library; whether it could be, else why not is told."""
        try:
            with self._shop.register() as register:
                change(register)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return False
        self.complaint.setText("")
        self.refresh()
        return True
