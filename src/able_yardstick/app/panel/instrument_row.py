"""Which instrument typed values are read off; and that it was this one for readings that name none yet."""

from collections.abc import Callable

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from ...core.document.reference import Reference
from ...core.gather.naming import name_reference, nameless
from ...core.journal.reading import Purpose
from ...core.words.numerals import counted
from ..frame.workbench import Workbench, now
from .fields import ChoiceField

_NOUNS: dict[Purpose, str] = {"gather": "reading", "prove": "check"}


class InstrumentRow(QWidget):
    """The choice, and a button while something taken names no instrument; what is chosen is held elsewhere."""

    def __init__(
        self, bench: Workbench, purpose: Purpose, chosen: Callable[[], str], choose: Callable[[str], None]
    ) -> None:
        super().__init__()
        self._bench, self._purpose, self._chosen = bench, purpose, chosen
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self._choose = choose
        self.choice = ChoiceField("Typed values of", (), self._put)
        self.choice.setToolTip("The reference instrument that typed values are read from (Shift+F4 describes them)")
        self.button = QPushButton()
        self.button.clicked.connect(self._name_them)
        column.addWidget(self.choice)
        column.addWidget(self.button)

    def _put(self, key: str) -> None:
        """Choose an instrument. Raises: UnitMismatch for one that measures something else."""
        channel = self._bench.continuous
        one = next((one for one in self._bench.job.references if one.id == key), None)
        if channel is not None and one is not None and one.unit:
            channel.in_unit(0.0, one.unit)
        self._choose(key)
        self.refresh()

    @property
    def instrument(self) -> Reference | None:
        """The instrument chosen; None where none is."""
        return next((one for one in self._bench.job.references if one.id == self._chosen()), None)

    def refresh(self) -> None:
        """Offer the job's instruments, and the button where it would do something."""
        channel, one = self._bench.continuous, self.instrument
        known = [(one.id, one.name) for one in self._bench.job.references]
        self.choice.offer([("", "no instrument named" if known else "none described: Shift+F4"), *known])
        self.choice.show_value(self._chosen())
        bare = [] if channel is None else nameless(self._bench.job, channel.id, self._purpose)
        self.button.setVisible(one is not None and bool(bare))
        if one is not None and bare:
            self.button.setText(f"{counted(len(bare), _NOUNS[self._purpose])} before: off {one.name} too")

    def _name_them(self) -> None:
        channel, one = self._bench.continuous, self.instrument
        if channel is not None and one is not None:
            self._bench.try_edit(
                f"{channel.tag}: read off {one.name}",
                lambda job: name_reference(job, channel, self._purpose, one, now()),
            )
