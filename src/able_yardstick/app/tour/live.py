"""The live part of the tour: the simulated plant is started, connected to, woken, gathered from, and pictured."""

import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication, QWidget

from ...core.job.instruments import change_sources
from ...core.state.progress import StepName
from ...core.words.errors import YardstickError
from ..chart.parts.compared import ComparedPart

if TYPE_CHECKING:
    from ..frame.theme import ThemeName
    from ..frame.window import MainWindow
    from ..rig.panel import RigPanel
    from ..sources.panel import SourcesPanel
    from ..steps.gather.panel import GatherPanel
    from ..steps.wake.panel import WakePanel

_LONGEST_S = 30.0
SIZE = (1280, 800)


def live_pictures(window: "MainWindow", folder: Path) -> Iterator[Path]:
    """Pictures of every live view; each path as it is written. Raises: YardstickError if the rig does not answer."""
    window.resize(*SIZE)
    window.set_theme("day")
    sources = _start(window)
    yield _kept(window, folder, "sources")
    sources.show_knobs()
    panel = sources.rig_panel
    assert panel is not None  # just shown
    _pass(1.5)
    panel.hide()
    yield _lookout(window, panel, folder)
    yield _glance(window, folder)
    yield _wake(window, folder, "wake", "PT-201", "regulator at 100 kPa", "day")
    window.set_theme("day")
    yield _gather(window, folder)
    yield _chart(window, folder)
    yield _burst(window, folder)
    window.show_side("references")
    _pass(0.3)
    yield _kept(window, folder, "references")


def _start(window: "MainWindow") -> "SourcesPanel":
    window.bench.select(window.bench.job.tagged("PT-201").id)
    window._go("describe")
    window.show_side("sources")
    panel: SourcesPanel = window._panel("sources")  # type: ignore[assignment]  # what that side is
    panel.turn_rig()
    _until(lambda: window.live.is_on)
    turned = [source.with_(enabled=True) for source in window.bench.job.sources]
    window.bench.edit("every source on", lambda job: change_sources(job, turned))
    _until(lambda: all(link.status.standing == "answering" for link in window.live.hub.links))
    _pass(3.0)
    return panel


def _lookout(window: "MainWindow", knobs: "RigPanel", folder: Path) -> Path:
    """The lookout by night, a lead of TE-205 just opened."""
    window.set_theme("night")
    window.show_side("lookout")
    _pass(8.0)
    row = knobs.knobs("TE-205")
    row.fault.setCurrentText("open lead")
    knobs.break_by(row)
    _pass(5.0)
    path = _kept(window, folder, "lookout")
    row.fault.setCurrentText("none")
    knobs.break_by(row)
    window.set_theme("day")
    return path


def _glance(window: "MainWindow", folder: Path) -> Path:
    """Numerals for across the room, by night."""
    window.set_theme("night")
    window.show_side("glance")
    _pass(1.5)
    path = _kept(window, folder, "glance")
    window.leave_side()
    window.set_theme("day")
    return path


def _chart(window: "MainWindow", folder: Path) -> Path:
    """The last minute as a log: the stops that were gathered, and both oxygen probes compared."""
    window.show_side("lookout")
    desk = window.lookout
    place = folder / "last minute.yardlog"
    place.unlink(missing_ok=True)
    desk.watch.keep(place)
    window.open_log(place)
    chart = window.chart
    state = chart.state
    for trace in state.traces:
        is_wanted = trace.role == "value" and trace.source != "Small logger"
        state.draw(trace.key, is_wanted and trace.tag in ("PT-201", "AT-208", "AT-209"))
    first, last = state.courses.span_s() if state.courses is not None else (0.0, 1.0)
    a_s, b_s = (first + share * (last - first) for share in (0.55, 0.97))
    state.see(state.sight.with_cursor("A", a_s).with_cursor("B", b_s))
    pair = chart.panel.parts["pair"]
    assert isinstance(pair, ComparedPart)
    pair.unfold()
    pair.try_to_compare()
    _pass(1.0)
    path = _kept(window, folder, "chart")
    state.forget()
    window.leave_side()
    place.unlink()
    return path


def _wake(window: "MainWindow", folder: Path, name: str, tag: str, state: str, theme: "ThemeName") -> Path:
    window.set_theme(theme)
    _go(window, tag, "wake")
    panel: WakePanel = window._panel("wake")  # type: ignore[assignment]  # what that step is
    _pass(7.0)
    panel._choose_state(state)
    panel.session.look()
    _pass(0.6)
    return _kept(window, folder, name)


def _gather(window: "MainWindow", folder: Path) -> Path:
    _go(window, "PT-201", "gather")
    panel: GatherPanel = window._panel("gather")  # type: ignore[assignment]  # what that step is
    session = panel.session
    session.go(1)
    session.by_itself = True
    session.set_stop()
    _until(lambda: session.at >= 3)
    _pass(1.4)
    return _kept(window, folder, "gather-live")


def _burst(window: "MainWindow", folder: Path) -> Path:
    from ..steps.wake.burst_dialog import BurstDialog

    dialog = BurstDialog(window.wake_session, window.theme, window)
    dialog.show()
    dialog.edge.setCurrentIndex(dialog.edge.findData("rising"))
    dialog.level.setText("3.8")
    dialog.count.setText("2500")
    dialog.arm()
    window.gather_session.by_itself = False
    reference = window.live.reference(window.bench.channel)
    assert reference is not None  # the demo has one
    reference.link.command(reference.feed.name, 240.0)
    _until(lambda: dialog.burst is not None)
    _pass(0.3)
    path = _kept(dialog, folder, "fast-capture")
    dialog.close()
    return path


def _go(window: "MainWindow", tag: str, step: StepName) -> None:
    window.bench.select(window.bench.job.tagged(tag).id)
    window._go(step)


def _kept(widget: QWidget, folder: Path, name: str) -> Path:
    path = folder / f"{name}.png"
    widget.grab().save(str(path))
    return path


def _pass(seconds: float) -> None:
    """Let time go by."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.005)


def _until(what: Callable[[], bool]) -> None:
    """Let time go by until something is so. Raises: YardstickError if it never is."""
    end = time.monotonic() + _LONGEST_S
    while not what():
        if time.monotonic() > end:
            raise YardstickError(f"The tour waited {_LONGEST_S:g} s for the simulated plant in vain.")
        _pass(0.05)
