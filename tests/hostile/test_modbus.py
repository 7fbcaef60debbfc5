"""Modbus done wrong by the other side, case by case; and other people's clients against the rig."""

import re
import struct
import subprocess

import pytest
from pymodbus.client import ModbusTcpClient

from able_yardstick.bench.errors import BadAnswer, NoLink
from able_yardstick.bench.link import Link
from able_yardstick.bench.modbus import Modbus
from able_yardstick.core.document.sources import ModbusSource, RegisterFeed
from hostile.peers import serving, until
from rigging import places_of, start_rig, stop_rig


def answering(frame):
    """A controller that answers every request by a frame made from its number, device, function and count."""

    def act(link, ended):
        while not ended.is_set():
            asked = link.recv(300)
            if len(asked) < 12:
                return
            count = int.from_bytes(asked[10:12], "big")
            answer = frame(asked[:2], asked[6], asked[7], count)
            if answer is None:
                return
            link.sendall(answer)

    return act


def framed(number, device, body):
    return number + b"\0\0" + struct.pack(">HB", len(body) + 1, device) + body


def refusal(code):
    return lambda number, device, function, _: framed(number, device, bytes((function | 0x80, code)))


# Modbus application protocol V1.1b3, 7: what a server may refuse with; and what it may not do at all
WRONG = {
    "unknown function": (refusal(1), "does not know this kind of request"),
    "unknown address": (refusal(2), "no such register"),
    "bad count": (refusal(3), "so many registers"),
    "failure": (refusal(4), "failed while answering"),
    "busy": (refusal(6), "busy"),
    "gateway": (refusal(11), "behind the gateway"),
    "unknown refusal": (refusal(99), "exception 99"),
    "too few": (lambda n, d, f, c: framed(n, d, bytes((f, 2)) + b"\0\1"), "registers where"),
    "too many": (lambda n, d, f, c: framed(n, d, bytes((f, 240)) + bytes(240)), "registers where"),
    "count that lies": (lambda n, d, f, c: framed(n, d, bytes((f, 250)) + bytes(2)), "did not answer"),
    "another number": (lambda n, d, f, c: framed(b"\xab\xcd", d, bytes((f, 2 * c)) + bytes(2 * c)), "did not answer"),
    "another device": (lambda n, d, f, c: framed(n, 77, bytes((f, 2 * c)) + bytes(2 * c)), "did not answer"),
    "another protocol": (lambda n, d, f, c: n + b"\0\7\0\3" + bytes((d, f, 0)), "did not answer"),
    "empty frame": (lambda n, d, f, c: n + b"\0\0\0\0", "did not answer"),
    "endless frame": (lambda n, d, f, c: n + b"\0\0\xff\xff" + bytes(100_000), "did not answer"),
    "lets go": (lambda n, d, f, c: None, "did not answer"),
}  # fmt: skip


@pytest.mark.parametrize("case", WRONG)
def test_what_a_controller_may_not_do_is_told_in_words(case):
    frame, words = WRONG[case]
    with serving(answering(frame)) as port:
        opened = Modbus(
            ModbusSource(id="c", name="C", port=port, feeds=(RegisterFeed(name="x", address=40, type="f32"),))
        )
        try:
            with pytest.raises((NoLink, BadAnswer), match=words):
                opened.open()
        finally:
            opened.close()


def test_an_answer_that_comes_too_late_is_not_taken_for_the_next_one():
    asked = []

    def late(number, device, function, count):
        asked.append(number)
        value = len(asked).to_bytes(2, "big")
        if len(asked) == 3:
            return b""  # and then two at once
        extra = framed(asked[-2], device, bytes((function, 2)) + b"\xff\xff") if len(asked) == 4 else b""
        return extra + framed(number, device, bytes((function, 2)) + value)

    with serving(answering(late)) as port:
        link = Link(ModbusSource(id="c", name="C", port=port, rate_hz=50, feeds=(RegisterFeed(name="x", address=0),)))
        link.start()
        assert until(lambda: link.streams["x"].total > 20, 10)
        link.stop()
    assert 0xFFFF not in link.streams["x"].window().good.values.tolist()


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


def polled(rig, *words):
    command = ["mbpoll", "-m", "tcp", "-1", "-0", "-p", str(rig.modbus), "-o", "10", *words, "127.0.0.1"]
    return subprocess.run(command, capture_output=True, text=True, timeout=20)


def test_a_client_of_somebody_elses_reads_the_scans_go_on(rig):
    def newest():
        run = polled(rig, "-a", "1", "-t", "3:int", "-B", "-r", "0", "-c", "1")
        assert run.returncode == 0, run.stderr
        return int(re.search(r"\[0\]:\s+(\d+)", run.stdout)[1])

    first = newest()
    assert until(lambda: newest() > first)


def test_a_client_of_somebody_elses_is_refused_what_is_not_there(rig):
    run = polled(rig, "-a", "1", "-t", "3", "-r", "65500", "-c", "10")
    assert run.returncode != 0
    assert "llegal data address" in run.stdout + run.stderr


def test_pymodbus_reads_and_is_refused_as_the_protocol_says(rig):
    with ModbusTcpClient("127.0.0.1", port=rig.modbus) as client:
        assert not client.read_input_registers(0, count=2, device_id=1).isError()
        assert client.read_input_registers(65_500, count=10, device_id=1).exception_code == 2
