"""Trims: offset told from gain by evidence, and numbers that leave what no better ones would."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import linregress

from able_yardstick.core.curves import Line
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.pack.inputs import PackInputs
from able_yardstick.core.pack.packed import packed
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.prove.trim import mismatch_of, trimmed
from able_yardstick.core.words.errors import BadTable

STOPS = np.linspace(0.0, 250.0, 6)
CONVERTER = Converter(bits=8, full_count=255, low=0.0, high=5.0)
OLD = Line.through((0.5, 0.0), (4.5, 250.0), (0.0, 5.0))


def inputs(spec, curve=OLD):
    return PackInputs(curve=curve, unit="kPa", converter=CONVERTER, spec=spec, range=(0.0, 250.0))


@given(st.integers(0, 2**32 - 1))
def test_a_gain_is_told_exactly_where_a_regression_tells_it(seed):
    rng = np.random.default_rng(seed)
    shown = STOPS * (1 + rng.choice([0.0, 0.002, 0.01])) + 1 + rng.normal(0, 0.5, len(STOPS))
    found = mismatch_of(STOPS, shown, None)
    other = linregress(shown, shown - STOPS)
    assert (found.gain != 0) == (other.pvalue < 0.05)
    assert found.certainty >= 0
    if found.gain:
        assert found.gain == pytest.approx(other.slope)
        assert found.at(shown) == pytest.approx(other.intercept + other.slope * shown)
    else:
        assert found.at(shown) == pytest.approx((shown - STOPS).mean())


def test_of_healthy_controllers_at_most_one_in_twenty_is_said_to_have_a_gain_error():
    rng = np.random.default_rng(20261129)
    wrong = sum(mismatch_of(STOPS, STOPS + rng.normal(0, 0.1, 6), [0.1] * 6).gain != 0 for _ in range(2000))
    assert 0.02 < wrong / 2000 < 0.055  # fewer: the larger of stated uncertainty and scatter is believed


def test_one_or_two_mismatches_tell_no_gain_unless_their_uncertainty_does():
    assert mismatch_of([100], [102], [0.1]) == (2.0, 102.0, 0.0, None)
    assert mismatch_of([0, 100], [0, 102], None).certainty is None
    told = mismatch_of([0, 100], [0, 102], [0.1, 0.1])
    assert told.gain == pytest.approx(2 / 102)
    assert told.certainty == pytest.approx((2 / 102) / (1.96 * 0.1 / (102 / np.sqrt(2))), rel=1e-4)
    assert mismatch_of([0, 100], [0, 102], [0.1, 0.1], offset_only=True).gain == 0
    with pytest.raises(BadTable, match="no check to trim by"):
        mismatch_of([], [], None)


def test_a_check_that_is_surer_weighs_more():
    assert mismatch_of([0, 0], [1, 2], [1.0, 2.0], offset_only=True).offset == pytest.approx((1 / 1 + 2 / 4) / 1.25)


@pytest.mark.parametrize("form", ["slope", "ends", "divisor", "offset", "normal", "integers"])
def test_a_trim_by_offset_and_gain_leaves_nothing_but_the_packing(form):
    """What the sensor truly gives is known here: 62 kPa a volt from 0.52 V."""
    numbers = inputs(PackSpec(form=form, decimals=4, implied_decimals=1 if form == "integers" else None))
    old = packed(numbers).form
    counts = np.array([30, 80, 130, 180, 230])
    reference = (CONVERTER.inverse(counts) - 0.52) * 62
    shown = old.shown(counts, CONVERTER)
    found = trimmed(numbers, old, reference, shown, mismatch_of(reference, shown, [0.05] * 5))
    new = found.packed.form.shown(counts, CONVERTER)
    assert found.left == pytest.approx(new - reference, abs=1e-9)
    assert np.abs(found.left).max() <= abs(found.packed.cost.overall.error) + 0.1  # what the old numbers rounded
    assert found.in_signal == pytest.approx(
        [(62 * (v - 0.52)) * -4 / 250 + v - 0.5 for v in CONVERTER.inverse(counts)], abs=0.01
    )


def test_no_pair_of_numbers_in_the_forms_digits_is_better():
    numbers = inputs(PackSpec(form="slope", decimals=1))
    old = packed(numbers).form
    found = trimmed(numbers, old, [100.0, 200.0], [103.37, 206.0], mismatch_of([100, 200], [103.37, 206], [0.01] * 2))
    signals = CONVERTER.inverse(CONVERTER.every_count())
    before = old.shown(CONVERTER.every_count(), CONVERTER)
    wanted = before - found.mismatch.at(before)
    slopes, offsets = np.round(60 + np.arange(50) / 10, 1), np.round(-40 + np.arange(150) / 10, 1)
    best = min(np.abs(a * signals + b - wanted).max() for a, b in itertools.product(slopes, offsets))
    assert best > 0.02
    assert abs(found.packed.cost.overall.error) == pytest.approx(best, abs=1e-9)


def test_an_input_whose_reference_is_off_is_told_in_true_signals():
    plain, off = inputs(PackSpec(form="slope")), inputs(PackSpec(form="slope")).with_(reference_factor=1.02)
    old = packed(plain).form
    one, other = (trimmed(made, old, [100.0], [102.0], mismatch_of([100.0], [102.0], None)) for made in (plain, off))
    assert other.packed.form == one.packed.form  # the controller reckons as it does, whatever its reference is
    assert other.in_signal[0] == pytest.approx(1.02 * one.in_signal[0])
