"""What is done with whole jobs: opened, begun, saved under another name, renamed."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from ...core.job.channels import rename
from ...core.words.errors import BadJob, NotApplicable, YardstickError
from ...files.jobfile import ENDING, with_ending
from .plain_text import caption
from .settings import Settings
from .workbench import Say, Workbench


class JobCommands(QObject):
    """The commands; a refusal goes to the status line, and the present job stays."""

    def __init__(self, bench: Workbench, settings: Settings, say: Say, parent: QWidget) -> None:
        super().__init__(parent)
        self._bench, self._settings, self._say, self._window = bench, settings, say, parent

    @property
    def recent(self) -> list[Path]:
        """The jobs that were opened before, without the present one."""
        return [path for path in self._settings.recent if path != self._bench.path]

    def fill(self, menu: QMenu, actions: list[QAction]) -> None:
        """Put into a menu the commands, and the jobs that were opened before."""
        menu.clear()
        menu.addActions(actions)
        if self.recent:
            menu.addSeparator()
        for path in self.recent:
            menu.addAction(caption(f"{path.name}   {path.parent}"), partial(self.open_job, path))

    def open_job(self, path: Path) -> None:
        """Open a job in place of the present one; a refusal leaves the present one.

        One that was handed over as a ZIP is unpacked into a folder beside it.
        """
        if path.suffix.lower() == ".zip":
            from ...files.records.package import unpack

            try:
                path = unpack(path, path.with_suffix(""))
            except YardstickError as error:
                self._say(str(error), True)
                return
        self._take_up(path, partial(self._bench.open, path))

    def open_demo(self) -> None:
        """Open a fresh copy of the demo job."""
        from platformdirs import user_data_path

        from ...demo import fresh_copy

        try:
            path = fresh_copy(user_data_path("able-yardstick") / "demo")
        except OSError as error:
            self._say(f"The demo job cannot be written: {error.strerror or error}.", True)
            return
        self.open_job(path)

    def _take_up(self, path: Path, act: Callable[[], None]) -> bool:
        """Turn to another file; gives whether that was done. A refusal goes to the status line."""
        try:
            act()
        except BadJob as error:
            self._say(str(error), True)
            return False
        self._settings.opened(path)
        self.tell_read_only()
        return True

    def tell_read_only(self) -> None:
        """Say so where the file is only looked at."""
        why = self._bench.why_read_only
        if why:
            self._say(f"Open to be looked at only: {why}. “Save as …” makes a copy to work on.", True)

    def ask_open(self) -> None:
        """Ask for a job file and open it."""
        kinds = f"Jobs (*{ENDING} *.zip);;All (*)"
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a job", self._folder(), kinds)
        if name:
            self.open_job(Path(name))

    def ask_new_job(self) -> None:
        """Ask where a new job goes and start it."""
        name, _ = QFileDialog.getSaveFileName(self._window, "New job", self._folder(), f"Jobs (*{ENDING})")
        if name:
            path = with_ending(Path(name))
            self._take_up(path, partial(self._bench.create, path, path.name.removesuffix(ENDING)))

    def ask_save_as(self) -> None:
        """Ask for another name and go on under it."""
        name, _ = QFileDialog.getSaveFileName(self._window, "Save as", self._folder(), f"Jobs (*{ENDING})")
        if name:
            self.save_as(with_ending(Path(name)))

    def save_as(self, path: Path) -> None:
        """Go on under another name."""
        if self._take_up(path, partial(self._bench.save_as, path)):
            self._say(f"The job is now {path}.", False)

    def ask_rename(self) -> None:
        """Ask for another title."""
        from ..panel.ask_dialog import AskDialog  # not needed for the first picture

        def take() -> None:
            if not title.text().strip():
                raise NotApplicable("A job needs a title: it stands on the window and on every page.")
            self._bench.edit("title of the job", lambda job: rename(job, title.text()))

        dialog = AskDialog("Rename the job", "Its file keeps its name.", take, self._window, "Rename")
        title = dialog.add_line("Title of the job", self._bench.job.title)
        title.selectAll()
        dialog.exec()

    def _folder(self) -> str:
        return str(self._bench.path.parent) if self._bench.path else str(Path.home())
