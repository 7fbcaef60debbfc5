"""How far the readings reach and which signals are a fault are two things."""

from datetime import UTC, datetime

import numpy as np
import pytest

from able_yardstick.core.document.sound_band import sound_band, stated_ends
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.entries import exclude
from able_yardstick.core.pack.packed import packed_as
from able_yardstick.core.pack.spared import faults_shown
from able_yardstick.core.results.choices import use_curve

NOON = datetime(2026, 11, 20, 12, tzinfo=UTC)


def band_of(job, channel):
    form = packed_as(job, channel, channel.pack_spec.with_(form="c")).form
    return form.first_good, form.last_good


def test_a_function_reports_a_fault_by_the_sensors_limits_and_not_by_the_readings_reach(demo_job):
    channel = demo_job.continuous("pt-201")
    whole = band_of(demo_job, channel)
    assert whole == tuple(channel.path.converter.count_of(np.array([0.25, 4.75])))
    upper = [row.reading.id for row in demo_job.amended("pt-201", "gather") if row.reading.reference > 130]
    job = use_curve(exclude(demo_job, upper, "not of today", NOON), "pt-201", "line", NOON)
    assert job.fit_of("pt-201").fitted.curve.domain[1] < 2.6
    assert band_of(job, job.continuous("pt-201")) == whole


def test_where_no_limits_are_stated_a_sound_signal_lies_within_the_range_and_a_little_more(demo_job):
    channel = demo_job.continuous("pt-201")
    bare = channel.with_(transducer=channel.transducer.with_(signal_low=None, signal_high=None))
    assert stated_ends(bare) == (None, None)
    assert sound_band(bare) == (pytest.approx(0.45), pytest.approx(4.55))
    assert sound_band(channel) == (0.25, 4.75)
    assert band_of(change_channel(demo_job, bare), bare) == tuple(
        channel.path.converter.count_of(np.array([0.45, 4.55]))
    )


def test_limits_are_turned_where_the_signal_falls(demo_job):
    channel = demo_job.continuous("te-204")
    rated = channel.transducer.nominal(channel.around)
    ends = np.sort(np.asarray(channel.path.pin(np.array(rated.domain), channel.around)))
    said = channel.with_(transducer=channel.transducer.with_(signal_low=rated.domain[0], signal_high=rated.domain[1]))
    assert stated_ends(said) == pytest.approx(tuple(ends))


@pytest.mark.parametrize("kind", ["c", "st"])
def test_what_is_a_fault_is_the_persons_to_say(demo_job, kind):
    """PT-201: 0.5 to 4.5 V for its range on 0 to 5 V; what no count can be is not tested."""
    channel = demo_job.continuous("pt-201")

    def made(**settings):
        form = packed_as(demo_job, channel, channel.pack_spec.with_(form=kind, **settings)).form
        return form, faults_shown(channel, form)

    form, said = made(fault_test="range", fault_margin=2.0)
    assert form.tests == tuple(channel.path.converter.count_of(np.array([0.4, 4.6])))
    assert (
        said == f"A fault is reported below count {form.tests[0]} (0.4005 V) and above count {form.tests[1]} (4.6 V)."
    )
    form, said = made(fault_test="range", fault_margin=10.0)
    assert form.tests == (None, None)
    assert "count <" not in form.text
    form, said = made(fault_test="none")
    assert said == "No count is reported as a fault."
    assert ("fault = false;" in form.text) if kind == "c" else ("FALSE" in form.text)
    assert "not tested" in form.text
