"""Every kind of source against its stand-in over the real protocol, by one contract; and what it does on a drop."""

import os
import threading
import time
import tty

import numpy as np
import pytest

from able_yardstick.bench.errors import BadAnswer, NoLink
from able_yardstick.bench.link import Link, opened_by, probed
from able_yardstick.bench.modbus import Modbus
from able_yardstick.bench.replay import Replay
from able_yardstick.bench.rig.layout import LOGGER_HZ, SHOWN, table_place
from able_yardstick.bench.scpi import Scpi
from able_yardstick.core.document.sources import (
    ColumnFeed,
    Feed,
    LinesSource,
    ManualSource,
    ModbusSource,
    QueryFeed,
    RegisterFeed,
    ReplaySource,
    ScpiSource,
    SerialLine,
)
from able_yardstick.core.journal.table_image import HEAD
from able_yardstick.core.words.errors import NotApplicable


def source_of(job, wanted):
    return next(source for source in job.sources if source.id == wanted).with_(enabled=True)


@pytest.fixture
def log(tmp_path):
    path = tmp_path / "kiln.csv"
    rows = "\n".join(f"{n * 0.01:.2f};{n};{1700 + n % 5}" for n in range(500))
    path.write_text(f"time (s);n;PT-201\n{rows}\n", encoding="utf-8")
    return ReplaySource(
        id="log", name="Log", path=str(path), time_column="time", feeds=(ColumnFeed(name="raw", column="PT-201"),)
    )


@pytest.fixture(params=["controller", "gauge", "logger", "log", "typed"])
def source(request, rig_job, log):
    if request.param == "log":
        return log
    if request.param == "typed":
        return ManualSource(id="typed", name="Typed", feeds=(Feed(name="by eye", role="reference"),))
    return source_of(rig_job, request.param)


def type_in(link):
    link.order(lambda source: source.enter("by eye", 20.0))


def test_every_source_gives_numbered_samples_in_order(source, wait_until):
    link = Link(source)
    link.start()
    try:
        if source.kind == "manual":
            type_in(link)
            time.sleep(0.1)
            type_in(link)
        name = source.every_feed[0].name
        wait_until(lambda: link.streams[name].total >= (2 if source.kind == "manual" else 5))
        assert link.status.standing == "answering"
        window = link.streams[name].window()
        assert window.out_of_order == 0
        assert (np.diff(window.times_s) >= 0).all()
        assert np.isfinite(window.values).all()
        assert abs(window.walls_s[-1] - time.time()) < 5
    finally:
        link.stop()
    assert link.status.standing == "off"


@pytest.mark.parametrize(
    "source",
    [
        ModbusSource(id="a", name="A", port=1, feeds=(RegisterFeed(name="x", address=0),)),
        ScpiSource(id="b", name="B", port=1, feeds=(QueryFeed(name="x"),)),
        LinesSource(id="c", name="C", serial=SerialLine(device="/dev/nothing-here")),
        ReplaySource(id="d", name="D", path="/nowhere/log.csv", feeds=(ColumnFeed(name="x", column="x"),)),
    ],
    ids=lambda source: source.kind,
)
def test_a_source_that_is_not_there_says_so_in_words(source):
    opened = opened_by(source)
    with pytest.raises(NoLink, match=r"Check|cannot be read"):
        opened.open()
    opened.close()
    status = probed(source, 2.5)
    assert status.standing == "waiting"
    assert status.error


def test_no_scan_is_lost_and_the_rate_is_the_controllers(rig_job, hub, wait_until):
    hub.run([source_of(rig_job, "controller")])
    live = wait_until(lambda: hub.of_channel("pt-201", "raw"))
    wait_until(lambda: live.stream.total > 200)
    window = live.window(1.5)
    assert window.rate_hz == pytest.approx(100, rel=0.02)
    assert (live.stream.lost, live.stream.out_of_order) == (0, 0)
    assert not live.is_stale


