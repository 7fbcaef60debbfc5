"""The lookout on a real rig: strips, what needs attention, the log by a key, the last minute kept."""

import time

import pytest
from acting import complaint, enter, press, said, words
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QScrollArea

from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.job.instruments import change_sources
from able_yardstick.files.log.reader import LogFile
from rigging import Knobs, places_of, start_rig, stop_rig


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


@pytest.fixture
def knobs(rig):
    made = Knobs(rig.knobs)
    yield made
    made.turn(do="fault", tag="TE-205", fault="healthy")


@pytest.fixture
def watching(window, rig, qtbot):
    """The window on its lookout, connected to the rig."""
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    window.live.connect_all()
    window.show_side("lookout")
    watch = window.lookout.watch
    qtbot.waitUntil(lambda: watch.live_channels == 11 and not any(one.is_fault for one in watch.standings.values()))
    return window


def press_key(window, keys):
    next(action for action in window.actions_list if action.shortcut().toString() == keys).trigger()


def test_before_anything_is_connected_it_says_so_and_connects(window, rig, qtbot):
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    press_key(window, "F2")
    assert "Nothing is connected." in words(window.panel_shown)
    assert window.lookout.picture.words_of("PT-201") == "not live"
    press(window.panel_shown, "Connect")
    qtbot.waitUntil(lambda: "live channels are in order" in words(window.panel_shown), timeout=10_000)


def test_every_channel_has_its_value_unit_and_kind(watching):
    shown = watching.lookout.picture.words_of
    assert shown("PT-201").endswith(" kPa")
    assert shown("PS-211") == "gas present"
    assert shown("WQ-212").endswith("kg/pulse")
    assert shown("TY-213") == "an output"
    assert watching.tagboard.isHidden()
    press_key(watching, "F2")
    assert not watching.tagboard.isHidden()


def test_an_opened_lead_is_named_within_a_second_and_acknowledged(watching, knobs, qtbot):
    began = time.monotonic()
    knobs.turn(do="fault", tag="TE-205", fault="open")
    qtbot.waitUntil(lambda: watching.lookout.picture.words_of("TE-205") == "lead open", timeout=3000)
    assert time.monotonic() - began < 1.5  # a second, and a slow machine
    panel = watching.panel_shown
    qtbot.waitUntil(lambda: "TE-205: lead open" in words(panel))
    assert "alarms cannot trip" in words(panel)
    knobs.turn(do="fault", tag="TE-205", fault="healthy")
    qtbot.waitUntil(lambda: watching.lookout.watch.attention.items[0].until_s is not None)
    qtbot.wait(50)
    press(panel, "Seen")
    assert "TE-205" not in words(panel)


def test_a_pair_and_a_value_are_watched_live(watching, knobs, qtbot):
    watch, picture = watching.lookout.watch, watching.lookout.picture
    knobs.turn(do="fault", tag="AT-209", fault="chassis-ground offset")
    qtbot.waitUntil(lambda: bool(watch.pairs) and watch.pairs["flue-oxygen"].is_apart, timeout=10_000)
    assert picture.words_of("AT-208 · AT-209").endswith("% O2")
    qtbot.waitUntil(lambda: "AT-208 · AT-209: apart" in words(watching.panel_shown))
    assert "AT-208 is trusted" in words(watching.panel_shown)
    lambda_now = watch.values["excess-air"]
    assert lambda_now.value == pytest.approx(20.95 / (20.95 - 8.44), rel=0.02)
    assert lambda_now.expanded > 0
    QScrollArea.widget(picture).grab()
    press_key(watching, "Ctrl+L")
    knobs.turn(do="fault", tag="TE-205", fault="open")
    qtbot.waitUntil(lambda: any(item.channel == "te-205" for item in watch.attention.items), timeout=5000)
    recorder = watch.recorder
    press_key(watching, "Ctrl+L")
    knobs.turn(do="fault", tag="AT-209", fault="healthy")
    with LogFile(recorder.path) as read:
        assert any(event.channel == "te-205" and event.kind == "fault" for event in read.events())


def test_a_log_is_started_noted_and_ended_by_keys(watching, qtbot):
    press_key(watching, "Ctrl+L")
    panel = watching.panel_shown
    recorder = watching.lookout.watch.recorder
    qtbot.waitUntil(lambda: recorder.totals.kept > 300)
    enter(qtbot, panel.note, "burner lit")
    press_key(watching, "Ctrl+L")
    assert "samples of" in said(watching)
    assert complaint(panel) == ""
    with LogFile(recorder.path) as read:
        assert [event.says for event in read.events() if event.kind == "note"] == ["burner lit"]
        assert recorder.path.parent == watching.bench.path.parent


def test_the_last_minute_is_kept(watching, qtbot):
    qtbot.wait(1500)
    press_key(watching, "Ctrl+Shift+L")
    kept = list(watching.bench.path.parent.glob("*.yardlog"))
    with LogFile(kept[0]) as read:
        assert read.read(read.of("PT-201", "raw")).length_s > 1.0


def test_the_trends_are_read_at_the_pointer_and_a_strip_leads_to_its_channel(watching, qtbot):
    picture = watching.lookout.picture
    strips = QScrollArea.widget(picture)
    place = QPointF(strips.width() - 90, 60)
    move = QMouseEvent(
        QMouseEvent.Type.MouseMove, place, strips.mapToGlobal(place), Qt.MouseButton.NoButton,
        Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
    )  # fmt: skip
    strips.mouseMoveEvent(move)
    strips.grab()
    press_key(watching, "Ctrl+Shift+R")
    strips.grab()
    QTest.mouseClick(strips, Qt.MouseButton.LeftButton, pos=QPointF(60, 34 + 2 * 51 + 10).toPoint())
    assert watching.bench.channel.tag == "TT-203"
    assert watching.panel_shown is not watching.lookout.panel


def test_a_log_ends_with_its_job_and_with_the_window(watching, qtbot, tmp_path):
    press_key(watching, "Ctrl+L")
    first = watching.lookout.watch.recorder
    qtbot.waitUntil(lambda: first.totals.kept > 50)
    watching.bench.create(tmp_path / "other.yardstick.json", "Other")
    assert watching.lookout.watch.recorder is None
    with LogFile(first.path) as read:
        assert read.read(read.of("PT-201", "raw")).length_s > 0
