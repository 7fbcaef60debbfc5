"""The checks of an output as they are judged, and leaving one out with its reason."""

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from ....core.document.output import OutputChannel
from ....core.outputs.proving import OutputCheck
from ....core.prove.proof import Proof
from ....core.words.errors import BadTable
from ....core.words.numerals import decimals_for, fixed, signed, significant
from ...frame.theme import Theme
from ...frame.widgets import discard
from ...panel.fields import ChoiceField, TextField, label
from .jaws_cell import JawsCell
from .words import outcome_words

_TITLES = ("wanted", "gave", "error", "of allowed", "")


class OutputChecksBox(QWidget):
    """A line a check; `put` leaves one out, by its reading's id and the reason, or raises a refusal."""

    def __init__(self, put: Callable[[str, str], None]) -> None:
        super().__init__()
        self._put = put
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(5)
        self._grid.setVerticalSpacing(1)
        self.left_out = ChoiceField("Leave out", [], lambda _key: None)
        self.reason = TextField("because", self._leave_out, optional=True, hint="what was wrong with it")
        column.addLayout(self._grid)
        column.addWidget(self.left_out)
        column.addWidget(self.reason)

    def _leave_out(self, reason: str) -> None:
        chosen = self.left_out.box.currentData()
        if reason.strip() and not chosen:
            raise BadTable("Choose above which check it is.")
        if chosen and reason.strip():
            self._put(chosen, reason)
            self.left_out.show_value("")
            self.reason.show_values("")

    def show_checks(self, channel: OutputChannel, checks: list[OutputCheck], proof: Proof | None, theme: Theme) -> None:
        """Show the checks of the counts in use, with their judgement where there is one."""
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                discard(widget)
        in_use = [one for one in checks if not one.stale]
        for at, title in enumerate(_TITLES if in_use else ()):
            self._grid.addWidget(label(title, "muted", 12), 0, at)
        for n, check in enumerate(in_use):
            self._show_check(n + 1, channel, check)
            if proof is not None:
                result = proof.checks[n]
                role = "good" if result.passed else "error"
                self._grid.addWidget(label(f"{result.share:.0%} {outcome_words(result)}", role, 12), n + 1, 3)
                self._grid.addWidget(JawsCell(theme, result), n + 1, 4)
        self.left_out.offer([("", "—"), *((one.row.reading.id, _named(one, channel)) for one in checks)])
        for part in (self.left_out, self.reason):
            part.setVisible(bool(checks))

    def _show_check(self, row: int, channel: OutputChannel, check: OutputCheck) -> None:
        decimals = decimals_for(abs(channel.driver.per_count / channel.gain))
        error = check.value - check.wanted
        texts = (significant(check.wanted, 6), fixed(check.value, decimals), signed(error, decimals))
        for at, text in enumerate(texts):
            self._grid.addWidget(label(text, "", 12), row, at)


def _named(check: OutputCheck, channel: OutputChannel) -> str:
    """A check as it is picked from a list."""
    old = ", of other counts" if check.stale else ""
    return f"{significant(check.wanted, 6)} {channel.unit}, {significant(check.signal, 6)} {channel.driver.unit}{old}"
