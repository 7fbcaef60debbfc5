"""What is printed of a calibration, evaluated by itself, is what the program shows."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.curves import FormulaCurve, Line, Polynomial
from able_yardstick.core.describe.derivation import derivation
from able_yardstick.core.describe.edits import with_output, with_quantity, with_rating
from able_yardstick.core.describe.spelled import spelled
from able_yardstick.core.formula import parse
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.in_force import curve_in_use
from able_yardstick.core.job.job import Job
from able_yardstick.core.sensor.rating import RATING_KINDS
from able_yardstick.core.sensor.transducer import MeasuredZero
from able_yardstick.core.words.errors import YardstickError


def read_back(lines, signals):
    """Values at signals by the printed lines alone; None where they are rows, which are compared as they stand."""
    start = next(n for n, line in enumerate(lines) if line.startswith("In use, ")) + 1
    if lines[start].startswith("y = "):
        return parse(lines[start].removeprefix("y = ")).evaluate({"x": signals}), None
    rows = []
    for line in lines[start:]:
        if "→" not in line:
            break
        rows.append([float(part) for part in line.split("→")])
    return None, np.array(rows)


def says_the_same(job, channel):
    use = curve_in_use(job, channel)
    signals = np.linspace(*use.curve.domain, 61)
    values, rows = read_back(derivation(job, channel), signals)
    if values is not None:
        assert values == pytest.approx(use.curve.value(signals), rel=1e-12, abs=1e-12 * channel.span)
        return
    assert len(rows) > 1
    assert rows[:, 1] == pytest.approx(use.curve.value(rows[:, 0]), rel=1e-9, abs=1e-9 * channel.span)


def test_of_every_channel_of_the_demo_the_curve_in_use_is_printed(demo_job):
    for channel in demo_job.channels:
        if channel.kind == "continuous":
            says_the_same(demo_job, channel)


def test_a_fit_is_printed_and_not_the_data_sheet(demo_job):
    channel = demo_job.tagged("PT-201")
    lines = derivation(demo_job, channel)
    values, _rows = read_back(lines, np.array([3.25]))
    assert values[0] == pytest.approx(171.467, abs=0.001)  # the sheet's line gives 171.875
    assert any(line.startswith("In use, least squares: y in kPa of x in V") for line in lines)
    assert any(line.startswith("slope") for line in lines[lines.index("In the controller, slope and offset:") :])


def test_a_measured_zero_is_in_the_sums(demo_job):
    channel = demo_job.tagged("IT-207")
    for keep, at_top in (("slope", 48.8), ("top", 50.0)):
        zero = MeasuredZero(signal=0.12, keep=keep)
        changed = channel.with_(transducer=channel.transducer.with_(measured_zero=zero))
        job = change_channel(demo_job, changed)
        lines = derivation(job, changed)
        values, _rows = read_back(lines, np.array([0.12, 5.0]))
        assert values == pytest.approx([0.0, at_top])
        assert any(f"measured at 0.12 V, the {keep} kept" in line for line in lines)


@pytest.mark.parametrize("kind", [str(one.model_fields["kind"].default) for one in RATING_KINDS])
def test_every_way_of_rating_is_printed(kind):
    channel = new_continuous("c", "device-c", "X-1")
    for quantity, output in (
        ("gauge pressure", "voltage"), ("temperature", "resistance"), ("temperature", "millivolts"),
        ("oxygen", "millivolts"), ("force or mass", "bridge"), ("flow", "frequency"), ("flow", "current loop"),
    ):  # fmt: skip
        try:
            rated = with_rating(with_output(with_quantity(channel, quantity), output), kind)
            job = add_channel(Job(id="j"), rated)
            use = curve_in_use(job, rated)
        except YardstickError:
            continue
        if use is not None:
            says_the_same(job, rated)
            return
    assert kind == "unrated"


@given(st.lists(st.floats(-1e3, 1e3), min_size=2, max_size=5), st.floats(-5, 5), st.floats(0.1, 10), st.floats(-10, 10))
def test_polynomials_keep_their_centre_and_every_digit(coefficients, centre, scale, signal):
    curve = Polynomial(coefficients=tuple(coefficients), centre=centre, scale=scale, domain=(-10.0, 10.0))
    found = float(parse(spelled(curve).formula).evaluate({"x": np.float64(signal)}))
    assert found == pytest.approx(float(curve.value(signal)), rel=1e-9, abs=1e-6)


def test_a_line_on_a_large_zero_and_a_formula_as_it_was_typed():
    line = Line(height=1e6, gradient=0.001, centre=1e5, domain=(0.0, 2e5))
    assert float(parse(spelled(line).formula).evaluate({"x": np.float64(1e5 + 3)})) == 1e6 + 0.003
    curve = FormulaCurve(text="3 + 2*x", low=0.0, high=9.0, domain=(0.5, 4.5))
    assert spelled(curve).lines == ["y = 3 + 2*x"]
    assert spelled(curve.converted(2.0, 0.0)).rows
