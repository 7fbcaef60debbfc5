"""Unknown controllers, read from pairs: their form is found, and what is left open holds their numbers."""

import numpy as np
import pytest

from able_yardstick.core.curves import Line
from able_yardstick.core.forms.integer import Ratio
from able_yardstick.core.pack.inputs import PackInputs
from able_yardstick.core.pack.packed import packed
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.prove.recovery.candidates import recovered
from able_yardstick.core.prove.recovery.next_signal import next_count
from able_yardstick.core.prove.recovery.notation import in_signal, spec_as_found
from able_yardstick.core.prove.recovery.pairs import seen_pairs
from able_yardstick.core.words.errors import BadTable, NotApplicable

FULL = 4095
CONVERTER = Converter()
PAIRS, RUNS = 12, 40


class Controller:
    """A controller with numbers of its own: `shown` is its display, `true` what must be held."""

    def __init__(self, kind, seed):
        draw = np.random.default_rng([seed, 77])
        self.decimals = int(draw.integers(0, 3))
        self.step = 10.0**-self.decimals
        span, self.low = float(draw.choice([20, 100, 250, 1000, 2000])), float(draw.choice([0, -50, -20, -150]))
        self.span = span
        sign = draw.choice([1, 1, 1, -1])
        self.slope = float(sign * span / FULL * draw.uniform(0.8, 1.2))
        self.offset = float(self.low + draw.uniform(-1, 1) + (span if sign < 0 else 0))
        self.shown, self.true = getattr(self, kind.replace(" ", "_").replace(",", ""))(draw)

    def straight(self, draw):
        if draw.choice([True, False]):
            true = {"slope": self.slope, "offset, rounded": self.offset}
            return lambda c: np.floor((self.slope * c + self.offset) / self.step + 0.5) * self.step, true
        true = {"slope": self.slope, "offset, cut": self.offset}
        return lambda c: np.floor((self.slope * c + self.offset) / self.step) * self.step, true

    def straight_cut_towards_0(self, draw):
        a = abs(self.slope)
        b = -a * FULL * float(draw.uniform(0.1, 0.6))
        return lambda c: np.trunc((a * c + b) / self.step) * self.step, {"slope": a, "offset, cut": b}

    def integer_ratio(self, draw):
        a, b, c = int(draw.integers(3, 3000)), int(draw.integers(7, 4096)), int(draw.integers(-500, 500))
        form = Ratio(multiplier=a, divisor=b, constant=c, rounding=str(draw.choice(["nearest", "truncate", "floor"])))
        return lambda n: form.whole(np.asarray(n, dtype=np.int64)) * self.step, {"A/B": a / b, "C": float(c)}

    def held_straight(self, draw):
        ends = sorted((self.offset, self.slope * FULL + self.offset))
        size = ends[1] - ends[0]
        low, high = (
            float(np.round(end / self.step) * self.step)
            for end in (ends[0] + size * draw.uniform(0.05, 0.3), ends[1] - size * draw.uniform(0.05, 0.3))
        )

        def shown(c):
            return np.floor(np.clip(self.slope * c + self.offset, low, high) / self.step + 1e-9) * self.step

        return shown, {"slope": self.slope, "offset, cut": self.offset, "lower limit": low, "upper limit": high}

    def table(self, draw):
        many = int(draw.integers(1, 5))
        knots = np.sort(draw.choice(np.arange(200, 3900), many, replace=False))
        at = np.r_[0, knots, FULL]
        slopes = np.where(np.arange(many + 1) % 2, draw.uniform(0.2, 0.6), draw.uniform(1.2, 2.0))
        values = self.low + self.span * np.cumsum(np.r_[0, slopes * np.diff(at) / FULL])
        return lambda c: np.round(np.interp(c, at, values) / self.step) * self.step, {"knots": knots}


def read_out(shown, decimals, pairs=PAIRS):
    """So many pairs, each where it was said to tell most."""
    counts, following = [0, FULL], 0
    while True:
        seen = seen_pairs(counts, np.round(shown(np.array(counts, dtype=float)), decimals + 2).tolist(), decimals)
        found = recovered(seen)
        following = next_count(seen, found, FULL)
        if following is None or len(counts) >= pairs:
            return seen, found
        counts.append(following)


