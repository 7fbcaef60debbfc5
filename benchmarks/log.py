"""A log: what writing costs, how large it is, how fast it opens, pans and is reckoned anew.

    python benchmarks/log.py [millions of samples]        or --smallest

Written as the recorder writes: 32 series of counts at 100 Hz with jittering clocks, a flush every 0.7 s. Figures are
ratios to what is wanted, below 1 where it is met; reckoning anew is held to the same arithmetic in plain NumPy.
"""

import sys
import tempfile
import time
from pathlib import Path

import numpy as np

SERIES, RATE_HZ, FLUSH_S = 32, 100.0, 0.7
MOST_US, MOST_BYTES, MOST_OPEN_S, LEAST_FRAMES, MOST_ANEW = 5.0, 4.0, 1.0, 30.0, 1.5
PIXELS, FRAMES = 1000, 120


def flushes(seconds: float):
    """What comes with each flush: by series, the samples of a stretch; counts with noise that wander."""
    from able_yardstick.core.journal.sample import Series

    draw = np.random.default_rng(1)
    each = round(FLUSH_S * RATE_HZ)
    for at in range(round(seconds / FLUSH_S)):
        number = at * each + np.arange(each)
        times = number / RATE_HZ + draw.normal(0, 2e-4, each).cumsum() * 0.1
        times = np.maximum.accumulate(times)
        found = {}
        for n in range(SERIES):
            counts = np.rint(2000 + 900 * np.sin(number / 3000 + n) + draw.normal(0, 1.5, each))
            states = np.zeros(each, dtype=np.uint8)
            found[n] = Series(times, times + 1.7e9, counts, number, states, {})
        yield found


def main() -> None:
    asked = sys.argv[1] if len(sys.argv) > 1 else "2"
    millions = 0.05 if asked == "--smallest" else float(asked)
    path = Path(tempfile.mkdtemp(prefix="able-yardstick-bench-")) / "many.yardlog"
    samples = write(path, millions * 1e6 / SERIES / RATE_HZ)
    read(path)
    anew(min(samples * 5, 10_000_000))
    path.unlink()


def write(path: Path, seconds: float) -> int:
    """Write it, and print what that cost beyond the making of the samples."""
    from able_yardstick.files.log.writer import LoggedFeed, LogWriter

    feeds = [LoggedFeed(f"PT-{n}", f"c{n}", "raw", f"raw {n}", "bench", "counts", "counts") for n in range(SERIES)]
    spent = 0.0
    writer = LogWriter(path, feeds, {})
    for samples in flushes(seconds):
        began = time.process_time()
        writer.append(samples)
        spent += time.process_time() - began
    began = time.process_time()
    writer.close()
    spent += time.process_time() - began
    cost, size = spent / writer.kept * 1e6, path.stat().st_size / writer.kept
    print(f"{writer.kept / 1e6:.2f} million samples in {SERIES} series")
    print(f"writing  {cost:5.2f} µs a sample        {cost / MOST_US:.2f} of {MOST_US:g}")
    print(f"on disk  {size:5.2f} bytes a sample     {size / MOST_BYTES:.2f} of {MOST_BYTES:g}")
    return writer.kept


def read(path: Path) -> None:
    """Open it and pan through it, all of it and a stretch of every length."""
    from able_yardstick.files.log.reader import LogFile

    began = time.perf_counter()
    log = LogFile(path)
    series = log.series()
    first = log.envelope(series[0], series[0].first_s, series[0].last_s, PIXELS)
    opened = time.perf_counter() - began
    assert len(first.times_s)
    print(f"opening  {opened * 1e3:5.1f} ms with its picture  {opened / MOST_OPEN_S:.3f} of {MOST_OPEN_S:g} s")
    one, length = series[0], series[0].last_s - series[0].first_s
    for share in (1.0, 0.1, 0.01):
        began = time.perf_counter()
        for n in range(FRAMES):
            start = one.first_s + (1 - share) * length * n / FRAMES
            log.envelope(one, start, start + share * length, PIXELS)
        frames = FRAMES / (time.perf_counter() - began)
        print(f"panning  {frames:6.0f} frames/s over {share:.0%} of it   {LEAST_FRAMES / frames:.3f} of a frame")
    log.close()


def anew(count: int) -> None:
    """Reckon counts anew by two tables, against the same look-ups in plain NumPy, turn by turn."""
    from able_yardstick.core.journal.sample import Series
    from able_yardstick.core.lookout.relogging import relogged

    draw = np.random.default_rng(2)
    counts = draw.integers(0, 4096, count).astype(float)
    old, new = np.linspace(0, 250, 4096), np.linspace(1, 251, 4096)
    series = Series.of(np.arange(count) / RATE_HZ, counts)
    plain, ours = [], []
    for _ in range(3):
        began = time.perf_counter()
        at = np.rint(counts).astype(np.int64)
        before, after = old[at], new[at]
        gap = after - before
        plain.append(time.perf_counter() - began)
        began = time.perf_counter()
        found = relogged(series, old, new)
        ours_gap = found.difference
        ours.append(time.perf_counter() - began)
        assert np.array_equal(gap, ours_gap)
    ratio = min(ours) / min(plain)
    of = f"{count / 1e6:g} million samples  {ratio / MOST_ANEW:.2f} of {MOST_ANEW:g}"
    print(f"anew     {ratio:5.2f} × plain NumPy over {of}")


if __name__ == "__main__":
    main()
