"""A unit typed with a number is taken where it fits, and refused in place where it does not."""

import pytest
from acting import enter, field_named, go, words
from PySide6.QtCore import Qt


def test_a_range_typed_in_another_unit_is_taken_in_the_fields_own(window, qtbot):
    panel = go(window, "PT-202", "describe")
    enter(qtbot, field_named(panel, "Range"), "-0.15 kPa", "1.5 hPa")
    assert window.bench.continuous.range == (-150.0, 150.0)
    enter(qtbot, field_named(panel, "Range"), "0", "20 mA")
    assert "“mA” was typed where Pa is expected" in words(panel)
    assert window.bench.continuous.range == (0.0, 150.0)


def test_a_meters_millivolts_are_read_as_volts_at_the_pin(window, qtbot):
    panel = go(window, "IT-207", "gather")
    panel.form.reference.setText("9.56 A")
    panel.form.raw.setText("956 mV")
    qtbot.mouseClick(panel.form.button, Qt.MouseButton.LeftButton)
    reading = window.bench.job.amended("it-207", "gather")[0].reading
    assert (reading.reference, reading.raw.unit) == (9.56, "V")
    assert (reading.raw.mean, reading.raw.digit) == pytest.approx((0.956, 0.001))
