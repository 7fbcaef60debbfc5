"""Coefficients of thermistors and platinum elements found from readings, directly and through a signal path."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.fit.element_fit import element_candidate
from able_yardstick.core.fit.inputs import fit_inputs
from able_yardstick.core.fit.on_offer import candidates_of, worth_in
from able_yardstick.core.job.entries import capture
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.regression.doubt import Doubts
from able_yardstick.core.regression.fitted import FitSpec
from able_yardstick.core.regression.models import fit
from able_yardstick.core.standards import platinum, thermistors
from able_yardstick.core.words.errors import DegenerateReadings, OutOfRange, TooFewReadings

LAW = thermistors.SteinhartHart(1.1253e-3, 2.3471e-4, 8.563e-8)
WARMTHS = np.array([0.0, 10.0, 25.0, 40.0, 60.0, 80.0])


def law_of(job, channel, pin, values, model, doubts=None):
    """A law fitted to a channel's element through its path."""
    inputs = fit_inputs(job, channel)
    spec = FitSpec(model=model, robust=inputs.settings.robust)
    return element_candidate(inputs.element, pin, values, spec, doubts, None)


def named(found):
    return {one.name: one.value for one in found.parameters}


@given(
    a=st.floats(0.8e-3, 1.5e-3), b=st.floats(2.0e-4, 3.0e-4), c=st.floats(3e-8, 2e-7), top=st.floats(40, 120)
)  # fmt: skip
def test_exact_readings_give_a_thermistors_coefficients_back(a, b, c, top):
    warmths = np.linspace(0, top, 9)
    ohms = thermistors.resistance_ohm(thermistors.SteinhartHart(a, b, c), warmths)
    found = fit(ohms, warmths, FitSpec(model="steinhart-hart"))
    assert found.curve.value(ohms) == pytest.approx(warmths, abs=1e-7)
    assert list(named(found).values()) == pytest.approx([a, b, c], rel=1e-4)


def test_three_readings_give_what_the_closed_form_through_three_pairs_gives():
    ohms, warmths = (32650.0, 10000.0, 3603.0), (0.0, 25.0, 50.0)
    found = fit(np.array(ohms), np.array(warmths), FitSpec(model="steinhart-hart"))
    assert list(named(found).values()) == pytest.approx(
        list(thermistors.SteinhartHart.through(ohms, warmths)), rel=1e-6
    )
    assert found.dof == 0
    assert "take one more" in found.why_no_spread


def test_beta_is_that_of_two_points_by_the_textbook():
    ohms = np.array([10000.0, 3588.0])
    warmths = np.array([25.0, 50.0])
    found = named(fit(ohms, warmths, FitSpec(model="beta")))
    assert found["R25"] == pytest.approx(10000.0)
    assert found["beta"] == pytest.approx(np.log(10000 / 3588) / (1 / 298.15 - 1 / 323.15))


def test_platinums_own_resistance_at_zero_and_terms_are_found():
    warmths = np.array([-40.0, 0.0, 60.0, 120.0, 200.0])
    ohms = platinum.resistance_ohm(warmths, 100.07, platinum.Terms(3.9110e-3, -5.80e-7))
    found = fit(ohms, warmths, FitSpec(model="platinum"))
    assert named(found) == pytest.approx({"R0": 100.07, "A": 3.9110e-3, "B": -5.80e-7}, rel=1e-6)
    assert found.curve.value(ohms) == pytest.approx(warmths, abs=1e-8)


def test_with_two_stops_the_standards_second_term_is_kept():
    warmths = np.array([0.0, 100.0])
    found = fit(platinum.resistance_ohm(warmths, 100.05), warmths, FitSpec(model="platinum"))
    assert named(found) == pytest.approx({"R0": 100.05, "A": platinum.A})
    assert found.remark == "B as in IEC 60751"


def test_standard_errors_are_those_of_repeated_readings():
    random = np.random.default_rng(4)
    ohms = thermistors.resistance_ohm(LAW, WARMTHS)
    fits = [fit(ohms, WARMTHS + random.normal(0, 0.05, 6), FitSpec(model="beta")) for _ in range(400)]
    betas = np.array([named(found)["beta"] for found in fits])
    claimed = np.sqrt(np.mean([found.parameters[1].standard_error ** 2 for found in fits]))
    noise = np.std([f.curve.value(ohms)[2] for f in fits])
    own = np.sqrt(np.mean([f.curve_spread(ohms)[2] ** 2 for f in fits]))
    lack = np.sqrt(np.mean([f.residual_sd**2 for f in fits])) / 0.05  # the beta law does not quite fit this thermistor
    assert claimed / lack == pytest.approx(np.std(betas), rel=0.12)
    assert own / lack == pytest.approx(noise, rel=0.12)


