"""Each check with its own numbers: the fault it is there for is caught, and the sound channel passes it."""

import pytest

from able_yardstick.core.describe.edits import with_limits, with_output, with_rated_pair, with_rating, with_sheet_unit
from able_yardstick.core.document.channel import TwoStateChannel
from able_yardstick.core.document.controller import CHASSIS
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.path.converter import Converter
from able_yardstick.core.sensor.rating import Platinum, Root, TwoPoints
from able_yardstick.core.sensor.transducer import MeasuredZero
from able_yardstick.core.stages import (
    Amplifier,
    Clamp,
    ColdJunction,
    Divider,
    Excitation,
    Filter,
    Leads,
    PulsePullUp,
    Shunt,
)
from able_yardstick.core.wire.checks import CHECKS, findings_of
from able_yardstick.core.wire.edits import add_controller, land, with_stage_changed
from able_yardstick.core.words.tolerance import Tolerance
from able_yardstick.files.controllers import shipped

PIN = Converter(input_ohm=1e6, safe_low_v=-0.5, safe_high_v=6.0)
KILN = next(one for one in shipped() if one.id == "kiln-controller")


def loop(**fields):
    """A two-wire transmitter of 0 to 100 kPa over 250 Ω, its leads landed and named."""
    channel = with_output(new_continuous("c", "d", "T"), "current loop")
    channel = with_rated_pair(channel)
    channel = channel.with_(path=channel.path.with_(converter=PIN))
    return with_part(channel, supply_least_v=12.0, signal_low=3.6, signal_high=21.0, **fields)


def voltage(low=0.5, high=4.5, **fields):
    channel = new_continuous("c", "d", "T")
    rating = TwoPoints(signals=(low, high), values=(0, 100))
    channel = channel.with_(path=channel.path.with_(converter=PIN))
    return with_part(channel, rating=rating, **fields)


def with_part(channel, **fields):
    return channel.with_(transducer=channel.transducer.with_(**fields))


def with_stages(channel, *stages, **converter):
    path = channel.path
    return channel.with_(path=path.with_(stages=stages, converter=path.converter.with_(**converter)))


def landed(channel, terminal="X4:3", colours=True, **landing):
    job = Job.new("j", controllers=(KILN,))
    job = land(add_channel(job, channel), channel.id, KILN.id, terminal)
    now = job.channel(channel.id)
    leads = tuple(lead.with_(colour="red" if colours else "") for lead in now.landing.leads)
    return change_channel(job, now.with_(landing=now.landing.with_(leads=leads, **landing)))


def job_of(channel):
    return add_channel(Job(id="j"), channel)


def said(job, check, tag="T"):
    """Level and whole text of what a check says."""
    return [(one.level, one.text) for one in findings_of(job, job.tagged(tag)) if one.check == check]


def test_the_pin_survives_full_range_or_is_said_not_to():
    assert said(job_of(voltage()), "pin limit") == [("pass", "At most 4.5 V on the pin in use; it survives 6 V.")]
    over = said(job_of(voltage(0, 10)), "pin limit")
    assert over[0] == (
        "fault", "10 V at the upper range value; the pin survives 6 V. Divide the signal, or add a clamp.",
    )  # fmt: skip


def test_the_pin_is_reckoned_at_the_overload_too_unless_the_output_ends_before():
    assert said(job_of(voltage(overload=150)), "pin limit")[0] == (
        "fault", "6.5 V at the overload of 150 kPa; the pin survives 6 V. Divide the signal, or add a clamp.",
    )  # fmt: skip
    assert said(job_of(voltage(overload=150, signal_high=4.75)), "pin limit")[0][0] == "pass"


def test_an_open_shunt_puts_the_loop_supply_on_the_pin_and_shorted_leads_put_it_across_the_shunt():
    job = landed(loop(), lead_ohm=3.0)
    texts = [text for level, text in said(job, "breaks") if level == "fault"]
    assert texts[0].startswith(
        "Leads shorted: 23.71 V on a pin that survives 6 V. 2.25 W in a shunt of 0.25 W."
    )  # 24 V over 253 Ω is 94.9 mA, over 249.94 Ω with the input beside it
    assert texts[1].startswith("Shunt open: 24 V on a pin that survives 6 V.")


