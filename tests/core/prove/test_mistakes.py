"""Known mistakes by their error curves: by hand, and one contract for the whole family."""

import numpy as np
import pytest

from able_yardstick.core.document.channel import ContinuousChannel
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.job.job import Job
from able_yardstick.core.prove.mistakes import MISTAKES, MistakeCase
from able_yardstick.core.prove.mistakes.evidence import case_of, naming_of
from able_yardstick.core.prove.mistakes.naming import Checks, named
from able_yardstick.core.prove.mistakes.words import cause_words, naming_words
from able_yardstick.core.sensor.rating import TwoPoints
from able_yardstick.core.sensor.transducer import Transducer
from able_yardstick.core.words.errors import BadTable, NotMonotonic, OutOfRange
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())
CHANNELS = [one for one in JOB.channels if isinstance(one, ContinuousChannel)]


def ratio_channel():
    """An air-fuel ratio, which the demo does not have: 0 to 5 V for 10 to 20."""
    rating = TwoPoints(signals=(0.0, 5.0), values=(10.0, 20.0))
    part = Transducer(quantity="oxygen", unit="AFR", range_low=10.0, range_high=20.0, rating=rating)
    return ContinuousChannel(id="afr", device="d", tag="AT-9", unit="AFR", transducer=part)


def case_for(channel, is_measured=True):
    curve = nominal_curve(channel)
    others = tuple(
        (one.tag, nominal_curve(one)) for one in CHANNELS if one.path.pin_unit == "V" and one.id != channel.id
    )
    return MistakeCase(channel, curve, curve, is_measured, others)


def stops(channel):
    low, high = channel.range
    return low + (high - low) * np.array([0.06, 0.3, 0.5, 0.72, 0.94])


def checks_like(channel, shown, share=2e-4):
    return Checks(stops(channel), np.asarray(shown, dtype=float), np.full(5, share * channel.span))


@pytest.mark.parametrize("mistake", MISTAKES, ids=lambda one: one.name)
class TestEveryMistake:
    """What holds for each of the family, on every channel that can have it."""

    def guesses(self, mistake):
        for channel in (*CHANNELS, ratio_channel()):
            case = case_for(channel)
            for guess in mistake.guesses(case):
                yield case, guess, case.at(stops(channel))

    def shown(self, guess, place, theta):
        """What it shows; NaN where a view of oxygen or a curve ends."""
        try:
            return guess.shown(place, theta)
        except (OutOfRange, NotMonotonic):
            return np.full(len(place.values), np.nan)

    def test_it_can_be_had_and_shows_numbers_that_differ(self, mistake):
        seen = 0
        for _, guess, place in self.guesses(mistake):
            theta = 0.0 if guess.between is None else guess.between[0] + 0.1 * (guess.between[1] - guess.between[0])
            shown = self.shown(guess, place, theta)
            assert shown.shape == (5,)
            seen += bool(np.all(np.isfinite(shown)) and np.any(np.abs(shown - place.sound) > 1e-9))
        assert seen

    def test_its_unknown_is_found_again_where_it_has_one(self, mistake):
        tried = told = 0
        for case, guess, place in self.guesses(mistake):
            if guess.between is None:
                continue
            low, high = guess.between
            true = low * (high / low) ** 0.37 if guess.is_log else low + 0.37 * (high - low)
            found = named(case, checks_like(case.channel, guess.shown(place, true)))
            tried += 1
            told += not found.is_sound
            names = [one.name for one in found.suspects]
            assert found.is_sound or mistake.name in names, (case.channel.tag, guess.says)
        assert told or not tried

    def test_it_says_where_it_is_set_right(self, mistake):
        assert mistake.where in ("describe", "wire", "pack")
        assert sum(one.name == mistake.name for one in MISTAKES) == 1


def test_a_shunt_of_another_value_is_found_with_its_ohms():
    """−150 to 150 Pa over 4 to 20 mA: 12 mA is 0 Pa; over 245 Ω instead of 250 it reads 11.76 mA, −4.5 Pa."""
    draft = JOB.continuous("pt-202")
    true = stops(draft)
    current = 4 + 16 * (true + 150) / 300
    shown = (current * 245 / 250 - 4) / 16 * 300 - 150
    found = named(case_for(draft), checks_like(draft, shown))
    shunt = next(one for one in found.suspects if one.name == "another resistor")
    assert shunt.value == pytest.approx(245, rel=1e-3)
    assert shunt.unit == "Ω"
    assert shunt.explained > 0.9999
    assert cause_words(shunt) == "245 Ω in place of shunt of 250 Ω"
    assert "reference off nominal" in found.undecided  # 5.10 V for 5 V would show the same
    assert found.next_check is None
    assert "cannot be told apart by any check" in naming_words(found, "Pa")