def holds(one, true):
    rows = {row.name: row for row in one.numbers}
    if "knots" in true:
        return all(any(row.low < knot < row.high for knot in true["knots"]) for row in one.numbers)
    return all(rows[name].low - 1e-9 <= value <= rows[name].high + 1e-9 for name, value in true.items() if name in rows)


@pytest.mark.parametrize("kind", ["straight", "straight, cut towards 0", "integer ratio", "held straight", "table"])
def test_forty_controllers_of_a_form_are_read_with_twelve_pairs_each(kind):
    """All of them hold the true numbers; the general form is alone (whole numbers are a straight line's case)."""
    alone = 0
    for seed in range(RUNS):
        controller = Controller(kind, seed)
        seen, found = read_out(controller.shown, controller.decimals)
        one = next((one for one in found if one.kind == kind), None)
        assert one is not None, (seed, [other.kind for other in found])
        assert holds(one, controller.true), (seed, controller.true, one.numbers)
        assert all((law.laws(seen.counts) == seen.steps).all(axis=1).any() for law in found)
        general = [other.kind for other in found if other.special_of is None]
        alone += general == ["straight" if kind == "integer ratio" else kind]
    assert alone >= 0.9 * RUNS


def test_by_hand_two_pairs_leave_what_two_steps_leave():
    """0 shows 0.0 and 1000 shows 50.0: a rounding display leaves ±0.05 at both, so 0.0499 to 0.0501 for each count."""
    found = recovered(seen_pairs([0, 1000], [0.0, 50.0], 1))
    rows = {row.name: row for row in found[0].numbers}
    assert found[0].kind == "straight"
    assert (rows["slope"].low, rows["slope"].high) == pytest.approx((0.0499, 0.0501))
    assert (rows["offset, rounded"].low, rows["offset, rounded"].high) == pytest.approx((-0.05, 0.05))
    typed = {row.name: row for row in in_signal(found[0], seen_pairs([0, 1000], [0.0, 50.0], 1), CONVERTER)}
    assert typed["slope per V"].value == pytest.approx(0.05 * 819, rel=2e-3)


@pytest.mark.parametrize("kind", ["straight", "integer ratio", "held straight", "table"])
def test_what_was_read_becomes_a_packing_that_shows_the_pairs(kind):
    controller = Controller(kind, 3)
    seen, found = read_out(controller.shown, controller.decimals, pairs=30)
    one = next(one for one in found if one.kind == kind)
    spec = spec_as_found(one, seen, CONVERTER)
    own = Line(height=controller.offset, gradient=controller.slope * FULL / 5, domain=(0.0, 5.0))
    if kind == "held straight":  # packed over what is not held
        ends = own.signal(np.array([controller.true["lower limit"], controller.true["upper limit"]]))
        own = own.with_(domain=tuple(np.sort(ends).tolist()))
    form = packed(PackInputs(curve=own, unit="", converter=CONVERTER, spec=spec, range=(0.0, 100.0))).form
    shown = form.shown(seen.counts.astype(np.int64), CONVERTER)
    assert np.abs(shown - seen.steps * seen.step).max() <= 1.01 * seen.step


def test_pairs_that_cannot_be_are_refused():
    with pytest.raises(BadTable, match="Two different counts"):
        seen_pairs([5, 5], [1.0, 1.0])
    with pytest.raises(BadTable, match="Count 5 shows 1 and 2"):
        seen_pairs([5, 5], [1.0, 2.0])
    with pytest.raises(BadTable, match="more than the 1 decimals"):
        seen_pairs([5, 6], [1.0, 2.25], 1)
    towards = recovered(seen_pairs([0, 1000, 2000, 4000], [-1.0, 0.0, 0.0, 1.0], 0))
    with pytest.raises(NotApplicable, match="cut towards 0"):
        spec_as_found(next(one for one in towards if "cut" in one.kind), seen_pairs([0, 9], [0.0, 1.0]), CONVERTER)
