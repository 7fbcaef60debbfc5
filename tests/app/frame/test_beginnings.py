"""The first touch: what an empty job offers, where the focus is, and what Ctrl+V means."""

import pytest
from acting import button, card, go, said, side, texts
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLineEdit

from able_yardstick.app.frame.start_view import TILES
from able_yardstick.core.job.instruments import change_sources


@pytest.fixture
def empty(opened, tmp_path, monkeypatch):
    """A window on an empty job."""
    monkeypatch.setattr("platformdirs.user_documents_path", lambda: tmp_path / "documents")
    monkeypatch.setattr("platformdirs.user_data_path", lambda _name: tmp_path / "data")
    return opened(None)


@pytest.mark.parametrize("tile", TILES, ids=lambda tile: tile.title)
def test_every_tile_starts_a_channel_whose_tag_is_typed_at_once(empty, qtbot, tile):
    qtbot.mouseClick(button(empty.centre, tile.title), Qt.MouseButton.LeftButton)
    assert len(empty.bench.job.channels) == 1
    assert empty.bench.step == "describe"
    tag = empty.focusWidget()
    assert isinstance(tag, QLineEdit)
    assert tag.selectedText() == empty.bench.channel.tag
    qtbot.keyClicks(tag, "XT-7")
    qtbot.keyClick(tag, Qt.Key.Key_Return)
    assert empty.bench.channel.tag == "XT-7"


def test_the_demo_and_jobs_opened_before_are_one_press_away(empty, qtbot):
    first = empty.bench.path
    qtbot.mouseClick(button(empty.centre, "Open the demo job"), Qt.MouseButton.LeftButton)
    assert empty.bench.job.tagged("PT-201")
    empty.show_side("references")
    empty.jobs.open_job(first)
    assert not empty.panels.isVisible()  # nothing of the job before stands beside what an empty one begins with
    qtbot.waitUntil(lambda: "Opened before" in texts(empty.centre))
    qtbot.mouseClick(button(empty.centre, "Kiln 2"), Qt.MouseButton.LeftButton)
    assert empty.bench.job.tagged("PT-201")


def test_a_table_is_pasted_into_an_empty_job(empty, qtbot, press_take):
    QApplication.clipboard().setText("V\tkPa\n0.5\t0\n2.5\t120\n4.5\t250\n")
    press_take()
    qtbot.mouseClick(button(empty.centre, "Paste a table"), Qt.MouseButton.LeftButton)
    channel = empty.bench.continuous
    assert [row.reading.reference for row in empty.bench.job.amended(channel.id, "gather")] == [0, 120, 250]


def test_without_a_table_on_the_clipboard_nothing_is_added(empty, qtbot):
    QApplication.clipboard().clear()
    qtbot.mouseClick(button(empty.centre, "Paste a table"), Qt.MouseButton.LeftButton)
    assert empty.bench.job.channels == ()
    assert "no table" in said(empty)


def test_a_space_presses_nothing_that_nobody_aimed_at(empty, qtbot):
    before = empty.bench.job
    qtbot.keyClick(empty.focusWidget() or empty, Qt.Key.Key_Space)
    assert empty.bench.job == before
    assert QApplication.activePopupWidget() is None


def test_a_new_channel_is_scrolled_to_and_named_at_once(window, qtbot):
    for _ in range(3):
        window.channels.add("continuous")
    qtbot.wait(50)
    tag = window.focusWidget()
    assert tag.selectedText() == window.bench.channel.tag
    qtbot.wait(200)
    seen = card(window, window.bench.channel.tag)
    assert seen.visibleRegion().boundingRect().height() == seen.height()


def test_several_cells_are_no_text_for_a_field(window, qtbot, press_take):
    panel = go(window, "PT-201", "describe")
    entry, before = panel.findChildren(QLineEdit)[0], len(window.bench.job.readings)
    entry.setFocus()
    entry.selectAll()
    QApplication.clipboard().setText("PT-301\n")
    qtbot.keyClick(entry, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert entry.text() == "PT-301"
    QApplication.clipboard().setText("V\tkPa\n0.51\t0\n4.52\t250\n")
    press_take()
    qtbot.keyClick(entry, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert entry.text() == "PT-301"
    assert len(window.bench.job.readings) == before + 2


def test_enter_in_an_empty_search_does_nothing(window, qtbot):
    window.bench.edit("name", lambda job: job.with_(document=job.document.with_(title="Other")))
    window.find_field.setFocus()
    qtbot.keyClick(window.find_field, Qt.Key.Key_Return)
    assert window.bench.job.title == "Other"
    qtbot.keyClicks(window.find_field, "bench")
    assert "Sources" in window.find_field.list.topLevelItem(0).text(0)


def test_a_channel_that_is_looked_at_has_its_card_in_view(window, qtbot):
    go(window, "WQ-212", "describe")
    qtbot.wait(200)
    seen = card(window, "WQ-212")
    assert seen.visibleRegion().boundingRect().height() == seen.height()


def test_nothing_is_connected_to_where_there_is_no_source(empty, window):
    empty.channels.add("continuous")
    assert not button(side(empty, "sources"), "Connect").isEnabled()
    sources = side(window, "sources")
    button(sources, "Connect").click()
    window.bench.edit("none", lambda job: change_sources(job, ()))
    assert button(sources, "Disconnect").isEnabled()
    button(sources, "Disconnect").click()
    assert not window.live.is_on
