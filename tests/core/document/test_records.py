"""Records: frozen, valid from birth, named by what they hold."""

from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from able_yardstick.core.document.channel import ContinuousChannel, Device
from able_yardstick.core.document.reference import Reference
from able_yardstick.core.job.channels import new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Amendment, Raw, Reading, amended
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.sensor.rating import RatedSlope, RatedTable, TwoPoints
from able_yardstick.core.sensor.transducer import Transducer
from able_yardstick.core.stages import Divider, Shunt
from able_yardstick.core.units.electrical import signal_gain
from able_yardstick.core.words.errors import (
    BadTable,
    NoSuchThing,
    NotApplicable,
    NotMonotonic,
    TooFewReadings,
    UnitMismatch,
    YardstickError,
)
from able_yardstick.core.words.record import InvalidRecord, digest
from able_yardstick.core.words.tolerance import Tolerance

NOON = datetime(2026, 11, 16, 12, 0, tzinfo=UTC)


def a_reading(**fields):
    known = {
        "id": "r",
        "channel": "c",
        "captured": NOON,
        "reference": 1.0,
        "reference_unit": "kPa",
        "raw": Raw(mean=2.0),
    }
    return Reading(**{**known, **fields})


IMPOSSIBLE = [
    (lambda: Converter(low=5, high=0), "the converter's span must run upwards: found 5 to 0 V. Swap the two"),
    (lambda: Converter(bits=0), "greater than or equal to 1"),
    (lambda: Shunt(resistance_ohm=0), "greater than 0"),
    (lambda: Divider(bottom_ohm=-5), "greater than 0"),
    (lambda: Tolerance(constant=-1), "greater than or equal to 0"),
    (lambda: TwoPoints(signals=(1, 1), values=(0, 5)), "the two rated signals are both 1: a line needs two different"),
    (lambda: TwoPoints(signals=(1, 2), values=(5, 5)), "the two rated values are both 5"),
    (lambda: RatedSlope(slope=0, offset=1), "the slope is 0: every signal would mean the same value"),
    (lambda: RatedTable(signals=(1, 2, 3), values=(1, 3)), "3 signals cannot pair with 2 values"),
    (lambda: RatedTable(signals=(1, 2, 3), values=(1, 3, 2)), "The table turns at a signal of 2"),
    (lambda: Transducer(range_low=5, range_high=5), "the range must run upwards: found 5 to 5"),
    (lambda: a_reading(raw=None), "a reading needs the raw signal, or what the controller showed"),
    (lambda: a_reading(raw=None, shown=1.0), "a reading to fit a curve to needs the raw signal"),
    (lambda: a_reading(reference=float("nan")), "finite number"),
    (lambda: Raw(mean=1.0, count=0), "greater than or equal to 1"),
    (lambda: Amendment(reading="r", made=NOON, kind="exclude"), "an excluded reading needs a reason"),
    (
        lambda: ContinuousChannel(id="c", device="d", tag="T", transducer=Transducer(output="current loop")),
        "the transducer puts out mA, the path starts with V",
    ),
    (lambda: ContinuousChannel(id="c", device="d", tag=""), "at least 1 character"),
    (lambda: Device(id="d", colour="red"), "Extra inputs are not permitted"),
]


@pytest.mark.parametrize(("make", "words"), IMPOSSIBLE)
def test_what_cannot_be_is_refused_at_birth_in_words(make, words):
    with pytest.raises(ValidationError) as refusal:
        make()
    assert words in str(refusal.value)


def test_a_record_is_never_edited_but_made_anew():
    reference = Reference(id="RP-1", name="Gauge", unit="kPa", expanded_uncertainty=0.1)
    with pytest.raises(ValidationError, match="frozen"):
        reference.name = "Other"
    assert (reference.with_(name="Other").name, reference.name) == ("Other", "Gauge")
    with pytest.raises(InvalidRecord, match=r"expanded_uncertainty: .*greater than or equal to 0; found -1"):
        reference.with_(expanded_uncertainty=-1)


@given(st.floats(-1e6, 1e6), st.floats(-1e6, 1e6))
def test_contents_name_a_record_and_nothing_else_does(first, second):
    one, two = a_reading(reference=first), a_reading(reference=second)
    assert (digest(one) == digest(two)) == (one == two)
    assert digest(one) == digest(Reading.model_validate_json(one.model_dump_json()))