def test_a_supply_that_limits_its_current_and_a_clamp_are_reckoned_in():
    limited = KILN.with_(
        terminals=tuple(one.with_(supply_limit_ma=22.0) if one.supply_v == 24.0 else one for one in KILN.terminals)
    )
    job = add_controller(landed(loop()), limited)
    assert not any("Leads shorted" in text for _, text in said(job, "breaks"))
    channel = job.channel("c")
    clamped = with_stages(channel, Shunt(), Clamp(high_v=5.6))
    job = change_channel(job, clamped)
    assert said(job, "breaks") == [
        ("pass", "No single break puts more than 6 V on the pin, held by the clamp at 5.6 V.")
    ]  # fmt: skip


def test_an_open_secondary_is_dangerous():
    channel = with_rating(new_continuous("c", "d", "T"), "turns")
    texts = said(job_of(with_stages(channel, Shunt(resistance_ohm=50), safe_high_v=6.0)), "breaks")
    assert any(level == "fault" and "live transformer is dangerous" in text for level, text in texts)


@pytest.mark.parametrize(
    ("channel", "words"),
    [
        (voltage(0, 8), "The upper range value makes 8 V; the converter ends at 5 V."),
        (voltage(-1, 4), "the converter ends at 0 V. Below 19.98 kPa nothing more is read"),
        (voltage(0.1, 4.9, signal_high=4.75), "The upper range value needs 4.9 V, beyond what the transducer can"),
        (
            with_stages(
                with_rating(new_continuous("c", "d", "T"), "sensitivity"),
                Excitation(voltage_v=10.0), Amplifier(stated_gain=400.0), high=10.0,
            ),
            "At the upper range value the amplifier would have to give 8 V; it ends at 5 V.",
        ),
    ],
)  # fmt: skip
def test_clipping_anywhere_in_the_chain_is_found(channel, words):
    found = said(job_of(channel), "clipping")
    assert found[0][0] == "fault"
    assert words in found[0][1]


def test_a_chain_with_room_is_not_clipped():
    assert said(job_of(voltage()), "clipping") == [("pass", "Nothing in the chain is clipped over the range.")]


def test_less_than_a_quarter_of_the_converter_is_wasteful():
    found = said(job_of(voltage(0, 1)), "span used")
    assert found == [
        ("look", "The range uses 0 V to 1 V, 20% of the converter's span: below 25%. "
                 "A gain of up to 5 would use all of it; or take a narrower input.")
    ]  # fmt: skip
    assert said(job_of(voltage()), "span used")[0][0] == "pass"


def test_one_count_is_set_against_the_resolution_wanted():
    step = 100 / 4 * 5 / 4095  # kPa per volt times volts per count
    coarse = said(job_of(voltage().with_(wanted_resolution=0.02)), "resolution")[0]
    assert coarse[0] == "look"
    assert f"{step:.3g} kPa, coarser than the 0.02 kPa wanted" in coarse[1]
    assert said(job_of(voltage().with_(wanted_resolution=0.05)), "resolution")[0][0] == "pass"


def test_a_counting_window_is_coarser_than_its_counts():
    channel = with_rating(new_continuous("c", "d", "T"), "pulses")
    channel = with_stages(channel, bits=16, full_count=65535, window_s=0.2)
    text = said(job_of(channel.with_(wanted_resolution=0.1)), "resolution")[0]
    assert text == ("look", "One step (one pulse in a window of 0.2 s) is at most 0.5 kPa, coarser than the 0.1 kPa "
                            "wanted. Count over a longer window.")  # fmt: skip


