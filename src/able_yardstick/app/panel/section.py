"""A part of a panel that folds to one line: its name, and what stands inside in a few words."""

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from ..frame.plain_text import tip
from ..frame.theme import bold, font
from ..frame.workbench import Workbench
from .fields import FoldButton, rule_line


class ShortLabel(QLabel):
    """Words on one line; what does not fit is told by three dots and read in full in the tip."""

    def __init__(self) -> None:
        super().__init__()
        self.setFont(font(12))
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setProperty("role", "muted")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def minimumSizeHint(self) -> QSize:
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        shown = QFontMetrics(self.font()).elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        self.setToolTip(tip(self.text()) if shown != self.text() else "")
        self.style().drawItemText(
            painter, self.rect(), int(Qt.AlignmentFlag.AlignVCenter), self.palette(), True, shown, self.foregroundRole()
        )
        painter.end()


class Section(QWidget):
    """A named part of a panel. Whether it is open is remembered for the next channel and the next day."""

    def __init__(self, bench: Workbench, name: str, title: str, *, opened: bool = False) -> None:
        super().__init__()
        self._bench, self._name = bench, name
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(rule_line())
        head = QHBoxLayout()
        head.setSpacing(8)
        self.head = FoldButton(title)
        self.head.setFont(bold(13))
        self.head.setAccessibleName(title)
        self._summary = ShortLabel()
        head.addWidget(self.head)
        head.addWidget(self._summary, 1)
        head.addStretch()
        column.addLayout(head)
        self._inside = QWidget()
        self.column = QVBoxLayout(self._inside)
        self.column.setContentsMargins(0, 0, 0, 4)
        self.column.setSpacing(7)
        column.addWidget(self._inside)
        self.head.setChecked(bench.folds.get(name, opened))
        self._fold(self.head.isChecked())
        self.head.toggled.connect(self._fold)
        self.head.clicked.connect(self._remember)

    @property
    def is_open(self) -> bool:
        """Whether what is inside is seen."""
        return self.head.isChecked()

    def add(self, *widgets: QWidget) -> None:
        """Put widgets inside, one under the other."""
        for widget in widgets:
            self.column.addWidget(widget)

    def unfold(self) -> None:
        """Open it because something in it is wanted now; nothing is remembered."""
        self.head.setChecked(True)

    def show_title(self, title: str) -> None:
        """Name the part anew."""
        self.head.show_title(title)
        self.head.setAccessibleName(title)

    def show_summary(self, text: str) -> None:
        """What stands inside, for as long as it is folded."""
        self._summary.setText(text)
        self.head.setAccessibleDescription(text)

    @property
    def summary(self) -> str:
        """What is said while it is folded."""
        return self._summary.text()

    def _fold(self, opened: bool) -> None:
        self._inside.setVisible(opened)
        self._summary.setVisible(not opened)

    def _remember(self, opened: bool) -> None:
        self._bench.folds[self._name] = opened
