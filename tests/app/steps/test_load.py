"""Pack's part that writes into the controller, in the real widgets against a rig."""

import time

import pytest
from acting import complaint, enter, field_named, go, said
from PySide6.QtWidgets import QCheckBox

from able_yardstick.app.frame import beside
from able_yardstick.app.frame.workbench import now
from able_yardstick.app.steps.pack.loader import table_in_force
from able_yardstick.bench.errors import NoLink
from able_yardstick.bench.modbus import Modbus
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.entries import exclude
from able_yardstick.core.job.instruments import change_sources
from able_yardstick.core.prove.checks import as_found
from able_yardstick.core.results.loading import target_of
from able_yardstick.files.jobfile import read_job
from rigging import Knobs, places_of, start_rig, stop_rig


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


@pytest.fixture
def bench(window, rig):
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    return window


def read_now(window):
    """The table that is in force."""
    return table_in_force(target_of(window.bench.job, window.bench.continuous))


def test_numbers_are_written_read_back_and_put_back(bench, qtbot):
    checks = [row.reading.id for row in bench.bench.job.amended("at-208", "prove")]
    bench.bench.edit("of another visit", lambda job: exclude(job, checks, "of another visit", now()))
    panel = go(bench, "AT-208", "pack")
    box = panel.load
    assert box.status.text() == "Not written yet."
    enter(qtbot, field_named(panel, "How many"), "9")
    panel.keep.click()
    assert as_found(bench.bench.job, bench.bench.continuous) is None
    box.write.click()
    assert "No as-found state was taken" in complaint(box)
    assert bench.bench.job.write_of("at-208") is None
    assert box.write.text() == "Write all the same"
    box.write.click()
    record = bench.bench.job.write_of("at-208")
    assert record.differences == ()
    assert len(record.meant.signals) == 9
    assert len(record.before.signals) == 12
    assert box.status.text().startswith("read back: 9 of 9 equal, ")
    box.read.click()
    assert complaint(box) == ""
    bench.bench.undo()  # what was kept and written has happened: nothing takes it back
    assert bench.bench.job.write_of("at-208").meant == record.meant
    assert "stays on record" in said(bench)
    box.back.click()
    last = bench.bench.job.write_of("at-208")
    assert last.is_undoing
    assert last.meant == record.before
    assert box.status.text().startswith("put back what was there: 12 of 12 equal")


def test_a_sweep_shows_that_the_controller_makes_what_its_numbers_make(bench, rig, qtbot):
    """Written with the bench connected, then swept: every value it shows is the prediction to the last digit."""
    bench.live.connect_all()
    panel = go(bench, "AT-208", "pack")
    box = panel.load
    enter(qtbot, field_named(panel, "How many"), "9")
    panel.keep.click()
    qtbot.waitUntil(lambda: "It has other numbers in force." in box.watched.text(), timeout=15_000)
    box.write.click()
    box.write.click()  # all the same
    for value in (2.0, 12.0, 19.0):
        Knobs(rig.knobs).turn(do="move", tag="AT-208", value=value)
        qtbot.wait(1500)
    qtbot.waitUntil(lambda: "to the last digit" in box.watched.text(), timeout=15_000)
    found = box.agreement()
    assert found.is_full
    assert found.compared > 10
    assert found.high - found.low > 3
    go(bench, "PT-201", "pack")
    go(bench, "AT-208", "pack")  # what it showed before the write is not held against the numbers of now
    qtbot.waitUntil(lambda: box.agreement().compared >= found.compared, timeout=15_000)
    assert box.agreement().is_full
    box.back.click()
    bench.live.disconnect_all()
    assert not box.watched.isVisible()


def test_what_must_follow_is_listed_and_ticked_off(bench):
    panel = go(bench, "PT-201", "pack")
    box = panel.load
    box.write.click()  # its readings hold what the controller showed, so nothing speaks against it
    assert bench.bench.job.write_of("pt-201").differences == ()
    ticks = [one for one in box.findChildren(QCheckBox) if one.property("thing")]
    assert [tick.property("thing") for tick in ticks] == list(bench.bench.job.controllers[0].after_loading)
    ticks[1].click()
    assert bench.bench.job.write_of("pt-201").done == (ticks[1].property("thing"),)
    ticks[1].click()
    assert bench.bench.job.write_of("pt-201").done == ()


def test_a_controller_that_does_not_answer_is_told_in_place(window):
    panel = go(window, "PT-201", "pack")
    sources = tuple(
        source.with_(port=9) if source.id == "controller" else source for source in window.bench.job.sources
    )
    window.bench.edit("nowhere", lambda job: change_sources(job, sources))
    panel.load.write.click()
    assert "Nothing answers at 127.0.0.1:9" in complaint(panel.load)
    assert window.bench.job.write_of("pt-201") is None


def test_a_write_that_is_cut_off_leaves_the_copy_of_what_was_there_on_disk(bench, monkeypatch):
    """The link breaks once the first cells are written; the copy is in the file, and putting it back undoes it all."""
    box = go(bench, "AT-208", "pack").load
    started = read_now(bench)
    whole, sent = Modbus.write, []

    def breaks(self, address, words):
        if sent:
            raise NoLink("the cable is out")
        sent.append(address)
        whole(self, address, words)

    monkeypatch.setattr("able_yardstick.bench.modbus.TIMEOUT_S", 10.0)  # the rig may have to wait for its turn
    monkeypatch.setattr(Modbus, "write", breaks)
    box.write.click()
    box.write.click()  # all the same
    assert "the cable is out" in complaint(box)
    on_disk = read_job(bench.bench.path).write_of("at-208")
    assert (on_disk.finished, on_disk.before) == (False, started)
    assert box.status.text().startswith("cut off while writing")
    monkeypatch.setattr(Modbus, "write", whole)
    box.write.click()
    assert bench.bench.job.write_of("at-208").before == started  # still that of before it all
    box.back.click()
    assert read_now(bench) == started


def test_a_channel_without_a_described_table_says_what_is_missing(window):
    channel = window.bench.job.continuous("pt-201")
    window.bench.edit("loose", lambda job: change_channel(job, channel.with_(landing=None)))
    panel = go(window, "PT-201", "pack")
    assert "lands on no terminal whose table's registers are described" in panel.load.status.text()
    assert not panel.load.write.isEnabled()


def test_a_controller_that_stopped_does_not_stop_the_window(bench, rig, qtbot, monkeypatch):
    monkeypatch.setattr(beside, "PATIENCE_S", 0.1)
    box = go(bench, "PT-201", "pack").load
    Knobs(rig.knobs).turn(do="silence", seconds=3.0)
    began = time.monotonic()
    box.write.click()
    assert time.monotonic() - began < 0.6
    assert box.status.text() == "Talking to the controller …"
    assert not box.write.isEnabled()
    qtbot.waitUntil(lambda: "did not answer" in complaint(box) or "Nothing answers" in complaint(box), timeout=10_000)
    assert box.write.isEnabled()
    qtbot.wait(2500)  # until it answers again
