"""One source in the list: whether it answers, at what rate, and its last error in words."""

from collections.abc import Callable

from PySide6.QtWidgets import QCheckBox, QFrame, QGridLayout, QHBoxLayout, QToolButton, QVBoxLayout

from ...bench.link import LinkStatus
from ...core.document.sources import AnySource, ManualSource
from ...core.words.numerals import significant
from ..frame.plain_text import PlainLabel, tip
from ..frame.theme import bold
from ..panel.fields import Entry, label, restyle

_SIGNS = {"off": "○", "connecting": "◔", "answering": "●", "waiting": "✕"}
_ROLES = {"off": "muted", "connecting": "look", "answering": "good", "waiting": "error"}
_WORDS = {"off": "not connected", "connecting": "connecting …", "answering": "answers", "waiting": "does not answer"}


class SourceCard(QFrame):
    """Shows a source and how its link stands; `act` gets what is wanted: edit, remove, turn, hold, step."""

    def __init__(
        self, source: AnySource, act: Callable[[str, AnySource], None], enter: Callable[[AnySource, str, str], str]
    ) -> None:
        super().__init__()
        self.setObjectName("note")
        self.source = source
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 7, 10, 8)
        column.setSpacing(3)
        head = QHBoxLayout()
        self.sign = PlainLabel("○")
        name = PlainLabel(source.name)
        name.setFont(bold(13))
        self.on = QCheckBox("on")
        self.on.setAccessibleName(f"Use {source.name}")
        self.on.setChecked(source.enabled)
        self.on.clicked.connect(lambda: act("turn", source))
        head.addWidget(self.sign)
        head.addWidget(name)
        head.addStretch(1)
        head.addWidget(self.on)
        column.addLayout(head)
        below = QHBoxLayout()
        below.addWidget(label(f"{source.title}, {source.address}", "muted", 12), 1)
        below.addLayout(self._buttons(source, act))
        column.addLayout(below)
        self.words = label("", "", 12)
        column.addWidget(self.words)
        self.error = label("", "error", 12)
        self.error.hide()
        column.addWidget(self.error)
        self.typed: dict[str, Entry] = {}
        if isinstance(source, ManualSource):
            column.addLayout(self._typing(source, enter))

    def _typing(self, source: ManualSource, enter: Callable[[AnySource, str, str], str]) -> QGridLayout:
        """A line for each number that a person types; Enter takes it. `enter` gives why not, or nothing."""
        grid = QGridLayout()
        for row, feed in enumerate(source.feeds):
            entry = self.typed[feed.name] = Entry()
            entry.setAccessibleName(f"{feed.name} of {source.name}")
            entry.setPlaceholderText("what it reads now, then Enter")

            def take(name: str = feed.name, entry: Entry = entry) -> None:
                refusal = enter(source, name, entry.text())
                self.error.setText(refusal)
                self.error.setVisible(bool(refusal))
                if not refusal:
                    entry.clear()

            entry.returnPressed.connect(take)
            grid.addWidget(label(feed.name, "muted", 12), row, 0)
            grid.addWidget(entry, row, 1)
            grid.addWidget(label(feed.unit, "muted", 12), row, 2)
        return grid

    def _buttons(self, source: AnySource, act: Callable[[str, AnySource], None]) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        wanted = [("⚙", "edit"), ("✕", "remove")]
        if source.kind == "replay":
            wanted = [("Hold / go on", "hold"), ("One line", "step"), *wanted]
        for words, what in wanted:
            button = QToolButton()
            button.setText(words)
            title = {"edit": "Settings", "remove": "Remove"}.get(what, words)
            button.setAccessibleName(f"{title}: {source.name}")
            button.setToolTip(tip(f"{title}: {source.name}"))
            button.clicked.connect(lambda _on=False, what=what: act(what, source))
            row.addWidget(button)
        return row

    def show_status(self, status: LinkStatus | None) -> None:
        """How its link stands now; None where none runs."""
        standing = "off" if status is None else status.standing
        self.sign.setText(_SIGNS[standing])
        restyle(self.sign, "role", _ROLES[standing])
        words = _WORDS[standing] if self.source.enabled else "switched off"
        if status is not None and standing == "answering":
            lost = f", {status.lost} lost" if status.lost else ", none lost"
            rate = f"{significant(status.rate_hz, 3)} a second{lost}" if status.rate_hz else "no value now"
            remark = f"; {status.remark}" if status.remark else ""
            words = f"answers: {status.what}; {rate}{remark}"
        elif status is not None and standing == "waiting":
            words = f"does not answer; try {status.tries} failed, tried again by itself"
        self.words.setText(words)
        error = status.error if status is not None else ""
        if error or not self.typed:  # a refusal of what was typed stays until it is typed anew
            self.error.setText(error)
            self.error.setVisible(bool(error))