def test_a_ground_offset_on_a_bent_curve_is_told_from_a_shift_of_the_values():
    probe = JOB.continuous("at-209")
    case = case_for(probe)
    place = case.at(stops(probe))
    by_pin = named(case, checks_like(probe, case.curve.value(place.pin + 0.05)))
    assert [one.name for one in by_pin.suspects] == ["ground offset"]
    assert by_pin.suspects[0].value == pytest.approx(0.05, rel=1e-3)
    by_value = named(case, checks_like(probe, place.sound + 0.3))
    assert by_value.suspects == ()
    assert "an offset does" in naming_words(by_value, "% O2")


def test_sound_checks_name_nothing_and_two_mistakes_are_not_taken_for_one():
    gas = JOB.continuous("pt-201")
    case = case_for(gas)
    sound = case.at(stops(gas)).sound
    noise = np.array([0.3, -0.5, 0.2, 0.4, -0.1]) * 2e-4 * gas.span
    assert named(case, checks_like(gas, sound + noise)).is_sound
    both = np.minimum(1.3 * sound + 20, 200)
    found = named(case, checks_like(gas, both))
    assert found.suspects == ()
    assert "There may be two" in naming_words(found, "kPa")


def test_a_data_sheets_tolerances_are_no_mistake():
    """A pressure sensor of 0.5 % of span may read 0.4 % of it high: named only where it was calibrated before."""
    gas = JOB.continuous("pt-201")
    sound = case_for(gas).at(stops(gas)).sound
    shown = sound + 0.004 * gas.span * 0.5
    assert named(case_for(gas, is_measured=False), checks_like(gas, shown)).is_sound
    assert not named(case_for(gas, is_measured=True), checks_like(gas, shown)).is_sound


def test_what_cannot_be_told_apart_stays_together_with_the_check_that_would():
    probe = JOB.continuous("at-209")
    case = case_of(JOB, probe, by_packing=True)._replace(is_measured=True)
    at = np.array([14.0, 15.0])
    few = Checks(at, case.read(case.at(at).pin + 0.05), np.full(2, 0.02))
    open_ = named(case, few)
    assert "ground offset" in open_.undecided
    value = open_.next_check.value
    assert value < 3 or value > 18
    at = np.append(at, value)
    more = Checks(at, case.read(case.at(at).pin + 0.05), np.full(3, 0.02))
    assert len(named(case, more).suspects) < len(open_.suspects)


def test_where_no_uncertainty_is_known_one_is_assumed_and_said():
    stack = JOB.edited(references=())
    found = naming_of(stack, stack.continuous("at-209"))
    assert found.assumed == pytest.approx(0.105)  # half a percent of 21 % O2
    assert "was assumed" in naming_words(found, "% O2")
    assert not naming_of(JOB, JOB.continuous("at-209")).assumed


def test_without_an_uncertainty_or_a_check_it_says_what_is_missing():
    gas = JOB.continuous("pt-201")
    with pytest.raises(BadTable, match="uncertainty of each check"):
        named(case_for(gas), checks_like(gas, stops(gas), share=0.0))
    none = np.array([])
    with pytest.raises(BadTable, match="no check to explain"):
        named(case_for(gas), Checks(none, none, none))


@pytest.mark.parametrize(
    ("tag", "unit", "fitted", "share"),
    [("FT-210", "pulses per m³", 5400.0, 0.9), ("WT-206", "mV/V", 2.2, 1.1)],
)
def test_a_sensor_of_another_size_is_known_by_the_number_of_its_plate(tag, unit, fitted, share):
    """6000 pulses per m³ and 2 mV/V are described; of the fitted ones so much of the true value is shown."""
    channel = next(one for one in CHANNELS if one.tag == tag)
    case = case_for(channel)
    model = next(one for one in MISTAKES if one.name == "another model")
    (guess,) = model.guesses(case)
    assert guess.unit == unit
    place = case.at(stops(channel))
    assert guess.shown(place, fitted) == pytest.approx(place.values * share, rel=1e-3)
