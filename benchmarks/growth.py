"""What an edit, a capture, opening and looking elsewhere cost in a job of 200 channels and 10,000 readings.

    python benchmarks/growth.py [--smallest]

Each is measured in the window, with its save, and given as a share of what is wanted (below 1 is good), beside the same
in a job of 12 channels: cost follows the change and not the job.
"""

import os
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
SMALLEST = "--smallest" in sys.argv
SIZES = ((3, 30), (6, 60)) if SMALLEST else ((12, 600), (200, 10_000))
TURNS = 3 if SMALLEST else 9
NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)


def job_of(path: Path, channels: int, readings: int) -> None:
    """A job of pressure channels, each with its share of readings, a chosen line and kept numbers."""
    from able_yardstick.core.job.entries import capture
    from able_yardstick.core.job.job import Job
    from able_yardstick.core.results.choices import keep_packing, use_curve
    from able_yardstick.demo import demo_text
    from able_yardstick.files.jobfile import write_job

    demo = Job.model_validate_json(demo_text())
    one = demo.continuous("pt-201").with_(landing=None)
    rows = [reading for reading in demo.readings if reading.channel == one.id and reading.purpose == "gather"]
    many = tuple(one.with_(id=f"c{n}", device=f"d{n}", tag=f"PT-{300 + n}") for n in range(channels))
    job = Job.new("many", title="Many channels", channels=many, references=demo.references)
    taken = [
        rows[n // channels % len(rows)].with_(id=f"r{n}", channel=f"c{n % channels}") for n in range(readings)
    ]  # fmt: skip
    job = capture(job, taken)
    for channel in many[: 4 if SMALLEST else 20]:
        job = keep_packing(use_curve(job, channel.id, "line", NOON), channel.id, NOON)
    write_job(path, job)


def median_ms(act: Callable[[int], object], settle: Callable[[], object]) -> float:
    """The median time of an act and of all that it sets off."""
    spent = []
    for n in range(TURNS):
        began = time.perf_counter()
        act(n)
        settle()
        spent.append(1000 * (time.perf_counter() - began))
    return sorted(spent)[len(spent) // 2]


def measured(folder: Path, channels: int, readings: int) -> dict[str, float]:
    """Milliseconds of each thing that a person does, in a job of a size."""
    from PySide6.QtCore import QSettings

    from able_yardstick.app.frame.settings import Settings
    from able_yardstick.app.main import application, open_window
    from able_yardstick.core.job.channels import change_channel

    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(folder))
    app = application()
    path = folder / f"of-{channels}.yardstick.json"
    job_of(path, channels, readings)
    began = time.perf_counter()
    window = open_window(path, Settings())
    window.show()
    app.processEvents()
    window.build_rest()
    app.processEvents()
    found = {"opening": 1000 * (time.perf_counter() - began)}
    bench = window.bench

    def edited(n: int) -> None:
        channel = bench.continuous
        assert channel is not None
        bench.edit("name", lambda job: change_channel(job, channel.with_(name=f"Pressure {n}")))

    def captured(n: int) -> None:
        reading = bench.job.readings[0]
        bench.capture([reading.with_(id=f"new-{n}", captured=NOON)])

    for step in ("describe", "fit"):
        bench.go(step)
        app.processEvents()
        found[f"an edit at {step}"] = median_ms(edited, app.processEvents)
    bench.go("gather")
    app.processEvents()
    found["a capture, shown"] = median_ms(captured, app.processEvents)
    found["another channel"] = median_ms(lambda n: bench.select(f"c{n % channels}"), app.processEvents)
    found["another step"] = median_ms(lambda n: bench.go(("fit", "describe")[n % 2]), app.processEvents)
    window.close()
    found["a capture on disk"] = captures_ms(path)
    return found


def captures_ms(path: Path) -> float:
    """The median time until a captured reading is on disk, which is before anything of it is shown."""
    from able_yardstick.app.frame.workbench import Workbench

    bench = Workbench()
    bench.open(path)
    reading = bench.job.readings[0]
    found = median_ms(lambda n: bench.capture([reading.with_(id=f"more-{n}")]), lambda: None)
    bench.close()
    return found


WANTED_MS = {"opening": 1500, "a capture on disk": 50}


def main() -> None:
    """Print each cost in the large job as a share of what is wanted, beside the small one."""
    with tempfile.TemporaryDirectory() as folder:
        small, large = (measured(Path(folder), *size) for size in SIZES)
    print(f"{SIZES[1][0]} channels and {SIZES[1][1]} readings, beside {SIZES[0][0]} and {SIZES[0][1]}")
    for name, spent in large.items():
        wanted = WANTED_MS.get(name, 100)
        share = spent / wanted
        print(
            f"  {name:<20}{spent:7.1f} ms: {share:5.2f} of the {wanted} ms wanted; {small[name]:7.1f} ms in the small"
        )


if __name__ == "__main__":
    main()