def test_no_headroom_hides_a_transmitter_that_fails_high():
    found = said(job_of(loop()), "headroom")[0]
    assert found[0] == "look"
    assert "a transducer that fails high, at 21 mA, goes unseen" in found[1]
    assert "205 Ω would see up to 24.4 mA." in found[1]
    assert said(job_of(with_stages(loop(), Shunt(resistance_ohm=205))), "headroom")[0][0] == "pass"


def test_a_shunt_too_small_loses_the_live_zero():
    assert said(job_of(loop()), "live zero")[0][0] == "pass"
    lost = said(job_of(with_stages(loop(), Shunt(resistance_ohm=50))), "live zero")[0]
    assert lost[0] == "look"
    assert "4 mA makes 0.2 V, 4.0% of the pin's span: too near 0" in lost[1]
    dead = with_part(loop(), rating=TwoPoints(signals=(0, 20), values=(0, 100)), signal_low=None)
    assert "a broken loop reads like the lower range value" in said(job_of(dead), "live zero")[0][1]


def test_a_shunt_beyond_its_rating_burns():
    assert said(job_of(loop()), "heat")[0] == ("pass", "At 20 mA the shunt takes 0.1 W of its 0.25 W.")
    assert said(job_of(with_stages(loop(), Shunt(rating_w=0.125))), "heat")[0][0] == "look"
    assert said(job_of(with_stages(loop(), Shunt(rating_w=0.0625))), "heat")[0][0] == "fault"


def test_the_loop_must_leave_the_transmitter_its_voltage():
    assert said(landed(loop(), lead_ohm=3.0), "loop supply")[0] == (
        "pass", "18.7 V left for the transmitter at 21 mA (24 V less 250 Ω and 3 Ω of leads); it needs 12 V.",
    )  # fmt: skip
    starved = said(landed(loop(), lead_ohm=500.0), "loop supply")[0]
    assert starved[0] == "fault"
    assert starved[1].startswith("8.25 V left")


def test_an_open_collector_without_a_pull_up_never_rises():
    channel = with_rating(new_continuous("c", "d", "T"), "pulses")
    channel = with_part(channel, open_collector=True)
    level, text = said(job_of(channel), "pull-up")[0]
    assert level == "fault"
    assert "the line stays flat and no pulse is counted. Add a pull-up of 4.7 kΩ" in text
    counted = channel.with_(path=channel.path.with_(converter=KILN.terminal("X6:1").kinds[0].converter))
    assert "The terminal can switch in 4.7 kΩ" in said(landed(counted, "X6:1"), "pull-up")[0][1]
    pulled = with_stages(channel, PulsePullUp(resistance_ohm=4700, supply_v=5))
    assert said(job_of(pulled), "pull-up")[0] == (
        "pass", "Pulled up by 4.7 kΩ to 5 V: the collector sinks 1 mA."
    )  # fmt: skip


def test_a_return_on_chassis_shifts_the_signal():
    level, text = said(landed(voltage(), return_to=CHASSIS), "return")[0]
    assert level == "fault"
    assert "up to 50 mV, 1.25 kPa either way" in text
    assert "Land it on X4:5" in text
    assert said(landed(voltage()), "return")[0] == ("pass", "Return goes to signal ground at X4:5.")
    assert said(landed(voltage(), return_to=""), "return")[0][0] == "look"


def test_a_ratiometric_output_wants_the_supply_it_is_rated_at():
    channel = with_part(voltage(), output="ratiometric voltage")
    assert "1 % of supply is 1 kPa at the top" in said(job_of(channel), "supply")[0][1]
    shared = with_stages(channel, shares_supply=True)
    assert said(job_of(shared), "supply")[0][0] == "pass"
    wrong = said(landed(channel, supply="X4:10"), "supply")[0]
    assert wrong == ("fault", "The output is rated at 5 V but the terminal supplies 24 V. Take the supply it is "
                              "rated at.")  # fmt: skip
    measured = channel.with_(conditions=channel.conditions.with_(supply_v=4.95))
    assert "Supply measured at 4.95 V, −1.00 % off nominal" in said(job_of(measured), "supply")[0][1]


