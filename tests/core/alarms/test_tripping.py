"""Alarms by the packed arithmetic: against a state machine that walks every count, and breaks by hand."""

from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.alarms.breaks import alarm_breaks
from able_yardstick.core.alarms.fault_band import fault_band
from able_yardstick.core.alarms.standing import standing_alarms
from able_yardstick.core.alarms.tripping import believed_values, trippings
from able_yardstick.core.document.alarm import ALARM_KINDS, Alarm, FaultRule
from able_yardstick.core.forms.spec import FORM_NAMES
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.job import Job
from able_yardstick.core.results.choices import keep_packing
from able_yardstick.core.words.errors import YardstickError
from able_yardstick.core.words.record import InvalidRecord
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())
WHEN = datetime(2026, 11, 20, tzinfo=UTC)


def with_alarms(job, tag, *alarms, **changes):
    channel = job.tagged(tag).with_(alarms=alarms, **changes)
    return change_channel(job, channel), channel


def packed_as(form):
    """The demo with PT-201's numbers kept in a form; None where the form does not take it."""
    channel = JOB.continuous("pt-201")
    spec = channel.pack_spec.in_form(form).with_(value_step=0.1, knots=5, code_of=None)
    try:
        return keep_packing(change_channel(JOB, channel.with_(pack_spec=spec)), "pt-201", WHEN)
    except (YardstickError, InvalidRecord):
        return None


KEPT = {form: job for form in FORM_NAMES if (job := packed_as(form)) is not None}


def walked(shown, alarm, way):
    """The count at which an alarm changes on a way along the counts, kept by a state as a controller keeps it."""
    is_on = None
    for count in way:
        value = shown[count]
        trips = value >= alarm.limit if alarm.is_high else value <= alarm.limit
        if alarm.dead_band:
            clears = value <= alarm.limit - alarm.dead_band if alarm.is_high else value >= alarm.limit + alarm.dead_band
        else:
            clears = not trips
        now = True if trips else False if clears else is_on
        if is_on is not None and now != is_on:
            return int(count)
        is_on = now
    return None


def test_nearly_every_form_is_tried():
    assert len(KEPT) >= len(FORM_NAMES) - 2


@pytest.mark.parametrize("form", list(KEPT))
@settings(max_examples=6, deadline=None)
@given(st.sampled_from(ALARM_KINDS), st.floats(20, 230), st.sampled_from([0.0, 0.5, 10.0]))
def test_counts_are_exact_for_every_form(form, kind, limit, dead_band):
    alarm = Alarm(kind=kind, limit=limit, dead_band=dead_band)
    job, channel = with_alarms(KEPT[form], "PT-201", alarm)
    (found,) = trippings(job, channel)
    believed = believed_values(job, channel)
    sound = np.flatnonzero(~believed.is_fault)
    record = job.pack_of(channel.id)
    shown = np.asarray(record.form.shown(channel.path.converter.every_count(), channel.path.converter.nominal))
    up = sound if shown[sound[-1]] > shown[sound[0]] else sound[::-1]
    towards = up if alarm.is_high else up[::-1]
    assert (None if found.trips is None else found.trips.counts) == walked(shown, alarm, towards)
    assert (None if found.clears is None else found.clears.counts) == walked(shown, alarm, towards[::-1])


def test_a_hot_bearing_on_an_open_lead_is_no_alarm_until_a_fault_reads_high():
    """10 kΩ to 5 V with nothing below it is 5 V at the pin: colder than any bearing."""
    channel = JOB.continuous("te-205")
    broken = {one.name: one for one in alarm_breaks(JOB, channel)}
    assert broken["lead open"].comes == ()
    assert broken["lead open"].cannot == ("high", "high high")
    assert "the high and the high high alarm cannot trip" in broken["lead open"].says
    assert broken["lead open"].is_fault
    job, mended = with_alarms(JOB, "TE-205", *channel.alarms, fault_rule=FaultRule(on_fault="reads high"))
    broken = {one.name: one for one in alarm_breaks(job, mended)}
    assert broken["lead open"].comes == ("high", "high high")
    job, held = with_alarms(JOB, "TE-205", *channel.alarms, fault_rule=FaultRule(on_fault="last value held"))
    assert all(one.comes == () for one in alarm_breaks(job, held) if one.is_fault)


def test_the_true_value_at_a_trip_has_its_uncertainty():
    (low, high) = trippings(JOB, JOB.continuous("pt-201"))
    assert low.trips.true == pytest.approx(40.0, abs=0.15)
    assert low.trips.doubt == pytest.approx(0.19, abs=0.05)
    assert low.trips.counts < low.clears.counts < high.clears.counts < high.trips.counts


def test_an_alarm_beyond_what_can_be_shown_never_comes():
    job, channel = with_alarms(JOB, "PT-201", Alarm(kind="high", limit=400.0))
    (found,) = trippings(job, channel)
    assert found.trips is None
    assert found.clears is not None


def test_a_fault_band_says_where_it_comes_from():
    gas = fault_band(JOB.continuous("pt-201"))
    assert (gas.low, gas.high) == pytest.approx((0.25, 4.75))
    assert gas.source == "the sensor's signal limits; a live zero: below it is a fault"
    bearing = fault_band(JOB.continuous("te-205"))
    assert bearing.source == "the range and 1 % of the input more"
    stated = JOB.continuous("pt-201").with_(fault_rule=FaultRule(low=0.4, stated=True))
    assert (fault_band(stated).low, fault_band(stated).high) == pytest.approx((0.4, 5.0))


def test_alarms_that_cannot_stand_together_are_refused():
    channel = JOB.continuous("pt-201")
    with pytest.raises(InvalidRecord, match="must lie below the high"):
        channel.with_(alarms=(Alarm(kind="low", limit=50.0), Alarm(kind="high", limit=40.0)))
    with pytest.raises(InvalidRecord, match="can be set once"):
        channel.with_(alarms=(Alarm(kind="low", limit=50.0), Alarm(kind="low", limit=40.0)))


def test_the_alarms_that_stand_at_a_signal_are_those_of_its_count():
    """TE-205: a thermistor whose signal falls as it warms; high from 0.49 V down, high high lower still."""
    channel = JOB.continuous("te-205")
    found = {one.alarm.kind: one.trips.pin for one in trippings(JOB, channel)}
    assert standing_alarms(JOB, channel, found["high"] + 0.01) == ()
    assert standing_alarms(JOB, channel, found["high"] - 0.001) == ("high",)
    assert standing_alarms(JOB, channel, found["high high"] - 0.001) == ("high", "high high")
    assert standing_alarms(JOB, channel.with_(alarms=()), 0.1) == ()
