"""Where the chain stops before the range does, worked by hand, and carried to the end."""

import pytest

from able_yardstick.core.document.saturation import saturation_words, saturations
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.pack.doubts import doubts_about
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.stages import Amplifier
from able_yardstick.core.wire.checks import findings_of


def with_gain(job, gain, high_v=5.0, **fields):
    """The kiln car's load cell, 2 mV/V at 10 V and 2 000 kg, behind an amplifier of this gain; 0 to 10 V, 16 bit."""
    channel = job.tagged("WT-206")
    stages = tuple(
        Amplifier(stated_gain=gain, high_v=high_v, low_v=-high_v, **fields) if isinstance(one, Amplifier) else one
        for one in channel.path.stages
    )
    return channel.with_(path=channel.path.with_(stages=stages))


def test_the_last_value_read_and_the_gain_that_would_do(demo_job):
    """20 mV at 2 000 kg times 500 would be 10 V; the rail of 5 V is met at 10 mV, which is 1 000 kg."""
    (found,) = saturations(with_gain(demo_job, 500.0))
    assert (found.end, found.value) == ("upper", pytest.approx(1000.0))
    assert found.gain == pytest.approx(250.0)
    (lifted,) = saturations(with_gain(demo_job, 500.0, zero_v=1.0))
    assert (lifted.value, lifted.gain) == (pytest.approx(800.0), pytest.approx(200.0))
    assert saturations(with_gain(demo_job, 250.0)) == ()


def test_a_converter_that_ends_first_is_named_too(demo_job):
    (found,) = saturations(with_gain(demo_job, 1000.0, high_v=30.0))
    assert (found.part, found.gain) == ("the converter ends at 10 V", None)
    assert found.value == pytest.approx(1000.0, rel=1e-3)


def test_wire_pack_and_code_carry_it(demo_job):
    channel = with_gain(demo_job, 500.0).with_(pack_spec=PackSpec(form="c"))
    job = change_channel(demo_job, channel)
    words = "Above 1000 kg nothing more is read: the amplifier ends at 5 V."
    assert saturation_words(channel) == words
    clipped = next(one for one in findings_of(job, channel) if one.check == "clipping")
    assert clipped.do == f"{words} A gain of 250 would do."
    packed = packed_now(job, channel)
    assert words in doubts_about(job, channel, packed)
    assert words.removesuffix(".") in packed.form.text.replace("\n * ", " ")


def test_nothing_is_said_of_the_demo(demo_job):
    assert not any(saturation_words(one) for one in demo_job.channels if one.kind == "continuous")