def test_a_supply_outside_what_the_transducer_takes_is_a_fault():
    assert said(landed(voltage(supply_least_v=9.0), supply="X4:1"), "supply")[0][0] == "fault"
    assert "survives 15 V" in said(landed(voltage(supply_most_v=15.0), supply="X4:10"), "supply")[0][1]


def test_a_reference_off_nominal_is_priced_at_the_top():
    channel = with_stages(voltage(0, 5), reference_measured_v=5.05)
    level, text = said(job_of(channel), "reference")[0]
    assert level == "look"
    assert "+1.00 % off nominal: 0.99 kPa at the top if it were not reckoned with" in text
    shared = with_part(with_stages(channel, shares_supply=True), output="ratiometric voltage")
    assert said(job_of(shared), "reference")[0][0] == "pass"


def thermometer(kind="platinum", **fields):
    channel = with_rating(new_continuous("c", "d", "T"), kind)
    return channel.with_(tolerance=Tolerance(constant=0.5), **fields)


def test_a_thermometer_that_its_own_current_warms():
    hot = with_part(thermometer("thermistor"), dissipation_mw_k=1.0)
    level, text = said(job_of(hot), "self-heating")[0]
    assert level == "look"
    assert "0.625 mW over 1 mW/K warms the sensor by 0.62 K" in text
    cool = with_part(hot, dissipation_mw_k=50.0)
    assert said(job_of(cool), "self-heating")[0][0] == "pass"
    assert "Type its dissipation constant" in said(job_of(thermometer("thermistor")), "self-heating")[0][1]


@pytest.mark.parametrize(
    ("leads", "level", "words"),
    [
        (Leads(wires=2, wire_ohm=0.5), "look", "read 2.56 °C too much"),
        (Leads(wires=3, mismatch_ohm=0.1), "look", "their mismatch of 0.1 Ω is ±0.26 °C"),
        (Leads(wires=3, mismatch_ohm=0.01), "pass", "±0.026 °C"),
        (Leads(wires=4), "pass", "Four wires: the leads do not enter."),
    ],
)
def test_leads_of_a_resistance_thermometer_are_priced(leads, level, words):
    found = said(job_of(with_stages(thermometer(), leads)), "leads")[0]
    assert found[0] == level
    assert words in found[1]


def test_a_cold_junction_is_there_of_the_right_type_and_compensated():
    channel = thermometer("thermocouple")
    assert said(job_of(channel), "cold junction")[0][0] == "pass"
    amplifier = channel.path.stages[1]
    wrong = with_stages(channel, ColdJunction(letter="J"), amplifier)
    assert "type K, the compensation of type J. Set both to type K." in said(job_of(wrong), "cold junction")[0][1]
    bare = with_stages(channel, ColdJunction(compensated=False), amplifier)
    assert said(job_of(bare), "cold junction")[0][0] == "look"
    none = with_stages(channel, amplifier)
    assert said(job_of(none), "cold junction")[0][0] == "fault"


def test_polarity_that_matters_wants_its_colours_noted():
    assert said(landed(loop(), colours=False), "polarity")[0] == (
        "look", "Polarity matters, and loop +, loop − has no colour noted. Note the colours before the wires are "
        "covered.",
    )  # fmt: skip
    assert said(landed(loop()), "polarity")[0][0] == "pass"
    assert said(landed(loop(polarity_matters=False), colours=False), "polarity")[0][0] == "pass"


def test_two_gains_of_one_device_must_agree():
    first = with_rating(new_continuous("c", "device", "T"), "sensitivity")
    second = first.with_(id="e", tag="U")
    job = add_channel(job_of(first), second)
    assert said(job, "gains") == [("pass", "Amplified × 400, as U of the same device.")]
    other = with_stages(second, second.path.stages[0], Amplifier(stated_gain=402.0))
    job = change_channel(job, other)
    assert said(job, "gains") == [
        ("fault", "T is amplified × 400, U of the same device × 402. They must agree: correct one of them.")
    ]  # fmt: skip


