"""The Sources view: every source as a card, connecting, the simulated plant, and adding another."""

from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout

from ...bench.manual import Manual
from ...bench.replay import Replay
from ...bench.rig.layout import RIG_SOURCES, Places, sources_for, with_places
from ...bench.source import OpenSource
from ...core.document.sources import AnySource
from ...core.job.instruments import change_source, change_sources, remove_source
from ...core.words.errors import YardstickError
from ...core.words.numerals import parse_number
from ..frame.live import LiveBench
from ..frame.theme import Theme
from ..frame.widgets import discard
from ..frame.workbench import Workbench, new_id
from ..panel.fields import Complaint, heading, label
from ..panel.lead_box import Headline
from ..panel.step_panel import StepPanel
from ..rig.panel import RigPanel
from ..rig.process import DEMO_FAULTS, RigProcess
from .card import SourceCard
from .editor import SourceEditor
from .kinds import KINDS, SourceKind
from .lead import lead_of_links

_DEMO_JOB = "kiln-2"


class SourcesPanel(StepPanel):
    """What is connected to the bench."""

    title = "Sources"

    def __init__(self, bench: Workbench, theme: Theme, live: LiveBench, rig: RigProcess) -> None:
        super().__init__(bench, theme)
        self._live, self._rig = live, rig
        self._cards: dict[str, SourceCard] = {}
        self.rig_panel: RigPanel | None = None
        self._complaint = Complaint()
        self.body.addWidget(self._complaint)
        self.body.addWidget(heading("The simulated plant"))
        self._rig_words = label("", "muted", 12)
        self.body.addWidget(self._rig_words)
        self.rig_button = QPushButton()
        self.rig_button.clicked.connect(self.turn_rig)
        self.knobs_button = QPushButton("Knobs of the plant …")
        self.knobs_button.clicked.connect(self.show_knobs)
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(self.rig_button)
        row.addWidget(self.knobs_button)
        self.body.addLayout(row)
        self.body.addWidget(heading("What is connected"))
        self._list = QVBoxLayout()
        self._list.setSpacing(8)
        self.body.addLayout(self._list)
        self._add = QToolButton()
        self._add.setText("Add a source ▾")
        self._add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self)
        for kind in KINDS:
            menu.addAction(kind.adds, partial(self._add_source, kind))
        self._add.setMenu(menu)
        self.body.addWidget(self._add)
        self.body.addStretch(1)
        self.connect_button = self.action("Connect", self.turn_link, primary=True)
        live.slow_ticked.connect(self._show_status)
        live.connected.connect(lambda _on: self._show_status())
        rig.serving.connect(self._served)
        rig.stopped.connect(self._rig_ended)

    # -- acting -----------------------------------------------------------------------------------------------------

    def turn_link(self) -> None:
        """Connect to every source, or let them all go."""
        if self._live.is_on:
            self._live.disconnect_all()
        else:
            self._live.connect_all()

    def turn_rig(self) -> None:
        """Start the simulated plant for this job's channels, or stop it."""
        if self._rig.is_on:
            self._live.disconnect_all()
            self._close_knobs()
            self._rig.stop()
        elif self.bench.path is not None:
            self._complaint.setText("")
            is_demo = self.bench.job.id == _DEMO_JOB
            self._rig.start(str(self.bench.path), DEMO_FAULTS if is_demo else ())
        self._show_rig()

    def _served(self, places: Places) -> None:
        """The rig answers: turn its sources to where it is, or add them, and connect."""
        job = self.bench.job
        turned = with_places(job, places)
        if not {source.id for source in turned} & set(RIG_SOURCES):
            turned = (*turned, *sources_for(job, places, {}))
        self.bench.try_edit("sources turned to the rig", lambda job: change_sources(job, turned))
        self._live.connect_all()
        self._show_rig()

    def _rig_ended(self, why: str) -> None:
        self._close_knobs()
        self._complaint.setText(f"The rig ended: {why}" if why else "")
        self._show_rig()

    def show_knobs(self) -> None:
        """Bring up the plant's knobs."""
        if self._rig.places is None:
            return
        if self.rig_panel is None:
            self.rig_panel = RigPanel(self._rig.places.knobs, self.window())
        self.rig_panel.show()
        self.rig_panel.raise_()

    def _close_knobs(self) -> None:
        if self.rig_panel is not None:
            self.rig_panel.finish()
            self.rig_panel = None

    def _add_source(self, kind: SourceKind) -> None:
        self._edit(kind.record(id=new_id(), name=kind.adds[:1].upper() + kind.adds[1:]))

    def _edit(self, source: AnySource) -> None:
        dialog = SourceEditor(source, self.bench.job, self)
        if dialog.exec():
            made = dialog.source
            self.bench.try_edit(f"source {made.name}", lambda job: change_source(job, made))
        discard(dialog)

    def _act(self, what: str, source: AnySource) -> None:
        if what == "edit":
            self._edit(source)
        elif what == "remove":
            self.bench.try_edit(f"removal of {source.name}", lambda job: remove_source(job, source.id))
        elif what == "turn":
            turned = source.with_(enabled=not source.enabled)
            self.bench.try_edit(f"{source.name} on or off", lambda job: change_source(job, turned))
        else:
            link = self._live.hub.link(source.id)
            if link is not None:
                link.order(_step if what == "step" else _turn_hold)

    def _enter(self, source: AnySource, feed: str, text: str) -> str:
        """Take a value typed as it is read off; gives why not, or nothing."""
        link = self._live.hub.link(source.id)
        if link is None:
            return "Not connected: press Connect first, then type it."
        try:
            value = parse_number(text)
        except YardstickError as error:
            return str(error)
        link.order(lambda opened: opened.enter(feed, value) if isinstance(opened, Manual) else None)
        return ""

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the job's sources, as they now are."""
        sources = self.bench.job.sources
        if [card.source for card in self._cards.values()] != list(sources):
            for card in self._cards.values():
                discard(card)
            self._cards = {source.id: SourceCard(source, self._act, self._enter) for source in sources}
            for card in self._cards.values():
                self._list.addWidget(card)
        self._show_status()
        self._show_rig()

    def lead(self) -> Headline | None:
        """Which links answer."""
        statuses = {
            card.source.name: link.status
            for key, card in self._cards.items()
            if card.source.enabled and (link := self._live.hub.link(key)) is not None
        }
        return lead_of_links([card.source for card in self._cards.values()], statuses, self._live.is_on)

    def _show_status(self) -> None:
        self.show_lead()
        self.connect_button.setText("Disconnect" if self._live.is_on else "Connect")
        self.connect_button.setEnabled(bool(self._cards) or self._live.is_on)
        if not self.isVisible():
            return
        for key, card in self._cards.items():
            link = self._live.hub.link(key)
            card.show_status(link.status if link is not None else None)

    def _show_rig(self) -> None:
        on = self._rig.is_on
        self.rig_button.setText("Stop the rig" if on else "Start the rig")
        self.knobs_button.setEnabled(self._rig.places is not None)
        words = "It runs, on loopback only." if on else "A process of its own that stands in for the plant and bench."
        if self._rig.missing:
            words += f" It does without {', '.join(self._rig.missing)}."
        if self.bench.job.id == _DEMO_JOB:
            words += " Two of its channels are faulty to begin with."
        self._rig_words.setText(words)

    def finish(self) -> None:
        """Let everything go."""
        self._live.disconnect_all()
        self._close_knobs()
        self._rig.stop()


def _turn_hold(source: OpenSource) -> None:
    if isinstance(source, Replay):
        source.hold(not source.is_held)


def _step(source: OpenSource) -> None:
    if isinstance(source, Replay):
        source.step()
