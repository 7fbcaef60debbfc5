"""One road: a raw value met anywhere, in any unit, is one true signal at the pin for every part of the program."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.channel import ContinuousChannel
from able_yardstick.core.gather.gathering import in_value
from able_yardstick.core.job.channels import add_channel, new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.job.nodes import pin_of_node, values_at
from able_yardstick.core.job.pins import counts_of, pins_of
from able_yardstick.core.journal.reading import Raw
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.path.node import COUNTS, Met
from able_yardstick.core.path.pin import raw_of_pin, true_pin
from able_yardstick.core.state.scales import pin_for, scales_of
from able_yardstick.core.wake.figures import figures_of
from able_yardstick.core.wake.nudge import nudge_of
from able_yardstick.core.words.errors import UnitMismatch

UNITS = {
    "V": ("V", "mV"),
    "mV": ("mV", "V"),
    "mA": ("mA", "A"),
    "Ω": ("Ω", "kΩ"),
    "mV/V": ("mV/V",),
    "Hz": ("Hz", "kHz"),
}


def off_nominal(channel):
    """The channel with its converter's reference measured 2 % low."""
    converter = channel.path.converter
    measured = converter.with_(reference_measured_v=0.98 * converter.reference_v)
    return channel.with_(path=channel.path.with_(converter=measured))


def cases(job):
    """Every wired channel of the demo, as it is and with a reference off nominal, met at every node in every unit."""
    for channel in job.channels:
        if isinstance(channel, ContinuousChannel):
            for one in (channel, off_nominal(channel)):
                path = one.path
                for unit in UNITS.get(path.pin_unit, (path.pin_unit,)):
                    yield one, Met("pin", unit)
                for unit in UNITS.get(path.source, (path.source,)):
                    yield one, Met("output", unit)
                yield one, COUNTS


def test_every_road_leads_to_the_same_signal(demo_job):
    seen = 0
    for channel, met in cases(demo_job):
        converter = channel.path.converter
        pins = converter.start + np.linspace(0.3, 0.6, 40) * (converter.end - converter.start)
        raw = raw_of_pin(channel.path, pins, met, channel.around)
        series = Series.of(np.arange(40) / 100, raw, met)
        again = pins_of(channel, series).values
        assert again == pytest.approx(pins, rel=1e-9), (channel.tag, met)
        typed = Raw(mean=float(raw[7]), node=met.node, unit=met.unit)
        assert typed.at_pin(channel.path, channel.around) == pytest.approx(pins[7], rel=1e-9)
        assert Raw.from_series(series).met == met
        assert counts_of(channel, series).values == pytest.approx(converter.forward(pins), rel=1e-9)
        assert figures_of(channel, series).level == pytest.approx(pins.mean(), rel=1e-9)
        assert nudge_of(channel, series, series, True).movement == pytest.approx(0.0, abs=0.4 * np.ptp(pins))
        value = in_value(channel, series).values[7]
        assert values_at(demo_job, channel, float(pins[7]))["quantity"] == pytest.approx(value, rel=1e-9)
        seen += 1
    assert seen > 50


def test_the_scales_of_the_rule_invert_the_same_road(demo_job):
    for channel in demo_job.channels:
        if not isinstance(channel, ContinuousChannel):
            continue
        job = add_channel(Job(id="j", document=demo_job.document.with_(channels=(), fits=())), off_nominal(channel))
        measured = job.continuous(channel.id)
        converter = measured.path.converter
        count = float(converter.full_count // 3)
        pin = float(true_pin(measured.path, count, COUNTS, measured.around))
        assert pin_for(scales_of(job, measured), "counts", count, pin) == pytest.approx(pin, rel=1e-9)
        assert pin_of_node(measured, "counts", count) == pytest.approx(pin, rel=1e-9)


def test_a_reference_off_nominal_reads_the_same_live_and_gathered():
    # 4.9 V measured of 5.0: count 2048 of 4095 stands for 2048 / 4095 × 4.9 V
    channel = new_continuous("c", "d", "T")
    converter = channel.path.converter.with_(reference_measured_v=4.9)
    channel = channel.with_(path=channel.path.with_(converter=converter))
    live = float(pins_of(channel, Series.of(np.zeros(1), np.array([2048.0]))).values[0])
    assert live == pytest.approx(2048 / 4095 * 4.9, rel=1e-12)
    assert Raw(mean=2048, node="counts", unit="counts").at_pin(channel.path) == live


def test_a_feed_met_at_the_pin_in_volts_is_not_taken_for_counts():
    channel = new_continuous("c", "d", "T")
    series = Series.of(np.arange(20) / 10, np.full(20, 2.5), Met("pin", "V"))
    assert pins_of(channel, series).values == pytest.approx(2.5)
    assert figures_of(channel, series).level == pytest.approx(2.5)
    with pytest.raises(UnitMismatch, match="is no unit of voltage"):
        pins_of(channel, series.scaled(series.values, Met("pin", "Hz")))


@given(st.floats(0.1, 4.9), st.sampled_from(["V", "mV"]), st.floats(0.9, 1.1))
def test_there_and_back_is_where_it_began(pin, unit, factor):
    channel = new_continuous("c", "d", "T")
    converter = channel.path.converter.with_(reference_measured_v=5.0 * factor)
    path = channel.path.with_(converter=converter)
    for met in (Met("pin", unit), Met("output", unit), COUNTS):
        assert float(true_pin(path, raw_of_pin(path, pin, met), met)) == pytest.approx(pin, rel=1e-12)
