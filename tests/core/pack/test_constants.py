"""Short constants and integers: the best there are, by trying all of them where there are few."""

from fractions import Fraction
from functools import cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.curves import Line, Polynomial, Table
from able_yardstick.core.forms import integer as integers
from able_yardstick.core.forms.cost import packing_cost
from able_yardstick.core.forms.integer import divided
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.pack.make import pack, pack_in_full
from able_yardstick.core.pack.search import divide_first, rational
from able_yardstick.core.pack.search.digits import Digits, best_divisor, best_line, best_zero, decimals_enough
from able_yardstick.core.pack.search.rational import Widths, best_ratio
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.regression.worst_error import best_slope, deciding
from able_yardstick.core.words.errors import OutOfRange
from able_yardstick.core.words.record import InvalidRecord

GAS = Line.through((0.5, 0.0), (4.5, 250.0), (0.5, 4.5))
BENT = Table.through(np.linspace(0, 5, 23), np.expm1(np.linspace(0, 1.2, 23)) * 9)
TWELVE = Converter()


def every_ratio(x, truth, most, rounding, order):
    """The least worst error over all A, B, C of a few bits, each tried."""
    best, top = np.inf, int(x.max())
    for a in range(-most, most + 1):
        for b in range(1, most + 1) if a else ():
            half = b // 2 if rounding == "nearest" else 0
            if (abs(a) * top if order == "multiply first" else top) + half > most:
                continue
            if order == "multiply first":
                whole = np.array([_divided(a * int(n), b, rounding) for n in x])
            else:
                whole = np.array([a * _divided(int(n), b, rounding) for n in x])
            if np.max(np.abs(whole)) > most:
                continue
            constants = np.arange(-most, most + 1)
            fits = np.max(np.abs(whole[:, None] + constants), axis=0) <= most
            errors = np.max(np.abs((whole - truth)[:, None] + constants[fits]), axis=0)
            best = min(best, float(errors.min(initial=np.inf)))
    return best


