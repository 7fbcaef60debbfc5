"""Whose keys the shop trusts, in which role; one's own key, to be given to others."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.words.errors import YardstickError
from ..panel.fields import ChoiceField, Complaint, TextField, label
from .shop import Shop

_ROLES = (("technician", "technician"), ("approver", "approver"), ("", "any role"))
_LIST_HEIGHT = 84


class KeysBox(QWidget):
    """The list, and a row to add to it."""

    def __init__(self, shop: Shop) -> None:
        super().__init__()
        self._shop, self._name, self._role, self._key = shop, "", "technician", ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.own = label("", "muted", 12)
        self.own.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.list = QListWidget()
        self.list.setAccessibleName("Keys that are trusted")
        self.list.setFixedHeight(_LIST_HEIGHT)
        self.name = TextField("Name", self._put_name, hint="whose it is", optional=True)
        self.role = ChoiceField("Signs as", _ROLES, self._put_role)
        self.key = TextField("Public key", self._put_key, hint="44 characters", optional=True)
        self.add = QPushButton("Trust this key")
        self.add.clicked.connect(self.trust)
        self.drop = QPushButton("Trust the chosen one no longer")
        self.drop.clicked.connect(self.distrust)
        self.complaint = Complaint()
        for widget in (self.own, self.list, self.name, self.role, self.key, self.add, self.drop, self.complaint):
            column.addWidget(widget)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def _put_name(self, text: str) -> None:
        self._name = text.strip()

    def _put_role(self, role: str) -> None:
        self._role = role

    def _put_key(self, text: str) -> None:
        self._key = text.strip()

    def refresh(self) -> None:
        """Show one's own key, and whose are trusted."""
        from ...files.records.keys import is_locked, key_folder, read_key
        from ...files.register.trust import trusted_in

        try:
            folder = key_folder()
            own = "locked by its passphrase" if is_locked(folder) else read_key(folder).public
            self.own.setText(f"Your own key: {own}")
            with self._shop.register() as register:
                rows = trusted_in(register)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.list.clear()
        for one in rows:
            item = QListWidgetItem(f"{one.name}, {one.role or 'any role'}: {one.key[:12]}…")
            item.setData(Qt.ItemDataRole.UserRole, one.key)
            self.list.addItem(item)
        if not rows:
            self.list.addItem("No key is trusted yet: a signature then says only that nothing was changed.")

    def trust(self) -> None:
        """Trust the key that was typed."""
        from ...core.words.errors import BadTable
        from ...files.register.trust import trust_in

        try:
            if not self._name:
                raise BadTable("Say whose key it is.")
            with self._shop.register() as register:
                trust_in(register, self._name, self._key, self._role)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self._shop.say(f"The key of {self._name} is trusted by every bench on this register.", False)
        self.refresh()

    def distrust(self) -> None:
        """Trust the key chosen in the list no longer."""
        from ...files.register.trust import distrust

        chosen = self.list.currentItem()
        key = None if chosen is None else chosen.data(Qt.ItemDataRole.UserRole)
        if not key:
            self.complaint.setText("Choose a key in the list first.")
            return
        try:
            with self._shop.register() as register:
                distrust(register, str(key))
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.refresh()
