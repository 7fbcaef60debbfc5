"""The rig as a process: what it tells, that it listens on loopback only, that a seed repeats it, and its knobs."""

import numpy as np
import pytest

from able_yardstick.bench.rig.faults import fault_named
from able_yardstick.bench.rig.plant import Plant
from able_yardstick.bench.rig.simulated import SimulatedChannel
from able_yardstick.core.wake.causes import causes_for
from able_yardstick.core.wire.landing import wired_channels
from able_yardstick.core.words.errors import NoSuchThing, NotApplicable
from rigging import RefusedKnob, start_rig, stop_rig


def test_it_tells_where_it_serves_and_which_faults_it_has():
    process, told = start_rig(
        "--seed", "3", "--speed", "2", "--fault", "PT-202=open", "--fault", "AT-209=chassis-ground"
    )
    try:
        assert told["faults"] == {"PT-202": "open lead", "AT-209": "chassis-ground offset"}
        assert (told["seed"], told["speed"]) == (3, 2.0)
        assert {told[part]["host"] for part in ("modbus", "gauge", "meter", "knobs")} == {"127.0.0.1"}
    finally:
        stop_rig(process)


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["--fault", "PT-202"], "Expected a fault as TAG=FAULT"),
        (["--fault", "PT-999=open"], "The rig has no channel PT-999"),
        (["--fault", "PT-202=moonlight"], "There is no fault “moonlight”"),
        (["--fault", "PT-201=wrong shunt"], "PT-201 cannot have the fault “wrong shunt”"),
    ],
)
def test_a_fault_that_cannot_be_is_refused(arguments, words, capfd):
    with pytest.raises(AssertionError, match=words):
        start_rig(*arguments)


def test_short_names_of_faults_are_understood():
    assert [fault_named(text) for text in ("open", "no-supply", "swapped", "chassis", "wrong-link")] == [
        "open lead", "no supply", "swapped leads", "chassis-ground offset", "wrong link settings",
    ]  # fmt: skip
    with pytest.raises(NoSuchThing, match="The faults are open lead"):
        fault_named("")


def test_one_seed_gives_one_plant(demo_job):
    def images(seed):
        plant = Plant(demo_job, seed)
        for n in range(1, 21):
            plant.advance(n / 50)
        return plant.image

    assert (images(5) == images(5)).all()
    assert (images(5) != images(6)).any()


def test_a_faster_plant_gets_there_sooner(demo_job):
    def gone(speed):
        plant = Plant(demo_job, 1, speed)
        plant.move("PT-201", 250.0)
        for n in range(1, 11):
            plant.advance(n / 50)
        return plant.tagged("PT-201").plant

    assert gone(10) > gone(1) + 50


def test_what_moves_one_probe_on_the_manifold_moves_the_other(demo_job):
    plant = Plant(demo_job, 1)
    plant.move("AT-208", 12.0)
    assert plant.tagged("AT-209").target == 12.0
    plant.move("PT-201", 30.0)
    assert plant.tagged("PT-202").target != 30.0


@pytest.mark.parametrize(
    "tag", ["PT-201", "PT-202", "TT-203", "TE-204", "TE-205", "WT-206", "IT-207", "AT-208", "FT-210"]
)
def test_a_sound_channel_reads_its_true_value_within_its_tolerances(demo_job, tag):
    """By the described curve, over seeds: nearer than the sum of all its limits."""
    from able_yardstick.core.document.nominal import nominal_curve
    from able_yardstick.core.wire.error_budget import budget_at

    channel = demo_job.continuous(demo_job.tagged(tag).id)
    low, high = channel.range
    for seed in range(6):
        sim = SimulatedChannel(channel, np.random.default_rng(seed))
        value = low + (high - low) * (0.2 + 0.1 * seed)
        sim.move(value)
        sim.settle()
        counts = sim.run(np.arange(1, 200) / 100).counts
        seen = float(nominal_curve(channel).value(float(channel.path.converter.inverse(counts.mean()))))
        assert abs(seen - value) <= budget_at(channel, value).worst + 0.002 * channel.span


def test_every_fault_a_channel_can_have_can_be_switched_on_and_mended(demo_job):
    for channel in wired_channels(demo_job):
        for cause in causes_for(channel):
            sim = SimulatedChannel(channel, np.random.default_rng(1))
            sim.break_by(cause)
            counts = sim.run(np.arange(1, 50) / 100).counts
            assert ((counts >= 0) & (counts < 2**16)).all()
            sim.break_by("healthy")
        with pytest.raises(NotApplicable, match="cannot have the fault"):
            SimulatedChannel(channel, np.random.default_rng(1)).break_by(
                "wrong shunt" if "wrong shunt" not in causes_for(channel) else "floating"
            )


def test_the_knobs_refuse_what_there_is_not(knobs):
    with pytest.raises(RefusedKnob, match="no knob “dance”"):
        knobs.turn(do="dance")
    with pytest.raises(RefusedKnob, match="no channel XX-1"):
        knobs.turn(do="move", tag="XX-1", value=3)
    with pytest.raises(RefusedKnob, match="signal, supply, leads or nowhere"):
        knobs.turn(do="probe", tag="PT-201", point="ear")


def test_a_fault_is_switched_on_and_off_while_it_runs(knobs):
    knobs.turn(do="fault", tag="IT-207", fault="stuck")
    assert next(row.fault for row in knobs.rows() if row.tag == "IT-207") == "stuck"
    knobs.turn(do="fault", tag="IT-207", fault="healthy")
    assert next(row.fault for row in knobs.rows() if row.tag == "IT-207") == "healthy"


def test_a_rig_without_a_pseudo_terminal_serves_the_rest_and_says_so(demo_job, monkeypatch):
    import asyncio
    import os

    from able_yardstick.bench.rig.layout import Places, with_places
    from able_yardstick.bench.rig.server import Rig, addresses

    def none_left():
        raise OSError(2, "out of pty devices")

    async def begun():
        rig = Rig(Plant(demo_job, 1), Places(0, 0, 0, 0))
        await rig.start()
        told = addresses(rig)
        await rig.stop()
        return told, rig.places

    monkeypatch.setattr(os, "openpty", none_left)
    told, places = asyncio.run(begun())
    assert told["missing"] == ["the small logger, as no pseudo-terminal can be had here (out of pty devices)"]
    assert told["modbus"]["port"] > 0
    logger = next(source for source in with_places(demo_job, places) if source.id == "logger")
    assert not logger.enabled
