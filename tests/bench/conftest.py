"""A rig on loopback for the tests of this folder, and waiting with an end."""

import threading

import pytest

from able_yardstick.bench.rig.layout import with_places
from rigging import Knobs, places_of, start_rig, stop_rig, until


@pytest.fixture
def wait_until():
    return until


@pytest.fixture(scope="package")
def rig():
    """One rig for the whole folder: where it serves. Tests leave it as they found it."""
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


@pytest.fixture
def knobs(rig):
    return Knobs(rig.knobs)


@pytest.fixture
def rig_job(demo_job, rig):
    """The demo job, its sources turned to the rig."""
    return demo_job.with_(sources=with_places(demo_job, rig))


@pytest.fixture
def hub():
    from able_yardstick.bench.hub import Hub

    made = Hub()
    yield made
    made.stop()
    made.wait(10)


@pytest.fixture(autouse=True)
def no_thread_left():
    """A link that a test started has ended with it."""
    before = set(threading.enumerate())
    yield
    left = [one for one in threading.enumerate() if one not in before and one.name.startswith("link")]
    assert left == []
