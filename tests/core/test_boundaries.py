"""Choices at a boundary: each was once seen to be changeable without any other test noticing."""

import math

import numpy as np
import pytest

from able_yardstick.core.curves import Polynomial
from able_yardstick.core.describe.edits import with_rated_pair
from able_yardstick.core.fit.assumed import standing_of
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.job.channels import add_channel, new_continuous
from able_yardstick.core.job.entries import capture
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.pack.make import pack_in_full
from able_yardstick.core.pack.search.funnel import Piece, _middle
from able_yardstick.core.pack.search.room import Grid, room_of
from able_yardstick.core.pack.search.target import Target
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.regression.search import searched
from able_yardstick.core.sensor.rating import RatedSlope
from able_yardstick.core.words.numerals import decimals_for
from able_yardstick.core.words.record import InvalidRecord

BENT = Polynomial(coefficients=(1.0, 2.0, 3.0), centre=0.0, scale=1.0, domain=(0.0, 5.0))


@pytest.mark.parametrize(("offset", "words"), [(0.5, "+ 0.5"), (-0.5, "− 0.5"), (0.0, "+ 0")])
def test_an_offset_of_less_than_one_keeps_its_sign_in_the_sentence(offset, words):
    part = with_rated_pair(new_continuous("c", "d", "T")).transducer
    assert RatedSlope(slope=2.0, offset=offset).sentence(part.sheet).endswith(words)


@pytest.mark.parametrize("resolution", [math.inf, math.nan, 0.0, -1.0, -math.inf])
def test_a_resolution_that_is_none_shows_three_decimals(resolution):
    assert decimals_for(resolution) == 3


@pytest.mark.parametrize(("value", "far"), [(10.0, "100 kPa"), (90.0, "0 kPa"), (50.0, "100 kPa")])
def test_after_one_stop_the_far_end_of_the_range_is_asked_for(value, far):
    from datetime import UTC, datetime

    job = add_channel(Job(id="j"), new_continuous("c", "d", "T"))
    one = Reading(id="r", channel="c", captured=datetime(2026, 3, 2, tzinfo=UTC), reference=value,
                  reference_unit="kPa", raw=Raw(mean=1.0))  # fmt: skip
    job = capture(job, [one])
    assert f"a reading at {far}, the far end" in standing_of(job, job.continuous("c")).more


def test_own_knots_that_span_the_calibration_leave_nothing_out():
    own = tuple((x, float(BENT.value(x))) for x in (0.0, 1.0, 2.0, 3.5, 5.0))
    spans = pack_in_full(BENT, Converter(), PackSpec(form="knots", spacing="own", own_knots=own)).table
    short = pack_in_full(BENT, Converter(), PackSpec(form="knots", spacing="own", own_knots=own[:-1])).table
    assert (spans.leaves_out, short.leaves_out) == (False, True)


def test_a_last_gate_without_neighbours_is_passed_in_its_middle():
    x, low, high = [0.0, 1.0], [0.0, 2.0], [0.0, 4.0]
    assert _middle(x, low, high, None, None).at(1.0) == 3.0
    steep, flat = Piece(0.0, 0.0, 4.0, 1, 2), Piece(0.0, 0.0, 2.0, 1, 2)
    assert _middle(x, low, high, steep, flat).at(1.0) == 3.0
    assert _middle(x, low, high, steep, None).at(1.0) == 4.0
    assert _middle(x, low, high, None, flat).at(1.0) == 2.0


def test_what_a_knot_can_be_follows_from_the_windows_on_either_side_of_it():
    signal = np.linspace(0.0, 5.0, 21)
    truth = BENT.value(signal)
    target = Target(signal, truth, truth)
    grid = Grid(places=np.linspace(0.1, 4.9, 25), value_step=None)
    windows = [grid.places[3:5], grid.places[12:14], grid.places[20:22]]
    second = room_of(target, grid, windows, 1, 0.5)
    third = room_of(target, grid, [grid.places[:1], *windows], 2, 0.5)  # the same knot among the same neighbours
    assert (second.low.tolist(), second.high.tolist()) == (third.low.tolist(), third.high.tolist())
    lonely = room_of(target, grid, [np.zeros(0), *windows[1:]], 1, 0.5)
    assert second.low.tolist() != lonely.low.tolist()


def test_equal_limits_are_refused():
    with pytest.raises(InvalidRecord, match="the lower limit"):
        PackSpec().with_(limit_low=5.0, limit_high=5.0)


def test_a_search_from_nought_moves_parameters_of_very_different_size():
    x = np.linspace(0.0, 1.0, 20)
    found = searched(lambda at: at[0] * x + at[1] - (3e6 * x + 2e-3), np.array([1e6, 0.0]), ("p", "q"))
    assert found == pytest.approx([3e6, 2e-3], rel=1e-3)


def test_as_many_readings_as_parameters_are_enough_for_a_search():
    x = np.array([1.0, 3.0])
    found = searched(lambda at: at[0] * x + at[1] - (2 * x + 5), np.array([1.0, 1.0]), ("p", "q"))
    assert found == pytest.approx([2.0, 5.0])
