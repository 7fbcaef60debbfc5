"""A window that jobs with something wrong in them are walked through in, as a person would."""

import json
import logging
import os
import random
import sys
from pathlib import Path
from types import TracebackType
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSettings

from able_yardstick.app.frame.settings import Settings
from able_yardstick.app.main import application, open_window
from able_yardstick.core.state.progress import STEP_NAMES
from able_yardstick.demo import demo_text


class JobWalker:
    """Opens one job after the other in one window; `caught` are the errors of the last that no one caught."""

    def __init__(self, folder: Path) -> None:
        QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(folder / "settings"))
        self.tree = json.loads(demo_text())
        self.caught: list[BaseException] = []
        self._app = application()
        self._path = folder / "job.yardstick.json"
        self._path.write_text(demo_text(), encoding="utf-8")
        self._window = open_window(self._path, Settings())
        self._window.show()
        self._window.build_all()
        sys.excepthook = self._uncaught
        logging.getLogger().addHandler(_Errors(self.caught))

    def _uncaught(self, _kind: type[BaseException], error: BaseException, _trace: TracebackType | None) -> None:
        self.caught.append(error)

    def walk(self, tree: Any, told: str, chance: random.Random) -> str:
        """Open a job, go to every step of what was changed and of two channels more, edit and save."""
        self.caught.clear()
        window, bench = self._window, self._window.bench
        bench.close()
        self._path.write_text(json.dumps(tree), encoding="utf-8")
        window.jobs.open_job(self._path)
        if bench.path != self._path:
            return "refused"
        channels = list(bench.job.channels)
        changed = [one for n, one in enumerate(channels) if f"'channels', {n}," in told or one.id in told]
        for channel in dict.fromkeys([*changed, *chance.sample(channels, min(2, len(channels)))]):
            bench.select(channel.id)
            for step in STEP_NAMES:
                bench.go(step)
                self._app.processEvents()
        for side in ("sources", "references"):
            window.show_side(side)
            self._app.processEvents()
        bench.go("describe")
        bench.try_edit("title", lambda job: job.with_(document=job.document.with_(title="Other")))
        self._app.processEvents()
        return "walked"


class _Errors(logging.Handler):
    def __init__(self, caught: list[BaseException]) -> None:
        super().__init__(logging.ERROR)
        self._caught = caught

    def emit(self, record: logging.LogRecord) -> None:
        error = record.exc_info[1] if record.exc_info else None
        self._caught.append(error or RuntimeError(record.getMessage()))
