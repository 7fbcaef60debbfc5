"""A person at a real window: finds what is on the screen, clicks it, types, and reads what it says."""

import sys
from pathlib import Path

from PySide6.QtCore import QPoint, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QScrollArea, QWidget

sys.path.insert(0, str(Path(__file__).parents[1]))

from acting import button, cells, entries, field_named, menu_button, named, said, words

from able_yardstick.app.frame.settings import Settings
from able_yardstick.app.main import application, open_window
from able_yardstick.app.panel.numbers_table import NumbersTable

LEFT, NONE, CONTROL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier
STEPS = ("describe", "wire", "wake", "gather", "fit", "pack", "prove")


class Person:
    """Works with nothing but the screen, a mouse and a keyboard, from an empty job on."""

    def __init__(self, folder: Path) -> None:
        QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(folder))
        assert application().platformName() == "xcb"
        self.window = open_window(None, Settings())
        self.window.show()
        self.window.build_all()
        assert QTest.qWaitForWindowExposed(self.window)
        self.window.activateWindow()
        assert QTest.qWaitForWindowActive(self.window)
        self._folder, self._jobs = folder, 0

    def begin(self) -> None:
        """An empty job."""
        self._jobs += 1
        self.window.bench.create(self._folder / f"{self._jobs}.yardstick.json", f"Job {self._jobs}")
        QApplication.processEvents()

    @property
    def panel(self) -> QWidget:
        """The panel that is seen."""
        return self.window.panel_shown

    def reads(self) -> str:
        """All that stands in the panel, and in the status line."""
        QApplication.processEvents()
        return f"{words(self.panel)}\n{said(self.window)}"

    def sees(self) -> str:
        """All that stands in the window."""
        QApplication.processEvents()
        return words(self.window)

    def find(self, text: str) -> None:
        """Ctrl+K, some words, Enter."""
        QTest.keyClick(self.window, Qt.Key.Key_K, CONTROL)
        assert self.window.find_field.hasFocus()
        QTest.keyClicks(self.window.find_field, text)
        QTest.keyClick(self.window.find_field, Qt.Key.Key_Return)
        QApplication.processEvents()

    def step(self, name: str) -> None:
        """To a step by its key."""
        QTest.keyClick(self.window, Qt.Key(Qt.Key.Key_1 + STEPS.index(name)), CONTROL)
        QApplication.processEvents()
        assert self.window.bench.step == name

    def click(self, widget: QWidget) -> None:
        """Scroll to a widget and press it with the mouse."""
        area = self.panel.findChild(QScrollArea)
        if area is not None and area.isAncestorOf(widget):
            area.ensureWidgetVisible(widget)
        QApplication.processEvents()
        assert widget.isVisible()
        QTest.mouseClick(widget, LEFT, NONE, QPoint(min(12, widget.width() // 2), widget.height() // 2))
        QApplication.processEvents()

    def press(self, text: str) -> None:
        """Press a button or a tick by its words."""
        self.click(button(self.panel, text))

    def type(self, title: str, *texts: str) -> None:
        """Type into the lines of a field, each left with Tab."""
        for entry, text in zip(field_named(self.panel, title).entries, texts, strict=True):
            self._type_over(entry, text)

    def _type_over(self, entry: QWidget, text: str) -> None:
        self.click(entry)
        assert entry.hasFocus()
        QTest.keyClick(entry, Qt.Key.Key_A, CONTROL)
        QTest.keyClicks(entry, text)
        QTest.keyClick(entry, Qt.Key.Key_Tab)
        QApplication.processEvents()

    def write(self, name: str, text: str) -> None:
        """Type lines into a box of text by its name."""
        from PySide6.QtWidgets import QPlainTextEdit

        box = named(self.panel, QPlainTextEdit, name)
        self.click(box)
        QTest.keyClick(box, Qt.Key.Key_A, CONTROL)
        for line in text.splitlines():
            QTest.keyClicks(box, line)
            QTest.keyClick(box, Qt.Key.Key_Return)

    def choose(self, words_of_button: str, words_of_entry: str) -> None:
        """Open a button's menu and choose an entry."""
        found = entries(menu_button(self.panel, words_of_button))
        next(action for text, action in found.items() if text.startswith(words_of_entry)).trigger()
        QApplication.processEvents()

    def pick(self, title: str, shown: str) -> None:
        """Choose in a list with the arrow keys."""
        self._choose(field_named(self.panel, title).box, shown)

    def _choose(self, box: QComboBox, shown: str) -> None:
        assert box.findText(shown) >= 0, [box.itemText(n) for n in range(box.count())]
        box.setFocus()
        for _ in range(2 * box.count()):
            if box.currentText() == shown:
                break
            QTest.keyClick(box, Qt.Key.Key_Down if box.currentIndex() < box.findText(shown) else Qt.Key.Key_Up)
        QApplication.processEvents()

    def reading(self, reference: str, raw: str, where: str = "") -> None:
        """Type a reading at Gather and press Enter."""
        form = self.panel.form
        if where:
            self._choose(form.node.box, where)
        self._type_over(form.reference, reference)
        self._type_over(form.raw, raw)
        self.press("Add reading")
        assert form.reference.text() == "", self.reads()

    @property
    def numbers(self) -> list[list[str]]:
        """The numbers to load, as they stand on the screen once they are found."""
        self.window.bench.search.wait()
        QApplication.processEvents()
        return cells(self.panel.findChild(NumbersTable))

    @property
    def channel(self):
        """What the program made of all this."""
        return self.window.bench.channel