@cache
def _divided(product, by, rounding):
    """Integer division by its definition."""
    exact = Fraction(product, by)
    if rounding == "floor":
        return exact.numerator // exact.denominator
    size = abs(exact) + (Fraction(1, 2) if rounding == "nearest" else 0)
    return (1 if exact >= 0 else -1) * (size.numerator // size.denominator)


@pytest.mark.parametrize("order", ["multiply first", "divide first"])
@settings(max_examples=80)
@given(st.integers(0, 10_000), st.sampled_from(["nearest", "truncate", "floor"]))
def test_no_better_ratio_exists_in_six_bits(order, seed, rounding):
    random = np.random.default_rng(seed)
    x = np.arange(random.integers(3, 12))
    truth = random.uniform(-2, 2) * x + random.uniform(-9, 9) + random.normal(0, random.choice([0.0, 0.4]), len(x))
    fits = np.max(np.abs(truth)) <= 31
    wanted = every_ratio(x, truth, 31, rounding, order) if fits else np.inf
    with pytest.MonkeyPatch.context() as patch:
        for module in (integers, rational, divide_first):
            patch.setattr(module, "largest", lambda _bits: 31)
        try:
            found = best_ratio(x, truth, Widths(16, rounding, 1.0, order), int(x.max())).error
        except OutOfRange:
            found = np.inf
    assert found == pytest.approx(wanted)


@given(st.integers(-(10**6), 10**6), st.integers(1, 5000), st.sampled_from(["nearest", "truncate", "floor"]))
def test_integers_are_divided_as_the_controller_says(product, by, rounding):
    assert int(divided(np.array([product]), by, rounding)[0]) == _divided(product, by, rounding)


def test_a_ratio_that_gives_the_line_exactly_is_found_and_proven():
    made = pack_in_full(GAS, TWELVE, PackSpec(form="ratio", value_step=0.1, rounding="truncate"))
    assert made.form.multiplier / made.form.divisor == pytest.approx(625 / 819, rel=1e-3)
    worst = abs(packing_cost(made.form, GAS, TWELVE, 250).in_reach.error)
    assert made.bound <= worst <= 1.01 * made.bound


@pytest.mark.parametrize("rounding", ["nearest", "truncate", "floor"])
@pytest.mark.parametrize("order", ["multiply first", "divide first"])
def test_no_intermediate_product_overflows_sixteen_bits(rounding, order):
    form = pack(GAS, TWELVE, PackSpec(form="ratio", int_bits=16, rounding=rounding, order=order))
    x = TWELVE.every_count()
    product = form.multiplier * x if order == "multiply first" else x
    half = form.divisor // 2 if rounding == "nearest" else 0
    assert np.max(np.abs(product)) + half <= 32767
    assert np.max(np.abs(form.whole(x))) <= 32767


@pytest.mark.parametrize("order", ["multiply first", "divide first"])
def test_a_ratio_that_leaves_no_room_is_refused(order):
    steep = Line.through((0.0, 0.0), (5.0, 5e6), (0.0, 5.0))
    with pytest.raises(OutOfRange, match=r"No integer ratio fits: the slope of .* within 16 bits"):
        pack(steep, TWELVE, PackSpec(form="ratio", int_bits=16, order=order))


def test_dividing_first_costs_what_lies_within_a_block():
    """A slope of 1/16 step a count: the 16 counts of a block span 15/16, and a whole constant can not halve that."""
    line = Line.through((0.0, 0.0), (5.0, 4095 / 16), (0.0, 5.0))
    made = pack_in_full(line, TWELVE, PackSpec(form="ratio", order="divide first", rounding="floor"))
    assert (made.form.multiplier, made.form.divisor) == (1, 16)
    assert abs(packing_cost(made.form, line, TWELVE, 256).in_reach.error) == pytest.approx(15 / 16)
    assert made.bound == pytest.approx(15 / 16)


def every_pair(x, truth, decimals, reach):
    """The least worst error over all slopes and offsets of so many decimals near the best line."""
    slope = best_slope(deciding(x, truth))
    unit = 10.0**-decimals
    best = np.inf
    for k in range(round(slope / unit) - reach, round(slope / unit) + reach + 1):
        over = k * unit * x - truth
        centre = round(-(over.max() + over.min()) / 2 / unit)
        for m in range(centre - 3, centre + 4):
            best = min(best, float(np.max(np.abs(over + m * unit))))
    return best


@settings(max_examples=40)
@given(st.integers(0, 10_000), st.integers(0, 2))
def test_the_pair_is_the_best_of_its_length_not_each_rounded_alone(seed, decimals):
    random = np.random.default_rng(seed)
    x = np.linspace(*np.sort(random.uniform(-3, 3, 2)), 30)
    truth = random.uniform(0.6, 9) * x + random.uniform(-9, 9) + random.normal(0, 0.1, 30)
    found = best_line(deciding(x, truth), Digits(decimals))
    assert found.error == pytest.approx(every_pair(x, truth, decimals, 400), rel=1e-9)
    slope = best_slope(deciding(x, truth))
    alone = np.max(np.abs(round(slope, decimals) * x + round(float(np.mean(truth - slope * x)), decimals) - truth))
    assert found.error <= alone + 1e-12


def test_significant_digits_count_from_the_first_that_is_not_nought():
    x = np.linspace(0, 5, 50)
    truth = 0.0123456 * x + 98.7654
    found = best_line(deciding(x, truth), Digits(significant=3))
    assert found.slope in (0.0122, 0.0123, 0.0124, 0.0121, 0.0125)
    assert found.offset == 98.8
    below = best_line(deciding(x, 0.99996 * x), Digits(significant=2))
    assert below.slope in (0.99, 1.0)


def test_a_divisor_is_searched_among_divisors():
    x = np.linspace(0.5, 4.5, 50)
    found = best_divisor(deciding(x, 62.5 * x - 31.25), Digits(3))
    assert found.slope == 0.016
    form = pack(GAS, TWELVE, PackSpec(form="divisor", decimals=3))
    assert (form.divisor, form.constant) == (0.016, -31.25)
    assert form.shown(np.array([0, 4095]), TWELVE) == pytest.approx([-31.25, 281.25])


@settings(max_examples=40)
@given(st.integers(0, 10_000), st.integers(1, 2))
def test_no_better_divisor_exists_at_its_length(seed, decimals):
    """Steep lines too, whose divisor has hardly a digit left: below the smallest there is none to look for."""
    random = np.random.default_rng(seed)
    x = np.linspace(*np.sort(random.uniform(0, 5, 2)), 30)
    truth = random.uniform(0.6, 12) * random.choice([1, -1]) * x + random.normal(0, 0.1, 30)
    points, unit = deciding(x, truth), 10.0**-decimals
    try:
        found = best_divisor(points, Digits(decimals))
    except OutOfRange:
        assert abs(1 / best_slope(points)) <= unit / 2
        return
    sign, best = np.sign(best_slope(points)), np.inf
    for k in range(1, round(12 / unit)):
        over = sign * x / (k * unit) - truth
        centre = round(-(over.max() + over.min()) / 2 / unit)
        best = min(best, *(float(np.max(np.abs(over + m * unit))) for m in range(centre - 2, centre + 3)))
    assert found.error == pytest.approx(best, rel=1e-9)


def test_a_zero_is_given_as_a_signal():
    form = pack(GAS, TWELVE, PackSpec(form="offset", decimals=2))
    assert (form.slope, form.zero) == (62.5, 0.5)
    assert form.shown(np.array([0, 4095]), TWELVE) == pytest.approx([-31.25, 281.25])
    exact = pack(GAS, TWELVE, PackSpec(form="offset", decimals=None))
    assert exact.zero == pytest.approx(0.5)


@settings(max_examples=40)
@given(st.integers(0, 10_000), st.integers(0, 2))
def test_no_better_slope_and_zero_signal_exist_at_their_length(seed, decimals):
    random = np.random.default_rng(seed)
    x = np.linspace(*np.sort(random.uniform(0, 5, 2)), 30)
    truth = random.uniform(0.6, 12) * random.choice([1, -1]) * x + random.normal(0, 0.1, 30)
    points, unit = deciding(x, truth), 10.0**-decimals
    try:
        found = best_zero(points, Digits(decimals))
    except OutOfRange:
        assert abs(best_slope(points)) <= unit / 2
        return
    best, near = np.inf, round(best_slope(points) / unit)
    reach = max(round(8 / unit), 40) if decimals < 2 else 900
    for slope in (k * unit for k in range(near - reach, near + reach + 1) if k):
        over = slope * x - truth
        centre = round((over.max() + over.min()) / 2 / slope / unit)
        for zero in ((centre + m) * unit for m in (-1, 0, 1)):
            best = min(best, float(np.max(np.abs(over - slope * zero))))
    assert found.error == pytest.approx(best, rel=1e-9)


def test_a_divisor_of_hardly_a_digit_is_found():
    steep = Line.through((0.0, 0.0), (5.0, 45.0), (0.0, 5.0))
    assert pack(steep, TWELVE, PackSpec(form="divisor", decimals=1)).divisor == 0.1
    assert pack(steep, TWELVE, PackSpec(form="divisor", decimals=None, significant=1)).divisor == 0.1


def test_it_is_said_how_many_decimals_are_enough():
    points = deciding(np.linspace(0.5, 4.5, 50), 62.4937 * np.linspace(0.5, 4.5, 50) - 31.2538)
    enough = decimals_enough(points, 0.01)
    least = points.bound(best_slope(points))
    assert best_line(points, Digits(enough)).error - least <= 0.01
    assert best_line(points, Digits(enough - 1)).error - least > 0.01


@pytest.mark.parametrize("bits", [16, 32])
@pytest.mark.parametrize("curve", [GAS, BENT], ids=["line", "bent"])
def test_fixed_point_holds_at_every_count(bits, curve):
    form = pack(curve, TWELVE, PackSpec(form="fixed", int_bits=bits))
    x = TWELVE.every_count()
    most = 2 ** (bits - 1) - 1
    assert max(abs(form.slope), abs(form.offset), np.max(np.abs(form.slope * x))) <= most
    assert np.max(np.abs(form.slope * x + form.offset)) <= most
    assert form.shown(x, TWELVE) == pytest.approx((form.slope * x + form.offset) / 2**form.fraction_bits)
    assert form.name == f"Q{bits - 1 - form.fraction_bits}.{form.fraction_bits}"


def test_a_format_without_room_is_refused():
    with pytest.raises(OutOfRange, match=r"does not fit Q5\.10 of 16-bit integers"):
        pack(GAS, TWELVE, PackSpec(form="fixed", int_bits=16, fraction_bits=10))


def test_horner_in_single_precision_errs_as_single_precision_does():
    curve = Polynomial(coefficients=(1.0, 2.0, -0.3, 0.04), domain=(0.0, 5.0))
    form = pack(curve, TWELVE, PackSpec(form="poly"))
    by_hand = []
    for count in (0, 1, 777, 4095):
        x = np.float32(0.0) + np.float32(count) * np.float32(5 / 4095)
        total = np.float32(0.04)
        for c in (-0.3, 2.0, 1.0):
            total = np.float32(np.float32(total * x) + np.float32(c))
        by_hand.append(float(total))
    assert form.shown(np.array([0, 1, 777, 4095]), TWELVE).tolist() == by_hand
    assert 0 < abs(packing_cost(form, curve, TWELVE, 10).overall.error) < 1e-5


def test_what_single_precision_costs_a_polynomial_is_told_by_exact_sums():
    form = pack(BENT, TWELVE, PackSpec(form="poly", degree=4))
    exact = []
    for count in range(4096):
        x = Fraction(5 * count, 4095)
        exact.append(sum(Fraction(c) * x**power for power, c in enumerate(form.coefficients)))
    shown = form.shown(TWELVE.every_count(), TWELVE).tolist()
    worst = max(abs(Fraction(number) - truth) for number, truth in zip(shown, exact, strict=True))
    assert form.horner_error(TWELVE) == pytest.approx(float(worst), rel=1e-6)


def test_a_bent_table_as_a_polynomial_swings_evenly():
    form = pack(BENT, TWELVE, PackSpec(form="poly", degree=3))
    errors = form.shown(TWELVE.every_count(), TWELVE) - BENT.value(TWELVE.inverse(TWELVE.every_count()))
    assert errors.max() == pytest.approx(-errors.min(), rel=0.1)


@pytest.mark.parametrize(
    ("kind", "order", "words"),
    [
        ("f32", "high word first", "427A 0000"),
        ("f32", "low word first", "0000 427A"),
        ("s32", "high word first", "0000 186A"),
    ],
)
def test_register_words_stand_in_their_order(kind, order, words):
    spec = PackSpec(form="words", number_type=kind, word_order=order, decimals=2)
    cells = pack(GAS, TWELVE, spec).cells("V", "kPa")
    assert cells.rows[0][2].replace("h", "") == words


def test_a_number_too_large_for_its_register_is_refused():
    with pytest.raises(InvalidRecord, match=r"does not fit a register of type u16\. Choose a wider type"):
        pack(GAS, TWELVE, PackSpec(form="words", number_type="u16", decimals=2))


def test_a_formula_text_is_what_the_programs_own_parser_reads():
    form = pack(GAS, TWELVE, PackSpec(form="formula", channel_name="AI2", decimals=2))
    assert form.text == "62.5*AI2 - 31.25"
    bent = pack(BENT, TWELVE, PackSpec(form="formula", channel_name="AI2", degree=3))
    assert bent.shown(TWELVE.every_count(), TWELVE) == pytest.approx(
        bent.continuous(TWELVE).value(TWELVE.inverse(TWELVE.every_count())), rel=1e-9
    )


def test_an_output_gets_the_count_for_a_wanted_value_and_back():
    current = Converter(unit="mA", bits=12, full_count=4095, low=0.0, high=20.0)
    valve = Line.through((4.0, 0.0), (20.0, 100.0), (4.0, 20.0))
    form = pack(valve, current, PackSpec(form="inverse"))
    counts = form.counts_for(np.array([0.0, 50.0, 100.0]), current)
    assert current.inverse(counts) == pytest.approx([4.0, 12.0, 20.0], abs=20 / 4095 / 2)
    assert form.shown(counts, current) == pytest.approx([0.0, 50.0, 100.0], abs=100 / 3276 / 2)
    assert form.cells("mA", "%").rows[2][1] == counts[0]


@given(
    bend=st.floats(0.0, 0.2), step=st.sampled_from([0.5, 1.0, 2.0, 5.0]), top=st.floats(20, 300)
)  # fmt: skip
def test_values_at_both_ends_are_the_best_pair_of_their_step(bend, step, top):
    """Against every pair near the ends of the closest line."""
    converter = Converter(bits=8, full_count=255)
    x = converter.inverse(converter.every_count())
    curve = Table.through(x, top * (x / 5 + bend * (x / 5) * (1 - x / 5)))
    form = pack(curve, converter, PackSpec(form="ends", value_step=step))
    truth = curve.value(x)

    def worst(low, high):
        return float(np.max(np.abs(low + (high - low) * x / 5 - truth)))

    near = range(-3, 4)
    tried = min(
        worst((round(truth[0] / step) + i) * step, (round(truth[-1] / step) + j) * step) for i in near for j in near
    )
    assert worst(form.value_low, form.value_high) <= tried + 1e-9 * top
