"""A link keeps its source open: it tries again with growing waits, obeys between polls, and never dies in silence."""

import logging
import time

import numpy as np
import pytest

from able_yardstick.bench.errors import BadAnswer, NoLink
from able_yardstick.bench.gatherer import Gatherer, state_by_reference
from able_yardstick.bench.link import FIRST_WAIT_S, Link
from able_yardstick.bench.source import Batch, OpenSource, SourceClock
from able_yardstick.core.document.sources import QueryFeed, ScpiSource
from able_yardstick.core.document.stop_plan import Stop
from able_yardstick.core.gather.gathering import Circumstances
from able_yardstick.core.words.errors import NoSuchThing, NotApplicable

SPEC = ScpiSource(id="fake", name="Fake", rate_hz=50.0, feeds=(QueryFeed(name="x"),))


class Fake(OpenSource):
    """Opens and polls as it is told to."""

    period_s = 0.02

    def __init__(self, spec):
        self.spec = spec
        self.opened, self.closed, self.number = [], 0, 0
        self.on_open = self.on_poll = lambda: None

    def open(self):
        self.opened.append(time.monotonic())
        self.on_open()
        return "a fake"

    def poll(self):
        self.on_poll()
        self.number += 1
        yield Batch("x", np.array([time.monotonic()]), np.array([2.0]), np.array([self.number]))

    def close(self):
        self.closed += 1


def refuse(error):
    def act():
        raise error

    return act


@pytest.fixture
def fake():
    made = Fake(SPEC)
    link = Link(SPEC, lambda _spec: made)
    yield made, link
    link.stop()


def test_waits_grow_while_nothing_answers(fake, wait_until):
    source, link = fake
    source.on_open = refuse(NoLink("nobody there"))
    link.start()
    wait_until(lambda: len(source.opened) >= 4, 20)
    waits = np.diff(source.opened)[:3]
    assert (waits >= np.array([1, 2, 4]) * FIRST_WAIT_S * 0.95).all()
    assert (link.status.standing, link.status.error) == ("waiting", "nobody there")
    assert link.status.tries >= 3
    assert link.streams["x"].window().states.tolist() == []  # what never came has no gap


def test_after_an_answer_the_waits_begin_anew(fake, wait_until):
    source, link = fake
    link.start()
    wait_until(lambda: link.streams["x"].total > 3)
    source.on_poll = refuse(BadAnswer("nonsense"))
    wait_until(lambda: link.status.standing == "waiting")
    source.on_poll = lambda: None
    wait_until(lambda: link.status.standing == "answering")
    assert source.closed == 1
    assert "nonsense" in {sample.reason for sample in link.streams["x"].window()}


def test_an_order_is_obeyed_between_polls_and_a_refusal_keeps_the_link(fake, wait_until):
    _source, link = fake
    link.start()
    wait_until(lambda: link.streams["x"].total > 0)
    link.command("x", 3.0)
    wait_until(lambda: "Fake cannot set x: set it by hand." in link.status.error)
    assert link.status.standing == "answering"


def test_a_set_point_is_never_sent_later_when_the_source_comes_back(fake, wait_until):
    source, link = fake
    sent = []
    source.command = lambda _feed, value: sent.append(value)
    with pytest.raises(NoLink, match="Fake does not answer now: nothing was set"):
        link.command("x", 3.0)
    link.start()
    wait_until(lambda: link.streams["x"].total > 0)
    link.command("x", 4.0)
    wait_until(lambda: sent == [4.0])


def test_a_fault_of_our_own_is_logged_and_the_link_goes_on(fake, wait_until, caplog):
    source, link = fake
    source.on_poll = refuse(ZeroDivisionError("ours"))
    with caplog.at_level(logging.CRITICAL + 1, logger="able_yardstick.bench.link"):
        link.start()
        wait_until(lambda: len(source.opened) >= 2)
    assert "A fault in the program: ours" in link.status.error


def test_a_value_grows_stale_and_is_then_no_longer_given_out(fake, wait_until):
    from able_yardstick.bench.hub import Live

    source, link = fake
    link.start()
    live = Live(link, SPEC.feeds[0], link.streams["x"])
    assert wait_until(live.latest) == 2.0
    source.on_poll = refuse(NoLink("gone"))
    wait_until(lambda: live.latest() is None, 4)
    assert link.stale_after_s < 1.0


def test_a_sources_own_clock_is_shifted_by_the_least_delay_seen(monkeypatch):
    now = iter((100.0, 100.07, 100.1, 101.0))
    monkeypatch.setattr("able_yardstick.bench.source.time.monotonic", lambda: next(now))
    clock = SourceClock()
    assert clock.ours(np.array([10.0, 10.1])) == pytest.approx([99.9, 100.0])
    assert clock.ours(np.array([10.12])) == pytest.approx([100.02])  # it came late: its own spacing holds
    assert clock.ours(np.array([10.25])) == pytest.approx([100.1])  # it came sooner than any before
    assert clock.ours(np.array([500.0])) == pytest.approx([101.0])  # its clock was set


# -- gathering through the hub --------------------------------------------------------------------------------------


def test_the_reference_says_which_state_the_plant_is_in(rig_job, hub, wait_until):
    hub.run(rig_job.sources)
    channel = rig_job.continuous("pt-201")
    assert state_by_reference(rig_job, channel, None) is None
    live = wait_until(lambda: hub.of_channel("pt-201", "reference"))
    state = wait_until(lambda: state_by_reference(rig_job, channel, live))
    assert state.name == "as Pressure reference RP-12 reads"
    assert state.value == pytest.approx(live.latest(), abs=0.3)
    assert state.within >= 0.1


def test_a_stop_that_never_steadies_is_given_up_with_its_reason(rig_job, hub, wait_until):
    hub.run(rig_job.sources)
    for role in ("raw", "reference"):
        wait_until(lambda role=role: (live := hub.of_channel("te-204", role)) and live.latest() is not None)
    channel = rig_job.continuous("te-204")
    about = Circumstances(id="r", captured=rig_job.readings[0].captured)
    with pytest.raises(NoLink, match=r"TE-204 was not steady at 200 °C within 1 s: .*Readings taken so far are kept"):
        Gatherer(hub, 1.0).at_stop(rig_job, channel, Stop(200.0, "up"), about)
    hub.of_channel("te-204", "reference").link.command("TE-204 reference", 88.0)


def test_without_sources_there_is_nothing_to_gather(rig_job, hub):
    about = Circumstances(id="r", captured=rig_job.readings[0].captured)
    with pytest.raises(NoSuchThing, match="needs a raw signal and a reference among the sources"):
        Gatherer(hub, 1.0).at_stop(rig_job, rig_job.continuous("pt-201"), Stop(0.0, "up"), about)


def test_only_links_that_changed_are_begun_anew(rig_job, hub, wait_until):
    hub.run(rig_job.sources)
    gauge, meter = hub.link("gauge"), hub.link("meter")
    wait_until(lambda: gauge.status.standing == "answering")
    changed = [one.with_(rate_hz=2.0) if one.id == "meter" else one for one in rig_job.sources]
    hub.run([one for one in changed if one.id != "controller"])
    assert hub.link("gauge") is gauge
    assert hub.link("meter") is not meter
    assert hub.link("controller") is None
    assert hub.others_of("pt-201", "raw") == []


def test_a_source_that_cannot_set_says_so():
    with pytest.raises(NotApplicable, match="Fake cannot set x"):
        Fake(SPEC).command("x", 1.0)
