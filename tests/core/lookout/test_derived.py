"""Values made of channels: units checked and carried, U by an independent route, inputs that die, totals."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.watched import COMBINE_RULES, CombinedValue, FormulaValue, TotalValue
from able_yardstick.core.formula.tree import FormulaError
from able_yardstick.core.lookout.combining import COMBINING
from able_yardstick.core.lookout.derived import InputCourse, derived, inputs_of
from able_yardstick.core.lookout.naming import kept_formula, shown_formula
from able_yardstick.core.words.errors import NotApplicable, UnitMismatch

IDS = {"AT-208": "a", "AT-209": "b", "PT-201": "p", "PT-202": "q", "FT-210": "f", "PT-20": "s"}
NOW = np.zeros(1)


def course(tag, unit, value, expanded=0.1):
    return InputCourse(tag, unit, np.atleast_1d(np.asarray(value, dtype=float)), np.atleast_1d(float(expanded)))


INPUTS = {
    "a": course("AT-208", "% O2", 6.0),
    "b": course("AT-209", "% O2", 6.5, 0.3),
    "p": course("PT-201", "kPa", 100.0, 1.0),
    "q": course("PT-202", "Pa", -30.0, 5.0),
    "f": course("FT-210", "m³/h", 360.0, 3.6),
}


def made(typed, unit):
    return derived(FormulaValue(id="x", tag="X", unit=unit, formula=kept_formula(typed, IDS)), INPUTS, NOW)


@pytest.mark.parametrize(
    ("typed", "unit", "value"),
    [
        ("AT-209 - AT-208", "% O2", 0.5),
        ("20.95/(20.95-AT-208)", "lambda", 20.95 / 14.95),
        ("PT-201 + PT-202", "kPa", 99.97),
        ("PT-201 + PT-202", "Pa", 99970.0),
        ("PT-202 / PT-201", "%", -0.03),
        ("PT-201 * FT-210", "kW", 10.0),
        ("PT_201 * 2", "kPa", 200.0),
        ("max(PT-201, PT-202)", "mbar", 1000.0),
        ("ln(PT-201/PT-202 + 4000)", "", np.log(4000 - 100e3 / 30)),
        ("sqrt(PT-201 * PT-201)", "kPa", 100.0),
        ("(PT-201^2)^0.5", "kPa", 100.0),
    ],
)
def test_units_are_carried(typed, unit, value):
    assert made(typed, unit).values == pytest.approx([value], rel=1e-9)


@pytest.mark.parametrize(
    ("typed", "unit", "error", "says"),
    [
        ("PT-201 + FT-210", "kPa", UnitMismatch, "kPa and m³/h cannot be added"),
        ("PT-201 - AT-208", "kPa", UnitMismatch, "measure different things"),
        ("PT-201 * PT-201", "kPa", UnitMismatch, "comes to kPa·kPa"),
        ("ln(PT-201)", "", FormulaError, "takes plain numbers"),
        ("2 ^ PT-201", "", FormulaError, "exponent"),
        ("PT-201", "", UnitMismatch, "state a unit"),
    ],
)
def test_what_does_not_fit_is_refused(typed, unit, error, says):
    with pytest.raises(error, match=says.replace("·", ".")):
        made(typed, unit)


@pytest.mark.parametrize(
    ("typed", "says"),
    [("PT-299 + 1", "Known: AT-208"), ("3 + 4", "no channel in it"), ("PT-201 +", "found the end"), ("{p}", "Braces")],
)
def test_a_wrong_formula_is_refused_where_it_is_wrong(typed, says):
    with pytest.raises(FormulaError, match=says):
        kept_formula(typed, IDS)


def test_a_formula_survives_a_new_tag():
    kept = kept_formula("PT-201 - PT-20*2", IDS)
    assert shown_formula(kept, {"p": "PT-301", "s": "PT-30"}) == "PT-301 - PT-30*2"
    assert inputs_of(FormulaValue(id="x", tag="X", formula=kept)) == ("p", "s")


def test_the_uncertainty_of_a_formula_is_that_of_many_draws():
    value = FormulaValue(id="x", tag="X", unit="lambda", formula=kept_formula("(21 - AT-208) / (21 - AT-209)", IDS))
    draw = np.random.default_rng(3)
    many = {
        key: one._replace(values=draw.normal(one.values[0], one.expanded[0] / 2, 200_000))
        for key, one in INPUTS.items()
    }
    drawn = 2 * derived(value, many, NOW).values.std()
    assert derived(value, INPUTS, NOW).expanded[0] == pytest.approx(drawn, rel=0.03)


def test_a_dead_input_makes_a_formula_dead_and_an_unknown_u_is_named():
    dead = INPUTS | {"a": course("AT-208", "% O2", np.nan)}
    value = FormulaValue(id="x", tag="X", unit="% O2", formula="{b} - {a}")
    assert np.isnan(derived(value, dead, NOW).values[0])
    unknown = INPUTS | {"a": course("AT-208", "% O2", 6.0, np.nan)}
    found = derived(value, unknown, NOW)
    assert np.isnan(found.expanded[0])
    assert "AT-208" in found.remark
    with pytest.raises(NotApplicable, match="not here any more"):
        derived(value, {}, NOW)


def test_every_rule_says_what_it_does_when_one_dies_and_does_it():
    values = {"u": course("A", "V", 1.0, 0.1), "v": course("B", "V", np.nan, 0.2), "w": course("C", "V", 4.0, 0.2)}
    expected = {"mean": 2.5, "weighted by U": (1 * 100 + 4 * 25) / 125, "lower": 1.0, "higher": 4.0, "middle": 2.5}
    for rule in COMBINE_RULES:
        value = CombinedValue(id="x", tag="X", unit="V", channels=("u", "v", "w"), rule=rule, chosen="v")
        found = derived(value, values, NOW)
        assert COMBINING[rule].when_one_dies in found.remark
        assert found.values[0] == pytest.approx(expected[rule]) if rule in expected else np.isnan(found.values[0])


@given(st.lists(st.floats(-50, 50), min_size=3, max_size=7))
def test_a_combined_value_lies_among_its_sensors(numbers):
    courses = {str(n): course(str(n), "V", x) for n, x in enumerate(numbers)}
    for rule in COMBINE_RULES:
        value = CombinedValue(id="x", tag="X", unit="V", channels=tuple(courses), rule=rule, chosen="0")
        found = float(derived(value, courses, NOW).values[0])
        assert min(numbers) - 1e-9 <= found <= max(numbers) + 1e-9
        if rule == "middle" and len(numbers) % 2:
            assert found == pytest.approx(float(np.median(numbers)))


def test_a_total_is_the_rate_over_time_and_a_gap_adds_nothing():
    times = np.linspace(0.0, 3600.0, 361)
    rate = course("FT-210", "m³/h", 100.0 + 50.0 * np.sin(times / 600.0), 2.0)._replace(expanded=np.full(361, 2.0))
    value = TotalValue(id="x", tag="V", unit="l", channel="f")
    found = derived(value, {"f": rate}, times)
    exact = 1000 * (100 * times / 3600 + 50 * 600 / 3600 * (1 - np.cos(times / 600)))
    assert found.values == pytest.approx(exact, abs=1.0)
    assert found.expanded[-1] == pytest.approx(2000.0)
    hole = rate.values.copy()
    hole[100:200] = np.nan
    gap = derived(value, {"f": rate._replace(values=hole)}, times)
    assert gap.values[-1] < 0.8 * found.values[-1]
    assert "100 of 361" in gap.remark
    with pytest.raises(UnitMismatch):
        derived(value.with_(unit="kPa"), {"f": rate}, times)
