"""A log of the demo kiln, made up: pressure in steps with its reference, both oxygen probes, one of them parting."""

import numpy as np

from able_yardstick.core.job.in_force import curve_in_use, shown_of
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.path.node import COUNTS, Met
from able_yardstick.files.log.writer import LogEvent, LoggedCalibration, LoggedFeed, LogWriter

WALL_S = 1_796_000_000.0
RATE_HZ = 10.0
LENGTH_S = 600.0
STEPS = (20.0, 80.0, 140.0, 200.0, 240.0, 180.0, 120.0, 60.0)
PARTS_AT_S = 300.0


def series_of(times, values, met=COUNTS):
    numbers = np.arange(len(times))
    return Series(times, times + WALL_S - times[0], values, numbers, np.zeros(len(times), dtype=np.uint8), {}, met)


def counts_for(job, channel, values):
    """The counts that some values give, by the curve in use."""
    use = curve_in_use(job, channel)
    return channel.path.converter.count_of(np.asarray(use.curve.signal(np.asarray(values)))).astype(float)


def kiln_log(path, job, with_raw=True):
    """Write it; ten minutes at 10 Hz."""
    draw = np.random.default_rng(5)
    gas, first, second = (job.tagged(tag) for tag in ("PT-201", "AT-208", "AT-209"))
    times = np.arange(0.0, LENGTH_S, 1 / RATE_HZ) + 5000.0
    into = (times - 5000.0) / LENGTH_S * len(STEPS)
    pressure = np.array(STEPS)[into.astype(int)] + draw.normal(0, 0.03, len(times))
    oxygen = 6.0 + 0.8 * np.sin((times - 5000.0) / 40.0) + draw.normal(0, 0.01, len(times))
    apart = oxygen + np.where(times - 5000.0 > PARTS_AT_S, 0.3, 0.0) + draw.normal(0, 0.01, len(times))
    kept = job.pack_of(gas.id)
    counts = counts_for(job, gas, pressure)
    shown = shown_of(kept.form, gas, np.asarray(gas.path.converter.inverse(counts)))
    columns = [
        (LoggedFeed("PT-201", gas.id, "raw", "PT-201 raw", "Kiln controller", "counts", "counts"), counts),
        (LoggedFeed("PT-201", gas.id, "shown", "PT-201", "Kiln controller", "counts", "kPa"), shown),
        (LoggedFeed("PT-201", gas.id, "reference", "PT-201 reference", "Reference bench", "counts", "kPa"), pressure),
        (LoggedFeed("AT-208", first.id, "raw", "AT-208 raw", "Kiln controller", "counts", "counts"),
         counts_for(job, first, oxygen)),
        (LoggedFeed("AT-209", second.id, "raw", "AT-209 raw", "Kiln controller", "counts", "counts"),
         counts_for(job, second, apart)),
    ]  # fmt: skip
    if not with_raw:
        columns = [(feed, np.round(values, 1)) for feed, values in columns if feed.role == "shown"]
    about = {"job": job.title, "job id": job.id, "document": job.document.model_dump_json()}
    with LogWriter(path, [feed for feed, _values in columns], about) as writer:
        event = LogEvent(WALL_S + 120, 5120.0, "note", "", "burner lit")
        calibration = LoggedCalibration(WALL_S, 5000.0, gas.id, kept.revision, kept.model_dump_json())
        for start in range(0, len(times), 2000):
            part = slice(start, start + 2000)
            samples = {
                n: series_of(times, values, Met(feed.node, feed.unit)).where(_chosen(len(times), part))
                for n, (feed, values) in enumerate(columns)
            }
            writer.append(samples, [event] if start == 0 else (), [calibration] if start == 0 else ())
    return path


def _chosen(count, part):
    chosen = np.zeros(count, dtype=bool)
    chosen[part] = True
    return chosen
