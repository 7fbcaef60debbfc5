"""Starts the application: the window is painted first, the plots follow."""

import logging
import signal
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from ..core.words.errors import BadJob
from ..files.jobfile import ENDING
from ..loading import put_off, release
from .frame.settings import Settings
from .frame.theme import THEMES, dress
from .frame.window import MainWindow
from .frame.workbench import Workbench

log = logging.getLogger(__name__)


def application() -> QApplication:
    """The one application object."""
    found = QApplication.instance()
    made = found if isinstance(found, QApplication) else QApplication(sys.argv[:1])
    made.setApplicationName("able-yardstick")
    made.setApplicationDisplayName("Able Yardstick")
    made.setStyle("Fusion")
    return made


def open_window(path: Path | None, settings: Settings) -> MainWindow:
    """The window with a job: the one asked for, else the last one, else an empty one in the user's documents."""
    for unused in ("numpy.f2py", "numpy.testing"):  # they come with scipy's first function, and nobody calls them
        put_off(unused)
    dress(application(), THEMES[settings.theme])
    bench = Workbench()
    refusal = ""
    for candidate in [path] if path else settings.recent[:1]:
        try:
            bench.open(candidate)
            settings.opened(candidate)
        except BadJob as error:
            refusal = str(error)
    if bench.path is None:
        refusal = " ".join(filter(None, [refusal, _start_empty(bench, settings)]))
    bench.folds = settings.folds
    window = MainWindow(bench, settings)
    window.jobs.tell_read_only()
    if refusal:
        window._say(refusal, True)
    return window


def _start_empty(bench: Workbench, settings: Settings) -> str:
    """An empty job where it can be kept; gives what to do where that is nowhere."""
    from platformdirs import user_documents_path

    for folder in (user_documents_path() / "Able Yardstick", Path.home()):
        try:
            path = _free_name(folder)
            bench.create(path, path.name.removesuffix(ENDING))
        except (BadJob, OSError):
            continue
        settings.opened(path)
        return ""
    return (
        "No folder of yours can be written, so nothing is kept on disk yet. Choose “Save as …” in the job's menu and "
        "take another disk."
    )


def _free_name(folder: Path) -> Path:
    number = 1
    while (path := folder / f"Job {number}{ENDING}").exists():
        number += 1
    return path


def _tell(window: MainWindow) -> Callable[[type[BaseException], BaseException, TracebackType | None], None]:
    """What to do with a fault of our own: log it, and say so instead of going on in silence."""

    def told(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        log.error("a fault in the program", exc_info=(kind, error, trace))
        window.bench.said.emit(f"A fault in the program: {error or kind.__name__}. What was saved is safe.", True)

    return told


def run(path: Path | None) -> int:
    """Open the window and stay until it is closed; gives the exit status."""
    logging.basicConfig(level=logging.INFO, format="%(levelname)s %(name)s: %(message)s")
    made = application()
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    window = open_window(path, Settings())
    sys.excepthook = _tell(window)
    window.show()
    QTimer.singleShot(0, partial(finish, window))
    return made.exec()


def finish(window: MainWindow) -> None:
    """What follows the first picture."""
    window.build_rest()
    release()