def test_what_the_controller_shows_agrees_with_its_raw_count(rig_job, hub, wait_until):
    hub.run([source_of(rig_job, "controller")])
    raw, shown = (wait_until(lambda role=role: hub.of_channel("pt-201", role)) for role in ("raw", "shown"))
    wait_until(lambda: shown.latest() is not None)
    channel = rig_job.continuous("pt-201")
    record = rig_job.pack_of(channel.id)
    counts = raw.window(1.0).values.astype(int)
    expected = record.form.shown(counts, channel.path.converter)
    assert expected.min() - 0.5 <= shown.latest() <= expected.max() + 0.5


def test_a_short_silence_is_caught_up_from_the_controllers_ring(rig_job, hub, knobs, wait_until):
    hub.run([source_of(rig_job, "controller")])
    live = wait_until(lambda: hub.of_channel("pt-201", "raw"))
    wait_until(lambda: live.latest() is not None)
    knobs.turn(do="silence", seconds=0.6)
    wait_until(lambda: live.age_s > 0.3)
    wait_until(lambda: live.age_s < 0.1)
    time.sleep(0.3)
    assert (live.stream.lost, live.stream.out_of_order) == (0, 0)


def test_a_controller_that_stops_answering_freezes_nothing_and_leaves_a_gap(rig_job, hub, knobs, wait_until):
    hub.run([source_of(rig_job, "controller")])
    live = wait_until(lambda: hub.of_channel("pt-201", "raw"))
    wait_until(lambda: live.latest() is not None)
    knobs.turn(do="silence", seconds=4.5)
    began = time.monotonic()
    wait_until(lambda: live.is_stale, 3)
    assert live.latest() is None  # the last value is not carried on
    assert time.monotonic() - began < 3
    wait_until(lambda: live.link.status.standing in ("waiting", "connecting"))
    assert "did not answer within 1 s" in live.link.status.error
    wait_until(lambda: not live.is_stale, 12)
    window = live.stream.window()
    assert next(sample.reason for sample in window if sample.state == "bad").startswith("127.0.0.1")
    assert window.lost == live.stream.lost > 100


def test_registers_that_do_not_exist_are_named(rig_job):
    wrong = source_of(rig_job, "controller").with_(
        feeds=(RegisterFeed(name="x", address=65000),), history=None, history_feeds=()
    )
    source = Modbus(wrong)
    with pytest.raises(BadAnswer, match="registers 65000 to 65000: there is no such register"):
        source.open()
    source.close()


def test_the_wrong_device_number_gets_no_answer(rig_job):
    status = probed(source_of(rig_job, "controller").with_(device_id=77), 3.0)
    assert status.standing == "waiting"
    assert "check the device number" in status.error


def test_what_is_written_into_a_packing_is_what_the_controller_then_shows(rig_job, wait_until):
    source = Modbus(source_of(rig_job, "controller"))
    source.open()
    try:
        number = [channel.id for channel in rig_job.channels if channel.has_pin].index("it-207")
        at, _ = table_place(rig_job, rig_job.tagged("IT-207"), number)
        at += HEAD
        before = list(source.read(at, 10))
        from able_yardstick.bench.registers import encoded

        pairs = [word for value in (0.0, 7.0, 5.0, 7.0) for word in encoded(value, "f32")]
        source.write(at, [2, 1, *pairs])

        def shown():
            words = source.read(SHOWN + 2 * number, 2)
            return np.array(words, dtype=">u2").tobytes() == np.array(encoded(7.0, "f32"), dtype=">u2").tobytes()

        wait_until(shown)
        source.write(at, [int(word) for word in before])
        assert list(source.read(at, 10)) == before
    finally:
        source.close()


