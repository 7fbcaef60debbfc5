"""The frame: bar, tagboard, ruler, centre, panel and status line, and every command of the program."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEventLoop, QSize, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QSplitter,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ...core.state.progress import STEP_NAMES, StepName
from ...core.words.errors import YardstickError
from ...files.jobfile import ENDING
from ...files.log.schema import LOG_ENDING
from ..centre.column import Centre
from ..centre.sight import Sight
from ..panel.fields import restyle
from ..panel.step_panel import StepPanel
from ..steps.all_steps import STEPS
from .channel_commands import ChannelCommands
from .find import CommandEntry, FindField
from .job_commands import JobCommands
from .pages import Pages, SideName
from .plain_text import PlainLabel, caption, tip
from .ruler import StepRuler
from .settings import Settings
from .side_picture import SidePicture
from .start_view import Beginnings
from .tagboard import Tagboard
from .theme import THEMES, Theme, ThemeName, bold, dress, style_sheet
from .widgets import discard
from .workbench import Change, Workbench

if TYPE_CHECKING:
    from ...core.document.channel import SignableChannel
    from ...core.sign.chain import LastRecord
    from ..chart.desk import ChartDesk
    from ..lookout.desk import LookoutDesk
    from ..panel.readings_panel import ReadingsPanel
    from ..register.desk import RegisterDesk
    from ..register.shop import Shop
    from .live import LiveBench

SMALLEST = (1020, 668)  # on a screen of 1024 x 700, with a frame
FIRST_SIZE = (1280, 800)
_FRAME = QSize(4, 32)  # what a window manager puts around it, about
_SPLIT = [226, 696, 358]
_BETWEEN_CHECKS_MS = 20
_FIRST_CHECK_MS = 100


def _sources(window: "MainWindow") -> StepPanel:
    from ..sources.panel import SourcesPanel

    return SourcesPanel(window.bench, window.theme, window.live, window.rig)


def _references(window: "MainWindow") -> StepPanel:
    from ..references.panel import ReferencesPanel

    return ReferencesPanel(window.bench, window.theme)


_MAKERS: dict[StepName | SideName, Callable[["MainWindow"], StepPanel]] = {
    "lookout": lambda window: window.lookout.panel,
    "glance": lambda window: window.lookout.panel,
    "chart": lambda window: window.chart.panel,
    "sources": _sources,
    "references": _references,
    "register": lambda window: window.register.panel,
    **{name: step.make_panel for name, step in STEPS.items()},
}
_OTHER_MAKERS = {(name, kind): maker for name, step in STEPS.items() for kind, maker in step.other_panels.items()}


def _first_size(screen: QSize) -> QSize:
    """As large as wanted, or as the screen holds with a frame, which has its place too."""
    return QSize(*FIRST_SIZE).boundedTo(screen - _FRAME).expandedTo(QSize(*SMALLEST))


class MainWindow(QMainWindow):
    """The one window."""

    def __init__(self, bench: Workbench, settings: Settings) -> None:
        super().__init__()
        self.bench, self.settings = bench, settings
        self.theme: Theme = THEMES[settings.theme]
        self.sight = Sight(self)
        self.actions_list: list[QAction] = []
        self.setAcceptDrops(True)
        self._panels: dict[tuple[str, str], StepPanel] = {}  # by the kind of channel that has its own
        self._side: SideName | None = None
        self._lookout: LookoutDesk | None = None
        self._chart: ChartDesk | None = None
        self._shop: Shop | None = None
        self._register: RegisterDesk | None = None
        self._board_width = _SPLIT[0]
        self._live: LiveBench | None = None
        self._is_painted = False
        self._checks = QTimer(self, singleShot=True, interval=_BETWEEN_CHECKS_MS)
        self._checks.timeout.connect(self._check_more)
        self.setStyleSheet(style_sheet(self.theme))  # not the application's: a panel is made outside, and styled once
        self.setWindowTitle("Able Yardstick")
        self.setMinimumSize(*SMALLEST)
        self.resize(_first_size(self.screen().availableSize()))
        self.channels = ChannelCommands(bench, lambda: self.shop, self._begin_description, self._say, self)
        self.jobs = JobCommands(bench, settings, self._say, self)
        self._make_actions()
        self._build()
        self._restore()
        bench.changed.connect(self._refresh)
        bench.said.connect(self._say)
        bench.leave_out_offered.connect(self.offer_to_leave_out)
        self._refresh(Change(job=True, channel=True, step=True))

    # -- commands ---------------------------------------------------------------------------------------------------

    def _action(self, text: str, act: Callable[[], object], shortcut: str | QKeySequence.StandardKey = "") -> QAction:
        action = QAction(text, self)
        if shortcut:
            action.setShortcut(QKeySequence(shortcut))
        action.triggered.connect(lambda: act())
        self.addAction(action)
        self.actions_list.append(action)
        return action

    def _make_actions(self) -> None:
        act, bench, channels, jobs = self._action, self.bench, self.channels, self.jobs
        self._undo = act("Undo", bench.undo, QKeySequence.StandardKey.Undo)
        self._redo = act("Redo", bench.redo, "Ctrl+Shift+Z")
        for number, step in enumerate(STEP_NAMES, 1):
            act(f"Go to {step.capitalize()}", partial(self._go, step), f"Ctrl+{number}")
        act("Next step", lambda: bench.go_next(1), "Alt+Right")
        act("Step before", lambda: bench.go_next(-1), "Alt+Left")
        act("Next channel", lambda: bench.select_next(1), "Alt+Down")
        act("Channel before", lambda: bench.select_next(-1), "Alt+Up")
        self._job_actions = [
            act("New job …", jobs.ask_new_job, "Ctrl+Shift+N"),
            act("Open a job …", jobs.ask_open, QKeySequence.StandardKey.Open),
            act("Save as …", jobs.ask_save_as, QKeySequence.StandardKey.SaveAs),
            act("Rename the job …", jobs.ask_rename),
        ]
        self._add_actions = [
            act("Add a channel", lambda: channels.add("continuous"), "Ctrl+N"),
            act("Add a contact (two states)", lambda: channels.add("two-state")),
            act("Add a constant", lambda: channels.add("constant")),
            act("Add an output (mA or V)", lambda: channels.add("output")),
        ]
        self._channel_actions = [
            act("Duplicate the channel", channels.duplicate, "Ctrl+D"),
            act("Add another axis of the device", channels.add_axis),
            act("Keep the transducer in the shop's library …", channels.keep_in_library),
            act("Move the channel up", lambda: channels.move(-1), "Ctrl+Shift+Up"),
            act("Move the channel down", lambda: channels.move(1), "Ctrl+Shift+Down"),
            act("Remove the channel", channels.remove, "Ctrl+Shift+Del"),
        ]
        self._paste = act("Paste readings", self.paste, QKeySequence.StandardKey.Paste)
        self._make_view_actions()

    def _make_view_actions(self) -> None:
        act = self._action
        act("Find or do", lambda: self.find_field.setFocus(), "Ctrl+K")
        act("Day or night", self.turn_theme, "Ctrl+T")
        act("Lookout: every channel at once", lambda: self.show_side("lookout"), "F2")
        act("Lookout at a glance: large numerals", lambda: self.show_side("glance"), "Shift+F2")
        act("Chart: courses over time, live or of a log", lambda: self.show_side("chart"), "F3")
        act("Open a log …", lambda: self.on_chart(lambda desk: desk.ask_log()), "Ctrl+Shift+O")
        act(
            "Lookout: the raw signal beside each value",
            lambda: self.on_lookout(lambda desk: desk.picture.turn_raw()),
            "Ctrl+Shift+R",
        )
        act("Log: start or stop", lambda: self.on_lookout(lambda desk: desk.panel.turn_log()), "Ctrl+L")
        act("Log: keep the last 60 seconds", lambda: self.on_lookout(lambda desk: desk.panel.keep()), "Ctrl+Shift+L")
        act("Sources: what is connected to the bench", lambda: self.show_side("sources"), "F4")
        act("Reference instruments", lambda: self.show_side("references"), "Shift+F4")
        act("Register: history, drift, what is due", lambda: self.show_side("register"), "F5")
        act("Fast capture …", self.fast_capture, "Ctrl+F8")
        act("Read what is in the controller …", self.read_controller)
        act("Hairline: hold it to the live signal", self.turn_pin_to_live, "F6")
        act("Look, or take the reading", self.take_key, "F8")
        act("Repeat the last reading", lambda: self._panel(self.bench.step).take_key("repeat"), "Shift+F8")
        act("The stop before", lambda: self._panel(self.bench.step).take_key("previous"), "F7")
        act("The next stop", lambda: self._panel(self.bench.step).take_key("next"), "F9")
        act("Hairline: to the Rule", lambda: self.centre.rule.setFocus(), "Ctrl+R")
        act("Look closer at the hairline", lambda: self.sight.zoom(0.5), QKeySequence.StandardKey.ZoomIn)
        act("Look from further away", lambda: self.sight.zoom(2.0), QKeySequence.StandardKey.ZoomOut)
        act("Show the whole pin", self.sight.show_all, "Ctrl+0")
        act("Show or hide the tagboard", self.turn_tagboard, "Ctrl+B")
        act("Full screen or window", self.turn_full_screen, "F11")
        act("Quit", self.close, QKeySequence.StandardKey.Quit)

    def _entries(self) -> list[CommandEntry]:
        from .entries import entries_for

        return entries_for(self)

    # -- building ---------------------------------------------------------------------------------------------------

    def _build(self) -> None:
        whole = QWidget()
        self.setCentralWidget(whole)
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._build_bar(whole))
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        self.splitter.setChildrenCollapsible(False)
        self.splitter.setHandleWidth(2)
        channel_menu, add_menu = QMenu(self), QMenu(self)
        channel_menu.addActions(self._channel_actions)
        self.channels.fill(add_menu, self._add_actions, self._channel_actions)
        self.tagboard = Tagboard(self.bench, self.theme, channel_menu, add_menu)
        self.splitter.addWidget(self.tagboard)
        self.splitter.addWidget(self._build_middle())
        self.panels = QStackedWidget()
        self.panels.setMinimumWidth(354)
        self.panels.setMaximumWidth(560)
        self.splitter.addWidget(self.panels)
        for n, stretch in enumerate((1, 7, 2)):
            self.splitter.setStretchFactor(n, stretch)
        self.splitter.setSizes(_SPLIT)
        column.addWidget(self.splitter, 1)
        column.addWidget(self._build_status())

    def _build_middle(self) -> QWidget:
        middle = QWidget()
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.ruler = StepRuler(self.theme)
        self.ruler.chosen.connect(self._go)
        self.centre = Centre(self.bench, self.sight, self.theme, self._beginnings(), self._last_of)
        column.addWidget(self.ruler)
        self.pages = Pages(self.centre, self._picture_of, self.leave_side, self._say)
        self._leave = QShortcut(QKeySequence(Qt.Key.Key_Escape), self)
        self._leave.activated.connect(self.leave_side)
        column.addWidget(self.pages, 1)
        middle.setMinimumWidth(440)
        return middle

    def _build_bar(self, whole: QWidget) -> QWidget:
        bar = QWidget()
        bar.setObjectName("bar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        bar.setFixedHeight(44)
        row = QHBoxLayout(bar)
        row.setContentsMargins(12, 4, 12, 4)
        name = PlainLabel("Able Yardstick")
        name.setFont(bold(14))
        row.addWidget(name)
        row.addSpacing(18)
        self._job_button = QToolButton()
        self._job_button.setObjectName("flat")
        self._job_button.setFont(bold(13))
        self._job_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._job_menu = QMenu(self)
        self._job_menu.aboutToShow.connect(lambda: self.jobs.fill(self._job_menu, self._job_actions))
        self._job_button.setMenu(self._job_menu)
        self._job_button.setToolTip("New job, open, save as, recent jobs")
        row.addWidget(self._job_button)
        row.addStretch(1)
        for action, sign in ((self._undo, "↶"), (self._redo, "↷")):
            button = QToolButton()
            button.setObjectName("flat")
            button.setDefaultAction(action)
            button.setText(sign)
            button.setFont(bold(15))
            action.changed.connect(lambda b=button, s=sign: b.setText(s))
            row.addWidget(button)
        self.find_field = FindField(self._entries, whole)
        self.find_field.setMaximumWidth(320)
        row.addWidget(self.find_field, 2)
        self._bench_button = QToolButton()
        self._bench_button.setText("Bench: not connected")
        self._bench_button.setToolTip("Sources, and the simulated plant (F4)")
        self._bench_button.clicked.connect(lambda: self.show_side("sources"))
        row.addWidget(self._bench_button)
        self._theme_button = QToolButton()
        self._theme_button.clicked.connect(self.turn_theme)
        row.addWidget(self._theme_button)
        return bar

    def _build_status(self) -> QWidget:
        status = QWidget()
        status.setObjectName("status")
        status.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        status.setFixedHeight(26)
        row = QHBoxLayout(status)
        row.setContentsMargins(12, 0, 12, 0)
        self._saved, self._said, self._hint = PlainLabel(), PlainLabel(), PlainLabel()
        self._saved.setProperty("role", "muted")
        self._hint.setProperty("role", "muted")
        self._said.setAccessibleName("Message")
        self._said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row.addWidget(self._saved)
        row.addSpacing(20)
        row.addWidget(self._said, 1)
        row.addWidget(self._hint)
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.timeout.connect(lambda: self._said.setText(""))
        return status

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.setFocus()  # on no button, which a space would press
        self.tagboard.focus_selected()

    def build_rest(self) -> None:
        """What need not be there for the first picture: the panel and the plots, and then how far each channel is."""
        self._is_painted = True
        self._refresh(Change(job=True, step=True))
        self._checks.stop()  # the marks come after the plots
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        self.centre.plot_sizes = self.settings.plot_sizes
        self.centre.build_plots()
        QTimer.singleShot(_FIRST_CHECK_MS, self, self._check_what_is_left)  # once the plots are painted

    def build_all(self) -> None:
        """All of it at once, for those who look at it rather than wait for it."""
        self.build_rest()
        self.bench.check(len(self.bench.job.channels))
        self._show_checked()

    def _check_more(self) -> None:
        """Reckon how far some more channels have come, and go on once the window had its turn."""
        self.bench.check()
        self._show_checked()
        self._check_what_is_left()

    def _show_checked(self) -> None:
        self.tagboard.refresh()
        self._show_steps()

    def _show_steps(self) -> None:
        channel = self.bench.channel
        if channel is not None:
            self.ruler.show_steps(self.bench.progress(channel), self.bench.step, self.theme)

    def _check_what_is_left(self) -> None:
        if self._is_painted and not self.bench.is_all_checked:
            self._checks.start()

    @property
    def live(self) -> "LiveBench":
        """The live bench, made when it is first needed."""
        if self._live is None:
            from ..rig.process import RigProcess
            from ..steps.gather.session import GatherSession
            from ..steps.wake.session import WakeSession
            from .live import LiveBench

            self._live = LiveBench(self.bench, self)
            self.rig = RigProcess(self)
            self.wake_session = WakeSession(self.bench, self._live, self)
            self.gather_session = GatherSession(self.bench, self._live, self)
            self.centre.follow_live(self._live, self.wake_session)
            self._live.slow_ticked.connect(self._show_bench)
            self._live.connected.connect(lambda _on: self._show_bench())
        return self._live

    def _panel(self, step: StepName | SideName) -> StepPanel:
        channel = self.bench.channel
        key = (step, "" if channel is None else channel.kind)
        if key not in _OTHER_MAKERS:
            key = (step, "")
        if key not in self._panels:
            self._panels[key] = _OTHER_MAKERS[key](self) if key[1] else _MAKERS[step](self)
        return self._panels[key]

    def knobs_port(self) -> int | None:
        """Where the simulated plant's knobs are; None while the bench is not connected to one."""
        places = self.rig.places if self._live is not None and self._live.is_on else None
        return None if places is None else places.knobs

    @property
    def panel_shown(self) -> StepPanel:
        """The panel that is seen."""
        return next(panel for panel in self._panels.values() if panel is self.panels.currentWidget())

    # -- showing ----------------------------------------------------------------------------------------------------

    def _refresh(self, change: Change) -> None:
        job, channel = self.bench.job, self.bench.channel
        if change.job and change.channel and change.step:
            self._say("", False)  # what was said was said of another job
        if change.step and self._is_painted:
            self._side = None  # before what is seen is settled by it
        if change.job:
            self.tagboard.refresh()
            self._check_what_is_left()
        elif change.channel:
            self.tagboard.refresh_selection()
        if change.channel:
            self.tagboard.show_selected()
        if not change.candidate:
            self._job_button.setText(caption(f"{job.title}  ▾"))
            self.setWindowTitle(f"{job.title} – Able Yardstick")
            self._show_saved()
            self._show_history()
            self._show_steps()
        self.ruler.show_aside(self._side is not None)
        self.ruler.setVisible(channel is not None and self._side != "glance")
        self.panels.setVisible((channel is not None or self._side is not None) and self._side != "glance")
        for action in self._channel_actions:
            action.setEnabled(channel is not None)
        self._paste.setEnabled(self.bench.continuous is not None or channel is None)
        self._tell_units()
        if channel is None:
            self.setFocus()  # what had it is gone: on no button, which a space would press
        if self._is_painted:
            panel = self._panel(self._side or self.bench.step)
            panel.show_now()
            if self.panels.indexOf(panel) < 0:  # filled before it is seen, so that it is laid out once
                self.panels.addWidget(panel)
            self.panels.setCurrentWidget(panel)
        self._show_tagboard(
            self._side not in ("lookout", "glance", "chart")
        )  # which say all that its cards do, and more
        self.pages.show_side(self._side)
        self._leave.setEnabled(self._side is not None)
        self.centre.refresh()

    def _show_saved(self) -> None:
        saved = self.bench.saved_at
        when = f"Saved {saved.astimezone():%H:%M:%S}" if saved else "Not on disk"
        if self.bench.why_read_only:
            when = "Read-only"
        self._saved.setText(f"{when}, revision {self.bench.job.revision}")
        self._saved.setToolTip(tip(str(self.bench.path or "")))

    def _show_history(self) -> None:
        for action, word, text in (
            (self._undo, "Undo", self.bench.undo_text),
            (self._redo, "Redo", self.bench.redo_text),
        ):
            action.setEnabled(bool(text))
            action.setToolTip(tip(f"{word}: {text}") if text else f"Nothing to {word.lower()}")

    def _say(self, text: str, is_refusal: bool) -> None:
        self._said.setText(text)
        self._said.setToolTip(tip(text))
        self._said.setProperty("role", "error" if is_refusal else "good")
        self._said.style().polish(self._said)
        self._quiet.start(20_000 if is_refusal else 8_000)

    def _tell_units(self) -> None:
        channel = self.bench.continuous
        names = dict.fromkeys((channel.unit, channel.path.pin_unit, "counts")) if channel else {}
        self._hint.setText(f"Units: {', '.join(names)}" if names else "")

    # -- the live bench ---------------------------------------------------------------------------------------------

    def _go(self, step: StepName) -> None:
        """To a step, away from what stood in its panel's place."""
        if self._side is not None:
            self._side = None
            self._refresh(Change(step=True))
        self.bench.go(step)

    def _picture_of(self, side: SideName) -> SidePicture:
        """What the centre shows while the sources or the references are looked at."""
        if side == "lookout":
            return self.lookout.picture
        if side == "glance":
            return self.lookout.glance
        if side == "chart":
            return self.chart.picture
        if side == "register":
            return self.register.picture
        if side == "sources":
            from ..sources.picture import LinksPicture

            return LinksPicture(self.bench, self.live, self.theme)
        from ..references.panel import ReferencesPanel
        from ..references.picture import ReferencesPicture

        panel = self._panel(side)
        assert isinstance(panel, ReferencesPanel)
        picture = ReferencesPicture(self.bench, self.theme, panel.choose)
        panel.chosen.connect(picture.show_chosen)
        picture.show_chosen("" if panel.reference is None else panel.reference.id)
        return picture

    def _show_tagboard(self, seen: bool) -> None:
        """Show the tagboard, or give its room to the middle; the panel stays as wide as it is."""
        if seen != self.tagboard.isHidden():
            return
        board, middle, panel = self.splitter.sizes()
        self.tagboard.setVisible(seen)
        if not seen:
            self._board_width = board
        self.splitter.setSizes([self._board_width, middle - self._board_width if seen else board + middle, panel])

    def _leave_to(self, channel_id: str) -> None:
        """From the lookout to a channel, at the step looked at."""
        self.bench.select(channel_id)
        self.leave_side()

    @property
    def lookout(self) -> "LookoutDesk":
        """What looks at all channels at once, made when it is first needed."""
        if self._lookout is None:
            from ..lookout.desk import LookoutDesk

            self._lookout = LookoutDesk(self.bench, self.live, self.theme, self._leave_to, self.open_log, self)
            self._lookout.watch.told.connect(self._say)
        return self._lookout

    def on_lookout(self, act: Callable[["LookoutDesk"], None]) -> None:
        """Have the lookout do something, in sight."""
        if self._side != "lookout":
            self.show_side("lookout")
        act(self.lookout)

    @property
    def shop(self) -> "Shop":
        """The register, opened when it is first needed."""
        if self._shop is None:
            from ..register.shop import Shop

            self._shop = Shop(self.bench, self.settings, self._say, self)
            self._shop.chained.connect(self.centre.refresh)
        return self._shop

    def _last_of(self, channel: "SignableChannel") -> "LastRecord":
        return self.shop.last_soon(channel)

    @property
    def register(self) -> "RegisterDesk":
        """What looks at the register, made when it is first needed."""
        if self._register is None:
            from ..register.desk import RegisterDesk

            self._register = RegisterDesk(self.bench, self.shop, self.theme, self)
        return self._register

    @property
    def chart(self) -> "ChartDesk":
        """The chart, made when it is first needed."""
        if self._chart is None:
            from ..chart.desk import ChartDesk

            self._chart = ChartDesk(self.bench, self.live, self.theme, self._say, self)
        return self._chart

    def open_log(self, path: Path | None) -> None:
        """Look at a log on the chart, or ask for one."""
        self.on_chart(lambda desk: desk.ask_log() if path is None else desk.open_log(path))

    def on_chart(self, act: Callable[["ChartDesk"], None]) -> None:
        """Have the chart do something, in sight."""
        if self._side != "chart":
            self.show_side("chart")
        act(self.chart)

    def show_side(self, side: SideName) -> None:
        """Show the sources or the references in the panel's place, or the step again."""
        self._side = None if self._side == side else side
        _ = self.live
        self._refresh(Change())
        self.pages.take_keys()

    def leave_side(self) -> None:
        """Back to the steps from the sources or the references."""
        if self._side is not None:
            self.show_side(self._side)

    def _show_bench(self) -> None:
        live = self.live
        self._bench_button.setText(f"Bench: {live.words()}")
        restyle(self._bench_button, "live", live.is_on)
        self.tagboard.show_live(live)

    def take_key(self) -> None:
        """The capture key: look at Wake, take at Gather."""
        if not self._panel(self.bench.step).take_key("take"):
            takes = "takes a reading at Gather and a check at Prove, once connected (F4)."
            self._say(f"F8 looks at the signal at Wake, and {takes}", False)

    def turn_pin_to_live(self) -> None:
        """Hold the hairline to the live signal, or let it go."""
        _ = self.live
        self.centre.pins_to_live = not self.centre.pins_to_live
        self._say(
            "The hairline is held to the live signal. F6 lets it go." if self.centre.pins_to_live
            else "The hairline is free again.", False,
        )  # fmt: skip

    def fast_capture(self) -> None:
        """Open the fast capture for the channel looked at."""
        from ..steps.wake.burst_dialog import BurstDialog

        _ = self.live
        dialog = BurstDialog(self.wake_session, self.theme, self)
        dialog.exec()
        discard(dialog)

    def read_controller(self) -> None:
        """Find out which arithmetic and numbers the controller of the channel looked at has."""
        from ..steps.pack.recover_dialog import RecoverDialog

        if self.bench.continuous is None:
            self._say("Choose a channel with a curve: a contact and a constant have no numbers to read.", False)
            return
        dialog = RecoverDialog(self.bench, self.live, self.knobs_port(), self)
        dialog.exec()
        discard(dialog)

    # -- what comes in ----------------------------------------------------------------------------------------------

    def _begin_description(self) -> None:
        """To the description of a new channel, where what is typed at once is its tag."""
        self.bench.go("describe")
        if self._side is not None:
            self._refresh(Change(step=True))  # which leaves the sources or the references
        self.panel_shown.begin()

    def _beginnings(self) -> Beginnings:
        """What an empty job offers to begin with."""
        return Beginnings(
            self.paste_new, self.channels.add, self.channels.add_from, self.jobs.ask_open, self.jobs.open_job,
            self.jobs.open_demo, lambda: self.jobs.recent,
        )  # fmt: skip

    def paste_new(self) -> None:
        """Add a channel of which nothing is known but the readings on the clipboard."""
        if not QApplication.clipboard().text().strip():
            self._say("The clipboard holds no table. Copy its cells first.", True)
            return
        self.channels.add("continuous")
        self.paste()

    def offer_to_leave_out(self, captured: tuple[str, ...]) -> None:
        """What was captured last is never undone: offer to leave it out with a reason."""
        from .leave_out import LeaveOutDialog

        readings = [one for one in self.bench.job.readings if one.id in captured]
        dialog = LeaveOutDialog(readings, self.bench.undo_edit_text, self)
        dialog.exec()
        answer, reason = dialog.answer, dialog.reason.text()
        discard(dialog)
        if answer == "leave out":
            try:
                self.bench.leave_out(captured, reason)
            except YardstickError as error:
                self._say(str(error), True)
        elif answer == "undo the edit":
            self.bench.undo_edit()

    def paste(self) -> None:
        """Take readings from the clipboard: as checks at Prove, else to gather."""
        if self.bench.channel is None:
            self.paste_new()
        elif (panel := self._for_readings()) is not None:
            panel.paste()

    def take_file(self, path: Path) -> None:
        """Take a file that was dropped here: a job is opened, readings are taken as pasted ones are."""
        if path.name.endswith(ENDING) or path.suffix.lower() == ".zip":
            self.jobs.open_job(path)
            return
        if path.suffix == LOG_ENDING:
            self.open_log(path)
            return
        if path.name.endswith(".record.json") or path.suffix.lower() == ".pdf":
            self.tell_record(path)
            return
        if self.bench.channel is None:
            self.channels.add("continuous")
        if (panel := self._for_readings()) is not None:
            panel.take_file(path)

    def tell_record(self, path: Path) -> None:
        """Say what a record that was dropped here proves."""
        from ...files.records.told import told

        try:
            is_whole, says = told(path)
        except YardstickError as error:
            self._say(str(error), True)
            return
        self._say(says, not is_whole)

    def _for_readings(self) -> "ReadingsPanel | None":
        """The panel that takes readings: Prove's where it is looked at, else Gather's; None where there is none."""
        from ..panel.readings_panel import ReadingsPanel

        if not isinstance(self._panel(self.bench.step), ReadingsPanel):
            self.bench.go("gather")
        panel = self._panel(self.bench.step)
        return panel if isinstance(panel, ReadingsPanel) else None

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Files of this machine may be dropped anywhere in the window."""
        if any(url.isLocalFile() for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Take what was dropped, one file after the other."""
        event.acceptProposedAction()
        for url in event.mimeData().urls():
            if url.isLocalFile():
                self.take_file(Path(url.toLocalFile()))

    # -- the look ---------------------------------------------------------------------------------------------------

    def set_theme(self, name: ThemeName) -> None:
        """Dress everything in a theme, and remember it."""
        self.theme = THEMES[name]
        self.settings.theme = name
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        dress(application, self.theme)
        self.setStyleSheet(style_sheet(self.theme))
        self.tagboard.dress(self.theme)
        for panel in self._panels.values():
            panel.theme = self.theme
        self.centre.dress(self.theme)
        self.pages.dress(self.theme)
        self._show_theme()
        self._refresh(Change(job=True, channel=True))  # whatever is looked at stays in sight

    def _show_theme(self) -> None:
        night = self.theme.name == "night"
        self._theme_button.setText("☾ night" if night else "☀ day")
        self._theme_button.setToolTip("Day or night (Ctrl+T)")
        self._theme_button.setAccessibleName("Theme: " + ("night" if night else "day"))

    def turn_theme(self) -> None:
        """Day to night, or back."""
        self.set_theme("day" if self.theme.name == "night" else "night")

    def turn_tagboard(self) -> None:
        """Hide the tagboard, or bring it back."""
        self.tagboard.setVisible(self.tagboard.isHidden())
        if self.tagboard.isHidden():
            self._say("The tagboard is hidden. Ctrl+B brings it back.", False)

    def turn_full_screen(self) -> None:
        """The whole screen, or a window."""
        if self.isFullScreen():
            self.showNormal()
        else:
            self.showFullScreen()

    def _restore(self) -> None:
        self._show_theme()
        for name, restore in (("window", self.restoreGeometry), ("splitter", self.splitter.restoreState)):
            state = self.settings.layout(name)
            if not state.isEmpty():
                restore(state)

    def closeEvent(self, event: QCloseEvent) -> None:
        """Remember the layout and let the file go."""
        self.settings.keep_layout("window", self.saveGeometry())
        self._show_tagboard(True)
        self.settings.keep_layout("splitter", self.splitter.saveState())
        self.settings.sync()
        if self._lookout is not None:
            self._lookout.watch.stop_log()
        if self._chart is not None:
            self._chart.state.forget()
        if self._live is not None:
            self._live.disconnect_all()
            self.rig.stop()
            self.rig.wait()
        self.bench.close()
        super().closeEvent(event)
