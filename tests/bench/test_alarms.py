"""The alarms of the simulated controller: dead bands, delays and faults by hand; and its word over the wire."""

import pytest

from able_yardstick.bench.rig.plant import Plant
from able_yardstick.bench.rig.simulated_alarms import SimulatedAlarms
from able_yardstick.core.document.alarm import ALARM_BITS, ALARM_KINDS, Alarm, FaultRule, told_by


def walked(alarms, *steps):
    """The words after each step of value, signal and seconds."""
    found = []
    for value, signal, seconds in steps:
        alarms.step(value, signal, seconds)
        found.append(set(told_by(alarms.word)))
    return found


def test_a_limit_comes_at_it_after_its_delay_and_goes_below_its_dead_band(demo_job):
    gas = SimulatedAlarms(demo_job.tagged("PT-201"))
    gas.enter([Alarm(kind="high", limit=200.0, dead_band=5.0, delay_s=2.0)], FaultRule())
    rows = [(200.0, 3.7, 1.0), (200.0, 3.7, 1.0), (201.0, 3.7, 1.0), (196.0, 3.6, 1.0), (195.0, 3.6, 1.0)]
    assert walked(gas, *rows) == [set(), set(), {"high"}, {"high"}, {"high"}]
    assert walked(gas, (194.9, 3.6, 0.1), (200.0, 3.7, 1.5), (199.0, 3.7, 1.0), (200.0, 3.7, 1.5)) == [set()] * 4
    gas.enter([Alarm(kind="low", limit=20.0, dead_band=2.0)], FaultRule())
    assert walked(gas, (20.0, 0.8, 0.1), (22.0, 0.8, 0.1), (22.1, 0.9, 0.1)) == [{"low"}, {"low"}, set()]


@pytest.mark.parametrize(
    ("on_fault", "stands"),
    [
        ("shown as it is", {"low"}),
        ("last value held", set()),
        ("reads low", {"low"}),
        ("reads high", {"high"}),
    ],
)
def test_what_a_fault_does_to_them(demo_job, on_fault, stands):
    gas = SimulatedAlarms(demo_job.tagged("PT-201"))
    rule = FaultRule(low=0.3, stated=True, on_fault=on_fault)
    gas.enter([Alarm(kind="low", limit=20.0), Alarm(kind="high", limit=200.0)], rule)
    assert walked(gas, (100.0, 2.1, 0.1), (-31.2, 0.0, 0.1)) == [set(), stands]


def test_a_contact_tells_its_state_with_its_dead_band(demo_job):
    switch = demo_job.tagged("PS-211")  # 3.6 V closed, 0 V open; 1.4 and 2.2 V
    told = SimulatedAlarms(switch)
    assert walked(told, *((0.0, level, 0.1) for level in (3.6, 1.5, 1.3, 2.1, 2.3))) == [
        set(), set(), {"open"}, {"open"}, set(),
    ]  # fmt: skip


def test_the_plants_registers_carry_each_word(demo_job):
    plant = Plant(demo_job, 3)
    plant.tagged("TE-205").injected = 0.1  # hotter than its limits
    for n in range(1, 420):
        plant.advance(n / 50)
    at = list(plant.channels).index("TE-205")
    assert told_by(int(plant.image[900 + at])) == {"high", "high high"}
    assert set(ALARM_KINDS) < set(ALARM_BITS)