def test_the_instrument_says_who_it_is_and_moves_the_plant(rig_job, knobs, wait_until):
    gauge = Scpi(source_of(rig_job, "gauge"))
    assert gauge.open() == "Rig,Reference bench,RB-01,1.0"
    try:
        gauge.command("IT-207 reference", 31.0)
        wait_until(lambda: abs(next(row.plant for row in knobs.rows() if row.tag == "IT-207") - 31) < 0.1)
        value = next(batch.values[0] for batch in gauge.poll() if batch.feed == "IT-207 reference")
        assert value == pytest.approx(31.0, abs=0.2)
        with pytest.raises(BadAnswer, match=r"Reference bench refused SOUR:LEV 999.*Data out of range"):
            gauge.command("IT-207 reference", 999.0)
        with pytest.raises(BadAnswer, match="Undefined header"):
            gauge.send("NONSENSE 1")
        with pytest.raises(NotApplicable, match="set it by hand"):
            gauge.command("nothing", 1.0)
    finally:
        gauge.close()


def test_a_query_the_instrument_does_not_know_is_no_answer(rig_job):
    wrong = source_of(rig_job, "gauge").with_(feeds=(QueryFeed(name="x", query="MEAS:NOTHING?"),))
    status = probed(wrong, 2.5)
    assert status.standing == "waiting"
    assert "that the query is one it knows" in status.error


def test_the_meter_reads_where_it_is_held(rig_job, knobs, hub, wait_until):
    hub.run([source_of(rig_job, "meter")])
    meter = wait_until(hub.meters)[0]
    knobs.turn(do="probe", tag="PT-202", point="supply")
    assert wait_until(meter.latest) == pytest.approx(24, rel=0.01)
    knobs.turn(do="probe", tag="PT-202", point="nowhere")
    wait_until(lambda: meter.latest() is None)


def test_lines_at_the_wrong_speed_are_garbage_and_said_so(rig_job):
    source = source_of(rig_job, "logger")
    status = probed(source.with_(serial=source.serial.with_(baud=9600)), 4.0)
    assert status.standing == "waiting"
    assert "garbage: the two ends do not agree on speed or parity" in status.error


def test_a_hundred_thousand_lines_come_through_a_pty_without_a_loss(wait_until):
    """The far side writes as fast as it is read, so that speed is that of the reading."""
    master, slave = os.openpty()
    tty.setraw(slave)
    done = threading.Event()

    def write():
        time.sleep(0.5)  # opening the port flushes what is there
        for start in range(0, 101_000, 100):
            data = b"".join(b"n=%d,a=%d\n" % (n, n % 4096) for n in range(start, start + 100))
            while data and not done.is_set():
                data = data[os.write(master, data) :]

    writer = threading.Thread(target=write)
    source = LinesSource(
        id="l", name="L", rate_hz=LOGGER_HZ, serial=SerialLine(device=os.ttyname(slave)),
        feeds=(ColumnFeed(name="a", column="a"),),
    )  # fmt: skip
    link = Link(source)
    writer.start()
    link.start()
    try:
        stream = link.streams["a"]
        wait_until(lambda: stream.total >= 100_000, 60)
        window = stream.window(newest=100_000)
        assert (window.lost, window.out_of_order) == (0, 0)
        assert (window.values == window.sequences % 4096).all()
    finally:
        done.set()
        link.stop()
        writer.join(10)
        os.close(master)
        os.close(slave)


def test_a_log_is_played_at_its_speed_held_and_stepped(log):
    replay = Replay(log.with_(speed=100.0))
    assert replay.open() == "500 lines over 4.99 s"
    time.sleep(0.15)
    values = np.concatenate([batch.values for batch in replay.poll()])
    assert len(values) == 500
    assert replay.is_over
    slow = Replay(log.with_(speed=0.001))
    slow.open()
    slow.step()
    first = [batch.values.tolist() for batch in slow.poll()]
    slow.step()
    second = [batch.values.tolist() for batch in slow.poll()]
    assert (first, second) == ([[1700.0]], [[1701.0]])
    assert list(slow.poll()) == []
    slow.hold(False)


def test_a_log_without_the_column_says_which_it_has(log):
    with pytest.raises(NoLink, match=r"Expected a column “nothing”\. The columns are time, n, PT-201"):
        Replay(log.with_(feeds=(ColumnFeed(name="x", column="nothing"),))).open()


