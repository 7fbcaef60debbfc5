"""Graduations and the Rule's drawing: 1-2-5 steps, in their places, for every kind of scale."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.app.centre.rule.graduations import Ends, graduate, steps_from
from able_yardstick.app.centre.sight import Sight
from able_yardstick.core.state.scales import Scale
from able_yardstick.core.words.numerals import parse_number


def straight(low, high, gain, offset):
    """A scale that is a straight line over a pin from low to high."""

    def read(pin):
        return gain * np.asarray(pin) + offset

    return Scale("quantity", "Q", "", "u", 2, read, read, lambda v: ((v - offset) / gain,), (low, high))


def seven_pixels_a_letter(text):
    return 7.0 * len(text)


@given(
    st.floats(-1e3, 1e3),
    st.floats(1e-3, 1e4),
    st.floats(-100, 100).filter(lambda g: abs(g) > 1e-3),
    st.floats(150, 4000),
)
def test_labels_are_round_stand_where_they_say_and_never_touch(low, span, gain, width):
    scale = straight(low, low + span, gain, 3.0)
    ends = Ends(low, low + span, 0.0, width)
    found = graduate(scale, ends, seven_pixels_a_letter)
    labelled = [mark for mark in found.major if mark.text]
    for mark in labelled:
        x = float(ends.x((parse_number(mark.text) - 3.0) / gain))
        assert mark.x == pytest.approx(x, abs=0.02 * width * 1e-2 + 0.6)
    edges = [(m.x - 3.5 * len(m.text), m.x + 3.5 * len(m.text)) for m in labelled]
    assert all(a[1] <= b[0] + 1e-6 for a, b in pairwise(edges))
    assert all(-0.51 <= mark.x <= width + 0.51 for mark in found.major)


def test_steps_are_one_two_and_five():
    assert steps_from(0.03)[:5] == pytest.approx([0.05, 0.1, 0.2, 0.5, 1.0])
    for step in steps_from(7.3):
        assert round(step / 10 ** math.floor(math.log10(step) + 1e-9)) in (1, 2, 5)


def test_short_marks_divide_the_long_ones_evenly():
    found = graduate(straight(0, 5, 1.0, 0.0), Ends(0, 5, 0, 500), seven_pixels_a_letter)
    assert [mark.text for mark in found.major][:3] == ["0.0", "0.5", "1.0"]
    assert np.diff(found.minor) == pytest.approx(np.full(len(found.minor) - 1, 5.0), abs=6)


@pytest.mark.parametrize("stretch", [(5.0, 5.0), (6.0, 9.0)])
def test_a_scale_out_of_view_has_no_graduations(stretch):
    found = graduate(straight(*stretch, 1.0, 0.0), Ends(0, 5, 0, 500), seven_pixels_a_letter)
    assert found.major == ()


def test_a_level_scale_has_no_graduations():
    level = straight(0, 5, 1.0, 0.0)._replace(grade=lambda pin: np.zeros_like(pin))
    assert graduate(level, Ends(0, 5, 0, 500), seven_pixels_a_letter).minor == ()


@given(st.floats(0, 5), st.lists(st.sampled_from([0.2, 0.5, 2.0, 10.0]), max_size=8))
def test_the_hairline_stays_in_view_however_closely_one_looks(pin, factors):
    sight = Sight()
    sight.look_at("a", (0.0, 5.0), 2.5)
    for factor in factors:
        sight.zoom(factor)
        sight.set_pin(pin)
        low, high = sight.view
        assert low - 1e-9 <= sight.pin <= high + 1e-9
        assert -0.3 <= low < high <= 5.3


def test_each_channel_keeps_its_own_place():
    sight = Sight()
    sight.look_at("a", (0.0, 5.0), 2.5)
    sight.set_pin(4.0)
    sight.look_at("b", (0.0, 10.0), 6.0)
    assert sight.pin == 6.0
    sight.look_at("a", (0.0, 5.0), 2.5)
    assert sight.pin == 4.0
    sight.look_at("a", (0.0, 1000.0), 650.0)
    assert sight.pin == 650.0
    sight.set_pin(5000.0)
    assert sight.pin == 1000.0


def test_what_the_rule_draws_stands_at_its_signals(window):
    """The ends of the working range and the readings, found again in the pixels."""
    from able_yardstick.app.centre.rule.layout import ROW_HEIGHT, ends_of

    window.bench.select("pt-201")
    window.sight.set_pin(5.0)
    rule = window.centre.rule
    image = rule.grab().toImage()
    teal = window.theme.teal.lower()
    row = ROW_HEIGHT  # the second row is the pin's
    for reading in window.bench.job.amended("pt-201", "gather")[:6]:
        x = round(float(ends_of(rule, window.sight).x(reading.reading.raw.mean)))
        assert image.pixelColor(x, row + 12).name() == teal


def test_what_lies_beyond_the_readings_is_hatched(window):
    from able_yardstick.app.centre.rule.layout import ends_of

    window.bench.select("pt-202")
    rule = window.centre.rule
    ends = ends_of(rule, window.sight)
    image = rule.grab().toImage()

    def inks(low, high):
        xs = range(round(float(ends.x(low))), round(float(ends.x(high))))
        return len({image.pixelColor(x, y).name() for x in xs for y in (15, 16, 17)})

    hatched = sum(
        image.pixelColor(x, 17).name() != window.theme.paper.lower()
        for x in range(round(float(ends.x(0.1))), round(float(ends.x(0.9))))
    )
    plain = sum(
        image.pixelColor(x, 17).name() != window.theme.paper.lower()
        for x in range(round(float(ends.x(2.1))), round(float(ends.x(2.9))))
    )
    assert hatched >= 1.4 * plain
    assert inks(0.1, 0.9) > 1
