"""Find or do: one field that lists every command with its shortcut, and every channel."""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtGui import QAction, QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QFrame, QHeaderView, QLineEdit, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

_POPUP_WIDTH = 430


class CommandEntry(NamedTuple):
    """Something that can be done."""

    words: str
    shortcut: str
    act: Callable[[], None]
    enabled: bool = True
    also: str = ""  # other words that find it


def entries_of(actions: Sequence[QAction]) -> list[CommandEntry]:
    """The commands behind actions."""
    found = []
    for action in actions:
        shortcut = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
        found.append(CommandEntry(action.text().replace("&", ""), shortcut, action.trigger, action.isEnabled()))
    return found


class FindField(QLineEdit):
    """Type a few letters; arrows choose, Enter does."""

    def __init__(self, entries: Callable[[], list[CommandEntry]], parent: QWidget) -> None:
        super().__init__(parent)
        self._entries = entries
        self.setPlaceholderText("Find or do …   Ctrl+K")
        self.setAccessibleName("Find or do")
        self._popup = QFrame(parent)
        self._popup.setObjectName("card")
        column = QVBoxLayout(self._popup)
        column.setContentsMargins(4, 4, 4, 4)
        self.list = QTreeWidget()
        self.list.setObjectName("commands")
        self.list.setColumnCount(2)
        self.list.setHeaderHidden(True)
        self.list.setRootIsDecorated(False)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.list.header()
        header.setStretchLastSection(False)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
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
            self._move(step)
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

    def _move(self, step: int) -> None:
        self._choose(min(max(self.list.currentIndex().row() + step, 0), self.list.topLevelItemCount() - 1))

    def _choose(self, row: int) -> None:
        item = self.list.topLevelItem(row)
        if item is not None:
            self.list.setCurrentItem(item)

    def _list(self) -> None:
        words = self.text().casefold().split()
        self.list.clear()
        for entry in self._entries():
            if all(word in f"{entry.words} {entry.shortcut} {entry.also}".casefold() for word in words):
                item = QTreeWidgetItem([entry.words, entry.shortcut])
                item.setTextAlignment(1, Qt.AlignmentFlag.AlignRight)
                item.setData(0, Qt.ItemDataRole.UserRole, entry)
                item.setDisabled(not entry.enabled)
                self.list.addTopLevelItem(item)
        if not self.list.topLevelItemCount():
            item = QTreeWidgetItem(["Nothing of that name", ""])
            item.setDisabled(True)
            self.list.addTopLevelItem(item)
        if words:  # else Enter would do what nobody chose
            self._choose(0)
        self._place()

    def _place(self) -> None:
        parent = self._popup.parentWidget()
        if parent is None or not self.hasFocus():
            return
        corner = self.mapTo(parent, QPoint(0, self.height() + 4))
        room = parent.height() - corner.y() - 40
        height = min(self.list.sizeHintForRow(0) * self.list.topLevelItemCount() + 14, room)
        width = max(self.width(), _POPUP_WIDTH)
        self._popup.setGeometry(corner.x() + self.width() - width, corner.y(), width, height)
        self._popup.show()
        self._popup.raise_()

    def _do(self, item: QTreeWidgetItem | None) -> None:
        entry = item.data(0, Qt.ItemDataRole.UserRole) if item else None
        if entry is not None and entry.enabled:
            self._leave()
            entry.act()
