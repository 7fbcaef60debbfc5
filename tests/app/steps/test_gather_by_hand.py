"""Gather without a live source: the plan of stops, values typed in a row, and what would harm."""

import pytest
from acting import field_named, go, press, words
from PySide6.QtCore import Qt


@pytest.fixture
def panel(window):
    """Gather of IT-207, 0 to 50 A as 0 to 5 V, without a reading."""
    return go(window, "IT-207", "gather")


def add(panel, reference, raw):
    panel.form.reference.setText(reference)
    panel.form.raw.setText(raw)
    press(panel, "Add reading")
    return panel.bench.job.amended("it-207", "gather")[-1].reading if panel.form.reference.text() == "" else None


def test_the_plan_says_what_to_dial_next_and_which_way(panel):
    assert "Stop 1 of 12" in words(panel)
    assert "Go to 0 A \u2191" in words(panel)
    reading = add(panel, "0.02", "0.003")
    assert (reading.set_value, reading.direction, reading.reference) == (0.0, "up", 0.02)
    assert "Go to 10 A \u2191" in words(panel)


def test_a_reading_off_the_plan_is_kept_as_what_it_is_and_the_stop_stays_open(panel):
    told = []
    panel.bench.said.connect(lambda text, _wrong: told.append(text))
    reading = add(panel, "40", "4.01")
    assert (reading.set_value, reading.direction, reading.reference) == (None, "not stated", 40.0)
    assert "Stop 1 of 12" in words(panel)
    assert told[-1] == "Kept at 40 A, off the plan: stop 1, 0 A, stays open."


def test_values_typed_in_a_row_are_a_mean_with_its_spread(panel):
    raw = add(panel, "20", "2.01; 2.02; 1.99").raw
    assert (raw.mean, raw.count, raw.digit) == (pytest.approx(2.0066667), 3, 0.01)
    assert raw.spread == pytest.approx(0.0152753, rel=1e-5)


def test_what_would_harm_is_taken_down_only_as_what_happened_already(panel):
    assert add(panel, "500", "5") is None
    assert "If it happened already, press \u201cAdd reading\u201d once more" in words(panel)
    assert panel.bench.job.amended("it-207", "gather") == []
    press(panel, "Add reading")
    assert panel.bench.job.amended("it-207", "gather")[0].reading.reference == 500.0


def test_the_keys_of_the_bench_lead_through_the_plan(panel, qtbot):
    window = panel.window()
    qtbot.keyClick(window, Qt.Key.Key_F9)
    assert "Stop 2 of 12" in words(panel)
    panel.form.reference.setText("10")
    panel.form.raw.setText("1.00")
    qtbot.keyClick(window, Qt.Key.Key_F8)
    assert "Stop 3 of 12" in words(panel)
    qtbot.keyClick(window, Qt.Key.Key_F7)
    assert "Stop 2 of 12" in words(panel)


def test_one_signal_with_two_references_is_named_with_both_rows(panel):
    add(panel, "0", "0.00")
    add(panel, "20", "2.00")
    add(panel, "20.1", "2.00")
    assert "Rows 2 and 3 have the same signal, 2 V, but the reference said 20 and 20.1 A." in words(panel)


def test_the_plan_can_be_typed_without_a_source(panel, qtbot):
    field = field_named(panel, "Stops")
    assert field.isVisible()
    assert not panel.live.take.isVisible()
