"""Long tables: 2 million rows of three columns, some 46 MB of CSV, from the file to numbers.

Wanted: under 10 s. Beside it NumPy's own reader of the same text in the same run, which knows no headings, marks,
comments or bad lines.
"""

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from able_yardstick.files.tables import parse_grid, pick, read_text

ROWS = 2_000 if "--smallest" in sys.argv else 2_000_000
WANTED_S = 10.0


def seconds(act: Callable[[], object]) -> float:
    """How long it takes."""
    began = time.perf_counter()
    act()
    return time.perf_counter() - began


def main() -> None:
    """Print the time and its ratio."""
    random = np.random.default_rng(1)
    table = np.column_stack([np.arange(ROWS) * 0.01, random.uniform(0, 5, ROWS), random.uniform(0, 250, ROWS)])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "log.csv"
        np.savetxt(path, table, "%.3f", delimiter=",", header="time (s),signal (V),reference (kPa)", comments="")
        size = path.stat().st_size / 1e6
        ours = seconds(lambda: pick(parse_grid(read_text(path)), (0, 1, 2)))
        plain = seconds(lambda: np.loadtxt(path, delimiter=",", skiprows=1))
    print(f"{ROWS:,} rows, {size:.0f} MB: {ours:.2f} s, {ours / WANTED_S:.2f} of the {WANTED_S:g} s allowed")
    print(f"    {ours / plain:.2f} of NumPy's own reader")


if __name__ == "__main__":
    main()
