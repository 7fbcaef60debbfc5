"""Leads without marks: what to measure, what to expect, and what the resistances typed say."""

from PySide6.QtWidgets import QPlainTextEdit, QVBoxLayout, QWidget

from ....core.document.channel import WiredChannel
from ....core.wire.unmarked import lead_tests, pairs_from, told_apart
from ....core.words.errors import YardstickError
from ...frame.theme import font
from ...panel.fields import label


class UnmarkedBox(QWidget):
    """Nothing of it is kept: it ends in colours at the leads."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.tests = label("", "", 12)
        self.readings = QPlainTextEdit()
        self.readings.setFont(font(12))
        self.readings.setFixedHeight(84)
        self.readings.setTabChangesFocus(True)
        self.readings.setPlaceholderText("red black 350\nred white 262 …")
        self.readings.setAccessibleName("Ohms between leads, one pair a line")
        self.readings.textChanged.connect(self._tell)
        self.says = label("", "signal", 12)
        for widget in (self.tests, self.readings, self.says):
            column.addWidget(widget)

    def show_channel(self, channel: WiredChannel) -> None:
        """Say what tells this sensor's leads apart."""
        tests = lead_tests(channel)
        self.tests.setText("\n".join(f"{n}. {one.do}: {one.expect}." for n, one in enumerate(tests, 1)))
        self.readings.setVisible(any("each two of its" in one.do for one in tests))
        self._tell()

    def drop(self) -> None:
        """Forget what was typed."""
        self.readings.clear()

    def _tell(self) -> None:
        text = self.readings.toPlainText()
        words = ""
        if text.strip() and not self.readings.isHidden():
            try:
                words = told_apart(pairs_from(text))
            except YardstickError as error:
                words = str(error)
        self.says.setText(words)
        self.says.setVisible(bool(words))
