"""Figures solved from pairs measured on the bench."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.channel import TwoStateChannel
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.path.signal_path import Path
from able_yardstick.core.stages import Divider
from able_yardstick.core.wire.edits import with_stage_changed
from able_yardstick.core.wire.error_budget import budget_at
from able_yardstick.core.wire.measured_pairs import applied, solve_divider, solve_full_count, solve_reference
from able_yardstick.core.words.errors import NotApplicable, OutOfRange, TooFewReadings


def path_of(**converter):
    return Path(stages=(Divider(top_ohm=30_000, bottom_ohm=10_000),), converter=Converter(**converter))


@given(top=st.floats(1e3, 1e5), bottom=st.floats(1e3, 1e5), load=st.none() | st.floats(1e5, 1e7))
def test_a_measured_factor_put_in_force_is_what_the_path_makes(top, bottom, load):
    true = Path(stages=(Divider(top_ohm=top, bottom_ohm=bottom),), converter=Converter(input_ohm=load))
    volts = np.array([3.0, 12.0])
    nominal = Path(stages=(Divider(top_ohm=top, bottom_ohm=0.95 * bottom),), converter=Converter(input_ohm=load))
    solved = solve_divider(nominal, 0, volts, true.pin(volts))
    assert solved.value == pytest.approx(float(true.pin(1.0)))
    assert float(applied(nominal, solved, 0).pin(1.0)) == pytest.approx(float(true.pin(1.0)))
    assert solved.percent == pytest.approx(100 * (float(true.pin(1.0)) / float(nominal.pin(1.0)) - 1))


def test_several_pairs_give_the_standard_error_of_a_line_through_zero():
    solved = solve_divider(path_of(), 0, np.array([4.0, 8.0, 12.0]), np.array([1.01, 1.99, 3.02]))
    k = (4 * 1.01 + 8 * 1.99 + 12 * 3.02) / (16 + 64 + 144)
    rest = sum((y - k * x) ** 2 for x, y in ((4, 1.01), (8, 1.99), (12, 3.02)))
    assert solved.value == pytest.approx(k)
    assert solved.standard_error == pytest.approx((rest / 2 / 224) ** 0.5)
    assert solved.says.startswith(f"Measured {k:.7g} ± ")
    assert "nominal 0.25" in solved.says


def test_a_reference_off_its_nominal_is_found_from_counts():
    true = Converter(reference_v=5.0, reference_measured_v=4.93)
    volts = np.array([1.0, 2.5, 4.0])
    counts = true.forward(volts)
    solved = solve_reference(Converter(), volts, counts)
    assert (solved.value, solved.unit) == (pytest.approx(4.93), "V")
    assert applied(path_of(), solved).converter.reference_measured_v == pytest.approx(4.93)


@pytest.mark.parametrize("top", ["full count", "one above"])
def test_a_full_count_below_the_bits_is_found(top):
    true = Converter(bits=12, full_count=4000, top=top)
    volts = np.array([1.0, 4.0])
    solved = solve_full_count(Converter(bits=12, top=top), volts, true.forward(volts))
    assert applied(path_of(bits=12, top=top), solved).converter.full_count == 4000


def test_pairs_that_cannot_be_are_refused():
    with pytest.raises(OutOfRange, match="between 0 and 1"):
        solve_divider(path_of(), 0, np.array([1.0]), np.array([4.0]))
    with pytest.raises(TooFewReadings, match="away from zero"):
        solve_divider(path_of(), 0, np.array([0.0]), np.array([0.0]))
    with pytest.raises(NotApplicable, match="no divider"):
        solve_divider(Path(), 0, np.array([1.0]), np.array([0.5]))
    with pytest.raises(OutOfRange, match="swapped"):
        solve_full_count(Converter(), np.array([1.0]), np.array([-5.0]))


def test_a_measured_factor_stands_beside_the_resistors_which_stay_as_stated():
    path = Path(stages=(Divider(top_ohm=68_000, bottom_ohm=12_000),), converter=Converter(input_ohm=1e6))
    solved = solve_divider(path, 0, np.array([10.0, 20.0]), np.array([1.52, 3.04]))
    used = applied(path, solved, 0)
    stage = used.stages[0]
    assert (stage.top_ohm, stage.bottom_ohm) == (68_000, 12_000)
    assert float(used.pin(10.0)) == pytest.approx(1.52)
    assert solve_divider(used, 0, np.array([10.0]), np.array([1.52])).nominal == pytest.approx(solved.nominal)
    assert "0.152 as measured" in stage.sentence().replace(", as", " as")
    assert [part.says for part in stage.parts()] == ["measured factor"]
    channel = TwoStateChannel(
        id="c", device="d", tag="C-1", path=used, closed_level=24.0, open_level=0.0, threshold=1.8
    )
    other = with_stage_changed(channel, 0, {"top_ohm": 47_000.0}).path.stages[0]
    assert (other.top_ohm, other.measured_factor) == (47_000, None)


def test_the_limits_of_a_measured_factor_are_in_the_budget(demo_job):
    channel = demo_job.tagged("IT-207")
    stage = Divider(top_ohm=10_000, bottom_ohm=10_000, measured_factor=0.49, measured_within=0.002)
    changed = channel.with_(path=channel.path.with_(stages=(stage,)))
    row = next(row for row in budget_at(changed, 40.0).rows if row.name == "measured factor")
    assert row.standard == pytest.approx(40.0 * 0.002 / 0.49 / np.sqrt(3), rel=1e-3)
