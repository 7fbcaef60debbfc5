"""A path evaluated on a million samples, against the same arithmetic written as plain NumPy.

Wanted: at most 2 times as long. Both are measured in the same run, the best of several.
"""

import sys
import time
from collections.abc import Callable

import numpy as np

from able_yardstick.core.path.converter import Converter
from able_yardstick.core.path.signal_path import Path
from able_yardstick.core.stages import Amplifier, Divider, Excitation, PullUp, Shunt

SMALLEST = "--smallest" in sys.argv
SAMPLES = 10_000 if SMALLEST else 1_000_000
TIMES = 2 if SMALLEST else 15
WANTED = 2.0


def best(act: Callable[[], object]) -> float:
    """The shortest of several runs, in ms."""
    spent = []
    for _ in range(TIMES):
        began = time.perf_counter()
        act()
        spent.append(1000 * (time.perf_counter() - began))
    return min(spent)


def main() -> None:
    """Print the ratio for a loop, a bridge and a pull-up."""
    loop = Path(source="mA", stages=(Shunt(), Divider()), converter=Converter(input_ohm=1e6))
    bridge = Path(source="mV/V", stages=(Excitation(voltage_v=10), Amplifier(stated_gain=480)))
    pulled = Path(source="Ω", stages=(PullUp(),))
    bottom = 1 / (1 / 10_000 + 1 / 1e6)
    shunt = 1 / (1 / 250 + 1 / (10_000 + bottom)) / 1000
    cases = (
        ("loop over shunt and divider", loop, np.linspace(4, 20, SAMPLES),
         lambda x: x * shunt * (bottom / (10_000 + bottom))),
        ("bridge, excited and amplified", bridge, np.linspace(0, 2, SAMPLES), lambda x: x * 10.0 * 0.48 + 0.0),
        ("resistance under a pull-up", pulled, np.linspace(300, 40_000, SAMPLES), lambda x: 5.0 * x / (10_000 + x)),
    )  # fmt: skip
    worst = 0.0
    for name, path, samples, plain in cases:
        assert np.allclose(path.pin(samples), plain(samples), rtol=1e-12)
        ours, theirs = best(lambda p=path, x=samples: p.pin(x)), best(lambda f=plain, x=samples: f(x))
        worst = max(worst, ours / theirs)
        print(f"{name:<32} {ours:6.2f} ms, plain NumPy {theirs:6.2f} ms: ratio {ours / theirs:.2f}")
    print(f"worst ratio {worst:.2f} (wanted: {WANTED:.0f} at most)")


if __name__ == "__main__":
    main()
