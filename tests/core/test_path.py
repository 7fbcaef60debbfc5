"""From transducer to count and back."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from able_yardstick.core.conditions import Conditions
from able_yardstick.core.converter import Converter, Quantiser
from able_yardstick.core.curves import Line
from able_yardstick.core.path import Path
from able_yardstick.core.rating import TwoPoints
from able_yardstick.core.reading import Raw
from able_yardstick.core.stages import Divider, Shunt
from able_yardstick.core.transducer import Transducer

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
