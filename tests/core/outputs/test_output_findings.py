"""What is said of an output: its reach, its load, a dead input break by break, and two that write it."""

import pytest

from able_yardstick.core.document.alarm import Alarm, FaultRule
from able_yardstick.core.document.output import OutputCondition
from able_yardstick.core.job.channels import add_channel, change_channel, new_output
from able_yardstick.core.job.job import Job
from able_yardstick.core.outputs.dead_input import dead_rows
from able_yardstick.core.outputs.findings import output_findings
from able_yardstick.core.outputs.landing import land_output, output_landed, output_offers, unland_output
from able_yardstick.core.outputs.writers import clashes
from able_yardstick.core.state.progress import progress_of
from able_yardstick.core.words.errors import NotApplicable
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())


def changed(job=JOB, **changes):
    """The demo job with its output changed, and the output."""
    job = change_channel(job, job.tagged("TY-213").with_(**changes))
    return job, job.tagged("TY-213")


def said(job, channel, level):
    return [one.text for one in output_findings(job, channel) if one.level == level]


def test_a_signal_beyond_the_driver_is_a_fault():
    driver = JOB.tagged("TY-213").driver
    job, channel = changed(driver=driver.with_(full_count=3000, most_count=2000))  # 13.3 mA at the most
    assert any("the rest is cut off" in text for text in said(job, channel, "fault"))


@pytest.mark.parametrize(("load", "level"), [(None, "look"), (262.0, "pass"), (620.0, "fault")])
def test_what_hangs_on_a_current_has_a_limit(load, level):
    job, channel = changed(load_ohm=load)
    assert next(one for one in output_findings(job, channel) if one.check == "load").level == level


def test_a_voltage_bears_no_less_than_its_least_load():
    offer = next(one for one in output_offers(JOB, JOB.tagged("TY-213")) if one.kind.driver.unit == "V")
    job = land_output(JOB, JOB.tagged("TY-213"), offer)
    channel = job.tagged("TY-213")
    assert (channel.signal_low, channel.signal_high) == (0.0, 10.0)
    assert any("the voltage drops under it" in text for text in said(job, channel, "fault"))  # 262 of 2000 ohms
    assert any("a broken wire reads as 0 °C there" in text for text in said(job, channel, "look"))


def test_a_dead_input_nobody_chose_for_is_a_fault_and_follows_whatever_comes():
    job, channel = changed(dead_input=None)
    assert any("Nothing is chosen for when TT-203 is dead" in text for text in said(job, channel, "fault"))
    rows = {row.name: row for row in dead_rows(job, channel)}
    assert "as if that were so" in rows["lead open"].says


@pytest.mark.parametrize(
    ("policy", "held", "value", "words"),
    [
        ("high", None, 1200.0, "goes to the high end: 1200 °C, 20 mA"),
        ("low", None, 0.0, "goes to the low end of its range: 0 °C, 4 mA"),
        ("held", 300.0, 300.0, "goes to a stated value: 300 °C, 8 mA"),
        ("last good", None, None, "keeps the last good value"),
    ],
)
def test_each_policy_does_what_it_says_on_an_open_lead(policy, held, value, words):
    job, channel = changed(dead_input=policy, held_at=held)
    row = next(row for row in dead_rows(job, channel) if row.name == "lead open")
    assert row.is_noticed
    assert (row.value, words in row.says) == (value, True)


def test_a_short_that_reads_like_a_temperature_goes_unnoticed():
    row = next(row for row in dead_rows(JOB, JOB.tagged("TY-213")) if row.name == "leads shorted")
    assert not row.is_noticed
    assert row.value == pytest.approx(32, abs=1)  # the cold junction alone


def test_a_stated_fault_rule_silences_the_question_of_it():
    source = JOB.tagged("TT-203")
    job = change_channel(JOB, source.with_(fault_rule=FaultRule(low=0.05, high=4.95, stated=True)))
    assert not any("is not stated" in text for text in said(job, job.tagged("TY-213"), "look"))


def with_alarms(*rows, **changes):
    source = JOB.tagged("TT-203")
    job = change_channel(JOB, source.with_(alarms=(Alarm(kind="low", limit=50.0), Alarm(kind="high", limit=900.0))))
    return changed(job, conditions=tuple(OutputCondition(channel=c, when=w, value=v) for c, w, v in rows), **changes)


def test_two_conditions_that_write_one_output_are_named():
    job, channel = with_alarms(("tt-203", "high", 1200.0), ("ps-211", "open", 0.0), follows="", dead_input=None)
    (clash,) = clashes(job, channel)
    assert clash.says == (
        "While the high alarm of TT-203 stands and PS-211 is open, it is written 1200 °C and 0 °C."
    )  # fmt: skip
    assert any(clash.says in text for text in said(job, channel, "fault"))
    settled = changed(job, first_holds=True)
    assert not said(*settled, "fault")
    assert any("1200 °C wins" in text for text in said(*settled, "pass"))


def test_conditions_that_exclude_each_other_or_agree_do_not_clash():
    assert not clashes(*with_alarms(("tt-203", "high", 1200.0), ("tt-203", "low", 0.0), follows=""))
    assert not clashes(*with_alarms(("tt-203", "high", 1200.0), ("ps-211", "open", 1200.0), follows=""))


def test_a_condition_writes_over_what_is_followed():
    (clash,) = clashes(*with_alarms(("tt-203", "high", 1200.0)))
    assert "and what TT-203 is" in clash.says


def test_a_condition_that_never_holds_is_a_fault():
    job, channel = with_alarms(("te-204", "high", 100.0), ("gone", "high", 100.0), ("tt-203", "open", 0.0), follows="")
    texts = " ".join(said(job, channel, "fault"))
    assert "TE-204 has no high alarm" in texts
    assert "the channel it looks at is gone" in texts
    assert "TT-203 is no contact" in texts


def test_an_alarm_that_a_break_keeps_away_is_told():
    job, channel = with_alarms(("tt-203", "high", 1200.0), follows="")
    assert any("its high alarm cannot come" in text for text in said(job, channel, "look"))


def test_a_taken_terminal_is_refused_and_one_that_two_hold_is_named():
    job = add_channel(JOB, new_output("second", "device-second", "TY-214"))
    second = job.tagged("TY-214")
    taken = output_offers(job, second)[0]
    with pytest.raises(NotApplicable, match="held by TY-213"):
        land_output(job, second, taken)
    job = change_channel(job, second.with_(landing=JOB.tagged("TY-213").landing))
    assert any("TY-214 is written to the same terminal" in text for text in said(job, job.tagged("TY-213"), "fault"))


def test_it_goes_off_its_terminal_and_progress_says_so():
    job = unland_output(JOB, JOB.tagged("TY-213"))
    channel = job.tagged("TY-213")
    assert output_landed(job, channel) is None
    steps = {step.step: step for step in progress_of(job, channel)}
    assert steps["wire"].says == "not landed on a terminal yet"
    assert steps["gather"].state == "none"


def test_progress_follows_the_channel_that_it_hears():
    """What is reckoned of an output is reckoned anew when what it follows changes."""
    before = {step.step: step.says for step in progress_of(JOB, JOB.tagged("TY-213"))}
    source = JOB.tagged("TT-203")
    job = change_channel(JOB, source.with_(fault_rule=FaultRule(low=0.05, high=4.95, stated=True)))
    steps = {step.step: step for step in progress_of(job, job.tagged("TY-213"))}
    looks = len(said(job, job.tagged("TY-213"), "look"))
    assert steps["wire"].says.endswith(f"{looks} to look at")
    assert before["wire"] != steps["wire"].says
