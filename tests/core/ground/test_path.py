"""From transducer to count and back."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from able_yardstick.core.curves import Line
from able_yardstick.core.journal.reading import Raw
from able_yardstick.core.path.converter import Converter, Quantiser
from able_yardstick.core.path.signal_path import Path
from able_yardstick.core.sensor.rating import TwoPoints
from able_yardstick.core.sensor.transducer import Transducer
from able_yardstick.core.stages import Amplifier, Clamp, Divider, Excitation, Filter, GroundOffset, Leads, PullUp, Shunt
from able_yardstick.core.units.conditions import Conditions

ohms = st.floats(1, 1e6)


def test_a_loop_of_4_to_20_mA_over_250_ohm_puts_1_to_5_V_on_the_pin():
    path = Path(source="mA", stages=(Shunt(resistance_ohm=250),))
    assert path.pin(np.array([4.0, 12.0, 20.0])).tolist() == [1.0, 3.0, 5.0]
    assert path.converter.count_of(path.pin(np.array([4.0, 20.0]))).tolist() == [819, 4095]


def test_an_input_of_finite_resistance_loads_the_shunt():
    path = Path(source="mA", stages=(Shunt(resistance_ohm=250),), converter=Converter(input_ohm=250_000))
    assert float(path.pin(20.0)) == pytest.approx(0.020 * 250 * 250_000 / 250_250)


@given(ohms, ohms, st.floats(0.01, 100), ohms)
def test_a_path_gives_back_what_entered(shunt, top, output, bottom):
    path = Path(
        source="mA",
        stages=(Shunt(resistance_ohm=shunt), Divider(top_ohm=top, bottom_ohm=bottom)),
        converter=Converter(input_ohm=1e6),
    )
    assert float(path.output(path.pin(output))) == pytest.approx(output, rel=1e-9)


@given(st.floats(0, 5), st.sampled_from(["full count", "one above"]), st.sampled_from(["floor", "nearest"]))
def test_every_count_lies_in_the_interval_of_what_is_read_as_it(signal, top, rounding):
    converter = Converter(top=top, rounding=rounding)
    count = int(converter.count_of(signal))
    low, high = converter.quantiser.interval(count)
    assert low <= float(converter.forward(signal)) <= high
    assert 0 <= count <= 4095


def test_the_quantiser_holds_what_lies_beyond_its_counts():
    assert Quantiser(full_count=4095).whole(np.array([-3.0, 2047.5, 9999.0])).tolist() == [0, 2048, 4095]


def test_the_two_conventions_for_the_top_differ_by_one_count_there():
    converter = Converter()
    assert float(converter.inverse(4095)) == 5.0
    assert float(converter.other_top().inverse(4095)) == pytest.approx(5.0 * 4095 / 4096)


def test_kinds_that_do_not_meet_are_refused_with_the_cure():
    with pytest.raises(ValidationError, match="current arrives at the pin, but the converter takes voltage"):
        Path(source="mA")
    with pytest.raises(ValidationError, match="a shunt takes current, but voltage arrives there"):
        Path(source="V", stages=(Shunt(),))
    with pytest.raises(ValidationError, match="full count 5000 does not fit in 12 bits, which end at 4095"):
        Converter(full_count=5000)


def test_a_curve_seen_from_the_pin_is_the_curve_of_the_output():
    path = Path(source="mA", stages=(Shunt(resistance_ohm=250),))
    curve = Line.through((4.0, -150.0), (20.0, 150.0), (4.0, 20.0))
    at_pin = path.at_pin(curve)
    output = np.array([3.6, 4.0, 9.0, 20.5])
    assert at_pin.value(path.pin(output)) == pytest.approx(curve.value(output))
    assert at_pin.domain == pytest.approx((1.0, 5.0))


def test_a_ratiometric_output_stretches_with_its_supply():
    part = Transducer(
        output="ratiometric voltage", range_high=250, rating=TwoPoints(signals=(0.5, 4.5), values=(0, 250)), unit="kPa"
    )
    assert float(part.nominal().value(2.5)) == 125
    low_supply = part.nominal(Conditions(supply_v=4.9))
    assert float(low_supply.value(2.5 * 4.9 / 5)) == pytest.approx(125)


@pytest.mark.parametrize(
    ("raw", "pin"),
    [
        (Raw(mean=12.0, node="output", unit="mA"), 3.0),
        (Raw(mean=0.012, node="output", unit="A"), 3.0),
        (Raw(mean=3000.0, node="pin", unit="mV"), 3.0),
        (Raw(mean=2457.0, node="counts", unit="counts"), 3.0),
    ],
)
def test_a_raw_value_is_carried_to_the_pin_from_wherever_it_was_read(raw, pin):
    path = Path(source="mA", stages=(Shunt(resistance_ohm=250),))
    assert raw.at_pin(path) == pytest.approx(pin)


STRAIGHT = st.sampled_from([Divider(top_ohm=9100, bottom_ohm=1800), Filter(), GroundOffset(offset_v=0.03), Clamp()])
FIRST = {
    "mA": [Shunt(resistance_ohm=120)],
    "mV": [Amplifier(stated_gain=81.3, zero_v=0.4)],
    "mV/V": [Excitation(voltage_v=4.987), Amplifier(resistor="1k | 4k7")],
    "Ω": [Leads(wires=2, wire_ohm=1.1), PullUp(resistance_ohm=4700, supply_v=4.93)],
    "V": [],
}


@st.composite
def rows_of_stages(draw):
    """A path whose stages fit one another, from any kind of output to a voltage at the pin."""
    source = draw(st.sampled_from(sorted(FIRST)))
    more = draw(st.lists(STRAIGHT, max_size=4))
    converter = Converter(input_ohm=draw(st.sampled_from([None, 1e5, 1e7])), low=-20.0, high=20.0, bits=16,
                          full_count=65535)  # fmt: skip
    return Path(source=source, stages=(*FIRST[source], *more), converter=converter)


@given(path=rows_of_stages(), share=st.floats(0.01, 1.0))
def test_the_continuous_path_gives_back_what_entered_to_a_millionth_of_a_millionth_of_its_span(path, share):
    span = {"mA": 20.0, "mV": 50.0, "mV/V": 2.0, "Ω": 20_000.0, "V": 5.0}[path.source]
    output = share * span
    assert abs(float(path.output(path.pin(output))) - output) <= 1e-12 * span * condition(path, output, span)


def condition(path, output, span):
    """How much the row squeezes the signal, below which no sum in doubles can undo it; 1 where it does not."""
    pin = float(path.pin(output))
    return max(1.0, 4 * abs(pin) / (float(path.slope(output)) * span))


@given(path=rows_of_stages(), share=st.floats(0.01, 1.0))
def test_through_the_quantiser_it_lies_in_the_interval_of_its_count(path, share):
    output = share * {"mA": 20.0, "mV": 50.0, "mV/V": 2.0, "Ω": 20_000.0, "V": 5.0}[path.source]
    pin = path.pin(output)
    count = int(path.converter.count_of(pin))
    low, high = path.converter.quantiser.interval(count)
    assert low <= float(path.converter.forward(pin)) <= high


@given(path=rows_of_stages(), share=st.floats(0.05, 0.95))
def test_the_slope_of_a_path_is_its_change(path, share):
    output = share * {"mA": 20.0, "mV": 50.0, "mV/V": 2.0, "Ω": 20_000.0, "V": 5.0}[path.source]
    step = 1e-4 * output
    change = float(path.pin(output + step) - path.pin(output - step)) / (2 * step)
    assert float(path.slope(output)) == pytest.approx(change, rel=1e-6)


def test_a_reference_measured_off_nominal_stretches_the_true_span_but_not_what_is_believed():
    converter = Converter(reference_v=5.0, reference_measured_v=5.05)
    assert float(converter.inverse(4095)) == pytest.approx(5.05)
    assert float(converter.nominal.inverse(4095)) == 5.0
    assert int(converter.count_of(2.525)) == int(converter.nominal.count_of(2.5))


def test_a_pull_up_that_shares_the_reference_keeps_its_counts():
    path = Path(source="Ω", stages=(PullUp(),), converter=Converter(shares_supply=True, reference_v=5.0))
    off = path.with_(converter=path.converter.with_(reference_measured_v=4.8))
    ohms = np.array([500.0, 10_000.0, 40_000.0])
    assert path.converter.count_of(path.pin(ohms)).tolist() == off.converter.count_of(off.pin(ohms)).tolist()


def test_what_a_shunt_and_a_divider_behind_it_load_is_reckoned_from_the_end_backwards():
    path = Path(source="mA", stages=(Shunt(resistance_ohm=500), Divider(top_ohm=1000, bottom_ohm=1000)),
                converter=Converter(input_ohm=1000))  # fmt: skip
    divided = 1000 + 500
    assert path.loads == (pytest.approx(divided), 1000)
    assert float(path.pin(20.0)) == pytest.approx(0.02 * (500 * divided / (500 + divided)) / 3)
