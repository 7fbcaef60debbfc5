"""Watching the plant and what comes of it: a lead opened, a minute kept, a pair apart, a log replayed and saved."""

import pytest
from acting import complaint, field_named, named, pick, press, said, unfold, words
from openpyxl import load_workbook

from able_yardstick.app.panel.figures import FigureTable
from able_yardstick.app.rig.process import DEMO_FAULTS
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.job.instruments import change_sources
from able_yardstick.core.results.choices import use_curve
from able_yardstick.files.log.reader import LogFile
from rigging import Knobs, places_of, start_rig, stop_rig


@pytest.fixture
def rig():
    faults = [part for fault in DEMO_FAULTS for part in ("--fault", fault)]
    process, told = start_rig("--seed", "7", *faults)
    yield places_of(told)
    stop_rig(process)


def press_key(window, keys):
    next(action for action in window.actions_list if action.shortcut().toString() == keys).trigger()


def test_a_technician_watches_keeps_compares_replays_and_saves(window, rig, qtbot, tmp_path):
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    press_key(window, "F2")
    press(window.panel_shown, "Connect")
    watch = window.lookout.watch
    qtbot.waitUntil(lambda: watch.live_channels == 11, timeout=10_000)
    # a pair that is apart says who is trusted, and why
    panel = window.panel_shown
    qtbot.waitUntil(lambda: "AT-208 is trusted" in words(panel), timeout=10_000)
    # a lead is opened, and named
    Knobs(rig.knobs).turn(do="fault", tag="TE-205", fault="open")
    qtbot.waitUntil(lambda: "TE-205: lead open" in words(panel), timeout=5000)
    press(panel, "Keep these 60 s")
    kept = next(window.bench.path.parent.glob("*.yardlog"))
    with LogFile(kept) as log:
        lost = log.read(log.of("TE-205", "raw"))
        assert lost.values[-1] > lost.values[0]
    # what goes on is recorded
    qtbot.wait(1100)  # so that its name is another one
    press_key(window, "Ctrl+L")
    recorder = watch.recorder
    qtbot.waitUntil(lambda: recorder.totals.kept > 2000, timeout=15_000)
    press_key(window, "Ctrl+L")
    press(panel, "Look at the last log")
    chart = window.panel_shown
    assert recorder.path.name in words(chart)
    unfold(chart)
    # a new calibration of PT-201 is tried on it
    gas = window.bench.job.tagged("PT-201")
    window.bench.edit("curve", lambda job: use_curve(job, gas.id, "poly2", window.bench.job.fit_of(gas.id).made))
    chart.show_now()
    pick(field_named(chart, "Numbers"), "curve")
    press(chart, "Reckon it anew")
    assert complaint(chart) == ""
    assert "new − old" in named(chart, FigureTable, "Old against new").plain
    # it is replayed into the program, and its stretch saved
    pick(field_named(chart, "Speed"), "5")
    press(chart, "Replay it")
    qtbot.waitUntil(lambda: window.live.replayed is not None and window.live.replayed.at_s > 0.5, timeout=5000)
    press_key(window, "F2")
    qtbot.waitUntil(lambda: window.lookout.picture.words_of("PT-201").endswith("kPa"), timeout=5000)
    press_key(window, "F3")
    chart.parts["stretch"].save(tmp_path / "stretch.xlsx")
    assert "rows are in" in said(window)
    headings = [cell.value for cell in load_workbook(tmp_path / "stretch.xlsx").active[1]]
    assert {"PT-201 raw", "PT-201 shown", "PT-201 reckoned"} <= set(headings)
