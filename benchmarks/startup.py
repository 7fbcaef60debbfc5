"""Start to painted window with the demo job, against a bare Qt window with one pyqtgraph plot.

Both start as new processes, in turn, several times; the least time of each counts. Wanted: a ratio of at most 1.5.
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
from pathlib import Path
from PySide6.QtCore import QSettings, QTimer
QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, sys.argv[1])
from able_yardstick.app.main import application, open_window
from able_yardstick.app.frame.settings import Settings
app = application()
window = open_window(Path(sys.argv[2]), Settings())
window.show()
app.processEvents()
print("painted", flush=True)
window.build_rest()
app.processEvents()
print("plots", flush=True)
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
        job = fresh_copy(Path(folder))
        rows = [(times(BARE), times(OURS, folder, str(job))) for _ in range(TURNS)]
    bare = min(row[0]["painted"] for row in rows)
    painted = min(row[1]["painted"] for row in rows)
    plots = min(row[1]["plots"] for row in rows)
    print(f"bare window with one plot  {bare * 1000:6.0f} ms")
    print(f"window painted             {painted * 1000:6.0f} ms   ratio {painted / bare:.2f} (wanted: 1.5 at most)")
    print(f"with both plots            {plots * 1000:6.0f} ms   ratio {plots / bare:.2f}")


if __name__ == "__main__":
    main()
