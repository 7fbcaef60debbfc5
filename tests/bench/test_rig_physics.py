"""The rig's own physics: it names the faults that Wake can name, from the wiring, and draws noise of its own."""

import numpy as np
import pytest

from able_yardstick.bench.rig.faults import FAULTS, faults_for
from able_yardstick.bench.rig.layout import MOST_CHANNELS, Places, has_ring, scan_history, sources_for
from able_yardstick.bench.rig.plant import Plant
from able_yardstick.bench.rig.simulated import SimulatedChannel
from able_yardstick.core.job.channels import add_channel, new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.wake.causes import CAUSES, causes_for
from able_yardstick.core.wake.figures import allowed_noise
from able_yardstick.core.wire.landing import wired_channels
from able_yardstick.core.words.errors import NotApplicable


def test_the_rig_and_wake_name_the_same_faults(demo_job):
    assert FAULTS == CAUSES
    for channel in wired_channels(demo_job):
        assert set(faults_for(channel)) == set(causes_for(channel)), channel.tag


def test_its_noise_is_no_share_of_what_wake_allows(demo_job):
    """Of the same transducer with a coarse converter Wake allows more noise; the rig draws it alike."""
    channel = demo_job.tagged("PT-202")
    coarse = channel.path.converter.with_(bits=6, full_count=63)
    other = channel.with_(path=channel.path.with_(converter=coarse))
    assert allowed_noise(other) > 3 * allowed_noise(channel)
    drawn = [SimulatedChannel(one, np.random.default_rng(5)).noise for one in (channel, other)]
    assert drawn[0] == pytest.approx(drawn[1], rel=0.05)


def many(count):
    job = Job(id="many")
    for n in range(count):
        job = add_channel(job, new_continuous(f"c{n}", f"d{n}", f"PT-{n}"))
    return job


@pytest.mark.parametrize("count", [32, 121, 122, MOST_CHANNELS])
def test_the_rig_serves_a_job_of_up_to_two_hundred_channels(count):
    job = many(count)
    plant = Plant(job, seed=1)
    plant.advance(0.05)
    source = sources_for(job, Places(), {})[0]
    raw = [feed for feed in source.every_feed if feed.role == "raw"]
    assert len(raw) == count
    if has_ring(count):
        return
    assert scan_history(job) is None
    shown = [int(plant.image[feed.address]) for feed in raw]
    assert min(shown) > 0


def test_a_job_of_more_channels_is_refused_in_words():
    with pytest.raises(NotApplicable, match="has 201 channels with a pin, but the rig has room for 200"):
        Plant(many(MOST_CHANNELS + 1), seed=1)
