"""Instruments that flood, trickle, lie or fall silent: closed and named, and never in the window's way."""

import os
import resource
import threading
import time
import tty
from contextlib import suppress

import pytest

from able_yardstick.bench.hub import Hub
from able_yardstick.bench.link import Link
from able_yardstick.core.document.sources import LinesSource, ModbusSource, QueryFeed, ScpiSource, SerialLine
from hostile.peers import BEHAVIOURS, serving, until


def scpi(port, **changes):
    return ScpiSource(
        id="gauge", name="Gauge", port=port, rate_hz=50, feeds=(QueryFeed(name="x", role="reference", unit="kPa"),)
    ).with_(**changes)


@pytest.fixture(autouse=True)
def no_link_left():
    yield
    assert until(lambda: not [one for one in threading.enumerate() if one.name.startswith("link")])


@pytest.mark.parametrize("behaviour", BEHAVIOURS)
def test_a_bad_instrument_is_named_and_costs_no_memory(behaviour):
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with serving(BEHAVIOURS[behaviour]) as port:
        link = Link(scpi(port))
        link.start()
        try:
            if behaviour == "two lines":
                assert until(lambda: link.status.total > 3)
                assert until(lambda: "unasked" in link.status.remark)
            else:
                assert until(lambda: link.status.error)
                assert "fault in the program" not in link.status.error
                assert "Gauge" in link.status.error or f"127.0.0.1:{port}" in link.status.error
        finally:
            link.ask_to_stop()
        assert until(lambda: link.has_ended, 3)
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 60_000  # kB


def test_an_answer_is_never_read_late_as_a_fresh_one():
    with serving(BEHAVIOURS["two lines"]) as port:
        link = Link(scpi(port))
        link.start()
        assert until(lambda: link.status.total > 10)
        link.stop()
        window = link.streams["x"].window()
    assert window.values.tolist() == [float(n) for n in range(1, len(window) + 1)]


@pytest.mark.parametrize("behaviour", ["endless", "silent", "trickle"])
def test_stopping_a_link_does_not_wait(behaviour):
    with serving(BEHAVIOURS[behaviour]) as port:
        hub = Hub()
        hub.run([scpi(port)])
        time.sleep(0.3)
        began = time.monotonic()
        hub.run([scpi(port, rate_hz=20)])
        hub.stop()
        assert time.monotonic() - began < 0.1
        hub.wait(10)


def test_a_changed_source_is_opened_once_the_old_one_let_go():
    with serving(BEHAVIOURS["two lines"]) as port:
        hub = Hub()
        try:
            for rate in (10, 20, 40):
                hub.run([scpi(port, rate_hz=rate)])
                assert until(lambda: hub.links[0].status.total > 2)
            assert hub.links[0].spec.rate_hz == 40
        finally:
            hub.stop()
            hub.wait(10)


def test_an_unknown_host_is_no_fault_of_the_program():
    link = Link(scpi(5025, host="no-such-host.invalid"))
    link.start()
    assert until(lambda: link.status.error, 10)
    assert "no host" in link.status.error
    link.stop()


def test_an_unknown_controller_is_no_fault_of_the_program():
    link = Link(ModbusSource(id="c", name="Controller", host="no-such-host.invalid"))
    link.start()
    assert until(lambda: link.status.error, 10)
    assert "Check the address" in link.status.error
    link.stop()


def test_a_line_without_an_end_is_refused(tmp_path):
    ours, theirs = os.openpty()
    tty.setraw(ours)
    ended = threading.Event()

    def flood() -> None:
        while not ended.is_set():
            with suppress(OSError):
                os.write(ours, b"12.5 " * 200)

    thread = threading.Thread(target=flood)
    thread.start()
    link = Link(LinesSource(id="l", name="Logger", serial=SerialLine(device=os.ttyname(theirs))))
    link.start()
    try:
        assert until(lambda: link.status.error)
        assert "without ending a line" in link.status.error
    finally:
        link.stop()
        ended.set()
        os.close(theirs)
        os.close(ours)
        thread.join(5)
