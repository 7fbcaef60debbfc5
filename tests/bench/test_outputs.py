"""An output over the rig's real protocols: its count written, its signal read back at the meter."""

import time

import numpy as np
import pytest

from able_yardstick.bench.output_writer import send_count
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.bench.rig.plant import Plant
from able_yardstick.bench.rig.simulated_output import SimulatedOutput
from able_yardstick.core.outputs.target import output_target
from rigging import Knobs, asked, places_of, start_rig, stop_rig


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


def test_a_count_sent_is_given_at_the_terminal(rig, demo_job):
    job = demo_job.with_(sources=with_places(demo_job, rig))
    channel = job.tagged("TY-213")
    Knobs(rig.knobs).turn(do="probe", tag="TY-213", point="signal")
    for count in (0, 2000, 4000):
        send_count(output_target(job, channel), count)
        time.sleep(0.1)
        given = float(asked(rig.meter, "MEAS:CURR?"))
        assert given == pytest.approx(20 * count / 4000, abs=0.1 + 0.005 * 20)
        assert float(asked(rig.meter, "READ?")) == pytest.approx(given * 0.262, abs=0.001)  # over its load


def test_a_meter_held_elsewhere_reads_no_current(rig):
    Knobs(rig.knobs).turn(do="probe", tag="PT-201", point="signal")
    assert float(asked(rig.meter, "MEAS:CURR?")) > 9e37  # not a number


def test_a_register_holds_what_it_can_and_a_load_too_large_ends_the_current(demo_job):
    channel = demo_job.tagged("TY-213")
    output = SimulatedOutput(channel, np.random.default_rng(1))
    output.write(60_000)
    assert output.written == 4095
    heavy = SimulatedOutput(channel.with_(load_ohm=1000.0), np.random.default_rng(1))
    heavy.write(4000)
    assert heavy.given() == pytest.approx(10.0, abs=0.01)  # 500 of 1000 ohms
    signed = SimulatedOutput(
        channel.with_(driver=channel.driver.with_(least_count=-4000, zero_count=-4000)), np.random.default_rng(1)
    )
    signed.write(0xFFFF)
    assert signed.written == -1


def test_tables_are_still_written_and_other_registers_left_alone(demo_job):
    plant = Plant(demo_job, 3)
    before = plant.image.copy()
    plant.written(700, [7, 8])
    assert (plant.image == before).all()
    plant.written(850, [1234])
    assert plant.outputs["TY-213"].written == 1234
