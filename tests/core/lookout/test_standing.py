"""How a channel stands at a signal: faults by name before any number, alarms, ranges; and what is attended to."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.document.alarm import Alarm
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.job import Job
from able_yardstick.core.lookout.attention import Attention, level_of
from able_yardstick.core.lookout.standing import ChannelStanding, standing_of
from able_yardstick.core.sensor.rating import Unrated
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())


def standing(tag, pin, **changes):
    channel = JOB.tagged(tag).with_(**changes)
    return standing_of(change_channel(JOB, channel), channel, pin)


@pytest.mark.parametrize(
    ("tag", "pin", "kind", "words"),
    [
        ("PT-201", 2.1, "value", ""),
        ("PT-201", None, "stale", "no value"),
        ("PT-201", 4.2, "alarm", "high alarm"),
        ("TE-205", 5.0, "fault", "lead open"),  # the pull-up's end reads cold, and is no cold
        ("PT-202", 0.0, "fault", None),  # below the live zero: never a small value
        ("PS-211", 3.5, "state", "gas present"),
        ("PS-211", 0.1, "state", "gas low"),
        ("PS-211", 1.8, "state", "between"),
    ],
)
def test_a_signal_is_named_for_what_it_is(tag, pin, kind, words):
    found = standing(tag, pin)
    assert found.kind == kind
    if words is not None:
        assert found.words == words


def test_a_fault_tells_the_signal_its_source_and_the_alarms_that_cannot_trip():
    found = standing("TE-205", 5.0)
    assert found.value is None
    assert found.is_fault
    assert found.says.startswith("Lead open: 5 V is above what is a value")
    assert found.says.endswith("While it lasts its high and high high alarms cannot trip.")


def test_several_breaks_that_read_alike_stay_together():
    found = standing("PT-202", 0.0)
    assert "or" in found.words
    assert "a live zero" in found.says


def test_beyond_the_range_is_not_a_fault_and_a_number_without_a_curve_says_so():
    assert standing("PT-201", 4.53, alarms=()).words == "above range"
    part = JOB.tagged("WT-206").transducer.with_(rating=Unrated())
    found = standing("WT-206", 1.0, transducer=part)
    assert (found.kind, found.words, found.value) == ("unscaled", "not scaled", 1.0)


@settings(max_examples=40)
@given(st.sampled_from([one.tag for one in JOB.channels if one.has_pin]), st.floats(-1.0, 12.0))
def test_whatever_comes_in_is_said_in_words_and_never_a_number_out_of_a_fault(tag, pin):
    found = standing(tag, pin)
    assert found.says
    assert (found.value is None) or not found.is_fault


VALUE = ChannelStanding("value", "", "In order.", 1.0)
FAULT = ChannelStanding("fault", "lead open", "5 V", None)
ALARM = ChannelStanding("alarm", "high alarm", "too much", 2.0)


def test_what_needs_attention_comes_first_when_it_is_new_and_stays_until_it_is_seen():
    all_right = Attention().seen({"a": VALUE, "b": VALUE}, 10.0)
    assert all_right.items == ()
    one = all_right.seen({"a": FAULT, "b": VALUE}, 11.0)
    two = one.seen({"a": FAULT, "b": ALARM}, 12.0)
    assert [(item.channel, item.words, item.since_s) for item in two.items] == [
        ("b", "high alarm", 12.0), ("a", "lead open", 11.0),
    ]  # fmt: skip
    assert two.seen({"a": FAULT, "b": ALARM}, 13.0) is two  # nothing new
    over = two.seen({"a": VALUE, "b": ALARM}, 14.0)
    assert over.items[1].until_s == 14.0
    seen = over.acknowledged(over.items[1])
    assert [item.channel for item in seen.items] == ["b"]


def test_what_was_seen_goes_by_itself_once_it_is_over_and_comes_anew():
    one = Attention().seen({"a": FAULT}, 1.0)
    seen = one.acknowledged(one.items[0])
    assert seen.items[0].is_acknowledged
    assert seen.seen({"a": VALUE}, 2.0).items == ()
    assert seen.seen({"a": VALUE}, 2.0).seen({"a": FAULT}, 3.0).items[0].since_s == 3.0


def test_one_fault_that_becomes_another_is_told_in_its_new_words():
    one = Attention().seen({"a": FAULT}, 1.0)
    two = one.seen({"a": FAULT._replace(words="leads shorted", says="0 V")}, 2.0)
    assert [(item.words, item.since_s) for item in two.items] == [("leads shorted", 1.0)]
    assert level_of(FAULT) == "fault"


def test_an_alarm_of_the_channel_itself_is_the_one_that_is_told():
    found = standing("PT-201", 2.1, alarms=(Alarm(kind="high", limit=90.0), Alarm(kind="high high", limit=95.0)))
    assert found.words == "high high alarm"
    assert "its limit is 95" in found.says


def test_what_lasts_is_told_anew_once_it_names_another_and_not_for_another_number():
    apart = ChannelStanding("apart", "apart", "0.46 more. Nothing tells which of the two is wrong.", 0.46)
    one = Attention().seen({"a": apart}, 1.0)
    same = one.seen({"a": apart._replace(says="0.47 more. Nothing tells which.", value=0.47)}, 2.0)
    assert same is one
    named = one.seen({"a": apart._replace(says="0.46 more. B is trusted.", names="A")}, 3.0)
    assert [(item.says, item.since_s) for item in named.items] == [("0.46 more. B is trusted.", 1.0)]
