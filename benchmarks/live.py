"""32 channels at 100 Hz over Modbus into the window: what is lost, how often it is drawn, what it costs.

    python benchmarks/live.py [seconds]        ten minutes: 600; or --smallest

The rig simulates the channels in a process of its own; what is measured is the window's. Each figure is a ratio to what
is wanted, so that above 1 is good for pictures a second, and below 1 for processor and memory.
"""

import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from itertools import pairwise
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
CHANNELS = 32
WANTED_HZ, WANTED_PICTURES, MOST_MB = 100.0, 30.0, 400.0


def job_of_many(path: Path, count: int = CHANNELS) -> None:
    """A job of so many pressure channels with the rig's controller."""
    from able_yardstick.bench.rig.layout import Places, sources_for
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text
    from able_yardstick.files.jobfile import write_job

    demo = Job.model_validate_json(demo_text())
    one = demo.continuous("pt-201").with_(landing=None)
    channels = [one.with_(id=f"c{n}", device=f"d{n}", tag=f"PT-{300 + n}") for n in range(count)]
    job = Job.new("many", title="Many channels", channels=tuple(channels))
    write_job(path, job.with_(sources=sources_for(job, Places(), {})[:1]))


def main() -> None:
    asked = sys.argv[1] if len(sys.argv) > 1 else "60"
    seconds = 2.0 if asked == "--smallest" else float(asked)
    folder = Path(tempfile.mkdtemp(prefix="able-yardstick-bench-"))
    path = folder / "many.yardstick.json"
    job_of_many(path)
    rig = subprocess.Popen(
        [sys.executable, "-m", "able_yardstick", "rig", "--free-ports", "--for", str(path)],
        stdout=subprocess.PIPE, text=True,
    )  # fmt: skip
    try:
        json.loads(rig.stdout.readline())
        measure(path, seconds, folder)
    finally:
        rig.terminate()
        rig.wait(10)


def measure(path: Path, seconds: float, folder: Path) -> None:
    """Run the window at Wake for so long, and print what came of it."""
    from PySide6.QtCore import QSettings

    from able_yardstick.app.frame.settings import Settings
    from able_yardstick.app.main import application, open_window

    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(folder))
    application()
    window = open_window(path, Settings())
    window.show()
    window.build_rest()
    window.bench.go("wake")
    window.live.connect_all()
    run_for(4.0)
    streams = [live.stream for live in window.live.hub.feeds() if live.feed.role == "raw"]
    before = [stream.total for stream in streams]
    pictures: list[float] = []
    window.centre.live_view.signal._view.scene().changed.connect(lambda _regions: pictures.append(time.monotonic()))
    cpu, began = time.process_time(), time.monotonic()
    run_for(seconds)
    elapsed = time.monotonic() - began
    cpu = time.process_time() - cpu
    came = [stream.total - start for stream, start in zip(streams, before, strict=True)]
    print(f"{CHANNELS} channels for {elapsed:.0f} s")
    print(f"  readings of each channel a second, of 100: {min(came) / elapsed / WANTED_HZ:.3f}")
    print(f"  lost {sum(stream.lost for stream in streams)}, out of order {sum(one.out_of_order for one in streams)}")
    print(f"  pictures a second, of 30: {len(pictures) / elapsed / WANTED_PICTURES:.2f}")
    gaps = sorted(b - a for a, b in pairwise(pictures))
    print(f"  between two pictures: median {1000 * gaps[len(gaps) // 2]:.0f} ms, longest {1000 * gaps[-1]:.0f} ms")
    print(f"  processor of the window, of one core: {cpu / elapsed:.2f}")
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"  greatest memory, of 400 MB: {peak / MOST_MB:.2f} ({peak:.0f} MB)")
    window.close()


def run_for(seconds: float) -> None:
    """Let the window run."""
    from PySide6.QtCore import QEventLoop, QTimer

    loop = QEventLoop()
    QTimer.singleShot(int(1000 * seconds), loop.quit)
    loop.exec()


if __name__ == "__main__":
    main()
