"""A trim in the window: worked out on a press, with what it leaves, compared at the terminal, kept with its reason."""

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ....core.document.channel import ContinuousChannel
from ....core.job.channels import change_channel
from ....core.job.job import Job
from ....core.prove.checks import Check
from ....core.prove.trim import Trim
from ....core.prove.trimming import checks_in_force, compared_at_terminal, trim_advice, trim_of, wiring_limit
from ....core.results.choices import keep_trim
from ....core.units.electrical import signal_gain
from ....core.words.errors import YardstickError
from ....core.words.numerals import parse_number, significant
from ...frame.live import LiveBench
from ...frame.theme import Theme
from ...frame.workbench import Workbench, now
from ...panel.bar_table import Bar, BarTable
from ...panel.fields import Complaint, TextField, label
from ...panel.record_form import TickField, plain


class TrimBox(QWidget):
    """What to change in the controller so that the mismatches go."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        self._live: LiveBench | None = None
        self._channel: ContinuousChannel | None = None
        self._trim: Trim | None = None
        self._of: Job | None = None
        self._offset_only = False
        self._reason = ""
        self._theme: Theme | None = None
        self.offset_only = TickField("Leave the gain alone", self._put_offset_only)
        self.limit = TextField("Ask beyond", self._put_limit, hint="what the wiring explains", optional=True)
        self.work_out = QPushButton("Work out a trim")
        self.work_out.clicked.connect(self._work_out)
        self.says = label("", "", 12)
        self.left = BarTable("What the trim leaves")
        self.advice = label("", "look", 12)
        self.meter = TextField("At the terminal", self._compare, hint="a meter reads", optional=True)
        self.take_meter = QPushButton("Take")
        self.take_meter.setToolTip("What the live meter reads at the terminal now")
        self.take_meter.clicked.connect(self._take_meter)
        self.meter.row.addWidget(self.take_meter)
        self.compared = label("", "muted", 12)
        self.reason = TextField("Reason", self._put_reason, hint="why it is changed")
        self.keep = QPushButton("Keep these numbers")
        self.keep.clicked.connect(self._keep)
        self.complaint = Complaint()
        row = QHBoxLayout()
        row.addWidget(self.work_out)
        row.addWidget(self.keep)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        for widget in (
            self.offset_only, self.limit, self.says, self.left, self.advice, self.meter, self.compared, self.reason,
        ):  # fmt: skip
            column.addWidget(widget)
        column.addLayout(row)
        column.addWidget(self.complaint)

    def follow(self, live: LiveBench) -> None:
        """Take the meter from the live bench from now on."""
        self._live = live

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_channel(self, channel: ContinuousChannel, theme: Theme) -> str:
        """Show a channel; a trim worked out for an earlier state of the job is dropped. Gives what stands in a word."""
        self._theme = theme
        if self._channel is None or self._channel.id != channel.id:
            self.complaint.setText("")
            self.compared.setText("")
            self._reason = ""
        if self._of is not self._bench.job:
            self._trim = None
        self._channel, trim = channel, self._trim
        self.offset_only.show_value(self._offset_only)
        limit = channel.trim_limit
        self.limit.show_values("" if limit is None else plain(limit), suffix=channel.path.pin_unit)
        self.meter.show_values("", suffix=channel.path.pin_unit)
        self.take_meter.setVisible(trim is not None and self._live is not None and self._live.is_on)
        self.reason.show_values(self._reason)
        for widget in (self.says, self.left, self.advice, self.meter, self.compared, self.reason, self.keep):
            widget.setVisible(trim is not None)
        if trim is None:
            return "not worked out"
        checks = checks_in_force(self._bench.job, channel)
        self.says.setText(_words(trim, channel))
        self.left.show_bars(f"left, {channel.unit}", _bars(trim, checks, channel), theme)
        self.advice.setText(
            " ".join(trim_advice(trim, len(checks), wiring_limit(channel), channel.path.pin_unit, self._offset_only))
        )
        self.advice.setVisible(bool(self.advice.text()))
        self.compared.setVisible(bool(self.compared.text()))
        return _summary(trim, channel)

    # -- acting -----------------------------------------------------------------------------------------------------

    def _put_offset_only(self, on: bool) -> None:
        self._offset_only = on
        if self._trim is not None:
            self._work_out()

    def _put_limit(self, text: str) -> None:
        channel = self._channel
        if channel is not None:
            changed = channel.with_(trim_limit=parse_number(text) if text.strip() else None)
            self._bench.edit(f"{channel.tag}: limit of a trim", lambda job: change_channel(job, changed))

    def _work_out(self) -> None:
        channel = self._channel
        if channel is None:
            return
        try:
            self._trim, self._of = trim_of(self._bench.job, channel, self._offset_only), self._bench.job
            self.complaint.setText("")
        except YardstickError as error:
            self._trim = None
            self.complaint.setText(str(error))
        if self._theme is not None:
            self.show_channel(channel, self._theme)

    def _compare(self, text: str) -> None:
        channel = self._channel
        if channel is None or not text.strip():
            return
        checks = checks_in_force(self._bench.job, channel)
        worst = max(checks, key=lambda one: abs(one.shown - one.reference))
        self.compared.setText(compared_at_terminal(self._bench.job, channel, worst, parse_number(text)))
        self.compared.show()

    def _take_meter(self) -> None:
        channel = self._channel
        meter = None if channel is None or self._live is None else self._live.meter(channel.path.pin_unit)
        value = None if meter is None else meter.latest()
        if channel is None or meter is None or value is None:
            self.meter.fail("No live meter reads this signal now: hold it to the terminal, or type what it reads.")
            return
        self.meter.fail("")
        self._compare(str(value * signal_gain(meter.feed.unit, channel.path.pin_unit)))

    def _put_reason(self, text: str) -> None:
        self._reason = text.strip()

    def _keep(self) -> None:
        channel, trim = self._channel, self._trim
        if channel is None or trim is None:
            return
        reason = self._reason or self.reason.texts[0]
        try:
            self._bench.edit(
                f"{channel.tag}: trim", lambda job: keep_trim(job, channel.id, trim.packed.form, reason, now())
            )
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self._bench.said.emit(f"{channel.tag}: trimmed numbers kept. Write them at Pack, then prove again.", False)


def _words(trim: Trim, channel: ContinuousChannel) -> str:
    """The mismatch, in units and in signal, and the new numbers."""
    mismatch, unit = trim.mismatch, channel.unit
    about = f"{significant(mismatch.offset, 3)} {unit} at {significant(mismatch.about, 4)}"
    gain = f", {significant(100 * mismatch.gain, 3)} % of what is shown" if mismatch.gain else ""
    signals = [one for one in trim.in_signal if one is not None]
    volts = f" That is {significant(max(signals, key=abs), 3)} {channel.path.pin_unit} at the pin." if signals else ""
    cells = trim.packed.form.cells(channel.path.pin_unit, unit)
    few = "; ".join(" ".join(_cell(one) for one in row).strip() for row in cells.rows[:4])
    more = f" … {len(cells.rows)} rows" if len(cells.rows) > 4 else ""
    return f"The checks share {about}{gain}.{volts} New numbers: {few}{more}."


def _cell(value: float | str) -> str:
    return value if isinstance(value, str) else significant(value, 7)


def _bars(trim: Trim, checks: list[Check], channel: ContinuousChannel) -> list[Bar]:
    """What is left at each check, the error allowed being a whole bar, below what it was."""
    found = []
    for check, left in zip(checks, trim.left, strict=True):
        allowed = channel.allowed_error(check.reference)
        share = min(abs(left) / allowed, 1.0) if allowed else 1.0
        was = significant(check.shown - check.reference, 3)
        found.append(Bar(f"at {significant(check.reference, 5)}", significant(left, 2), share, f"it was {was}"))
    return found


def _summary(trim: Trim, channel: ContinuousChannel) -> str:
    most = max(abs(one) for one in trim.left)
    return f"leaves at most {significant(most, 2)} {channel.unit}"
