"""Fields that show one thing of the model and send what is typed back as an edit; errors stand under the field."""

from collections.abc import Callable, Sequence
from html import escape

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QLabel, QLineEdit, QToolButton, QVBoxLayout, QWidget

from ...core.units.typed import number_in
from ...core.words.errors import YardstickError
from ..frame.plain_text import PlainLabel
from ..frame.theme import bold, font

LABEL_WIDTH = 104
_JOINING = ("to", "and", "at", "±")  # between two numbers of one unit


def label(text: str, role: str = "", size: int = 13) -> QLabel:
    """A label with a role of the style sheet, wrapping its words."""
    made = PlainLabel(text)
    made.setFont(font(size))
    made.setWordWrap(True)
    if role:
        made.setProperty("role", role)
    return made


class Complaint(QLabel):
    """Words of refusal in their place; gone while there are none."""

    def __init__(self) -> None:
        super().__init__()
        self._said = ""
        self.setFont(font(12))
        self.setWordWrap(True)
        self.setProperty("role", "error")
        self.hide()

    def text(self) -> str:
        """What was said, as it was said."""
        return self._said

    def setText(self, text: str) -> None:
        """Say why, or nothing. Lines after the first stand in letters of one width: they point at a character."""
        self._said = text
        first, _, rest = text.partition("\n")
        pointed = f"{escape(first)}<pre>{escape(rest)}</pre>" if rest else text
        self.setTextFormat(Qt.TextFormat.RichText if rest else Qt.TextFormat.PlainText)
        super().setText(pointed)
        self.setVisible(bool(text))


def heading(text: str, size: int = 13) -> QLabel:
    """A heading within a panel."""
    made = PlainLabel(text)
    made.setFont(bold(size))
    made.setContentsMargins(0, 6, 0, 0)
    return made


class FoldButton(QToolButton):
    """A line with an arrow that opens what stands below it."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self.setObjectName("small")
        self.setCheckable(True)
        self._title = title
        self._point(False)
        self.toggled.connect(self._point)

    def show_title(self, title: str) -> None:
        """Name the line anew."""
        self._title = title
        self._point(self.isChecked())

    def _point(self, opened: bool) -> None:
        self.setText(f"{'▾' if opened else '▸'} {self._title}")


def rule_line() -> QFrame:
    """A thin line between parts."""
    made = QFrame()
    made.setObjectName("separator")
    made.setFixedHeight(1)
    return made


def restyle(widget: QWidget, name: str, value: object) -> None:
    """Set a property the style sheet looks at."""
    if (widget.property(name) or "") != (value or ""):
        widget.setProperty(name, value)
        widget.style().unpolish(widget)
        widget.style().polish(widget)


def _holds_cells() -> bool:
    """Whether the clipboard holds more than one cell."""
    text = QGuiApplication.clipboard().text().strip("\n")
    return "\t" in text or "\n" in text


class Entry(QLineEdit):
    """A line to type in; Escape drops what was typed. Pasted cells of a table are no text for it."""

    dropped = Signal()

    def event(self, event: QEvent) -> bool:
        """Leave Ctrl+V to the window where several cells are copied; keep Escape while there is text to drop."""
        if event.type() == QEvent.Type.ShortcutOverride:
            assert isinstance(event, QKeyEvent)
            if event.key() == Qt.Key.Key_Escape and self.isModified():
                event.accept()
                return True
            if event.matches(QKeySequence.StandardKey.Paste) and _holds_cells():
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.isModified():
            self.dropped.emit()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.insert(QGuiApplication.clipboard().text().strip("\n"))  # a copied cell ends with a line's end
        else:
            super().keyPressEvent(event)


class FieldBase(QWidget):
    """A named row with room for an error below it."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self.row = QHBoxLayout()
        self.row.setSpacing(6)
        self._title = label(title, "muted", 12)
        self._title.setFixedWidth(LABEL_WIDTH)
        self._column.addLayout(self.row)
        self.row.addWidget(self._title)
        self._title.setVisible(bool(title))
        # made when they are first needed: a panel has dozens of fields
        self._error: Complaint | None = None
        self._note: QLabel | None = None

    @property
    def error(self) -> str:
        """The error shown, or nothing."""
        return "" if self._error is None else self._error.text()

    def show_title(self, title: str) -> None:
        """Name the row anew."""
        self._title.setText(title)
        self._title.setVisible(bool(title))

    @property
    def note(self) -> str:
        """What is said below the row, or nothing."""
        return "" if self._note is None else self._note.text()

    def show_note(self, text: str) -> None:
        """Say something below the row: what is made of what was typed."""
        if self._note is None:
            if not text:
                return
            self._note = label("", "look", 12)
            self._column.addWidget(self._note)
        self._note.setText(text)
        self._note.setVisible(bool(text))

    def fail(self, text: str) -> None:
        """Show why what was typed cannot be; an empty text clears it."""
        if self._error is None:
            if not text:
                return
            self._error = Complaint()
            self._column.insertWidget(1, self._error)
        self._error.setText(text)