def test_limits_of_the_controller_that_are_swapped_or_of_another_range():
    assert said(job_of(loop().with_(controller_range=(0, 100))), "controller range")[0][0] == "pass"
    swapped = said(job_of(loop().with_(controller_range=(100, 0))), "limits swapped")[0]
    assert swapped[0] == "fault"
    assert "it would count backwards. Swap the two." in swapped[1]
    other = said(job_of(loop().with_(controller_range=(0, 160))), "controller range")[0]
    assert "at 50 kPa it would show 80 kPa" in other[1]


def test_gauge_and_absolute_are_not_mixed():
    channel = loop().with_(controller_range=(0, 100), controller_unit="kPa(a)")
    channel = with_part(channel, quantity="gauge pressure")
    level, text = said(job_of(channel), "gauge and absolute")[0]
    assert level == "fault"
    assert "they differ by the barometer, about 101.325 kPa" in text


def test_what_to_expect_at_rest_depends_on_gauge_or_absolute():
    gauge = with_part(voltage(), quantity="gauge pressure")
    assert said(job_of(gauge), "at rest")[0] == (
        "pass", "Open to the air expect 0 kPa (0, as it measures against the air): 0.5 V at the pin.",
    )  # fmt: skip
    absolute = with_sheet_unit(with_part(voltage(), quantity="absolute pressure"), "kPa(a)")
    assert said(job_of(absolute), "at rest")[0][0] == "look"


def test_the_root_is_taken_by_exactly_one():
    channel = with_rating(new_continuous("c", "d", "T"), "root")
    assert said(job_of(channel), "root")[0][0] == "look"
    knots = channel.with_(pack_spec=channel.pack_spec.with_(form="knots"))
    assert said(job_of(knots), "root")[0][0] == "pass"
    nobody = with_part(channel, rating=Root(taken="not yet", zero_signal=0, top_signal=5))
    assert "half the signal would show half the flow instead of 71 %" in said(job_of(nobody), "root")[0][1]


def test_a_cell_in_the_gas_measures_it_wet():
    channel = with_rating(new_continuous("c", "d", "T"), "zirconia")
    assert said(job_of(channel), "basis")[0][0] == "look"
    wet = channel.with_(fuel=channel.fuel.with_(basis="wet"))
    assert said(job_of(wet), "basis") == [("pass", "Measured and stated in wet gas.")]


def test_which_mean_of_an_alternating_current_is_said():
    channel = with_rating(new_continuous("c", "d", "T"), "turns")
    assert said(job_of(channel), "mean")[0][0] == "look"
    stated = with_part(channel, responds_to="true root-mean-square")
    assert said(job_of(stated), "mean")[0] == ("pass", "It gives the true root-mean-square value.")


def test_a_class_that_does_not_hold_and_borrowed_figures_are_said():
    wide = with_part(thermometer(), range_high=400, rating=Platinum(tolerance_class="AA"))
    assert said(job_of(wide), "class")[0][0] == "look"
    assert said(job_of(with_part(wide, source="similar part")), "source")[0] == (
        "look", "The rated figures are of a similar part. Gather readings before trusting them.",
    )  # fmt: skip


def test_a_filter_says_what_it_hides():
    found = said(job_of(with_stages(voltage(), Filter(time_constant_s=0.5, delay_s=1))), "filter")
    assert found == [("pass", "Settled 3.5 s after a step; what is faster than 0.318 Hz is hidden.")]


def test_what_the_controller_makes_of_a_terminal_is_said():
    texts = " ".join(text for _, text in said(landed(voltage(), "X4:9", enabled=False), "terminal"))
    assert "is not enabled yet" in texts
    assert "may be watched, not used for control" in texts
    assert "The controller calls X4:9 “fuel level”" in texts
    assert said(job_of(voltage()), "terminal") == [
        ("look", "Not landed on a terminal yet. Choose a free one below.")
    ]  # fmt: skip


