"""A search for numbers that takes longer than a moment runs beside the window, and can be stopped."""

import pytest
from acting import go
from PySide6.QtCore import Qt

from able_yardstick.app.frame import pack_search
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.pack.packed import packed_now


@pytest.fixture
def slow(window, monkeypatch):
    """Gives PT-202 a table whose knots take a second to find, other ones each time, and no patience."""
    monkeypatch.setattr(pack_search, "PATIENCE_S", 0.01)

    def look(knots):
        channel = window.bench.job.continuous("pt-202")
        spec = channel.pack_spec.with_(form="knots", spacing="best", knots=knots, value_step=0.1)
        window.bench.edit("knots", lambda job: change_channel(job, channel.with_(pack_spec=spec)))
        return go(window, "PT-202", "pack")

    return look


def test_the_window_goes_on_while_numbers_are_searched_for(window, qtbot, slow):
    panel = slow(13)
    assert panel.searching.isVisible()
    assert panel.searching.button.text() == "Stop"
    assert not panel.numbers.isVisible()
    window.bench.go("describe")
    window.bench.go("pack")
    qtbot.waitUntil(lambda: "so far, none can be below" in panel.searching.says.text(), timeout=30_000)
    qtbot.waitUntil(panel.numbers.isVisible, timeout=30_000)
    assert not panel.searching.isVisible()
    assert len(packed_now(window.bench.job, window.bench.continuous).form.signals) == 13
    assert "packed minus calibration" in window.centre.error_plot.content.words


def test_a_search_is_stopped_and_taken_up_again(window, qtbot, slow):
    panel = slow(14)
    qtbot.mouseClick(panel.searching.button, Qt.MouseButton.LeftButton)
    assert not window.bench.search.is_running
    assert panel.searching.says.text() == (
        "The search for the best numbers was stopped. Search again, or choose other settings."
    )
    assert not panel.numbers.isVisible()
    window.bench.go("fit")
    window.bench.go("pack")
    assert not window.bench.search.is_running  # it stays stopped
    qtbot.mouseClick(panel.searching.button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(panel.numbers.isVisible, timeout=30_000)
    assert not panel.searching.isVisible()


def test_other_settings_take_the_place_of_what_is_searched_for(window, qtbot, slow):
    slow(15)
    panel = slow(16)
    qtbot.waitUntil(panel.numbers.isVisible, timeout=30_000)
    assert len(packed_now(window.bench.job, window.bench.continuous).form.signals) == 16


def test_the_numbers_of_every_form_are_compared_beside_the_window_too(window, qtbot, monkeypatch):
    panel = go(window, "TE-205", "pack")
    monkeypatch.setattr(pack_search, "PATIENCE_S", 0.0)
    qtbot.mouseClick(panel.others.compare, Qt.MouseButton.LeftButton)
    assert panel.others.searching.isVisible()
    assert panel.others.searching.says.text().startswith("Looking for the numbers of every form")
    qtbot.waitUntil(panel.others.table.isVisible, timeout=60_000)
    assert not panel.others.searching.isVisible()


def test_closing_the_window_ends_a_search(window, slow):
    slow(17)
    search = window.bench.search
    window.close()
    assert not search.is_running
