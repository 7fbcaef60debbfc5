"""The parts of the Wire panel: a stage that opens, a check, the budget's rows, the list of terminals."""

import re
from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ....core.wire.checks import Finding
from ....core.wire.landing import Offer
from ...frame.plain_text import tip as as_tip
from ...frame.state_mark import draw_state
from ...frame.theme import Theme, bold, font
from ...frame.widgets import discard
from ...panel.fields import FoldButton, TextField, label
from ...panel.record_form import FieldRow, RecordForm

_UNIT_BREAK = re.compile(r"(\d) (?=[^\W\d]|[°Ω%µ])")
_LEVELS = {"pass": "ok", "look": "look", "fault": "fault"}
_LEVEL_WORDS = {"pass": "in order", "look": "to look at", "fault": "fault"}


class StageBlock(QWidget):
    """A stage of the path: a line with its name and numbers; pressed, it opens its fields."""

    moved = Signal(int)
    removed = Signal()

    def __init__(self, rows: Sequence[FieldRow], put: Callable[[dict[str, Any]], None], *, fixed: bool = False) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        head = QHBoxLayout()
        head.setSpacing(2)
        self.title = QToolButton()
        self.title.setObjectName("small")
        self.title.setCheckable(True)
        self.title.setFont(bold(12))
        self.title.setSizePolicy(self.title.sizePolicy().Policy.Preferred, self.title.sizePolicy().Policy.Fixed)
        self.title.toggled.connect(self._open)
        self.caption = label("", "muted", 12)
        self.caption.setWordWrap(False)
        head.addWidget(self.title)
        head.addWidget(self.caption, 1)
        if not fixed:
            for sign, tip, act in (
                ("↑", "Earlier in the path", lambda: self.moved.emit(-1)),
                ("↓", "Later in the path", lambda: self.moved.emit(1)),
                ("×", "Remove it from the path", self.removed.emit),
            ):
                button = QToolButton()
                button.setObjectName("small")
                button.setText(sign)
                button.setToolTip(tip)
                button.setAccessibleName(tip)
                button.clicked.connect(act)
                head.addWidget(button)
        column.addLayout(head)
        self.form = RecordForm(rows, put)
        self.form.setContentsMargins(12, 0, 0, 6)
        column.addWidget(self.form)
        self.form.hide()
        self._name = ""
        self.solver: TextField | None = None

    def add_solver(self, title: str, hint: str, suffix: str, put: Callable[[str, str], None]) -> None:
        """A row that chooses preferred values for what is typed, from the series named beside it."""
        self.solver = TextField(title, put, parts=2, between=f"{suffix}, from")
        self.solver.entries[0].setPlaceholderText(hint)
        self.solver.entries[1].setPlaceholderText("E24")
        self.solver.entries[1].setToolTip("Preferred values: E12, E24 or E96")
        self.solver.optional_parts({1})
        layout = self.form.layout()
        assert layout is not None  # a form has its column
        layout.addWidget(self.solver)

    def show_stage(self, name: str, caption: str, record: Any, **units: str) -> None:
        """Show a stage as it now is."""
        self._name = name
        self.title.setText(f"{'▾' if self.title.isChecked() else '▸'} {name}")
        self.title.setAccessibleName(f"{name}, {caption}")
        self.caption.setText(caption)
        self.form.show_record(record, **units)

    def _open(self, opened: bool) -> None:
        self.form.setVisible(opened)
        self.title.setText(f"{'▾' if opened else '▸'} {self._name}")


class Fold(QWidget):
    """A line that opens onto a text that can be read and selected."""

    opened = Signal(bool)

    def __init__(self, title: str) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.button = FoldButton(title)
        self.button.toggled.connect(self._open)
        self.text = label("", "", 12)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.text.hide()
        column.addWidget(self.button)
        column.addWidget(self.text)

    @property
    def is_open(self) -> bool:
        """Whether the text is seen."""
        return self.button.isChecked()

    def show_text(self, text: str) -> None:
        """Show the text anew."""
        self.text.setText(text)

    def _open(self, opened: bool) -> None:
        self.text.setVisible(opened)
        self.opened.emit(opened)


