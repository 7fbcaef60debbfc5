"""Readings out of a log: which sensor against what, what was found where, and what of the range was not visited."""

from PySide6.QtWidgets import QComboBox, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from ...core.document.channel import ContinuousChannel
from ...core.gather.natural_pairs import NaturalReadings
from ...core.job.job import Job
from ...core.words.errors import NotApplicable, YardstickError
from ...core.words.numerals import counted, significant
from ...files.log.courses import LogCourses
from ...files.log.natural import comparable, readings_from
from ..frame.workbench import Workbench, new_id
from ..panel.ask_dialog import AskDialog
from ..panel.fields import label
from ..panel.numbers_table import fit_height, plain_table
from .time_axis import clock_words

_HEADINGS = ("at", "reference", "sensor", "came")


class LogReadingsDialog(AskDialog):
    """Finds them as soon as sensor and reference are chosen; takes them for Fit."""

    def __init__(self, bench: Workbench, log: LogCourses, stretch_s: tuple[float, float], parent: QWidget) -> None:
        about = (
            "Steady moments of both, by the rule of Gather, spread over all of the range that was visited. They are "
            "offered to Fit like any readings, marked as from this log."
        )
        super().__init__("Readings from the log", about, self._take_readings, parent, keep="Take them")
        if log.job.id != bench.job.id:
            raise NotApplicable("This log is of another job: open that job to take readings from it.")
        self._bench, self._log, self._stretch = bench, log, stretch_s
        self._found: NaturalReadings | None = None
        self.sensor, self.against = QComboBox(), QComboBox()
        for channel in _sensors(bench.job, log):
            self.sensor.addItem(f"{channel.tag}  {channel.name}", channel.id)
        if not self.sensor.count():
            raise NotApplicable("The log has no raw signal with anything beside it to compare with.")
        looked_at = bench.channel
        if looked_at is not None:
            self.sensor.setCurrentIndex(max(self.sensor.findData(looked_at.id), 0))
        self.add("Sensor", self.sensor)
        self.add("Against", self.against)
        self.table: QTableWidget = plain_table("Readings found")
        self.says = label("", "", 12)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.says)
        column.addWidget(self.table)
        self.add("Found", body)
        self.sensor.currentIndexChanged.connect(self._offer)
        self.against.currentIndexChanged.connect(self._find)
        self._offer()

    @property
    def _channel(self) -> ContinuousChannel:
        return self._bench.job.continuous(self.sensor.currentData())

    def _offer(self, *_what: object) -> None:
        """What the sensor can be compared with."""
        self.against.blockSignals(True)
        self.against.clear()
        for one in comparable(self._log, self._channel):
            self.against.addItem(one.words, one.key)
        self.against.blockSignals(False)
        self._find()

    def _find(self, *_what: object) -> None:
        self._found = None
        self.complaint.setText("")
        try:
            self._found = readings_from(
                self._log, self._channel, self.against.currentData() or "", self._stretch, new_id
            )
        except YardstickError as error:
            self.complaint.setText(str(error))
        self._show()

    def _show(self) -> None:
        found, channel = self._found, self._channel
        readings = () if found is None else found.readings
        self.says.setText("" if found is None else found.words(channel))
        self.table.setColumnCount(len(_HEADINGS))
        self.table.setHorizontalHeaderLabels(_HEADINGS)
        self.table.setRowCount(len(readings))
        for n, one in enumerate(readings):
            raw = "" if one.raw is None else f"{significant(one.raw.mean, 6)} {one.raw.unit}"
            cells = (
                clock_words(one.captured.timestamp()), f"{significant(one.reference, 5)} {one.reference_unit}", raw,
                one.direction,
            )  # fmt: skip
            for column, text in enumerate(cells):
                self.table.setItem(n, column, QTableWidgetItem(text))
        fit_height(self.table)
        self.keep.setText(f"Take {counted(len(readings), 'reading')}")
        self.keep.setEnabled(bool(readings))

    def _take_readings(self) -> None:
        if self._found is not None:
            self._bench.capture(self._found.readings)
            self._bench.select(self._channel.id)
            self._bench.said.emit(f"{counted(len(self._found.readings), 'reading')} of {self._channel.tag} are at "
                                  "Gather, marked as from the log.", False)  # fmt: skip


def _sensors(job: Job, log: LogCourses) -> list[ContinuousChannel]:
    raw = {one.feed.channel for one in log.log.series() if one.feed.role == "raw"}
    found = [one for one in job.channels if isinstance(one, ContinuousChannel) and one.id in raw]
    return [one for one in found if comparable(log, one)]
