"""What other forms begin with, and that a straight calibration stays straight in every form."""

import pytest

from able_yardstick.core.curves import ComposedCurve, Line, Table
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.forms.straight import SlopeOffset
from able_yardstick.core.pack.begun import begun_in
from able_yardstick.core.pack.make import pack
from able_yardstick.core.pack.spared import enough_step
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.stages import Filter
from able_yardstick.core.words.tolerance import Tolerance

STRAIGHT = {
    "a table on a line": Table(signals=(0.0, 1.0, 5.0), values=(-10.0, 10.0, 90.0), domain=(0.0, 5.0)),
    "a line through a filter": ComposedCurve(
        curve=Line(height=-10.0, gradient=20.0, domain=(0.0, 5.0)), stages=(Filter(),), domain=(0.0, 5.0)
    ),
}


@pytest.mark.parametrize("name", STRAIGHT)
@pytest.mark.parametrize("form", ["st", "c"])
def test_a_straight_calibration_gives_straight_code(name, form):
    made = pack(STRAIGHT[name], Converter(), PackSpec(form=form))
    assert isinstance(made.of, SlopeOffset)
    assert (made.of.slope, made.of.offset) == (pytest.approx(20.0), pytest.approx(-10.0))


@pytest.mark.parametrize("name", STRAIGHT)
@pytest.mark.parametrize("form", ["poly", "formula"])
def test_and_no_polynomial_of_third_order_with_noughts(name, form):
    made = pack(STRAIGHT[name], Converter(), PackSpec(form=form))
    assert len(made.coefficients) == 2


def test_whole_steps_begin_as_fine_as_the_tolerance_needs(demo_job):
    channel = demo_job.tagged("PT-201")  # ±1 kPa
    assert begun_in(channel, "ratio").value_step == 0.1
    fine = channel.with_(tolerance=Tolerance(constant=0.02))
    assert begun_in(fine, "ratio").value_step == 0.001
    assert begun_in(channel.with_(tolerance=Tolerance()), "ratio").value_step is None
    own = channel.with_(pack_spec=PackSpec(value_step=0.25))
    assert begun_in(own, "ratio").value_step == 0.25
    assert begun_in(channel, "slope") == channel.pack_spec.in_form("slope")


def test_the_step_that_is_enough_is_told_for_forms_in_steps(demo_job):
    channel = demo_job.tagged("PT-201")  # ±1 kPa
    for form in ("ends", "span", "normal", "knots", "ratio"):
        told = enough_step(channel, PackSpec(form=form))
        assert told.startswith(
            "Numbers in steps of 0.1 kPa would keep rounding below a tenth of the error allowed (0.1)"
        )
        assert enough_step(channel, PackSpec(form=form, value_step=0.1)) == ""
        assert enough_step(channel, PackSpec(form=form, value_step=1.0)) == told
    assert enough_step(channel, PackSpec(form="slope")) == ""
