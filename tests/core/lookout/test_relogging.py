"""A log with other numbers: the controller's own arithmetic count by count, and alarms against a plain walk."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.alarm import Alarm
from able_yardstick.core.forms.straight import SlopeOffset
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.lookout.relogging import AlarmSpan, alarm_spans, relogged, values_of_curve, values_of_form
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())
GAS = JOB.continuous("pt-201")


def walked(times, values, alarm):
    """The same, sample by sample: a plain state machine."""
    spans, since, started = [], None, None
    for time, value in zip(times, values, strict=True):
        past = value >= alarm.limit if alarm.is_high else value <= alarm.limit
        clear = value < alarm.clears_at if alarm.is_high else value > alarm.clears_at
        since = (time if since is None else since) if past else since
        if not past:
            if since is not None and started is None and time - since >= alarm.delay_s:
                started = since + alarm.delay_s
            since = None
        if clear and started is not None:
            spans.append(AlarmSpan(alarm.kind, started, time))
            started = None
    if since is not None and started is None and times[-1] - since >= alarm.delay_s:
        started = since + alarm.delay_s
    if started is not None:
        spans.append(AlarmSpan(alarm.kind, started, times[-1]))
    return tuple(spans)


@given(
    st.lists(st.integers(0, 10), min_size=1, max_size=60),
    st.sampled_from(["low", "high"]), st.integers(2, 8), st.integers(0, 3), st.integers(0, 4),
)  # fmt: skip
def test_alarms_stand_as_a_plain_walk_says(values, kind, limit, band, delay):
    times = np.arange(len(values)) * 0.5
    alarm = Alarm(kind=kind, limit=float(limit), dead_band=float(band), delay_s=delay / 2)
    assert alarm_spans(times, np.array(values, dtype=float), alarm) == walked(times.tolist(), values, alarm)


def test_every_count_is_reckoned_as_the_controller_would():
    counts = np.arange(0, 4096, 7)
    record = JOB.pack_of("pt-201")
    old = values_of_form(record.form, record.unit, GAS)
    new = values_of_form(SlopeOffset(slope=62.0, offset=-31.0), "kPa", GAS)
    found = relogged(Series.of(np.arange(len(counts)) * 0.01, counts.astype(float)), old, new)
    converter = GAS.path.converter
    assert found.old == pytest.approx(record.form.shown(counts, converter))
    assert found.new == pytest.approx(62.0 * converter.inverse(counts) - 31.0)
    assert found.difference == pytest.approx(found.new - found.old)


def test_alarms_gained_and_lost_are_told_with_their_moments():
    """Numbers that read 5 kPa more bring a high alarm that did not come; 5 less take it away."""
    times = np.arange(0, 100, 0.1)
    counts = Series.of(times, np.round(2000 + 1400 * np.sin(times / 15)))
    old = values_of_form(SlopeOffset(slope=62.5, offset=-31.25), "kPa", GAS)
    top = float(old[3400])
    alarm = Alarm(kind="high", limit=top + 2)
    more, less = relogged(counts, old, old + 5, (alarm,)), relogged(counts, old + 5, old, (alarm,))
    assert (len(more.gained), more.lost) == (1, ())
    assert (less.gained, len(less.lost)) == ((), 1)
    assert more.gained[0].start_s < 15 * np.pi / 2 < more.gained[0].end_s
    same = relogged(counts, old, old, (alarm,))
    assert (same.gained, same.lost) == ((), ())


def test_a_curve_is_held_at_its_ends():
    curve = JOB.fit_of("at-208").fitted.curve
    values = values_of_curve(curve, JOB.continuous("at-208"))
    assert np.all(np.isfinite(values))
    assert len(values) == JOB.continuous("at-208").path.converter.full_count + 1