class LevelMark(QWidget):
    """A level as shape and colour."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme, self._level = theme, "ok"
        self.setFixedSize(QSize(16, 18))

    def show_level(self, level: str, theme: Theme) -> None:
        """Show a check's level."""
        self._theme, self._level = theme, _LEVELS[level]
        self.setAccessibleName(_LEVEL_WORDS[level])
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw_state(painter, self._theme, self._level, QPointF(7, 9), 4.2)
        painter.end()


class CheckList(QWidget):
    """What the checks say, faults first; those in order are folded away until asked for."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(5)
        self._grid.setColumnStretch(1, 1)
        self._rows: list[tuple[LevelMark, QLabel]] = []
        self.more = QToolButton()
        self.more.setObjectName("small")
        self.more.setCheckable(True)
        self.more.toggled.connect(self._show_all)
        self._findings: tuple[Finding, ...] = ()

    def show_findings(self, findings: tuple[Finding, ...], theme: Theme) -> None:
        """Show what the checks of a channel say."""
        self._findings, self._theme = findings, theme
        passed = sum(finding.level == "pass" for finding in findings)
        self.more.setVisible(0 < passed < len(findings))
        self.more.setText(f"{'▾' if self.more.isChecked() else '▸'} {passed} in order")
        shown = [one for one in findings if one.level != "pass" or self.more.isChecked() or passed == len(findings)]
        while len(self._rows) < len(shown):
            self._add_row()
        while len(self._rows) > len(shown):
            for widget in self._rows.pop():
                discard(widget)
        for (mark, words), finding in zip(self._rows, shown, strict=True):
            mark.show_level(finding.level, theme)
            words.setText(_UNIT_BREAK.sub("\\1\u00a0", finding.text))  # a number stays with its unit
        self._grid.addWidget(self.more, len(self._rows) + 1, 0, 1, 2)

    @property
    def texts(self) -> list[str]:
        """The sentences shown."""
        return [words.text().replace("\u00a0", " ") for _, words in self._rows]

    def _add_row(self) -> None:
        mark, words = LevelMark(self._theme), label("", "", 12)
        words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row = len(self._rows)
        self._grid.addWidget(mark, row, 0, Qt.AlignmentFlag.AlignTop)
        self._grid.addWidget(words, row, 1)
        self._rows.append((mark, words))

    def _show_all(self) -> None:
        self.show_findings(self._findings, self._theme)


class TerminalTable(QTableWidget):
    """The inputs of every controller: what they take, and who holds them."""

    def __init__(self) -> None:
        super().__init__(0, 4)
        self.setHorizontalHeaderLabels(["Terminal", "channel", "takes", "used by"])
        self.setAccessibleName("Terminals")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setTabKeyNavigation(False)
        self.setShowGrid(False)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(24)
        header = self.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._offers: list[Offer] = []

    def show_offers(self, offers: list[Offer], theme: Theme) -> None:
        """Show the terminals as they stand for a channel."""
        self._offers = offers
        several = len({offer.controller.id for offer in offers}) > 1
        self.setRowCount(len(offers))
        for row, offer in enumerate(offers):
            takes = offer.kind.name if offer.kind else ", ".join(kind.name for kind in offer.terminal.kinds)
            used = {"free": "free", "reserved": "reserved"}.get(offer.standing, offer.holder)
            whose = f" {offer.controller.name}" if several else ""
            texts = (offer.terminal.title + whose, offer.terminal.channel, takes, used)
            tip = f"{offer.controller.name}: {offer.terminal.full_title}" + (
                f"; {offer.why_not}" if offer.why_not else ""
            )
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                item.setToolTip(as_tip(tip))
                item.setFont(bold(12) if offer.standing == "yours" else font(12))
                if offer.standing == "yours":
                    item.setBackground(theme.color("accent_fill"))
                item.setForeground(theme.color("ink" if offer.kind and offer.standing != "reserved" else "muted"))
                if column == 3 and offer.standing == "free" and offer.kind:
                    item.setForeground(theme.color("green"))
                self.setItem(row, column, item)
        self.setFixedHeight(36 + 24 * min(max(len(offers), 1), 9))

    def picked(self) -> Offer | None:
        """The terminal selected."""
        row = self.currentRow()
        return self._offers[row] if 0 <= row < len(self._offers) and self.selectedItems() else None
