"""What is reckoned once and kept: it is never that of another record, and is reckoned anew when something changed."""

from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.job.channels import add_channel, change_channel
from able_yardstick.core.job.nodes import range_pins
from able_yardstick.core.sensor.rating import TwoPoints
from able_yardstick.core.stages import Amplifier
from able_yardstick.core.wire.checks import findings_of
from able_yardstick.core.wire.edits import add_controller


def texts(job, tag):
    return [finding.text for finding in findings_of(job, job.tagged(tag))]


def test_a_curve_is_reckoned_once_for_a_record_and_anew_for_its_successor(demo_job):
    channel = demo_job.tagged("PT-201")
    assert nominal_curve(channel) is nominal_curve(channel)
    rating = TwoPoints(signals=(0.5, 4.5), values=(0, 500))
    other = channel.with_(transducer=channel.transducer.with_(rating=rating))
    assert float(nominal_curve(other).value(2.5)) == 250
    assert float(nominal_curve(channel).value(2.5)) == 125
    assert range_pins(other) != range_pins(channel)


def test_what_is_kept_is_no_part_of_the_record(demo_job):
    channel = demo_job.tagged("PT-201")
    before = channel.model_dump_json()
    findings_of(demo_job, channel)
    nominal_curve(channel)
    assert channel.model_dump_json() == before
    assert channel == type(channel).model_validate_json(before)


def test_findings_are_kept_while_another_channel_changes(demo_job):
    first = findings_of(demo_job, demo_job.tagged("PT-202"))
    fan = demo_job.tagged("IT-207")
    later = change_channel(demo_job, fan.with_(name="Another name"))
    again = findings_of(later, later.tagged("PT-202"))
    assert [one is other for one, other in zip(first, again, strict=True)] == [True] * len(first)


def test_findings_follow_the_controller_the_packing_and_the_mates(demo_job):
    before = texts(demo_job, "PT-202")
    kiln = demo_job.controllers[0]
    limited = kiln.with_(
        terminals=tuple(one.with_(supply_limit_ma=20.5) if one.supply_v == 24 else one for one in kiln.terminals)
    )
    after = texts(add_controller(demo_job, limited), "PT-202")
    assert any("Leads shorted" in text for text in before)
    assert not any("Leads shorted" in text for text in after)
    car = demo_job.tagged("WT-206")
    twin = car.with_(id="twin", tag="WT-299", landing=None)
    pair = add_channel(demo_job, twin)
    assert any("as WT-299 of the same device" in text for text in texts(pair, "WT-206"))
    stages = (twin.path.stages[0], Amplifier(stated_gain=300.0, high_v=12.0))
    apart = change_channel(pair, twin.with_(path=twin.path.with_(stages=stages)))
    assert any("They must agree" in text for text in texts(apart, "WT-206"))