def test_what_no_element_can_have_is_refused():
    with pytest.raises(OutOfRange, match="more than 0"):
        fit(np.array([-5.0, 10.0]), np.array([0.0, 10.0]), FitSpec(model="platinum"))
    with pytest.raises(TooFewReadings, match="3 temperatures, found 2"):
        fit(np.array([3e4, 1e4]), np.array([0.0, 25.0]), FitSpec(model="steinhart-hart"))
    with pytest.raises(DegenerateReadings, match="does not fall"):
        fit(np.array([1e3, 2e3, 3e3]), np.array([0.0, 25.0, 50.0]), FitSpec(model="beta"))


def test_through_the_path_the_coefficients_are_the_elements_own(demo_job):
    """The pull-up of TE-205 and the leads of TE-204 lie between the element and the pin."""
    bearing, dryer = demo_job.continuous("te-205"), demo_job.continuous("te-204")
    assert fit_inputs(demo_job, bearing).element.models == ("steinhart-hart", "beta")
    assert fit_inputs(demo_job, dryer).element.models == ("platinum",)
    assert fit_inputs(demo_job, demo_job.continuous("pt-201")).element is None
    pin = bearing.path.pin(thermistors.resistance_ohm(LAW, WARMTHS), bearing.around)
    found = element_candidate(
        fit_inputs(demo_job, bearing).element, pin, WARMTHS, FitSpec(model="steinhart-hart"), None, None
    ).fitted
    assert list(named(found).values()) == pytest.approx(list(LAW), rel=1e-4)
    assert found.curve.value(pin) == pytest.approx(WARMTHS, abs=1e-6)
    assert found.curve.domain == pytest.approx((pin.min(), pin.max()))
    ohms = platinum.resistance_ohm(WARMTHS, 100.03)
    element = element_candidate(
        fit_inputs(demo_job, dryer).element,
        dryer.path.pin(ohms, dryer.around),
        WARMTHS,
        FitSpec(model="platinum"),
        None,
        None,
    ).fitted
    assert named(element)["R0"] == pytest.approx(100.03, rel=1e-6)


def test_through_the_path_an_uncertain_signal_weighs_as_the_whole_chain_makes_it(demo_job):
    """The weights at the end are those of the curve from the pin, by its own numeric slope."""
    bearing = demo_job.continuous("te-205")
    pin = bearing.path.pin(thermistors.resistance_ohm(LAW, WARMTHS), bearing.around)
    read = WARMTHS + 0.05 * np.cos(np.arange(len(WARMTHS)))
    doubts = Doubts(reference=np.full(len(pin), 0.1), signal=np.full(len(pin), 0.01))
    found = law_of(demo_job, bearing, pin, read, "steinhart-hart", doubts).fitted
    slope = (found.curve.value(pin + 1e-6) - found.curve.value(pin - 1e-6)) / 2e-6
    weights = 1 / (0.1**2 + (slope * 0.01) ** 2)
    assert found.weights == pytest.approx(weights / weights.mean(), rel=1e-3)


@pytest.mark.parametrize("model", ["steinhart-hart", "beta"])
def test_a_robust_law_names_the_reading_that_lies_far_off(demo_job, model):
    bearing = demo_job.continuous("te-205")
    bearing = bearing.with_(fit_settings=bearing.fit_settings.with_(robust=True))
    pin = bearing.path.pin(thermistors.resistance_ohm(LAW, WARMTHS), bearing.around)
    read = WARMTHS + 0.02 * np.cos(np.arange(len(WARMTHS)))
    read[2] += 9
    assert 2 in law_of(demo_job, bearing, pin, read, model).fitted.distrusted


def test_stops_are_left_out_of_the_law_through_the_path(demo_job):
    """Exact readings: a law found without one of them meets it all the same."""
    bearing = demo_job.continuous("te-205")
    at = demo_job.readings[0].captured
    readings = [
        Reading(
            id=f"t{n}", channel=bearing.id, captured=at, reference=float(warmth), reference_unit="°C",
            raw=Raw(mean=float(bearing.path.pin(thermistors.resistance_ohm(LAW, warmth), bearing.around))),
        )
        for n, warmth in enumerate(WARMTHS)
    ]  # fmt: skip
    job = capture(demo_job, readings)
    found = next(row.fitted for row in candidates_of(job, bearing) if row.model == "steinhart-hart")
    assert worth_in(fit_inputs(job, bearing), found).cross_validated == pytest.approx(0, abs=1e-4)


def test_a_short_is_refused_in_words(demo_job):
    bearing = demo_job.continuous("te-205")
    found = law_of(demo_job, bearing, np.array([0.0, 1.0, 2.0]), np.array([10.0, 20.0, 30.0]), "beta")
    assert not found.usable
    assert "0" in found.refusal
