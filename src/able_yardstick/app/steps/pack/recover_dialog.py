"""Read what is in a controller: pairs typed, pasted or injected; the forms that make them; kept as found."""

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ....core.job.channels import change_channel
from ....core.prove.recovery.candidates import Recovered
from ....core.prove.recovery.next_signal import next_count
from ....core.prove.recovery.notation import in_signal, spec_as_found
from ....core.prove.recovery.pairs import TYPED_SLACK, SeenPairs
from ....core.results.choices import keep_packing
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import significant
from ...frame.live import LiveBench
from ...frame.workbench import Workbench, now
from ...panel.fields import Complaint, heading, label
from ...panel.table_field import TableField
from .injection import Injection, read_out

_WIDTH, _HEIGHT = 560, 620
_PLACES = 5
_REASON = "as found in the controller"


class RecoverDialog(QDialog):
    """Pairs of a signal at the pin and what is shown; what they say grows with each."""

    def __init__(self, bench: Workbench, live: LiveBench, knobs_port: int | None, parent: QWidget) -> None:
        super().__init__(parent)
        channel = bench.continuous
        if channel is None:
            raise NotApplicable("Choose a channel with a curve first.")
        self._bench, self._channel = bench, channel
        self._counts: list[float] = []
        self._shown: list[float] = []
        self._slack = 0.0
        self._found: tuple[Recovered, ...] = ()
        self._pairs: SeenPairs | None = None
        self.setWindowTitle(f"{channel.tag}: what is in the controller")
        self.resize(_WIDTH, _HEIGHT)
        unit = channel.path.pin_unit
        self.pairs = TableField(
            self._take, f"Pairs: signal at the pin in {unit}, and what is shown",
            f"Paste or type pairs: signal in {unit}, shown value, one row each",
        )  # fmt: skip
        self.following, self.says = label("", "", 13), label("", "", 12)
        self.says.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.complaint = Complaint()
        self.injection: Injection | None = None
        if knobs_port is not None and live.raw(channel) is not None and live.shown(channel) is not None:
            self.injection = Injection(channel, live, knobs_port, self)
            self.injection.paired.connect(self._paired)
            self.injection.ended.connect(self._ended)
        self._lay_out()
        self._say()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        how = "Put a known signal on the input and type it with what the controller shows. Some ten pairs are enough."
        column.addWidget(label(how, "muted", 12))
        column.addWidget(self.pairs)
        column.addWidget(self.following)
        column.addWidget(heading("What makes every pair"))
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(self.says)
        column.addWidget(area, 1)
        column.addWidget(self.complaint)
        row = QHBoxLayout()
        self.by_itself = QPushButton("Read it by injection")
        self.by_itself.setToolTip("The rig injects one signal after the other at the terminal")
        self.by_itself.setVisible(self.injection is not None)
        self.by_itself.clicked.connect(self._inject)
        self.keep = QPushButton("Keep as found in the controller")
        self.keep.setObjectName("primary")
        self.keep.clicked.connect(self._keep)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        for button in (self.by_itself, self.keep, close):
            row.addWidget(button)
        column.addLayout(row)

    def done(self, result: int) -> None:
        """Take an injected signal off before it closes."""
        if self.injection is not None:
            self.injection.stop()
        super().done(result)

    # -- pairs ------------------------------------------------------------------------------------------------------

    def _take(self, signals: Sequence[float], values: Sequence[float], *_units: str) -> None:
        converter = self._channel.path.converter
        self._counts = [float(converter.forward(signal)) for signal in signals]
        self._shown = [float(value) for value in values]
        self._slack = TYPED_SLACK
        self.complaint.setText("")
        self._say()

    def _inject(self) -> None:
        if self.injection is not None:
            self._counts, self._shown, self._slack = [], [], 0.0
            self.complaint.setText("")
            self.by_itself.setEnabled(False)
            self.injection.start()

    def _paired(self, count: float, value: float) -> None:
        self._counts.append(count)
        self._shown.append(value)
        self._say()

    def _ended(self, why: str) -> None:
        self.complaint.setText(why)
        self.by_itself.setEnabled(True)

    # -- showing ----------------------------------------------------------------------------------------------------

    def _say(self) -> None:
        converter = self._channel.path.converter
        signals = [round(float(converter.inverse(count)), _PLACES) for count in self._counts]
        self.pairs.show_rows(signals, [round(value, _PLACES) for value in self._shown])
        self._found, self._pairs = (), None
        if len(self._counts) >= 2:
            try:
                self._pairs, self._found = read_out(self._counts, self._shown, self._slack)
            except YardstickError as error:
                self.complaint.setText(str(error))
        self.keep.setEnabled(bool(self._found))
        self.following.setText(self._next_words())
        self.says.setText("\n\n".join(self._words(one) for one in self._found) or "Two pairs are needed at least.")

    def _next_words(self) -> str:
        converter = self._channel.path.converter
        if self._pairs is None:
            return f"Begin with {significant(converter.low)} and {significant(converter.high)} {converter.unit}."
        count = next_count(self._pairs, self._found, converter.full_count)
        if count is None:
            return "Every signal is known to show what it would: nothing more to try."
        return f"Next: {significant(float(converter.inverse(count)), 5)} {converter.unit} (count {count}) tells most."

    def _words(self, one: Recovered) -> str:
        assert self._pairs is not None  # there are forms
        rows = [*one.numbers, *in_signal(one, self._pairs, self._channel.path.converter)]
        special = f", a case of {one.special_of} ({100 * one.chance:.2g} % of lines look so)" if one.special_of else ""
        lines = [f"{one.kind.capitalize()}{special}"]
        lines += [
            f"   {row.name}: {significant(row.value, 7)}, from {significant(row.low, 7)} to {significant(row.high, 7)}"
            for row in rows
        ]
        return "\n".join(lines)

    # -- keeping ----------------------------------------------------------------------------------------------------

    def _keep(self) -> None:
        if self._pairs is None:
            return
        channel = self._bench.job.continuous(self._channel.id)
        try:
            spec = spec_as_found(self._found[0], self._pairs, channel.path.converter)
            changed = channel.with_(pack_spec=spec)
            self._bench.edit(
                f"{channel.tag}: numbers as found",
                lambda job: keep_packing(change_channel(job, changed), channel.id, now(), _REASON),
            )
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self._bench.said.emit(f"{channel.tag}: its numbers are kept as found in the controller.", False)
        self.accept()