def bridge(stop):
    """Two ptys joined crosswise: what is written into one comes out of the other."""
    ends = [os.openpty() for _ in range(2)]
    for _, slave in ends:
        tty.setraw(slave)

    def carry(source, target):
        while not stop.is_set():
            try:
                os.write(target, os.read(source, 4096))
            except OSError:
                return

    (one, _), (two, _) = ends
    threads = [threading.Thread(target=carry, args=pair, daemon=True) for pair in ((one, two), (two, one))]
    for thread in threads:
        thread.start()
    return ends


def test_modbus_rtu_on_a_serial_line(wait_until):
    import asyncio

    from pymodbus.server import ModbusSerialServer
    from pymodbus.simulator import DataType, SimData, SimDevice

    stop, ready = threading.Event(), threading.Event()
    ends = bridge(stop)
    near, far = (os.ttyname(slave) for _, slave in ends)
    loop = asyncio.new_event_loop()
    finished = asyncio.Event()

    async def serve():
        device = SimDevice(id=5, simdata=[SimData(0, values=list(range(100, 120)), datatype=DataType.REGISTERS)])
        server = ModbusSerialServer(device, port=far, baudrate=19200)
        await server.serve_forever(background=True)
        ready.set()
        await finished.wait()
        await server.shutdown()

    thread = threading.Thread(target=lambda: loop.run_until_complete(serve()))
    thread.start()
    try:
        assert ready.wait(5)
        source = Modbus(
            ModbusSource(
                id="r",
                name="R",
                link="serial",
                serial=SerialLine(device=near, baud=19200),
                device_id=5,
                feeds=(RegisterFeed(name="a", address=3), RegisterFeed(name="b", address=7, scale=0.5)),
            )
        )
        assert source.open() == "device 5, 2 values in 1 requests"
        assert {batch.feed: float(batch.values[0]) for batch in source.poll()} == {"a": 103.0, "b": 53.5}
        source.close()
    finally:
        loop.call_soon_threadsafe(finished.set)
        thread.join(10)
        loop.close()
        stop.set()
        for pair in ends:
            for end in pair:
                os.close(end)


def test_an_instrument_on_a_serial_line(wait_until):
    """The far side of a pty answers as the rig's meter would."""
    from able_yardstick.bench.rig.scpi import Instrument

    master, slave = os.openpty()
    tty.setraw(slave)
    stop = threading.Event()
    meter = Instrument("Rig,Serial meter,SM-1,1.0", {"READ?": lambda _rest: "2.5"})

    def answer():
        rest = b""
        os.set_blocking(master, False)
        while not stop.is_set():
            time.sleep(0.005)
            try:
                rest += os.read(master, 4096)
            except BlockingIOError:
                continue
            *lines, rest = rest.split(b"\n")
            for line in lines:
                if (said := meter.answer(line.decode().strip())) is not None:
                    os.write(master, said.encode() + b"\n")

    thread = threading.Thread(target=answer)
    thread.start()
    source = Scpi(
        ScpiSource(
            id="s",
            name="Serial meter",
            link="serial",
            serial=SerialLine(device=os.ttyname(slave), baud=9600),
            feeds=(QueryFeed(name="volts", role="meter", unit="V"),),
        )
    )
    try:
        assert source.open() == "Rig,Serial meter,SM-1,1.0"
        assert [float(batch.values[0]) for batch in source.poll()] == [2.5]
    finally:
        source.close()
        stop.set()
        thread.join(5)
        os.close(master)
        os.close(slave)


def test_the_logger_turned_to_another_channel_fills_that_ones_stream_only(rig_job, hub, knobs, wait_until):
    hub.run([source_of(rig_job, "logger")])
    link = hub.link("logger")
    wait_until(lambda: link.streams["PT-201 fast"].total > 100)
    knobs.turn(do="log", tag="IT-207")
    wait_until(lambda: link.streams["IT-207 fast"].total > 100)
    before = link.streams["PT-201 fast"].total
    time.sleep(0.3)
    assert link.streams["PT-201 fast"].total == before
    assert link.status.rate_hz > 0
    knobs.turn(do="log", tag="PT-201")
