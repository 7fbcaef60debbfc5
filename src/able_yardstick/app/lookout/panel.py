"""The lookout's panel: what needs attention with the button that goes there, and the log."""

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ...core.document.watched import RowOrder
from ...core.job.watching import order_rows
from ...core.lookout.attention import AttentionItem
from ...core.lookout.rows import hidden_rows
from ...core.words.errors import YardstickError
from ...core.words.numerals import counted
from ...files.log.schema import LOG_ENDING
from ...files.output import file_name
from ..frame.theme import Theme
from ..frame.widgets import discard
from ..frame.workbench import Workbench
from ..panel.fields import ChoiceField, Complaint, TextField, heading, label
from ..panel.lead_box import Act, Headline
from ..panel.section import Section
from ..panel.step_panel import StepPanel
from .row_acts import RowActs
from .watcher import Watcher

_ORDERS: tuple[tuple[RowOrder, str], ...] = (
    ("tagboard", "as on the tagboard"),
    ("tag", "by tag"),
    ("attention", "what needs attention first"),
    ("group", "by group"),
)
_MOST = 12


class LookoutPanel(StepPanel):
    """Now on the bench, and the log."""

    title = "Lookout"

    def __init__(
        self, bench: Workbench, theme: Theme, watch: Watcher, acts: RowActs, connect: Callable[[], None],
        open_log: Callable[[Path | None], None],
    ) -> None:  # fmt: skip
        super().__init__(bench, theme)
        self._open_log = open_log
        self._last_log: Path | None = None
        self._watch, self._acts, self._connect = watch, acts, connect
        self._rows: list[QWidget] = []
        self._shown: tuple[object, ...] = ()
        self.body.addWidget(heading("Now on the bench"))
        self._list = QVBoxLayout()
        self._list.setSpacing(8)
        self.nothing = label("", "muted", 12)
        self.body.addWidget(self.nothing)
        self.body.addLayout(self._list)
        self.body.addWidget(heading("The log"))
        self.log_words = label("", "", 13)
        self.log_button, self.keep_button = QPushButton(), QPushButton("Keep these 60 s")
        self.log_button.clicked.connect(self.turn_log)
        self.keep_button.clicked.connect(self.keep)
        row = QHBoxLayout()
        row.addWidget(self.log_button, 1)
        row.addWidget(self.keep_button, 1)
        self.note = TextField("Note", self._note, hint="what happens now", optional=True)
        self.complaint = Complaint()
        self.body.addWidget(self.log_words)
        self.body.addLayout(row)
        self.body.addWidget(self.note)
        self.look_button = QPushButton("Open a log …")
        self.look_button.clicked.connect(lambda: self._open_log(self._last_log))
        self.body.addWidget(self.look_button)
        self.body.addWidget(self.complaint)
        self._add_rows()
        self.body.addStretch(1)
        watch.changed.connect(self._changed)

    def _add_rows(self) -> None:
        """How the rows stand, and what can be watched beside the channels."""
        self.rows = Section(self.bench, "lookout rows", "Rows", opened=True)
        self.order = ChoiceField("Order", _ORDERS, self._put_order)
        self.compare, self.make = QPushButton("Compare two sensors …"), QPushButton("Make a value …")
        self.compare.setToolTip("Watch the difference of sensors of one quantity")
        self.make.setToolTip("A formula over channels, one of several sensors, a total over time")
        self.compare.clicked.connect(lambda: self._acts.ask_pair())
        self.make.clicked.connect(lambda: self._acts.ask_value())
        self.show_hidden = QPushButton()
        self.show_hidden.clicked.connect(self._acts.show_all)
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.compare, 1)
        row.addWidget(self.make, 1)
        self.rows.add(self.order, both, self.show_hidden)
        self.rows.add(label("A right press on a row pins, hides or groups it, and sets what it shows.", "muted", 12))
        self.body.addWidget(self.rows)

    def _put_order(self, order: str) -> None:
        chosen = next(one for one, _words in _ORDERS if one == order)
        self.bench.edit("order of the rows", lambda job: order_rows(job, chosen))

    # -- acting -----------------------------------------------------------------------------------------------------

    def turn_log(self) -> None:
        """Start a log beside the job, or end the one that runs."""
        if self._watch.recorder is None:
            self._try(lambda: self._watch.start_log(self._place()))
            return
        path = self._last_log = self._watch.recorder.path
        totals = self._watch.stop_log()
        if totals is not None:
            self.bench.said.emit(f"{totals.kept} samples of {totals.seconds:.0f} s are in {path}.", False)

    def keep(self) -> None:
        """Keep the last minute as a log of its own."""

        def kept() -> None:
            path = self._place()
            totals = self._watch.keep(path)
            self._last_log = path
            self.bench.said.emit(f"{totals.kept} samples of the last minute are in {path}.", False)

        self._try(kept)

    def ask_log(self) -> None:
        """Start a log in a file that is asked for."""
        name, _ = QFileDialog.getSaveFileName(self, "A log", str(self._place()), f"Logs (*{LOG_ENDING})")
        if name:
            self._try(lambda: self._watch.start_log(Path(name)))

    def _place(self) -> Path:
        """Beside the job, named by it and by the time."""
        job = self.bench.path
        folder = Path.home() if job is None else job.parent
        when = datetime.now().strftime("%Y-%m-%d %H.%M.%S")  # the time of the clock on the wall
        return folder / file_name(f"{self.bench.job.title} {when}", LOG_ENDING)

    def _try(self, act: Callable[[], None]) -> None:
        try:
            act()
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")

    def _note(self, text: str) -> None:
        if text.strip():
            self._watch.note(text.strip())
            self.bench.said.emit("Noted in the log.", False)
        self.note.show_values("")

    # -- showing ----------------------------------------------------------------------------------------------------

    def _changed(self) -> None:
        if self.isVisible():
            self.show_now()

    def lead(self) -> Headline | None:
        """How many channels are in order."""
        if not self._watch.is_on:
            if not self.bench.job.sources:
                more = "This job has no source yet: add one at Sources (F4). A log can be opened without any."
                return Headline("open", "Nothing to watch yet.", more)
            act = Act("Connect", self._connect)
            return Headline("open", "Nothing is connected.", "Connect the sources to see every channel live.", (act,))
        lasting = [item for item in self._watch.attention.items if item.until_s is None]
        faults = sum(item.level == "fault" for item in lasting)
        looks = len({item.channel for item in lasting}) - faults
        known = self.bench.job.document.by_id
        bad = len({item.channel for item in lasting if item.channel in known})
        total = self._watch.live_channels
        parts = [counted(faults, "fault")] if faults else []
        parts += [f"{looks} to look at"] if looks > 0 else []
        if not parts:
            return Headline("ok", f"All {total} live channels are in order.")
        return Headline("fault" if faults else "look", f"{', '.join(parts)}; {max(total - bad, 0)} channels in order.")

    def refresh(self) -> None:
        """Show what needs attention, and the log."""
        items = self._watch.attention.items[:_MOST]
        self.nothing.setText("" if items else "Nothing needs attention." if self._watch.is_on else "Nothing is live.")
        self.nothing.setVisible(not items)
        if items != self._shown:
            self._shown = items
            for row in self._rows:
                discard(row)
            self._rows = [self._row(item) for item in items]
            for row in self._rows:
                self._list.addWidget(row)
        self._show_log()
        self.order.show_value(self.bench.job.watch.order)
        hidden = hidden_rows(self.bench.job)
        self.show_hidden.setText(f"Show {counted(len(hidden), 'hidden row')}")
        self.show_hidden.setVisible(bool(hidden))

    def channel_of(self, row_id: str) -> str:
        """The channel that a row leads to: of a pair the suspect one, else the second; of a value none."""
        job, pair = self.bench.job, self._watch.pairs.get(row_id)
        if pair is not None:
            by_tag = {channel.tag: channel.id for channel in job.channels}
            return by_tag.get(pair.suspect, pair.second if pair.second in job.document.by_id else pair.first)
        ids = next((one.channels for one in job.watch.pairs if one.id == row_id), (row_id,))
        return ids[-1] if ids[-1] in job.document.by_id else ""

    def _row(self, item: AttentionItem) -> QWidget:
        tag = self._acts.words_of(item.channel) or "A row that is gone"
        known = self.bench.job.document.by_id
        leads = known[channel_id].tag if (channel_id := self.channel_of(item.channel)) else ""
        made = QFrame()
        made.setObjectName("note")
        grid = QGridLayout(made)
        grid.setContentsMargins(10, 8, 10, 8)
        role = {"fault": "error", "look": "look"}.get(item.level, "")
        when = datetime.fromtimestamp(item.since_s).strftime("%H:%M:%S")  # the clock on the wall
        over = "" if item.until_s is None else f" to {datetime.fromtimestamp(item.until_s).strftime('%H:%M:%S')}"
        grid.addWidget(label(f"{tag}: {item.words}", role, 13), 0, 0)
        grid.addWidget(label(f"{when}{over}", "muted", 12), 0, 1)
        grid.addWidget(label(item.says, "", 12), 1, 0, 1, 2)
        row = QHBoxLayout()
        go = QPushButton(f"Go to {leads}")
        go.setVisible(bool(leads))
        go.clicked.connect(partial(self._go, item.channel))
        row.addWidget(go)
        seen = QPushButton("Seen")
        seen.setToolTip("Acknowledge it: it goes once it is over")
        seen.setEnabled(not item.is_acknowledged)
        seen.clicked.connect(partial(self._watch.acknowledge, item))
        row.addWidget(seen)
        grid.addLayout(row, 2, 0, 1, 2)
        grid.setColumnStretch(0, 1)
        return made

    def _go(self, row_id: str, _checked: bool = False) -> None:
        self.bench.select(self.channel_of(row_id))
        self.bench.go("prove" if row_id in self._watch.pairs else "wake")

    def _show_log(self) -> None:
        recorder = self._watch.recorder
        self.log_button.setText("Stop the log" if recorder is not None else "Start a log")
        self.log_button.setEnabled(recorder is not None or self._watch.is_on)
        self.keep_button.setEnabled(self._watch.is_on)
        self.note.setVisible(recorder is not None)
        self.look_button.setText("Open a log …" if self._last_log is None else "Look at the last log")
        self.look_button.setVisible(recorder is None)
        if recorder is None:
            self.log_words.setText("Everything that arrives can be kept: raw and value, both clocks, your notes.")
            return
        totals = recorder.totals
        lost = f", {totals.lost} lost" if totals.lost else ", none lost"
        self.log_words.setText(f"{recorder.path.name}: {totals.kept} samples in {totals.seconds:.0f} s{lost}.")
