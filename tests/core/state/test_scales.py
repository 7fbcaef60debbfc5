"""The Rule's scales: one place read on all, and back."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.job.job import Job
from able_yardstick.core.state.scales import contact_scales, fault_zones, pin_for, scales_of, signals_of
from able_yardstick.core.words.errors import OutOfRange
from able_yardstick.demo import demo_text

DEMO = Job.model_validate_json(demo_text())
TAGS = ["PT-201", "PT-202", "TT-203", "TE-204", "TE-205", "WT-206", "AT-208", "FT-210"]


def scales(tag):
    return scales_of(DEMO, DEMO.continuous(DEMO.tagged(tag).id))


@pytest.mark.parametrize("tag", TAGS)
@given(share=st.floats(0.01, 0.99))
def test_a_value_read_on_any_scale_leads_back_to_where_it_was_read(tag, share):
    for scale in scales(tag):
        low, high = scale.usable
        pin = low + share * (high - low)
        back = pin_for(scales(tag), scale.key, float(scale.grade(np.array([pin]))[0]), pin)
        assert back == pytest.approx(pin, abs=1e-9 * (high - low))


def test_neighbours_that_are_the_same_are_folded_into_one():
    assert [scale.key for scale in scales("PT-201")] == ["quantity", "pin", "counts", "shown"]
    assert [scale.key for scale in scales("PT-202")] == ["quantity", "output", "pin", "counts", "shown"]


def test_the_controllers_number_is_that_of_the_whole_count():
    shown = next(scale for scale in scales("PT-201") if scale.key == "shown")
    step = 5 / 4095
    assert shown.of_pin(np.array([1000 * step]))[0] == shown.of_pin(np.array([1000.4 * step]))[0]


def test_what_is_out_of_range_says_what_it_would_need():
    with pytest.raises(OutOfRange) as refusal:
        pin_for(scales("PT-201"), "counts", 5000, 2.5)
    assert str(refusal.value) == (
        "5\u2009000 counts would need 6.105 V, but the pin takes 0.000 to 5.000 V. Enter 0 to 4\u2009095 counts."
    )
    with pytest.raises(OutOfRange, match=r"30\.000 % O2 would need .* but the pin takes"):
        pin_for(scales("AT-208"), "quantity", 30, 2.5)


def test_a_scale_that_turns_says_so_and_keeps_to_one_side():
    import datetime

    from able_yardstick.core.job.channels import add_channel, new_continuous
    from able_yardstick.core.job.entries import capture
    from able_yardstick.core.journal.reading import Raw, Reading
    from able_yardstick.core.results.choices import use_curve

    job = add_channel(Job(id="j"), new_continuous("c", "d", "T"))
    noon = datetime.datetime(2026, 1, 1, tzinfo=datetime.UTC)
    readings = [
        Reading(
            id=str(n), channel="c", captured=noon, reference=-((v - 4.2) ** 2), reference_unit="kPa", raw=Raw(mean=v)
        )
        for n, v in enumerate(np.linspace(0, 4, 9))
    ]
    job = use_curve(capture(job, readings), "c", "poly2", noon)
    quantity = scales_of(job, job.continuous("c"))[0]
    assert quantity.usable == pytest.approx((0.0, 4.2))
    assert quantity.note == "it turns at 4.200 V"
    assert not quantity.reads(4.5)


def test_graduations_stand_where_their_values_are():
    quantity = scales("AT-208")[0]
    values = np.array([0.5, 5.0, 13.0, 20.0])
    assert quantity.of_pin(signals_of(quantity)(values)) == pytest.approx(values, abs=1e-3)


@pytest.mark.parametrize(
    ("tag", "scales"),
    [
        ("PT-201", ["quantity kPa", "pin V", "counts counts", "shown kPa"]),
        ("PT-202", ["quantity Pa", "output mA", "pin V", "counts counts", "shown Pa"]),
        ("TT-203", ["quantity °C", "output mV", "pin V", "counts counts"]),
        ("TE-204", ["quantity °C", "pin Ω", "counts counts"]),
        ("TE-205", ["quantity °C", "output Ω", "pin V", "counts counts"]),
        ("WT-206", ["quantity kg", "output mV/V", "node 1 mV", "pin V", "counts counts"]),
        ("IT-207", ["quantity A", "pin V", "counts counts"]),
        ("AT-208", ["quantity % O2", "pin V", "counts counts", "shown % O2"]),
        ("FT-210", ["quantity m³/h", "pin Hz", "counts counts"]),
    ],
)
def test_every_channel_of_the_demo_has_the_scales_worth_seeing(demo_job, tag, scales):
    found = scales_of(demo_job, demo_job.tagged(tag))
    assert [f"{scale.key} {scale.unit}" for scale in found] == scales
    pin = next(scale for scale in found if scale.key == "pin")
    middle = sum(pin.usable) / 2.5
    for scale in found:
        if scale.key in ("counts", "shown") or not scale.reads(middle):
            continue
        value = float(scale.of_pin(np.array([middle]))[0])
        assert pin_for(found, scale.key, value, middle) == pytest.approx(middle, rel=1e-6)


def test_a_contact_is_read_by_state_contact_pin_and_count(demo_job):
    found = {scale.key: scale for scale in contact_scales(demo_job, demo_job.tagged("PS-211"))}
    assert list(found) == ["state", "output", "pin", "counts"]
    assert [found["state"].text(pin) for pin in (0.2, 1.8, 3.0)] == ["gas low", "as it was", "gas present"]
    assert float(found["output"].of_pin(np.array([3.5644]))[0]) == pytest.approx(24.0, rel=1e-3)


def test_only_a_wire_fault_reads_where_the_transducer_cannot_go(demo_job):
    assert fault_zones(demo_job.tagged("PT-201")) == ((0.0, 0.25), (4.75, 5.0))
    low = fault_zones(demo_job.tagged("PT-202"))
    assert low == ((0.0, pytest.approx(0.9, abs=1e-3)),)
    assert fault_zones(demo_job.tagged("AT-208")) == ()


def test_a_scale_ends_where_the_law_of_its_curve_does(demo_job):
    bearing = {scale.key: scale for scale in scales_of(demo_job, demo_job.tagged("TE-205"))}
    ends = bearing["quantity"].grade(np.array(bearing["quantity"].usable))
    assert ends.tolist() == [pytest.approx(200, abs=0.1), pytest.approx(-60, abs=0.1)]
    assert bearing["quantity"].note == "curve ends"
    assert not bearing["quantity"].reads(4.999)
