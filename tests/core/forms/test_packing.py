"""Packings: the controller's arithmetic, and the exact cost at every count."""

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.curves import Line, Table
from able_yardstick.core.forms.cost import packing_cost
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.forms.steps import on_step
from able_yardstick.core.forms.straight import EndValues, RawEnds, RawPair, SlopeOffset
from able_yardstick.core.forms.table import Knots
from able_yardstick.core.pack.make import pack
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.words.errors import OutOfRange
from able_yardstick.core.words.record import InvalidRecord

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
            raw = isinstance(form, RawEnds)
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
            whole = getattr(form, "implied_decimals", None)
            if whole is not None:  # without a last digit that rounding could get wrong
                x = (
                    min(max(Fraction(5 * count, 4095), Fraction(xs[0])), Fraction(xs[-1]))
                    if form.clamp
                    else Fraction(5 * count, 4095)
                )
                xs, ys = [Fraction(one) for one in xs], [Fraction(round(one * 10**whole), 10**whole) for one in ys]
            shown = ys[n - 1] + (x - xs[n - 1]) * (ys[n] - ys[n - 1]) / (xs[n] - xs[n - 1])
            if whole is not None:
                brought = {"nearest": lambda one: math.floor(one + Fraction(1, 2)), "truncate": math.trunc}
                shown = brought.get(form.rounding, math.floor)(shown * 10**whole) / 10**whole
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
    PackSpec(form="integers", implied_decimals=1),
    PackSpec(form="integers", implied_decimals=0, rounding="truncate", clamp=True, signal_low=0.5, signal_high=4.5),
    PackSpec(form="integers", implied_decimals=1, rounding="floor", signal_low=1.0, signal_high=3.0),
    PackSpec(form="knots", knots=9, implied_decimals=1, rounding="truncate"),
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


def test_integers_are_those_of_the_ends_and_the_point_stands_on_the_display():
    """0 to 250 kPa at 0.5 to 4.5 V, one implied decimal: 0 and 2500; count 1000, 1.2210 V, 45.06 kPa, shows 45.1."""
    packed = pack(GAS, TWELVE, PackSpec(form="integers", implied_decimals=1, signal_low=0.5, signal_high=4.5))
    assert packed.integers == (0, 2500)
    assert packed.shown(np.array([1000]), TWELVE).tolist() == [45.1]
    assert packed.cells("V", "kPa").rows == ((0.5, 0.0, 0.0), (4.5, 2500.0, 250.0))


def test_as_many_decimals_as_one_count_needs_and_the_integers_have_room_for():
    spec = PackSpec(form="integers", int_bits=16, signal_low=0.5, signal_high=4.5)
    assert pack(GAS, TWELVE, spec).integers == (0, 25000)
    assert pack(GAS, TWELVE, spec.with_(int_bits=32)).integers == (0, 25000)  # one count is 0.076 kPa
    fine = Converter(bits=16, full_count=65535, high=5.0)
    assert pack(GAS, fine, spec).integers == (0, 25000)  # 0.005 kPa, but 250000 has no room
    assert pack(GAS, fine, spec.with_(int_bits=32)).integers == (0, 250000)
    with pytest.raises(InvalidRecord, match="do not both fit 16-bit integers, which end at 32767"):
        pack(GAS, TWELVE, spec.with_(implied_decimals=3))


def test_cutting_off_is_met_by_integers_half_a_step_higher():
    for rounding in ("truncate", "floor"):
        spec = PackSpec(form="integers", implied_decimals=0, rounding=rounding, signal_low=0.5, signal_high=4.5)
        worst = packing_cost(pack(GAS, TWELVE, spec), GAS, TWELVE, 250.0).in_reach
        assert abs(worst.error) <= 1.0
    nearest = pack(GAS, TWELVE, PackSpec(form="integers", implied_decimals=0, signal_low=0.5, signal_high=4.5))
    assert abs(packing_cost(nearest, GAS, TWELVE, 250.0).in_reach.error) <= 0.5 + 1e-9


def test_an_integer_table_shows_its_own_steps():
    packed = pack(BENT, TWELVE, PackSpec(form="knots", knots=9, implied_decimals=1))
    assert np.allclose(np.array(packed.values) * 10, np.round(np.array(packed.values) * 10), atol=1e-9)
    shown = packed.shown(TWELVE.every_count(), TWELVE) * 10
    assert np.array_equal(shown, np.round(shown))
    assert packed.cells("V", "%").headings == ("signal, V", "integer, 0.1 %")
    assert all(value == int(value) for _, value in packed.cells("V", "%").rows)


def test_normalising_and_scaling_are_two_steps_in_single_precision():
    packed = pack(GAS, TWELVE, PackSpec(form="normal", clamp=True, value_step=0.1))
    share = np.float32(2000 - packed.raw_low) / np.float32(packed.raw_high - packed.raw_low)
    low, high = np.float32(packed.value_low), np.float32(packed.value_high)
    assert packed.shown(np.array([2000]), TWELVE)[0] == float(share * (high - low) + low)
    assert packed.shown(np.array([0, 4095]), TWELVE).tolist() == [float(low), float(high)]


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


@pytest.mark.parametrize(
    ("name", "quotes", "written"),
    [
        ("gas_pressure", "", "62.5*gas_pressure - 31.25"),
        ("AI 3.raw", "[]", "62.5*[AI 3.raw] - 31.25"),
        ("Kiln 2 (gas)", '""', '62.5*"Kiln 2 (gas)" - 31.25'),
        (r"a\1b", "''", r"62.5*'a\1b' - 31.25"),
    ],
)
def test_a_formula_names_its_channel_as_the_controllers_list_does(name, quotes, written):
    spec = PackSpec(form="formula", decimals=4, channel_name=name, name_quotes=quotes)
    form = pack(GAS, TWELVE, spec)
    assert form.written == written
    assert form.cells("V", "kPa").rows == ((written,),)
    assert form.shown(np.array([2048]), TWELVE)[0] == pytest.approx(62.5 * 2048 * 5 / 4095 - 31.25)


def test_quotes_that_a_name_holds_itself_are_refused():
    with pytest.raises(ValueError, match=r"holds \[\] itself: choose other quotes"):
        PackSpec(form="formula", channel_name="AI[3]", name_quotes="[]")
