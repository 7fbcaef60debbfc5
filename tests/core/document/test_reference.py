"""A converter whose reference was measured off nominal: true signals, believed signals, and the packing between."""

from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.describe.edits import with_rated_pair
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.forms.spec import FORM_NAMES
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.in_force import believed, packed_curve, shown_of
from able_yardstick.core.job.job import Job
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.results.basis import stale_pack
from able_yardstick.core.results.choices import keep_packing
from able_yardstick.core.state.scales import axis_of, pin_for, scales_of
from able_yardstick.core.units.conditions import Conditions
from able_yardstick.core.words.tolerance import Tolerance

EPOCH = datetime(2026, 11, 16, 12, tzinfo=UTC)
FACTORS = st.floats(0.9, 1.1)


def channel_with(measured_v, form="slope", **fields):
    """0 to 100 kPa over 0.5 to 4.5 V, absolute, on a 5 V converter measured at `measured_v`."""
    channel = with_rated_pair(new_continuous("c", "d", "T"))
    rating = channel.transducer.rating.with_(signals=(0.5, 4.5))
    converter = channel.path.converter.with_(reference_measured_v=measured_v, **fields)
    return channel.with_(
        transducer=channel.transducer.with_(rating=rating),
        path=channel.path.with_(converter=converter),
        pack_spec=channel.pack_spec.with_(
            form=form, decimals=9, knots=5, value_step=0.001 if form == "ratio" else None
        ),
        tolerance=Tolerance(constant=1.0),
    )


@pytest.mark.parametrize("form", FORM_NAMES)
@given(factor=FACTORS, share=st.floats(0.15, 0.85))
def test_what_the_controller_shows_is_right_though_its_volts_are_not(form, factor, share):
    channel = channel_with(5 * factor, form)
    job = add_channel(Job(id="j"), channel)
    pin = 0.5 + share * 4
    shown = float(shown_of(packed_now(job, channel).form, channel, np.array([pin]))[0])
    one_count = 25 * 5 * factor / 4095
    assert shown == pytest.approx(float(nominal_curve(channel).value(pin)), abs=one_count)
    controllers_volts = float(channel.path.converter.nominal.inverse(channel.path.converter.count_of(pin)))
    assert controllers_volts == pytest.approx(pin / factor, abs=5 / 4095)


@given(factor=FACTORS)
def test_believed_and_true_curves_are_each_others_stretch(factor):
    channel = channel_with(5 * factor)
    curve = nominal_curve(channel)
    there = believed(channel, curve)
    pins = np.linspace(0.5, 4.5, 7)
    assert there.value(pins / factor) == pytest.approx(curve.value(pins), abs=1e-9)
    job = add_channel(Job(id="j"), channel)
    form = packed_now(job, channel).form
    assert packed_curve(form, channel).value(pins) == pytest.approx(curve.value(pins), abs=0.01)


def test_the_rule_stands_on_true_volts_and_its_counts_and_numbers_follow():
    channel = channel_with(5.1)
    job = keep_packing(add_channel(Job(id="j"), channel), "c", EPOCH)
    scales = scales_of(job, job.continuous("c"))
    assert axis_of(channel) == pytest.approx((0.0, 5.1))
    pin = pin_for(scales, "counts", 2048, 2.5)
    assert pin == pytest.approx(2048 / 4095 * 5.1)
    at = {scale.key: float(scale.of_pin(np.array([pin]))[0]) for scale in scales}
    assert at["counts"] == 2048
    assert at["shown"] == pytest.approx(at["quantity"], abs=1e-6)


def test_a_shared_reference_needs_no_second_measurement():
    part = {"output": "ratiometric voltage"}
    apart = channel_with(5.0)
    apart = apart.with_(transducer=apart.transducer.with_(**part), conditions=Conditions(supply_v=4.8))
    shared = channel_with(4.8, shares_supply=True)
    shared = shared.with_(transducer=shared.transducer.with_(**part))
    assert shared.around.supply_v == pytest.approx(4.8)
    for channel in (apart, shared):
        assert float(nominal_curve(channel).value(2.5 * 0.96)) == pytest.approx(50.0)
    assert int(shared.path.converter.count_of(2.5 * 0.96)) == int(channel_with(None).path.converter.count_of(2.5))


def test_another_reference_makes_a_kept_packing_out_of_date():
    job = keep_packing(add_channel(Job(id="j"), channel_with(None)), "c", EPOCH)
    assert stale_pack(job, job.continuous("c")) == ()
    moved = change_channel(job, channel_with(5.1))
    assert stale_pack(moved, moved.continuous("c")) == ("the converter changed",)
