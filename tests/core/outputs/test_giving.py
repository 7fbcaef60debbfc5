"""From a wanted value to a count and back: laws over any driver and range, and figures by hand."""

import numpy as np
import pytest
from hypothesis import assume
from hypothesis import given as over
from hypothesis import strategies as st

from able_yardstick.core.document.output import OutputChannel, OutputCondition
from able_yardstick.core.outputs.giving import count_of, given, plan_of, signals_for, values_of
from able_yardstick.core.path.driver import Driver

ends = st.floats(-1e4, 1e4, allow_nan=False).map(lambda number: round(number, 3))


@st.composite
def outputs(draw):
    zero = draw(st.integers(-2000, 2000))
    full = zero + draw(st.integers(200, 60_000))
    low = draw(st.sampled_from([0.0, -10.0, 4.0]))
    driver = Driver(
        unit=draw(st.sampled_from(["mA", "V"])), low=low, high=low + draw(st.sampled_from([5.0, 10.0, 20.0])),
        zero_count=zero, full_count=full, least_count=zero - draw(st.integers(0, 50)), most_count=max(full, 1),
    )  # fmt: skip
    first, second = draw(ends), draw(ends)
    assume(abs(first - second) > 1)
    return OutputChannel(
        id="o", device="d", tag="O", unit="%", value_low=first, value_high=second, signal_low=driver.low,
        signal_high=driver.high, driver=driver,
    )  # fmt: skip


@over(outputs(), st.floats(0, 1))
def test_what_is_given_is_within_half_a_count_of_what_is_wanted(channel, share):
    wanted = channel.value_low + share * (channel.value_high - channel.value_low)
    row = given(channel, wanted)
    half = channel.driver.per_count / 2
    assert abs(row.delivered[0] - row.signals[0]) <= half * (1 + 1e-9)
    assert abs(row.values[0] - wanted) <= abs(half / channel.gain) * (1 + 1e-9) + 1e-9 * channel.span


@over(outputs(), st.floats(-2, 3))
def test_counts_never_leave_the_register_and_rise_with_the_signal(channel, share):
    wanted = channel.value_low + share * (channel.value_high - channel.value_low)
    rows = given(channel, np.linspace(wanted, channel.value_high, 7))
    assert channel.driver.least_count <= rows.counts.min()
    assert rows.counts.max() <= channel.driver.top_count
    order = np.argsort(rows.signals)
    assert (np.diff(rows.counts[order]) >= 0).all()


@over(outputs(), ends)
def test_signal_and_value_are_inverse(channel, value):
    assert float(values_of(channel, signals_for(channel, value))) == pytest.approx(value, abs=1e-6 * channel.span)


@pytest.mark.parametrize(
    ("driver", "value", "count"),
    [
        (Driver(), 50.0, 2457),  # 12 mA of 20, 4095 counts: 2457
        (Driver(full_count=4000, most_count=4095), 50.0, 2400),
        (Driver(zero_count=6240, full_count=31200, low=4.0), 0.0, 6240),
        (Driver(zero_count=6240, full_count=31200, low=4.0), 100.0, 31200),
    ],
)
def test_counts_by_hand(driver, value, count):
    channel = OutputChannel(id="o", device="d", tag="O", unit="%", driver=driver)
    assert count_of(channel, value) == count


def test_the_plan_has_both_ends_and_a_falling_output_falls():
    channel = OutputChannel(id="o", device="d", tag="O", unit="%", value_low=100.0, value_high=0.0)
    assert plan_of(channel) == (100.0, 75.0, 50.0, 25.0, 0.0)
    assert given(channel, np.array([100.0, 0.0])).signals.tolist() == [4.0, 20.0]
    assert given(channel, 130.0).is_held[0]
    assert float(given(channel, 130.0).wanted[0]) == 100.0


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"value_low": 5.0, "value_high": 5.0}, "two ends of the range must differ"),
        ({"signal_low": 20.0, "signal_high": 4.0}, "swap the two values"),
        ({"dead_input": "held"}, "needs the value it is held at"),
    ],
)
def test_what_cannot_be_is_refused_in_words(changes, words):
    with pytest.raises(ValueError, match=words):
        OutputChannel(id="o", device="d", tag="O", **changes)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"low": 20.0, "high": 4.0}, "Swap the two"),
        ({"zero_count": 4000, "full_count": 4000}, "above the zero count"),
        ({"least_count": 5000}, "more than one count"),
    ],
)
def test_a_driver_that_cannot_be_is_refused_in_words(changes, words):
    with pytest.raises(ValueError, match=words):
        Driver(**changes)


@pytest.mark.parametrize(
    ("one", "other", "both"),
    [
        (("a", "low"), ("a", "low low"), True),
        (("a", "low"), ("a", "high"), False),
        (("a", "low"), ("b", "high"), True),
        (("c", "open"), ("c", "closed"), False),
        (("c", "open"), ("c", "open"), True),
    ],
)
def test_which_conditions_can_hold_at_one_moment(one, other, both):
    first, second = (OutputCondition(channel=channel, when=when, value=0.0) for channel, when in (one, other))
    assert first.can_hold_with(second) == second.can_hold_with(first) == both
