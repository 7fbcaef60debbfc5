"""Walks the demo through every step without a screen, and leaves pictures, tables and the job."""

import os
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from ...core.document.channel import ContinuousChannel
from ...core.pack.packed import packed_now
from ...core.regression.kinds import ModelName
from ...core.state.progress import StepName
from ...core.words.errors import YardstickError

if TYPE_CHECKING:
    from ..frame.theme import ThemeName
    from ..frame.window import MainWindow

SIZE = (1280, 800)


class TourView(NamedTuple):
    """A picture to take."""

    name: str
    tag: str
    step: StepName
    theme: "ThemeName" = "day"
    value: float | None = None
    candidate: ModelName | None = None
    size: tuple[int, int] = SIZE
    scrolled: float = 0.0  # how far down the panel, as a share
    typed: str = ""  # at Wake: what a display reads


VIEWS = (
    TourView("describe", "WT-206", "describe", value=1250.0),
    TourView("wire", "PT-202", "wire", value=-60.0),
    TourView("wake-by-hand", "FT-210", "wake", "night", 200.0, typed="0"),
    TourView("output", "TY-213", "describe", "night"),
    TourView("fit", "PT-201", "fit", value=171.9, candidate="line"),
    TourView("pack-knots", "AT-208", "pack", "night", 13.0),
    TourView("prove-pass", "PT-201", "prove", value=175.0),
    TourView("narrow", "AT-208", "fit", "night", 12.0, "poly3", size=(1024, 700), scrolled=0.9),
)


def walk(folder: Path) -> Iterator[Path]:
    """Take every picture and write every packed table; gives each path as it is written."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from ...demo import demo_text

    folder.mkdir(parents=True, exist_ok=True)
    job = folder / "Kiln 2.yardstick.json"
    job.write_text(demo_text(), encoding="utf-8")
    yield job
    yield from _tables(folder, job)
    yield from _pictures(folder, job)
    yield _wiring(folder, job)
    job.with_name(job.name + ".bak").unlink(missing_ok=True)


def _tables(folder: Path, job_file: Path) -> Iterator[Path]:
    from ...files.exports import save_packing
    from ...files.jobfile import read_job

    job = read_job(job_file)
    for channel in job.channels:
        if isinstance(channel, ContinuousChannel):
            try:
                packed = packed_now(job, channel)
            except YardstickError:
                continue
            path = folder / f"{channel.tag} packed.csv"
            save_packing(path, channel.tag, packed.form, packed.cost, channel.path.pin_unit, channel.unit)
            yield path


def _wiring(folder: Path, job_file: Path) -> Path:
    from ...files.jobfile import read_job
    from ..steps.wire.page import save_wiring_pdf

    path = folder / "wiring.pdf"
    save_wiring_pdf(path, read_job(job_file))
    return path


def _pictures(folder: Path, job: Path) -> Iterator[Path]:
    import tempfile

    from PySide6.QtCore import QSettings

    from ..frame.settings import Settings
    from ..main import application, open_window

    own = tempfile.mkdtemp(prefix="able-yardstick-tour-")
    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, own)
    made = application()
    window = open_window(job, Settings())
    window.show()
    window.build_all()
    try:
        for view in VIEWS:
            _show(window, view)
            for _ in range(4):
                made.processEvents()
            window.panel_shown.scroll_to(view.scrolled)
            if view.typed:
                _look_by_hand(window, view.typed)
            made.processEvents()
            path = folder / f"{view.name}.png"
            window.grab().save(str(path))
            yield path
        from .signed import signed_pictures

        window.resize(*SIZE)
        window.set_theme("day")
        yield from signed_pictures(window, folder, Path(own))
        window.jobs.open_job(job)
        from .live import live_pictures

        yield from live_pictures(window, folder)
        yield _beginning(window, folder, Path(own))
    finally:
        window.close()
        shutil.rmtree(own, ignore_errors=True)


def _look_by_hand(window: "MainWindow", text: str) -> None:
    """Type what a display reads, and look."""
    from ..steps.wake.panel import WakePanel

    panel = window.panel_shown
    assert isinstance(panel, WakePanel)
    panel.by_hand.at_rest.setText(text)
    panel.by_hand.look()


def _beginning(window: "MainWindow", folder: Path, own: Path) -> Path:
    """What an empty job begins with."""
    from PySide6.QtWidgets import QApplication

    window.resize(*SIZE)
    window.set_theme("day")
    window.bench.create(own / "Job 1.yardstick.json", "Job 1")
    for _ in range(20):
        QApplication.processEvents()
    path = folder / "start.png"
    window.grab().save(str(path))
    return path


def _show(window: "MainWindow", view: TourView) -> None:
    from ...core.state.scales import pin_for, scales_of

    bench = window.bench
    window.resize(*view.size)
    if window.theme.name != view.theme:
        window.set_theme(view.theme)
    bench.select(bench.job.tagged(view.tag).id)
    bench.go(view.step)
    bench.search.wait()
    if view.candidate:
        bench.look_at_candidate(view.candidate)
    channel = bench.continuous
    if channel is not None and view.value is not None:
        scales = scales_of(bench.job, channel)
        window.sight.set_pin(pin_for(scales, "quantity", view.value, window.sight.pin))
