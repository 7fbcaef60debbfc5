"""The lookout live: 32 channels at 100 Hz logged beside it, and the strips of 200 channels; what is lost, and the cost.

    python benchmarks/lookout.py [seconds]        ten minutes: 600; or --smallest

The rig simulates the channels in a process of its own; what is measured is the window's, with its lookout in
sight. Each figure is a ratio to what is wanted: above 1 is good for marks a second, below 1 for all else.
"""

import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from live import job_of_many

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
WANTED_PICTURES, MOST_MB = 30.0, 400.0
SHORT_S, LOGGED = 20.0, 32


def main() -> None:
    asked = sys.argv[1] if len(sys.argv) > 1 else "60"
    if len(sys.argv) > 2:
        with_rig(int(sys.argv[2]), float(asked))
        return
    is_smallest = asked == "--smallest"
    seconds = 2.0 if is_smallest else float(asked)
    few, many = (4, 12) if is_smallest else (LOGGED, 200)
    for count, length in ((few, seconds), (many, min(seconds, SHORT_S))):
        # a process each: memory of the one is not the other's
        subprocess.run([sys.executable, __file__, str(length), str(count)], check=True)


def with_rig(count: int, seconds: float) -> None:
    """Measure beside a rig that serves so many channels."""
    folder = Path(tempfile.mkdtemp(prefix="able-yardstick-bench-"))
    path = folder / "many.yardstick.json"
    job_of_many(path, count)
    rig = subprocess.Popen(
        [sys.executable, "-m", "able_yardstick", "rig", "--free-ports", "--for", str(path)],
        stdout=subprocess.PIPE, text=True,
    )  # fmt: skip
    try:
        json.loads(rig.stdout.readline())
        measure(path, seconds, folder, count)
    finally:
        rig.terminate()
        rig.wait(10)


def measure(path: Path, seconds: float, folder: Path, count: int) -> None:
    """Log for so long with the lookout in sight, and print what came of it."""
    from PySide6.QtCore import QSettings

    from able_yardstick.app.frame.settings import Settings
    from able_yardstick.app.lookout.picture import Strips
    from able_yardstick.app.main import application, open_window

    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(folder))
    application()
    window = open_window(path, Settings())
    window.resize(1280, 800)
    window.show()
    window.build_rest()
    window.live.connect_all()
    window.show_side("lookout")
    run_for(4.0)
    strips = window.findChild(Strips)
    moments: list[float] = []
    window.live.ticked.connect(lambda: moments.append(time.monotonic()))
    if count <= LOGGED:
        window.lookout.watch.start_log(folder / "many.yardlog")
    cpu, began = time.process_time(), time.monotonic()
    run_for(seconds)
    elapsed, cpu = time.monotonic() - began, time.process_time() - cpu
    totals = window.lookout.watch.stop_log()
    whole = scrolled(strips)
    window.close()
    rate, share = len(moments) / elapsed, cpu / elapsed
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    told = "" if totals is None else f", logged: {totals.kept} samples, {totals.lost} lost, {totals.bad} bad"
    print(f"{count} channels for {elapsed:.0f} s{told}")
    print(f"  marks drawn anew        {rate:5.1f} /s     {rate / WANTED_PICTURES:.2f} of {WANTED_PICTURES:g}")
    print(f"  whole picture drawn in  {whole * 1e3:5.1f} ms    {whole * WANTED_PICTURES:.2f} of a picture's time")
    print(f"  processor               {share:5.2f} cores  {share:.2f} of 1")
    print(f"  memory, at most         {memory:5.0f} MB    {memory / MOST_MB:.2f} of {MOST_MB:g}")


def scrolled(strips) -> float:
    """How long a picture takes while it is scrolled, when a row comes into sight with each."""
    bar, times = strips.parentWidget().parentWidget().verticalScrollBar(), []
    for at in range(0, min(bar.maximum(), 900), 45):
        began = time.perf_counter()
        bar.setValue(at)
        strips.repaint()
        times.append(time.perf_counter() - began)
    return sorted(times)[len(times) // 2] if times else 0.0


def run_for(seconds: float) -> None:
    """Let the window live for a while."""
    from PySide6.QtWidgets import QApplication

    end = time.monotonic() + seconds
    while time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.001)


if __name__ == "__main__":
    main()