def test_a_contact_is_checked_for_margin_pull_up_and_break():
    contact = TwoStateChannel(id="s", device="d", tag="T", threshold=2.5, dead_band=1.0, needs_pull_up=True)
    job = job_of(contact)
    assert said(job, "threshold")[0] == (
        "pass", "Closed 0 V, open 5 V; the state changes at 2 V and 3 V: 2 V to spare."
    )  # fmt: skip
    assert said(job, "pull-up")[0][0] == "fault"
    assert said(job, "breaks")[0][0] == "look", "an open lead reads like a closed contact while nothing pulls it up"
    pulled = change_channel(job, contact.with_(pull_up=PulsePullUp()))
    assert said(pulled, "pull-up")[0] == ("pass", "Pulled up by 4.7 kΩ to 5 V.")
    assert said(pulled, "breaks")[0] == ("pass", "An open lead reads 5 V: “open”.")
    line = contact.with_(path=contact.path.with_(stages=(Divider(top_ohm=68e3, bottom_ohm=12e3),), converter=PIN),
                         closed_level=24.0, open_level=0.0, threshold=1.8)  # fmt: skip
    assert said(job_of(line), "pin limit")[0][0] == "pass"
    assert said(job_of(line.with_(closed_level=48.0)), "pin limit")[0][0] == "fault"


def test_a_description_that_cannot_be_reckoned_is_the_one_fault():
    channel = thermometer("thermocouple")
    broken = channel.with_(unit="kPa")
    found = findings_of(job_of(broken), broken)
    assert [one.level for one in found] == ["fault"]
    assert "they measure different things" in found[0].says


def test_every_check_speaks_of_some_channel_of_the_demo_or_of_these(demo_job):
    spoken = {one.check for channel in demo_job.channels if channel.has_pin for one in findings_of(demo_job, channel)}
    assert {"pin limit", "breaks", "clipping", "headroom", "return", "source", "cold junction", "leads"} <= spoken
    assert len(CHECKS) == 30


def test_a_bridge_is_described_and_wired_with_one_supply(demo_job):
    channel = demo_job.tagged("WT-206")
    at = next(n for n, stage in enumerate(channel.path.stages) if isinstance(stage, Excitation))
    assert with_limits(channel, {"supply_v": 5.0}).path.stages[at].voltage_v == 5.0
    assert with_stage_changed(channel, at, {"voltage_v": 12.0}).transducer.supply_v == 12.0
    assert not [one for one in findings_of(demo_job, channel) if one.check == "supply" and one.level != "pass"]
    apart = channel.with_(transducer=channel.transducer.with_(supply_v=5.0))
    found = next(one for one in findings_of(change_channel(demo_job, apart), apart) if one.check == "supply")
    assert found.text.startswith("Described with 5 V of supply, wired to 10 V of excitation")


def test_a_zero_measured_at_another_supply_reads_nothing_there(demo_job):
    """0.55 V at 5.2 V of supply is 0 kPa at 5.2 V, and the slope is that of 5.2 V: it is not scaled a second time."""
    channel = demo_job.tagged("PT-201")
    part = channel.transducer.with_(measured_zero=MeasuredZero(signal=0.55))
    path = channel.path.with_(converter=channel.path.converter.with_(shares_supply=False))
    supplied = channel.with_(transducer=part, path=path, conditions=channel.conditions.with_(supply_v=5.2))
    curve = nominal_curve(supplied)
    assert float(curve.value(0.55)) == pytest.approx(0.0, abs=1e-9)
    assert float(curve.slope(0.55)) == pytest.approx(250 / (4.0 * 5.2 / 5))


def test_what_an_open_lead_of_a_contact_reads_is_right_if_that_is_the_alarm(demo_job):
    channel = demo_job.tagged("PS-211")
    turned = channel.with_(closed_level=0.0, open_level=24.0)
    found = next(one for one in findings_of(change_channel(demo_job, turned), turned) if one.check == "breaks")
    assert found.level == "look"
    assert "That is right if “gas present” is the alarm. If “gas low” is" in found.text
