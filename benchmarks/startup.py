"""Start to painted window with the demo job, against a bare Qt window with one pyqtgraph plot.

Both start as new processes, one after the other, several times: the median of the pairs' ratios counts, as a machine
that is slow for a while is slow for both. All modules are compiled before, as
they are from the second start on. Wanted: ratios of at most 1.5, and 2 with both plots.
"""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from statistics import median

TURNS = 1 if "--smallest" in sys.argv else 9

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
    """Print the median times, and of the ratios."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from able_yardstick.demo import fresh_copy

    with tempfile.TemporaryDirectory() as folder:
        os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
        os.environ["PYTHONPYCACHEPREFIX"] = str(Path(folder) / "compiled")
        job = fresh_copy(Path(folder))
        times(BARE), times(OURS, folder, str(job))
        rows = [(times(BARE), times(OURS, folder, str(job))) for _ in range(TURNS)]
    print(f"{'bare window with one plot':<28}{1000 * median(bare['painted'] for bare, _ in rows):6.0f} ms")
    for name, words, wanted in (
        ("painted", "window painted", " (wanted: 1.5 at most)"),
        ("plots", "with both plots", " (wanted: 2 at most)"),
        ("marks", "with every channel's marks", ""),
    ):
        spent = median(ours[name] for _, ours in rows)
        ratio = median(ours[name] / bare["painted"] for bare, ours in rows)
        print(f"{words:<28}{1000 * spent:6.0f} ms   ratio {ratio:.2f}{wanted}")


if __name__ == "__main__":
    main()
