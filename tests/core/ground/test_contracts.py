"""One contract for every curve, every stage, every packed form: what any new kind must also keep."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from able_yardstick.core.curves import (
    ComposedCurve,
    FormulaCurve,
    Line,
    OxygenViewCurve,
    PlatinumCurve,
    Polynomial,
    RootCurve,
    Table,
    ThermistorCurve,
    ThermocoupleCurve,
    ZirconiaCurve,
)
from able_yardstick.core.document.nominal import curve_in_unit
from able_yardstick.core.forms.expression import FormulaText
from able_yardstick.core.forms.function import CodeFunction
from able_yardstick.core.forms.spec import FORM_NAMES, PackSpec
from able_yardstick.core.job.channels import new_continuous
from able_yardstick.core.pack.make import pack
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.stages import (
    Amplifier,
    Clamp,
    ColdJunction,
    CurrentSource,
    Divider,
    Excitation,
    Filter,
    GroundOffset,
    Leads,
    PullUp,
    PulsePullUp,
    Shunt,
)
from able_yardstick.core.units.conditions import NOMINAL, Conditions
from able_yardstick.core.units.oxygen import Fuel

CURVES = {
    "rising line": Line(height=3.0, gradient=2.5, centre=1.0, domain=(0.5, 4.5)),
    "falling line": Line(height=3.0, gradient=-40.0, domain=(0.0, 5.0)),
    "bent up": Polynomial(coefficients=(10.0, 8.0, 1.5), centre=2.5, scale=2.0, domain=(0.5, 4.5)),
    "bent down": Polynomial(coefficients=(1.0, -9.0, 2.0, -0.3), centre=2.0, scale=3.0, domain=(1.0, 4.0)),
    "rising table": Table(signals=(0.0, 1.0, 2.5, 5.0), values=(0.0, 1.0, 6.0, 21.0), domain=(0.0, 5.0)),
    "falling table": Table(signals=(0.0, 2.0, 3.0, 4.0), values=(90.0, 40.0, 39.0, -5.0), domain=(0.0, 4.0)),
    "platinum": PlatinumCurve(domain=(60.0, 330.0)),
    "thermocouple": ThermocoupleCurve(letter="K", domain=(-5.0, 50.0)),
    "thermistor": ThermistorCurve(a=1.1253e-3, b=2.3471e-4, c=8.563e-8, domain=(300.0, 40_000.0)),
    "zirconia": ZirconiaCurve(cell_c=700.0, domain=(1.0, 110.0)),
    "root": RootCurve(zero_signal=0.0, top_signal=5.0, full=480.0, domain=(0.1, 5.0)),
    "formula": FormulaCurve(text="3 + 2*x + sqrt(x)", low=0.01, high=9.0, domain=(0.5, 4.5)),
    "thermistor at its pin": ComposedCurve(
        curve=ThermistorCurve(a=1.1253e-3, b=2.3471e-4, c=8.563e-8, domain=(300.0, 40_000.0)),
        stages=(PullUp(resistance_ohm=10_000), Filter()),
        load_ohm=1e6,
        domain=(0.15, 3.9),
    ),
    "lambda of a cell": OxygenViewCurve(
        curve=ZirconiaCurve(cell_c=700.0, domain=(8.0, 78.0)),
        source="% O2",
        target="lambda",
        fuel=Fuel(basis="wet"),
        domain=(8.0, 78.0),
    ),
    "stretched": PlatinumCurve(domain=(60.0, 330.0)).stretched(0.01),
}
shares = st.floats(0.0, 1.0)


@pytest.mark.parametrize("name", CURVES)
class TestEveryCurve:
    @given(share=shares)
    def test_the_inverse_gives_back_the_signal(self, name, share):
        curve = CURVES[name]
        signal = curve.domain[0] + share * (curve.domain[1] - curve.domain[0])
        assert float(curve.signal(curve.value(signal))) == pytest.approx(signal, rel=1e-9, abs=1e-7)

    @given(share=shares)
    def test_every_branch_gives_the_value(self, name, share):
        curve = CURVES[name]
        value = float(curve.value(curve.domain[0] + share * (curve.domain[1] - curve.domain[0])))
        branches = curve.branches(value)
        assert branches
        assert list(branches) == sorted(branches)
        assert curve.value(np.array(branches)) == pytest.approx(value, abs=1e-6)

    @given(share=st.floats(0.02, 0.98))
    def test_the_slope_is_the_change_of_value(self, name, share):
        curve = CURVES[name]
        signal = curve.domain[0] + share * (curve.domain[1] - curve.domain[0])
        step = 1e-6 * (curve.domain[1] - curve.domain[0])
        assume(not any(abs(signal - knot) < 1e-4 for knot in getattr(curve, "signals", ())))
        change = float(curve.value(signal + step) - curve.value(signal - step)) / (2 * step)
        assert float(curve.slope(signal)) == pytest.approx(change, rel=1e-4, abs=1e-6)

    def test_shapes_are_kept(self, name):
        curve = CURVES[name]
        for shape in ((), (3,), (2, 3)):
            points = np.full(shape, sum(curve.domain) / 2)
            assert curve.value(points).shape == curve.slope(points).shape == shape
            assert curve.signal(curve.value(points)).shape == shape
            assert curve.within(points).shape == shape

    def test_it_never_turns_in_its_domain_and_runs_on_beyond_it(self, name):
        curve = CURVES[name]
        assert curve.is_monotonic
        low, high = curve.domain
        assert curve.within(np.array([low - 0.1, low, high, high + 0.1])).tolist() == [False, True, True, False]
        assert np.all(np.isfinite(curve.value(np.array([low - 1, high + 1, 10 * high]))))

    def test_its_plain_form_is_the_whole_of_it(self, name):
        curve = CURVES[name]
        assert type(curve).model_validate_json(curve.model_dump_json()) == curve

    def test_conditions_are_taken_and_nominal_ones_change_nothing(self, name):
        curve = CURVES[name]
        middle = sum(curve.domain) / 2
        assert float(curve.value(middle, Conditions(supply_v=5.0))) == float(curve.value(middle, NOMINAL))

    def test_a_stretched_signal_gives_the_same_values(self, name):
        curve = CURVES[name]
        points = np.linspace(*curve.domain, 9)
        assert curve.stretched(1.02).value(1.02 * points) == pytest.approx(curve.value(points), rel=1e-9, abs=1e-9)
        assert curve.stretched(1.02).domain == pytest.approx([1.02 * end for end in curve.domain])

    def test_another_unit_and_back_is_the_same_curve(self, name):
        curve = CURVES[name]
        channel = new_continuous("c", "d", "T").with_(unit="psi")
        there = curve_in_unit(curve, "kPa", channel)
        back = curve_in_unit(there, "psi", channel.with_(unit="kPa"))
        points = np.linspace(*curve.domain, 7)
        assert there.value(points) == pytest.approx(curve.value(points) / 6.894757293168361)
        assert back.value(points) == pytest.approx(curve.value(points), abs=1e-9)


STAGES = [
    Shunt(resistance_ohm=250),
    Divider(top_ohm=10_000, bottom_ohm=4_700),
    Excitation(voltage_v=5.0, measured_v=4.98),
    CurrentSource(current_ma=0.5),
    Leads(wires=2),
    Leads(wires=3),
    Leads(wires=4),
    ColdJunction(compensated=False),
    ColdJunction(compensated=True),
    Amplifier(resistor="100 + 220 | 1k", zero_v=0.5),
    PullUp(resistance_ohm=4_700, supply_v=3.3),
    PulsePullUp(),
    Filter(),
    Clamp(),
    GroundOffset(),
]
LOADING = [stage for stage in STAGES if stage.kind in ("shunt", "divider", "pull-up", "clamp")]


@pytest.mark.parametrize("stage", STAGES, ids=lambda stage: stage.kind)
class TestEveryStage:
    @given(value=st.floats(0.5, 50), load=st.sampled_from([1e3, 1e6, float("inf")]))
    def test_the_inverse_gives_back_what_entered(self, stage, value, load):
        there = stage.forward(value, NOMINAL, load)
        assert float(stage.inverse(there, NOMINAL, load)) == pytest.approx(value, rel=1e-12, abs=5e-11)

    @given(value=st.floats(0.5, 50), load=st.sampled_from([1e3, 1e6, float("inf")]))
    def test_the_slope_is_the_change(self, stage, value, load):
        step = 1e-3
        change = float(stage.forward(value + step, NOMINAL, load) - stage.forward(value - step, NOMINAL, load))
        assert float(stage.slope(value, NOMINAL, load)) == pytest.approx(change / (2 * step), rel=1e-6, abs=1e-8)

    def test_a_part_at_its_stated_value_changes_nothing_and_off_it_does(self, stage):
        for part in stage.parts():
            same = stage.forward(10.0, varied={part.name: part.value})
            other = stage.forward(10.0, varied={part.name: part.value + max(part.half_width, 0.1)})
            assert float(same) == float(stage.forward(10.0))
            assert float(other) != float(same)

    def test_its_sentence_says_what_leaves_and_its_caption_is_short(self, stage):
        assert f"{stage.gives}" in stage.sentence()
        assert 0 < len(stage.caption) < 26

    def test_its_limits_run_upwards(self, stage):
        low, high = stage.output_limits
        assert low < high

    def test_its_plain_form_is_the_whole_of_it(self, stage):
        assert type(stage).model_validate_json(stage.model_dump_json()) == stage


@pytest.mark.parametrize("stage", LOADING, ids=lambda stage: stage.kind)
def test_a_load_lowers_what_leaves(stage):
    assert float(stage.forward(10.0, NOMINAL, 1e3)) < float(stage.forward(10.0))


NUMBERS_IN_CELLS = {
    "slope", "offset", "signal_low", "signal_high", "raw_low", "raw_high", "divisor", "constant", "zero", "multiplier",
    "signals", "values", "coefficients",
}  # fmt: skip


CONVERTERS = {
    "12 bit": Converter(),
    "one above": Converter(bits=10, full_count=1023, high=10.0, top="one above"),
    "live span": Converter(bits=16, full_count=32000, low=1.0, high=5.0, rounding="floor"),
    "bipolar": Converter(bits=12, low=-10.0, high=10.0),
}


@pytest.mark.parametrize("form_name", FORM_NAMES)
@pytest.mark.parametrize("converter_name", CONVERTERS)
@pytest.mark.parametrize("clamp", [False, True])
class TestEveryForm:
    def packed(self, form_name, converter_name, clamp):
        curve = CURVES["rising table"] if form_name == "knots" else CURVES["rising line"]
        implied = 4 if form_name == "integers" else None
        spec = PackSpec(form=form_name, decimals=6, implied_decimals=implied, clamp=clamp, knots=9)
        return pack(curve, CONVERTERS[converter_name], spec, limits=(2.0, 10.0)), CONVERTERS[converter_name]

    def test_every_count_has_a_number(self, form_name, converter_name, clamp):
        form, converter = self.packed(form_name, converter_name, clamp)
        shown = form.shown(converter.every_count(), converter)
        assert shown.shape == (converter.full_count + 1,)
        assert np.all(np.isfinite(shown))
        assert np.all(np.diff(shown) >= -1e-9)

    def test_many_counts_show_what_each_shows_alone(self, form_name, converter_name, clamp):
        form, converter = self.packed(form_name, converter_name, clamp)
        counts = np.random.default_rng(4).integers(0, converter.full_count + 1, 3 * converter.full_count)
        alone = [float(form.shown(counts[n : n + 1], converter)[0]) for n in range(20)]
        assert form.shown(counts, converter)[:20].tolist() == alone

    def test_the_steady_form_agrees_with_it_where_no_limit_holds(self, form_name, converter_name, clamp):
        form, converter = self.packed(form_name, converter_name, clamp)
        steady = form.continuous(converter)
        counts = converter.every_count()
        free = steady.within(converter.inverse(counts))
        assert np.any(free)
        allowed = {
            "ratio": 1.0,
            "poly": 1e-5,
            "words": 1e-5,
            "st": 1e-5,
            "c": 1e-5,
            "normal": 1e-5,
            "integers": 5.1e-5,
        }.get(form_name, 1e-9)  # of its steps
        steady_values = steady.value(converter.inverse(counts))[free]
        assert form.shown(counts, converter)[free] == pytest.approx(steady_values, rel=1e-6, abs=allowed)
        assert clamp or bool(np.all(free))

    def test_its_cells_hold_its_numbers(self, form_name, converter_name, clamp):
        form, _ = self.packed(form_name, converter_name, clamp)
        cells = form.cells("V", "kPa")
        assert all(len(row) == len(cells.headings) for row in cells.rows)
        numbers = {value for row in cells.rows for value in row if not isinstance(value, str)}
        text = "\n".join(value for row in cells.rows for value in row if isinstance(value, str))
        if isinstance(form, FormulaText | CodeFunction):
            assert form.text.splitlines() == text.splitlines()
            return
        named = form.model_dump(include=NUMBERS_IN_CELLS)
        wanted = {n for found in named.values() for n in (found if isinstance(found, tuple) else (found,))}
        assert wanted
        assert wanted <= numbers

    def test_its_plain_form_is_the_whole_of_it(self, form_name, converter_name, clamp):
        form, _ = self.packed(form_name, converter_name, clamp)
        assert type(form).model_validate_json(form.model_dump_json()) == form


MODELS = ["two-point", "through-zero", "line", "poly2", "table"]


@pytest.mark.parametrize("model", MODELS)
class TestEveryModel:
    @given(seed=st.integers(0, 1000), gain=st.floats(0.01, 100), offset=st.floats(-500, 500))
    def test_a_fit_in_another_unit_is_the_fit_converted(self, model, seed, gain, offset):
        random = np.random.default_rng(seed)
        x = np.linspace(0.5, 4.5, 9)
        y = 60 * x + 3 * x**2 + random.normal(0, 0.5, 9)
        first = fit(x, y, FitSpec(model=model, zero=(0.0, 0.0)))
        second = fit(x, gain * y + offset, FitSpec(model=model, zero=(0.0, offset)))
        points = np.linspace(0, 5, 11)
        assert second.curve.value(points) == pytest.approx(
            gain * first.curve.value(points) + offset, rel=1e-8, abs=1e-7 * gain
        )
        if first.residual_sd is not None:
            assert second.residual_sd == pytest.approx(gain * first.residual_sd, rel=1e-6, abs=1e-9)

    @given(order=st.permutations(range(7)))
    def test_the_order_of_the_readings_does_not_matter(self, model, order):
        x = np.linspace(0.5, 4.5, 7)
        y = 60 * x + 3 * x**2
        index = list(order)
        spec = FitSpec(model=model)
        points = np.linspace(0, 5, 11)
        shuffled = fit(x[index], y[index], spec).curve.value(points)
        assert shuffled == pytest.approx(fit(x, y, spec).curve.value(points), rel=1e-9, abs=1e-7)

    def test_errors_belong_to_the_readings_in_their_order(self, model):
        x = np.array([4.0, 1.0, 3.0, 2.0])
        y = np.array([41.0, 10.0, 29.5, 20.0])
        found = fit(x, y, FitSpec(model=model))
        assert found.signals == tuple(x)
        assert found.errors == pytest.approx(found.curve.value(x) - y)

    def test_a_perfect_line_is_met_by_every_model(self, model):
        x = np.linspace(1, 5, 6)
        found = fit(x, 12.5 * x, FitSpec(model=model))
        assert found.largest_error < 1e-11
        assert found.curve.is_monotonic
