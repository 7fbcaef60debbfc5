"""Measured pairs at Wire: a divider's factor, the full count or the reference, solved with the nominal beside it."""

from collections.abc import Callable

import numpy as np
from PySide6.QtWidgets import QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from ....core.path.signal_path import Path
from ....core.stages import Divider
from ....core.wire.measured_pairs import Solved, applied, solve_divider, solve_full_count, solve_reference
from ....core.words.errors import BadTable, YardstickError
from ....files.tables import parse_grid, pick
from ...frame.theme import font
from ...panel.fields import ChoiceField, Complaint, FoldButton, label


class PairsBox(QWidget):
    """Pairs typed or pasted, what they come to, and a button that puts it in force."""

    def __init__(self, put: Callable[[Path, str], None]) -> None:
        super().__init__()
        self._put = put
        self._path: Path | None = None
        self._solved: Solved | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.button = FoldButton("Solve from measured pairs")
        self.button.toggled.connect(self._open)
        column.addWidget(self.button)
        self._inside = QWidget()
        inside = QVBoxLayout(self._inside)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(5)
        self.what = ChoiceField("Solve for", (), lambda _text: self._solve())
        self.hint = label("", "muted", 12)
        self.text = QPlainTextEdit()
        self.text.setFont(font(12))
        self.text.setFixedHeight(84)
        self.text.setTabChangesFocus(True)
        self.text.setAccessibleName("Measured pairs, one a line")
        self.text.textChanged.connect(self._solve)
        self.words = label("")
        self.complaint = Complaint()
        self.use = QPushButton("Use the measured figure")
        self.use.clicked.connect(self._use)
        for widget in (self.what, self.hint, self.text, self.words, self.complaint, self.use):
            inside.addWidget(widget)
        column.addWidget(self._inside)
        self._inside.hide()

    def show_path(self, path: Path) -> None:
        """Offer what can be solved on a path."""
        self._path = path
        stages = [(n, stage) for n, stage in enumerate(path.stages) if isinstance(stage, Divider)]
        dividers = [(str(n), f"factor of {stage.caption}") for n, stage in stages]
        self.what.offer([*dividers, ("full count", "full count"), ("reference", "reference voltage")])
        self._solve()

    def drop(self) -> None:
        """Forget what was typed."""
        self.text.clear()

    def _open(self, on: bool) -> None:
        self._inside.setVisible(on)
        self._solve()

    def _chosen(self) -> str:
        return str(self.what.box.currentData() or "full count")

    def _solve(self) -> None:
        """Say what the pairs come to; text typed half-way is not an error yet."""
        path, chosen = self._path, self._chosen()
        if path is None or not self.button.isChecked():
            return
        unit = path.pin_unit
        is_divider = chosen.isdigit()
        self.hint.setText(
            "V before it, V behind it, with all wired as it will be: a pair a line"
            if is_divider
            else f"{unit} at the pin by a meter, count read: a pair a line"
        )
        self._solved = None
        self.complaint.setText("")
        try:
            if self.text.toPlainText().strip():
                self._solved = _solved(path, chosen, self.text.toPlainText())
        except YardstickError as error:
            self.complaint.setText(str(error))
        self.words.setText(self._solved.says if self._solved else "")
        self.words.setVisible(self._solved is not None)
        self.use.setEnabled(self._solved is not None)

    def _use(self) -> None:
        path, solved, chosen = self._path, self._solved, self._chosen()
        if path is None or solved is None:
            return
        try:
            self._put(applied(path, solved, int(chosen) if chosen.isdigit() else None), f"measured {solved.what}")
        except (YardstickError, ValueError) as error:
            self.complaint.setText(str(error))


def _solved(path: Path, chosen: str, text: str) -> Solved:
    picked = pick(parse_grid(text), (0, 1))
    if picked.problems:
        raise BadTable(f"{picked.problems[0]} Correct it, or remove the line.")
    first, second = (np.array(column, dtype=float) for column in zip(*picked.numbers, strict=True))
    if chosen.isdigit():
        return solve_divider(path, int(chosen), first, second)
    solve = solve_reference if chosen == "reference" else solve_full_count
    return solve(path.converter, first, second)
