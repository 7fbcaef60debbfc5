"""Find or do: one field that lists every command with its shortcut, and every channel."""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtGui import QAction, QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget


class Entry(NamedTuple):
    """Something that can be done."""

    words: str
    shortcut: str
    act: Callable[[], None]
    enabled: bool = True


def entries_of(actions: Sequence[QAction]) -> list[Entry]:
    """The commands behind actions."""
    found = []
    for action in actions:
        shortcut = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
        found.append(Entry(action.text().replace("&", ""), shortcut, action.trigger, action.isEnabled()))
    return found


class FindField(QLineEdit):
    """Type a few letters; arrows choose, Enter does."""

    def __init__(self, entries: Callable[[], list[Entry]], parent: QWidget) -> None:
        super().__init__(parent)
        self._entries = entries
        self.setPlaceholderText("Find or do …   Ctrl+K")
        self.setAccessibleName("Find or do")
        self.setClearButtonEnabled(True)
        self._popup = QFrame(parent)
        self._popup.setObjectName("card")
        column = QVBoxLayout(self._popup)
        column.setContentsMargins(4, 4, 4, 4)
        self.list = QListWidget()
        self.list.setFrameShape(QFrame.Shape.NoFrame)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setAccessibleName("Commands found")
        self.list.itemClicked.connect(self._do)
        column.addWidget(self.list)
        self._popup.hide()
        self.textChanged.connect(self._list)
        parent.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """A press beside the list closes it."""
        if event.type() in (QEvent.Type.Resize, QEvent.Type.MouseButtonPress):
            self._popup.hide()
        return super().eventFilter(watched, event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self._list()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self._popup.hide()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            self.list.setCurrentRow(min(max(self.list.currentRow() + step, 0), self.list.count() - 1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._do(self.list.currentItem())
        elif key == Qt.Key.Key_Escape:
            self._leave()
        else:
            super().keyPressEvent(event)

    def _leave(self) -> None:
        self.clear()
        self._popup.hide()
        self.window().setFocus()
        self.clearFocus()

    def _list(self) -> None:
        words = self.text().casefold().split()
        self.list.clear()
        for entry in self._entries():
            if all(word in f"{entry.words} {entry.shortcut}".casefold() for word in words):
                item = QListWidgetItem(f"{entry.words}     {entry.shortcut}" if entry.shortcut else entry.words)
                item.setData(Qt.ItemDataRole.UserRole, entry)
                if not entry.enabled:
                    item.setFlags(Qt.ItemFlag.NoItemFlags)
                self.list.addItem(item)
        if not self.list.count():
            item = QListWidgetItem("Nothing of that name")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self._place()

    def _place(self) -> None:
        parent = self.parentWidget()
        if parent is None or not self.hasFocus():
            return
        corner = self.mapTo(parent, QPoint(0, self.height() + 4))
        height = min(self.list.sizeHintForRow(0) * self.list.count() + 16, parent.height() - corner.y() - 40)
        self._popup.setGeometry(corner.x(), corner.y(), self.width(), height)
        self._popup.show()
        self._popup.raise_()

    def _do(self, item: QListWidgetItem | None) -> None:
        entry = item.data(Qt.ItemDataRole.UserRole) if item else None
        if entry is not None and entry.enabled:
            self._leave()
            entry.act()
