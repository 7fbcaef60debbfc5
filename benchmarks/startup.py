"""Start to painted window with the demo job, against a bare Qt window with one pyqtgraph plot.

Both start as new processes, in turn, several times; the least time of each counts. All modules are compiled before, as
they are from the second start on. Wanted: ratios of at most 1.5, and 2 with both plots.
"""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

TURNS = 1 if "--smallest" in sys.argv else 7

BARE = """
import pyqtgraph as pg
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
plot = pg.PlotWidget()
plot.plot([0, 1, 2], [0, 1, 4])
window.setCentralWidget(plot)
window.show()
app.processEvents()
print("painted", flush=True)
"""

OURS = """
import sys
from able_yardstick.loading import hold
hold()
from pathlib import Path
from able_yardstick.app.main import application, finish, open_window
from PySide6.QtCore import QSettings
QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, sys.argv[1])
from able_yardstick.app.main import application, finish, open_window
from able_yardstick.app.frame.settings import Settings
app = application()
window = open_window(Path(sys.argv[2]), Settings())
window.show()
app.processEvents()
print("painted", flush=True)
finish(window)
app.processEvents()
print("plots", flush=True)
while not window.bench.is_all_checked:
    app.processEvents()
print("marks", flush=True)
window.close()
"""


def times(script: str, *words: str) -> dict[str, float]:
    """Seconds from the start of the process to each line it prints."""
    began = time.perf_counter()
    run = subprocess.Popen(
        [sys.executable, "-c", script, *words], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    )
    assert run.stdout is not None
    found: dict[str, float] = {}
    for line in run.stdout:
        found.setdefault(line.strip(), time.perf_counter() - began)
    run.wait()
    return found


def main() -> None:
    """Print the least times and their ratios."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from able_yardstick.demo import fresh_copy

    with tempfile.TemporaryDirectory() as folder:
        os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
        os.environ["PYTHONPYCACHEPREFIX"] = str(Path(folder) / "compiled")
        job = fresh_copy(Path(folder))
        times(BARE), times(OURS, folder, str(job))
        rows = [(times(BARE), times(OURS, folder, str(job))) for _ in range(TURNS)]
    bare = min(row[0]["painted"] for row in rows)
    painted = min(row[1]["painted"] for row in rows)
    plots, marks = (min(row[1][name] for row in rows) for name in ("plots", "marks"))
    print(f"bare window with one plot  {bare * 1000:6.0f} ms")
    print(f"window painted             {painted * 1000:6.0f} ms   ratio {painted / bare:.2f} (wanted: 1.5 at most)")
    print(f"with both plots            {plots * 1000:6.0f} ms   ratio {plots / bare:.2f} (wanted: 2 at most)")
    print(f"with every channel's marks {marks * 1000:6.0f} ms   ratio {marks / bare:.2f}")


if __name__ == "__main__":
    main()