class TextField(FieldBase):
    """One or more lines of text that are sent back together once each makes sense.

    `put` gets the texts and makes the edit, or raises a refusal, which is shown; what was typed stays.
    """

    def __init__(
        self,
        title: str,
        put: Callable[..., None],
        *,
        parts: int = 1,
        between: str = "to",
        suffix: str = "",
        hint: str = "",
        optional: bool = False,
    ) -> None:
        super().__init__(title)
        self._put, self._optional = put, optional
        self._may_be_empty: set[int] = set()
        self._shown: tuple[str, ...] = ("",) * parts
        self.entries = [Entry() for _ in range(parts)]
        self._between: list[QLabel] = []
        for n, entry in enumerate(self.entries):
            if n and between:
                self._between.append(label(between, "muted", 12))
                self._between[-1].setWordWrap(False)
                self.row.addWidget(self._between[-1])
            entry.setPlaceholderText(hint)
            entry.setMinimumWidth(40)
            entry.editingFinished.connect(self._commit)
            entry.dropped.connect(self.drop)
            self.row.addWidget(entry, 1)
        self._suffix: QLabel | None = None
        self._show_suffix(suffix)
        self._name_entries(title)

    def _name_entries(self, title: str) -> None:
        for n, entry in enumerate(self.entries):
            entry.setAccessibleName(f"{title} {n + 1}" if len(self.entries) > 1 else title)

    def show_title(self, title: str) -> None:
        """Name the row anew, for the eye and for a reader of the screen."""
        super().show_title(title)
        self._name_entries(title)

    def show_values(self, *texts: str, suffix: str | None = None) -> None:
        """Show the model's values, unless something is half typed or wrong here."""
        if suffix is not None:
            self._show_suffix(suffix)
        if texts == self._shown and (self.error or any(entry.isModified() for entry in self.entries)):
            return
        self._shown = texts
        self.drop()

    def _show_suffix(self, text: str) -> None:
        if self._suffix is None:
            if not text:
                return
            self._suffix = label("", "muted", 12)
            self._suffix.setWordWrap(False)
            self.row.insertWidget(1 + len(self.entries) + len(self._between), self._suffix)
        self._suffix.setText(text)
        self._suffix.setVisible(bool(text))

    def show_between(self, text: str) -> None:
        """Show what stands between the lines."""
        for one in self._between:
            one.setText(text)

    def optional_parts(self, parts: set[int]) -> None:
        """Which of the lines may stay empty while the others are typed."""
        self._may_be_empty = parts

    def drop(self) -> None:
        """Go back to the model's values."""
        for entry, text in zip(self.entries, self._shown, strict=True):
            if entry.text() != text or entry.isModified():
                entry.setText(text)
                entry.setModified(False)
                entry.setCursorPosition(0)
            restyle(entry, "wrong", False)
        self.fail("")

    def _commit(self) -> None:
        texts = tuple(entry.text() for entry in self.entries)
        if texts == self._shown:
            self.drop()
            return
        needed = [text for n, text in enumerate(texts) if n not in self._may_be_empty]
        if not self._optional and not all(text.strip() for text in needed):
            self._refuse("Something is needed here. Type it, or press Escape to go back.")
            return
        try:
            self._put(*self.texts)
        except YardstickError as error:
            self._refuse(str(error))
            return
        for entry in self.entries:
            entry.setModified(False)
            restyle(entry, "wrong", False)
        self.fail("")
        self._shown = texts

    @property
    def texts(self) -> tuple[str, ...]:
        """What is typed, numbers in the units that stand beside them. Raises: UnitMismatch."""
        return tuple(self._in_own_unit(n, entry.text()) for n, entry in enumerate(self.entries))

    def _in_own_unit(self, part: int, text: str) -> str:
        """A number typed with a unit as one in the unit that stands beside its line; any other text as it is."""
        between = self._between[part].text() if part < len(self._between) else ""
        unit = between if between and between not in _JOINING else "" if self._suffix is None else self._suffix.text()
        return text if not unit else number_in(text, unit)

    def _refuse(self, text: str) -> None:
        for entry in self.entries:
            restyle(entry, "wrong", True)
        self.fail(text)


class ChoiceField(FieldBase):
    """One of several; picking sends it back."""

    def __init__(self, title: str, choices: Sequence[tuple[str, str]], put: Callable[[str], None]) -> None:
        super().__init__(title)
        self._put = put
        self._value = ""
        self.box = QComboBox()
        self.box.setAccessibleName(title)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.setMinimumContentsLength(8)
        self.box.setMaxVisibleItems(20)  # all that are on offer anywhere
        self.row.addWidget(self.box, 1)
        self.offer(choices)
        self.box.activated.connect(self._commit)

    def offer(self, choices: Sequence[tuple[str, str]]) -> None:
        """Offer other choices: value and words."""
        if [self.box.itemData(n) for n in range(self.box.count())] != [value for value, _ in choices] or any(
            self.box.itemText(n) != words for n, (_, words) in enumerate(choices)
        ):
            self.box.clear()
            for value, words in choices:
                self.box.addItem(words, value)

    def show_value(self, value: str) -> None:
        """Show the model's value."""
        self._value = value
        at = self.box.findData(value)
        if at != self.box.currentIndex():
            self.box.setCurrentIndex(at)
        self.fail("")

    def _commit(self) -> None:
        try:
            self._put(str(self.box.currentData()))
        except YardstickError as error:
            self.box.setCurrentIndex(self.box.findData(self._value))
            self.fail(str(error))