def test_a_name_is_needed_to_be_plain():
    with pytest.raises(TypeError, match="object has no plain form"):
        digest(object())


def test_amendments_follow_one_another():
    changes = [
        Amendment(reading="r", made=NOON, kind="correct", reference=5.0),
        Amendment(reading="r", made=NOON, kind="exclude", reason="odd"),
        Amendment(reading="r", made=NOON, kind="correct", shown=5.5, raw_mean=3.0),
        Amendment(reading="r", made=NOON, kind="include"),
        Amendment(reading="r", made=NOON, kind="exclude", reason="odd after all"),
    ]
    states = [amended(a_reading(), changes[:n]) for n in range(6)]
    assert [state.is_used for state in states] == [True, True, False, False, True, False]
    last = states[-1]
    assert (last.reading.reference, last.reading.shown, last.reading.shown_unit) == (5.0, 5.5, "kPa")
    assert (last.reading.raw.mean, last.excluded, last.corrected) == (3.0, "odd after all", True)


@pytest.mark.parametrize(
    ("written", "unit", "gain"),
    [("mV", "V", 0.001), ("V", "V", 1.0), ("A", "mA", 1000.0), ("kHz", "Hz", 1000.0), ("counts", "counts", 1.0)],
)
def test_signals_are_taken_in_their_smaller_and_larger_units(written, unit, gain):
    assert signal_gain(written, unit) == pytest.approx(gain)


def test_a_signal_of_another_kind_is_refused():
    with pytest.raises(UnitMismatch) as refusal:
        signal_gain("bar", "V")
    assert str(refusal.value) == "“bar” is no unit of voltage: expected V."
    assert (refusal.value.found, refusal.value.expected) == ("bar", "V")


def test_every_refusal_is_ours_and_the_fitting_builtin_and_keeps_what_it_was_about():
    for kind in (UnitMismatch, BadTable, NotApplicable, NotMonotonic, InvalidRecord):
        assert issubclass(kind, YardstickError)
        assert issubclass(kind, ValueError)
    assert str(NoSuchThing("no such tag")) == "no such tag"
    assert NotMonotonic("x", at=2.0).at == 2.0
    few = TooFewReadings("x", needed=3, found=1)
    assert (few.needed, few.found) == (3, 1)


def test_a_job_finds_its_channels_by_id_and_by_tag(demo_job):
    assert demo_job.tagged("pt-201") is demo_job.channel("pt-201")
    with pytest.raises(NoSuchThing, match="There is no channel with the id x"):
        demo_job.channel("x")
    with pytest.raises(NoSuchThing, match=r"There is no channel Q\. The job has none"):
        Job(id="j").tagged("Q")


def test_a_channel_states_its_range_and_steps_in_its_own_unit():
    channel = new_continuous("c", "d", "T").with_(unit="bar")
    assert channel.range == pytest.approx((0.0, 1.0))
    assert channel.step_in_unit(5.0, "kPa") == pytest.approx(0.05)
    assert channel.step_in_unit(5.0, "°C") != channel.step_in_unit(5.0, "°C")  # not a number


@given(st.floats(0, 10), st.floats(0, 0.1), st.floats(0, 0.1), st.floats(-1e3, 1e3), st.floats(1e-3, 1e4))
def test_a_tolerance_in_another_unit_allows_the_same(constant, reading, span, value, width):
    tolerance = Tolerance(constant=constant, of_reading=reading, of_span=span)
    allowed = float(tolerance.at(value, width))
    assert float(tolerance.scaled(-2.5).at(value * 2.5, width * 2.5)) == pytest.approx(2.5 * allowed)
    assert tolerance.is_stated == (constant > 0 or reading > 0 or span > 0)


def test_what_was_reckoned_from_a_record_does_not_count_in_its_equality(demo_job):
    from able_yardstick.core.fit.on_offer import candidates_of
    from able_yardstick.core.gather.points import points_of

    again = Job.model_validate_json(demo_job.model_dump_json())
    for job in (demo_job, again):
        channel = job.continuous("at-208")
        assert len(points_of(job, channel).rows) == 12
        assert candidates_of(job, channel)
        assert float(job.fit_of("at-208").fitted.curve.value(1.0)) > 0
    assert demo_job == again
    assert demo_job.document.fits == again.document.fits
    assert demo_job != again.with_(title="x")
    assert hash(Tolerance(constant=1)) == hash(Tolerance(constant=1))
