"""A controller described in the program: its name and a table of its terminals, typed or pasted from its manual."""

import re

from PySide6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ....core.document.controller import Controller, Terminal
from ....core.wire.pin_table import COLUMNS, rows_from, terminal_of, texts_of
from ....core.words.errors import BadTable, YardstickError
from ....files.tables import parse_grid
from ...frame.plain_text import tip
from ...panel.fields import Complaint, Entry, label

_HELP = (
    "One row a terminal. Takes: 0 to 5 V; ±10 V; 4 to 20 mA, 250 Ω; 0 to 400 Ω; 0 to 1 kHz; contact, 24 V, several "
    "with semicolons; an output gives 0 to 20 mA, counts 0 to 4000. Ctrl+V takes a table with headings from a manual "
    "or a spreadsheet."
)


class ControllerEditor(QDialog):
    """Asks for a controller's description; `controller` is the one to keep once it was accepted."""

    def __init__(self, controller: Controller, parent: QWidget, *, keeps: bool = True) -> None:
        super().__init__(parent)
        self.controller = controller
        self._before = {terminal.id: terminal for terminal in controller.terminals}
        self.kept_for_others = False
        self.setWindowTitle("A controller and its terminals")
        self.resize(980, 560)
        column = QVBoxLayout(self)
        form = QFormLayout()
        self.entries = {name: Entry() for name in ("name", "revision", "note")}
        for name, words in (("name", "Name"), ("revision", "Revision"), ("note", "Remark")):
            self.entries[name].setText(getattr(controller, name))
            self.entries[name].setAccessibleName(words)
            form.addRow(words, self.entries[name])
        column.addLayout(form)
        column.addWidget(label(_HELP, "muted", 12))
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setHorizontalHeaderLabels([one.title for one in COLUMNS])
        self.table.setAccessibleName("Terminals of the controller")
        self.table.verticalHeader().setDefaultSectionSize(26)
        for at, one in enumerate(COLUMNS):
            item = self.table.horizontalHeaderItem(at)
            assert item is not None  # labelled above
            item.setToolTip(tip(f"{one.title}: {one.hint}"))
        column.addWidget(self.table, 1)
        column.addLayout(self._buttons(keeps))
        self._complaint = Complaint()
        column.addWidget(self._complaint)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        for terminal in controller.terminals:
            self._append(texts_of(terminal), terminal.id)
        self.table.resizeColumnsToContents()
        paste = QShortcut(QKeySequence.StandardKey.Paste, self.table)
        paste.activated.connect(self.paste)

    def _buttons(self, keeps: bool) -> QHBoxLayout:
        row = QHBoxLayout()
        wanted = [("Add a terminal", lambda: self._append({"role": "input", "bits": "12"}, "", edit=True)),
                  ("Remove the selected", self._remove), ("Paste a pin table", self.paste)]  # fmt: skip
        if keeps:
            wanted.append(("OK, and keep it for other jobs", self._accept_and_keep))
        for words, act in wanted:
            button = QPushButton(words)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _on=False, act=act: act())
            row.addWidget(button)
        row.addStretch(1)
        return row

    # -- rows -------------------------------------------------------------------------------------------------------

    def _append(self, texts: dict[str, str], terminal_id: str, *, edit: bool = False) -> None:
        at = self.table.rowCount()
        self.table.insertRow(at)
        for column, one in enumerate(COLUMNS):
            self.table.setItem(at, column, QTableWidgetItem(texts.get(one.key, "")))
        header = QTableWidgetItem(str(at + 1))
        header.setData(0x0100, terminal_id)  # Qt.ItemDataRole.UserRole
        self.table.setVerticalHeaderItem(at, header)
        if edit:
            item = self.table.item(at, 0)
            assert item is not None  # just made
            self.table.setCurrentItem(item)
            self.table.editItem(item)

    def _remove(self) -> None:
        for at in sorted({index.row() for index in self.table.selectedIndexes()}, reverse=True):
            self.table.removeRow(at)

    def paste(self) -> None:
        """Take a table with headings from the clipboard; its rows come after those that stand there."""
        try:
            grid = parse_grid(QGuiApplication.clipboard().text())
            rows = rows_from([heading.name for heading in grid.headings], [row.cells for row in grid.rows])
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        for texts in rows:
            self._append(texts, "")
        self.table.resizeColumnsToContents()
        self._complaint.setText("")

    # -- what it comes to -------------------------------------------------------------------------------------------

    def made(self) -> Controller:
        """The controller as typed. Raises: BadTable with the row."""
        name = self.entries["name"].text().strip()
        if not name:
            raise BadTable("The controller needs a name, such as the one on its front.")
        terminals: list[Terminal] = []
        for at in range(self.table.rowCount()):
            items = [self.table.item(at, column) for column in range(len(COLUMNS))]
            texts = {one.key: item.text() if item else "" for one, item in zip(COLUMNS, items, strict=True)}
            if not any(text.strip() for key, text in texts.items() if key not in ("role", "bits", "use")):
                continue
            header = self.table.verticalHeaderItem(at)
            known = self._before.get(str(header.data(0x0100)) if header else "")
            try:
                terminals.append(terminal_of(texts, known))
            except YardstickError as error:
                raise BadTable(f"Row {at + 1}: {error}") from error
        ids = [terminal.id for terminal in terminals]
        again = next((one for one in ids if ids.count(one) > 1), None)
        if again is not None:
            raise BadTable(f"Two rows are called {again}: each terminal needs a name of its own.")
        fields = {key: entry.text().strip() for key, entry in self.entries.items()}
        own_id = self.controller.id or re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-") or "controller"
        return self.controller.with_(**fields, id=own_id, terminals=tuple(terminals))

    def accept(self) -> None:
        """Keep what was typed; a refusal stays open."""
        try:
            self.controller = self.made()
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        super().accept()

    def _accept_and_keep(self) -> None:
        self.kept_for_others = True
        self.accept()
        self.kept_for_others = self.result() == QDialog.DialogCode.Accepted
