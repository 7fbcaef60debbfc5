"""The plant's knobs in a window of their own: true values, faults, and where the bench meter is held."""

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QScrollArea, QSlider, QVBoxLayout, QWidget

from ...bench.rig.knobs import KnobRow
from ...core.words.errors import YardstickError
from ...core.words.numerals import parse_number, significant
from ..frame.plain_text import PlainLabel, tip
from ..frame.theme import bold
from ..panel.fields import Complaint, Entry, heading, label
from .process import KnobLink

_STEPS = 1000
_POINTS = (
    ("nowhere", "nowhere"), ("signal", "signal terminal and return"), ("supply", "supply terminal"),
    ("leads", "across the leads, off the terminal"),
)  # fmt: skip


class _Knobs:
    """The widgets of one channel."""

    def __init__(self, panel: "RigPanel", row: KnobRow, grid: QGridLayout, at: int) -> None:
        self.row = row
        self.tag = PlainLabel(row.tag)
        self.tag.setFont(bold(13))
        self.tag.setToolTip(tip(row.name))
        self.value = Entry()
        self.value.setFixedWidth(78)
        self.value.setAccessibleName(f"True value of {row.tag}")
        self.unit = label(row.unit, "muted", 12)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, _STEPS if row.high - row.low > 1.5 else 1)
        self.slider.setAccessibleName(f"Slide the true value of {row.tag}")
        self.slider.setMinimumWidth(110)
        self.now = label("", "muted", 12)
        self.now.setMinimumWidth(70)
        self.fault = QComboBox()
        self.fault.setAccessibleName(f"Fault of {row.tag}")
        self.fault.addItems(["none", *row.faults[1:]])
        self.value.returnPressed.connect(partial(panel.type_value, self))
        self.slider.sliderMoved.connect(partial(panel.slide, self))
        self.slider.actionTriggered.connect(lambda _action: panel.slide(self, self.slider.sliderPosition()))
        self.fault.activated.connect(lambda _at: panel.break_by(self))
        for column, widget in enumerate((self.tag, self.slider, self.value, self.unit, self.now, self.fault)):
            grid.addWidget(widget, at, column)

    def show_row(self, row: KnobRow) -> None:
        """Show where the knobs stand, except where someone is turning one."""
        self.row = row
        if not (self.value.hasFocus() and self.value.isModified()):
            self.value.setText(significant(row.target, 5))
            self.value.setModified(False)
        if not self.slider.isSliderDown():
            share = (row.target - row.low) / (row.high - row.low)
            self.slider.setValue(round(share * self.slider.maximum()))
        self.now.setText(f"now {significant(row.plant, 4)}")
        wanted = "none" if row.fault == "healthy" else row.fault
        if not self.fault.view().isVisible():
            self.fault.setCurrentIndex(self.fault.findText(wanted))


class RigPanel(QWidget):
    """Moves what a person at the plant would move. The rest of the program knows nothing of it."""

    def __init__(self, port: int, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Tool)
        self.setObjectName("desk")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setWindowTitle("The simulated plant")
        self.resize(640, 520)
        self._link = KnobLink(port, self)
        self._link.state.connect(self._show)
        self._link.refused.connect(self._refuse)
        self._link.outputs.connect(self._offer_outputs)
        self._rows: dict[str, _Knobs] = {}
        column = QVBoxLayout(self)
        column.addWidget(heading("Knobs of the plant"))
        column.addWidget(
            label(
                "True values and faults of the simulated kiln, as a hand at the valve or the wiring would change them. "
                "The program beside it sees only what its sources send.",
                "muted",
                12,
            )
        )
        self._complaint = Complaint()
        column.addWidget(self._complaint)
        inside = QWidget()
        self._grid = QGridLayout(inside)
        self._grid.setColumnStretch(1, 1)
        self._grid.setHorizontalSpacing(8)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        column.addWidget(area, 1)
        column.addLayout(self._probe_row())
        column.addLayout(self._log_row())

    def _probe_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(label("Hold the bench meter to", "", 13))
        self.probed = QComboBox()
        self.probed.setAccessibleName("Channel that the meter is held to")
        self.point = QComboBox()
        self.point.setAccessibleName("Where the meter is held")
        for key, words in _POINTS:
            self.point.addItem(words, key)
        self.probed.activated.connect(lambda _at: self._hold())
        self.point.activated.connect(lambda _at: self._hold())
        row.addWidget(self.probed)
        row.addWidget(self.point, 1)
        return row

    def _log_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(label("The small logger follows", "", 13))
        self.logged = QComboBox()
        self.logged.setAccessibleName("Channel that the logger follows")
        self.logged.activated.connect(lambda _at: self._link.turn(do="log", tag=self.logged.currentText()))
        row.addWidget(self.logged, 1)
        return row

    # -- turning ----------------------------------------------------------------------------------------------------

    def type_value(self, knobs: _Knobs) -> None:
        """Send a typed true value."""
        try:
            value = parse_number(knobs.value.text())
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        knobs.value.setModified(False)
        self._complaint.setText("")
        self._link.turn(do="move", tag=knobs.row.tag, value=value)

    def slide(self, knobs: _Knobs, position: int) -> None:
        """Send a true value by the slider."""
        row = knobs.row
        self._link.turn(
            do="move", tag=row.tag, value=row.low + (row.high - row.low) * position / knobs.slider.maximum()
        )

    def break_by(self, knobs: _Knobs) -> None:
        """Switch a fault on, or mend it."""
        chosen = knobs.fault.currentText()
        self._link.turn(do="fault", tag=knobs.row.tag, fault="healthy" if chosen == "none" else chosen)
        self._complaint.setText("")

    def _hold(self) -> None:
        self._link.turn(do="probe", tag=self.probed.currentText(), point=self.point.currentData())

    # -- showing ----------------------------------------------------------------------------------------------------

    def _show(self, rows: tuple[KnobRow, ...]) -> None:
        for at, row in enumerate(rows):
            if row.tag not in self._rows:
                self._rows[row.tag] = _Knobs(self, row, self._grid, at)
                self.probed.addItem(row.tag)
                self.logged.addItem(row.tag)
            self._rows[row.tag].show_row(row)

    def _offer_outputs(self, tags: list[str]) -> None:
        for tag in tags:
            if self.probed.findText(tag) < 0:
                self.probed.addItem(tag)

    def _refuse(self, text: str) -> None:
        self._complaint.setText(text)

    def knobs(self, tag: str) -> _Knobs:
        """The widgets of a channel."""
        return self._rows[tag]

    def closeEvent(self, event: QCloseEvent) -> None:
        """Hide only: the plant goes on."""
        super().closeEvent(event)

    def finish(self) -> None:
        """Let the plant go."""
        self._link.close()
        self.close()
        self.deleteLater()
