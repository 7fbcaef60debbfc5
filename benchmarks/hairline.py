"""How long one move of the hairline takes to be painted, at each step of a straight and of a curved channel.

Wanted: at most 16 ms. The ratio is to a repaint of the whole window, measured in the same run.
"""

import os
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

SMALLEST = "--smallest" in sys.argv
MOVES = 2 if SMALLEST else 60
FRAME_MS = 16.0


def main() -> None:
    """Print the median time of a move for each view, and its share of a whole repaint."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QSettings

    from able_yardstick.app.frame.settings import Settings
    from able_yardstick.app.main import application, open_window
    from able_yardstick.core.state.progress import STEP_NAMES
    from able_yardstick.demo import fresh_copy

    folder = tempfile.mkdtemp(prefix="able-yardstick-bench-")
    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, folder)
    app = application()
    window = open_window(fresh_copy(Path(folder)), Settings())
    window.show()
    window.build_rest()
    worst = 0.0
    for tag in ("PT-201", "AT-208"):
        for step in STEP_NAMES:
            window.bench.select(window.bench.job.tagged(tag).id)
            window.bench.go(step)
            window.bench.search.wait()
            app.processEvents()
            low, high = window.sight.axis
            spent = []
            for pin in np.linspace(low, high, MOVES):
                began = time.perf_counter()
                window.sight.set_pin(float(pin))
                app.processEvents()
                spent.append(1000 * (time.perf_counter() - began))
            began = time.perf_counter()
            window.repaint()
            window.centre.curve_plot._redraw()
            window.centre.error_plot._redraw()
            app.processEvents()
            whole = 1000 * (time.perf_counter() - began)
            median = float(np.median(spent))
            worst = max(worst, median)
            print(f"{tag} {step:<9} {median:5.1f} ms a move, {median / whole:4.0%} of a whole repaint ({whole:.0f} ms)")
    print(f"slowest view {worst:.1f} ms: {worst / FRAME_MS:.2f} of a frame of {FRAME_MS:.0f} ms (wanted: 1 at most)")
    window.close()


if __name__ == "__main__":
    main()
