"""Packings: the controller's arithmetic, and the exact cost at every count."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.curves import Line, Table
from able_yardstick.core.forms.cost import packing_cost
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.forms.steps import on_step
from able_yardstick.core.forms.straight import EndValues, RawPair, SlopeOffset
from able_yardstick.core.forms.table import Knots
from able_yardstick.core.pack.make import pack
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.words.errors import OutOfRange

GAS = Line.through((0.5, 0.0), (4.5, 250.0), (0.5, 4.5))
BENT = Table.through(np.linspace(0, 5, 23), np.expm1(np.linspace(0, 1.2, 23)) * 9)
TWELVE = Converter()


def by_hand(form, curve, converter):
    """The worst error, count by count, with plain arithmetic of its own."""
    worst = (0.0, 0)
    for count in range(converter.full_count + 1):
        signal = converter.low + count * (converter.high - converter.low) / converter.counts_at_top
        if isinstance(form, SlopeOffset):
            shown = form.slope * signal + form.offset
            if form.lower_limit is not None:
                shown = min(max(shown, form.lower_limit), form.upper_limit)
        else:
            raw = isinstance(form, RawPair)
            knots = isinstance(form, Knots)
            x = count if raw else signal
            if knots:
                xs, ys = form.signals, form.values
            elif raw:
                xs, ys = (form.raw_low, form.raw_high), (form.value_low, form.value_high)
            else:
                xs, ys = (form.signal_low, form.signal_high), (form.value_low, form.value_high)
            if form.clamp:
                x = min(max(x, xs[0]), xs[-1])
            n = next((n for n in range(1, len(xs) - 1) if x < xs[n]), len(xs) - 1)
            shown = ys[n - 1] + (x - xs[n - 1]) * (ys[n] - ys[n - 1]) / (xs[n] - xs[n - 1])
        error = shown - float(curve.value(signal))
        if abs(error) > abs(worst[0]) + 1e-12:
            worst = (error, count)
    return worst


SPECS = [
    PackSpec(form="slope", decimals=2),
    PackSpec(form="slope", decimals=3, clamp=True),
    PackSpec(form="ends", value_step=0.1),
    PackSpec(form="ends", value_step=0.1, clamp=True, signal_low=1.0, signal_high=4.0),
    PackSpec(form="span", value_step=1.0),
    PackSpec(form="span", value_step=0.5, clamp=True),
    PackSpec(form="knots", knots=7, signal_step=0.05, value_step=0.1),
    PackSpec(form="knots", knots=12, clamp=True, signal_low=0.7, signal_high=4.1),
]


@pytest.mark.parametrize("spec", SPECS)
@pytest.mark.parametrize("curve", [GAS, BENT])
def test_the_worst_error_is_that_of_every_count_reckoned_by_hand(spec, curve):
    form = pack(curve, TWELVE, spec, limits=(0.0, 20.0))
    error, _ = by_hand(form, curve, TWELVE)
    worst = packing_cost(form, curve, TWELVE, span=250.0).overall
    assert abs(worst.error) == pytest.approx(abs(error), rel=1e-9)
    there = form.shown(np.array([worst.count]), TWELVE) - curve.value(worst.signal)
    assert there == pytest.approx(worst.error)
    assert worst.percent_of_span == pytest.approx(100 * abs(error) / 250)


def test_a_line_packed_without_rounding_costs_nothing():
    for form in ("slope", "ends", "span"):
        packed = pack(GAS, TWELVE, PackSpec(form=form, decimals=None))
        assert abs(packing_cost(packed, GAS, TWELVE, 250).overall.error) < 1e-10


def test_values_at_both_ends_are_extrapolated_beyond_the_range():
    packed = pack(GAS, TWELVE, PackSpec(form="ends", value_step=0.01))
    assert isinstance(packed, EndValues)
    assert (packed.value_low, packed.value_high) == (-31.25, 281.25)


def test_a_raw_pair_is_the_counts_at_the_ends_of_the_reach():
    packed = pack(GAS, TWELVE, PackSpec(form="span", value_step=0.01))
    assert isinstance(packed, RawPair)
    assert (packed.raw_low, packed.raw_high) == (410, 3686)
    assert packed.value_low == pytest.approx(62.5 * (410 * 5 / 4095) - 31.25, abs=0.005)


def test_a_clamped_packing_holds_its_ends():
    packed = pack(GAS, TWELVE, PackSpec(form="slope", clamp=True), limits=(0.0, 250.0))
    shown = packed.shown(np.array([0, 4095]), TWELVE)
    assert shown.tolist() == [0.0, 250.0]
    assert packed.continuous(TWELVE).domain == pytest.approx((0.5, 4.5))


@settings(max_examples=10)
@given(st.integers(2, 40), st.sampled_from([None, 0.01, 0.1]))
def test_knots_rise_and_lie_on_their_grid(knots, step):
    packed = pack(BENT, TWELVE, PackSpec(form="knots", knots=knots, signal_step=step, value_step=step))
    assert len(packed.signals) == knots
    assert np.all(np.diff(packed.signals) > 0)
    if step:
        assert np.allclose(np.array(packed.values) / step, np.round(np.array(packed.values) / step), atol=1e-6)


def test_more_knots_than_the_signal_step_has_room_for_are_refused():
    with pytest.raises(OutOfRange, match="two knots fall on one signal: take fewer knots"):
        pack(BENT, TWELVE, PackSpec(form="knots", knots=20, signal_step=0.5))


def test_a_slope_that_rounds_away_is_refused():
    flat = Line.through((0.0, 0.0), (5.0, 0.01), (0.0, 5.0))
    with pytest.raises(OutOfRange, match=r"With 2 decimals the slope 0\.002 becomes 0\. Choose more decimals\."):
        pack(flat, TWELVE, PackSpec(form="slope", decimals=2))


def test_a_bent_curve_is_packed_as_the_line_whose_largest_errors_balance():
    packed = pack(BENT, TWELVE, PackSpec(form="slope", decimals=None))
    errors = packed.shown(TWELVE.every_count(), TWELVE) - BENT.value(TWELVE.inverse(TWELVE.every_count()))
    assert errors.max() == pytest.approx(-errors.min(), rel=1e-9)


@given(st.integers(-(10**6), 10**6), st.sampled_from([0.1, 0.05, 0.01, 0.25, 2.0]))
def test_values_on_a_step_are_the_decimal_numbers_a_person_would_type(count, step):
    value = float(on_step(np.array([count * step + step / 7]), step)[0])
    assert value == float(f"{round(count * step, 6):.6f}")


@pytest.mark.parametrize(
    ("spec", "words"),
    [
        (PackSpec(form="ends", value_step=1000), "both values become 0, so every count would show the same"),
        (PackSpec(form="span", value_step=1000), "both values become 0, so every count would show the same"),
        (PackSpec(form="ends", signal_low=6, signal_high=8, clamp=True), "follows the signal from 6 to 8 only"),
        (PackSpec(form="knots", signal_low=6, signal_high=8, clamp=True), "fewer than two counts where the table is"),
    ],
)
def test_a_packing_that_shows_one_number_for_ever_is_refused(spec, words):
    with pytest.raises(ValueError, match=words):
        pack(GAS, TWELVE, spec)


def test_limits_that_no_count_reaches_are_refused():
    with pytest.raises(OutOfRange, match="every count would be held at one end"):
        pack(GAS, TWELVE, PackSpec(form="slope", clamp=True), limits=(900.0, 1000.0))
