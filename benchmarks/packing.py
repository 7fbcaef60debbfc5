"""Tables: how long the best knots take, how close they come, and how fast a packed table is applied.

Wanted: 12 knots out of 1,000 points within 0.3 s and out of 100,000 within 5 s, within 1 % of the bound; a packed
table applied to 10 million counts within 1.1 times numpy.interp on the same array, and a table of every count faster
still. The times of the search are set beside one numpy.interp of 10 million numbers in the same run.
"""

import sys
import time
from collections.abc import Callable
from functools import partial

import numpy as np

from able_yardstick.core.curves import Table
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.pack.make import pack_in_full
from able_yardstick.core.path.converter import Converter

KNOTS = 12
SMALLEST = "--smallest" in sys.argv
COUNTS = 100_000 if SMALLEST else 10_000_000
ROUNDS = 1 if SMALLEST else 5
SIZES = ((12, 1_000, 0.3), (16, 1_000, 0.3), (16, 100_000, 5.0))[: 1 if SMALLEST else 3]


def seconds(act: Callable[[], object], rounds: int = ROUNDS) -> float:
    """The shortest of several runs."""
    spent = []
    for _ in range(rounds):
        began = time.perf_counter()
        act()
        spent.append(time.perf_counter() - began)
    return min(spent)


def oxygen(points: int) -> Table:
    """A curve that bends, as a table of so many rows."""
    x = np.linspace(0.0, 5.0, points)
    return Table.through(x, 21 * (0.55 * x / 5 + 0.3 * (x / 5) ** 2 + 0.15 * (x / 5) ** 4))


def main() -> None:
    """Print each figure beside what is wanted."""
    converter = Converter(bits=16, full_count=65_535)
    counts = np.random.default_rng(1).integers(0, converter.full_count + 1, COUNTS)
    spec = PackSpec(form="knots", knots=KNOTS, clamp=True)
    made = pack_in_full(oxygen(1_000), converter, spec)
    signals, values = np.array(made.form.signals), np.array(made.form.values)
    signal_of = converter.inverse(counts)
    plain = seconds(lambda: np.interp(signal_of, signals, values))
    print(f"numpy.interp on {COUNTS:,} signals: {plain:.3f} s, the measure of the rest")
    for bits, points, wanted in SIZES:
        curve, other = oxygen(points), Converter(bits=bits, full_count=2**bits - 1)
        spent = seconds(partial(pack_in_full, curve, other, spec), 3)
        found = pack_in_full(curve, other, spec)
        worst = np.max(np.abs(found.form.shown(other.every_count(), other) - curve.value(every(other))))
        print(f"{KNOTS} knots of {points:>7,} points, {bits} bits: {spent:.2f} s, {spent / plain:.1f} of the measure")
        print(f"    {spent / wanted:.2f} of the {wanted:g} s allowed (wanted: 1 at most)")
        print(f"    error {worst / found.bound:.4f} of the proven bound (wanted: 1.01 at most)")
    packed = seconds(lambda: made.form.shown(counts, converter))
    print(f"packed table on {COUNTS:,} counts: {packed / plain:.2f} of numpy.interp (wanted: 1.1 at most)")
    every_count = made.form.shown(np.arange(converter.full_count + 1), converter)
    looked_up = seconds(lambda: every_count[counts])
    print(f"by a table of every count: {looked_up / plain:.2f} of numpy.interp (wanted: below the line above)")


def every(converter: Converter) -> np.ndarray:
    """The signal of every count."""
    return converter.inverse(converter.every_count())


if __name__ == "__main__":
    main()
