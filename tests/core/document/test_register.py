"""Register constants: units that come out, rounding, words either way round, bit fields that must agree."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.document.register_constant import BitField, NamedInput, RegisterConstant, reckon, words_of
from able_yardstick.core.formula import FormulaError
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.state.progress import progress_of
from able_yardstick.core.words.errors import OutOfRange, UnitMismatch
from able_yardstick.core.words.record import InvalidRecord


def one(name, value, unit=""):
    return NamedInput(name=name, value=value, unit=unit)


def test_units_are_carried_through_the_formula():
    constant = RegisterConstant(
        formula="energy / (volts * amps * time)",
        inputs=(one("energy", 1, "kW*h"), one("volts", 230, "V"), one("amps", 500, "mA"), one("time", 2, "s")),
    )
    assert reckon(constant).exact == pytest.approx(3.6e6 / (230 * 0.5 * 2))
    with pytest.raises(UnitMismatch, match="do not come out as a plain number"):
        reckon(constant.with_(formula="energy / (volts * amps)"))
    seconds = constant.with_(formula="energy / (volts * amps)", unit="ms")
    assert reckon(seconds).exact == pytest.approx(1000 * 3.6e6 / 115)


@pytest.mark.parametrize(
    ("rounding", "expected"),
    [("nearest, half to even", 2), ("nearest, half up", 3), ("down", 2), ("up", 3), ("towards zero", 2)],
)
def test_a_half_is_rounded_as_stated(rounding, expected):
    assert reckon(RegisterConstant(formula="2.5", rounding=rounding)).integer == expected


def test_below_zero_rounding_differs_too():
    values = {rule: reckon(RegisterConstant(formula="-2.5", rounding=rule, signed=True)).integer
              for rule in ("nearest, half to even", "nearest, half up", "down", "up", "towards zero")}  # fmt: skip
    assert list(values.values()) == [-2, -2, -3, -2, -2]


def test_hexadecimal_and_words_either_way_round():
    found = reckon(RegisterConstant(formula="305419896"))
    assert (found.hexadecimal, found.words) == ("0x12345678", (0x1234, 0x5678))
    assert reckon(RegisterConstant(formula="305419896", high_word_first=False)).words == (0x5678, 0x1234)
    negative = reckon(RegisterConstant(formula="-2", signed=True, bits=16))
    assert (negative.hexadecimal, negative.words) == ("0xFFFE", (0xFFFE,))


@given(st.integers(0, 2**32 - 1), st.booleans())
def test_words_put_together_again_are_the_number(number, high_first):
    first, second = words_of(number, 32, high_first)
    high, low = (first, second) if high_first else (second, first)
    assert high << 16 | low == number


def test_a_register_too_small_is_refused():
    with pytest.raises(OutOfRange, match="comes to 70000, but a register of 16 bits \\(unsigned\\) holds 0 to 65535"):
        reckon(RegisterConstant(formula="70000", bits=16))
    with pytest.raises(OutOfRange, match="holds 0 to 4294967295"):
        reckon(RegisterConstant(formula="-1"))


def test_a_bit_field_must_hold_the_code_of_its_input():
    field = BitField(
        name="gain code", register_value=0b0010_0000, lowest_bit=4, width=2, codes=((0, 1), (1, 4), (2, 16)),
        must_equal="gain",
    )  # fmt: skip
    constant = RegisterConstant(formula="gain * 10", inputs=(one("gain", 16),), fields=(field,))
    assert reckon(constant).fields[0].agrees
    other = constant.with_(inputs=(one("gain", 4),))
    assert reckon(other).fields[0].says == (
        "gain code: bits 5 to 4 hold 10, which is 16, but the formula reckons with gain = 4: make them the same"
    )
    reserved = constant.with_(fields=(field.with_(register_value=0x30),))
    assert "a code that stands for nothing" in reckon(reserved).fields[0].says


def test_a_formula_that_cannot_be_reckoned_is_refused():
    with pytest.raises(InvalidRecord, match="asks for gain: add it to the inputs"):
        RegisterConstant().with_(formula="gain * 2")
    with pytest.raises(FormulaError, match="something is divided by 0"):
        reckon(RegisterConstant(formula="1 / a", inputs=(one("a", 0),)))
    with pytest.raises(InvalidRecord, match="two inputs have the same name"):
        RegisterConstant().with_(inputs=(one("a", 1), one("a", 2)))


def test_the_belt_scale_of_the_demo_is_the_sum_done_by_hand(demo_job):
    found = reckon(demo_job.tagged("WQ-212").register_constant)
    nanograms_a_pulse = 60e12 / 1.2 * 0.050
    assert found.exact == pytest.approx(nanograms_a_pulse / (65535 * 16), rel=1e-12)
    assert (found.hexadecimal, found.words) == ("0x0024615E", (0x0024, 0x615E))
    assert found.fields[0].agrees


def test_a_register_whose_number_cannot_be_reckoned_has_failed(demo_job):
    channel = demo_job.tagged("WQ-212")
    for formula, says in (("span_mass / weigh_span", "do not come out as a plain number"),
                          ("averages / (full - full)", "something is divided by 0"),
                          ("averages * 1e20", "holds 0 to 4294967295")):  # fmt: skip
        broken = channel.with_(register_constant=channel.register_constant.with_(formula=formula))
        step = progress_of(change_channel(demo_job, broken), broken)[0]
        assert (step.state, says in step.says) == ("failed", True), step
    assert progress_of(demo_job, channel)[0].state == "proven"
    assert progress_of(demo_job, channel, checked=False)[0].says == "not checked yet"
