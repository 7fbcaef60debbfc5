"""Rows of the lookout by hand: pinned, hidden, grouped; sensors compared; values made of channels."""

import pytest
from acting import complaint, named, press, words
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtWidgets import QApplication, QComboBox, QLabel, QLineEdit, QListWidget, QMenu, QScrollArea

from able_yardstick.app.lookout.picture import Strips
from able_yardstick.app.panel.ask_dialog import AskDialog


@pytest.fixture
def lookout(window, qtbot):
    window.show_side("lookout")
    return window


def strips(window):
    return QScrollArea.widget(window.lookout.picture)


def menu_at(window, tag):
    """The menu of a row, by a right press on it."""
    made = strips(window)
    assert isinstance(made, Strips)
    place = next(one.place for one in made.placed if one.row.words == tag)
    at = QPoint(60, round(place.center().y()))
    event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, made.mapToGlobal(at))
    QApplication.sendEvent(made, event)
    return next(one for one in window.findChildren(QMenu) if one.isVisible())


def choose(window, tag, act):
    menu = menu_at(window, tag)
    next(action for action in menu.actions() if action.text() == act).trigger()
    menu.close()
    menu.deleteLater()
    QApplication.processEvents()


def dialog_of(window):
    return next(one for one in window.findChildren(AskDialog) if one.isVisible())


def line(dialog, title):
    return named(dialog, QLineEdit, title)


def test_a_row_is_pinned_hidden_and_brought_back(lookout):
    choose(lookout, "FT-210", "Pin to the top")
    choose(lookout, "PT-201", "Hide")
    assert lookout.lookout.picture.rows[0] == "FT-210"
    assert "PT-201" not in lookout.lookout.picture.rows
    lookout.panel_shown.show_now()
    press(lookout.panel_shown, "Show 1 hidden row")
    assert "PT-201" in lookout.lookout.picture.rows
    choose(lookout, "FT-210", "Let it go from the top")
    assert lookout.lookout.picture.rows[0] == "PT-201"


def test_rows_are_grouped_and_shown_in_a_range_of_their_own(lookout):
    choose(lookout, "TE-204", "Group, range and decimals …")
    dialog = dialog_of(lookout)
    line(dialog, "Group").setText("drying")
    line(dialog, "From, °C").setText("120")
    line(dialog, "To, °C").setText("20")
    press(dialog, "Keep")
    assert "must run upwards" in complaint(dialog)
    line(dialog, "From, °C").setText("20")
    line(dialog, "To, °C").setText("120")
    line(dialog, "Decimals").setText("none")
    press(dialog, "Keep")
    assert "Expected 0 to 9 decimals" in complaint(dialog)
    line(dialog, "Decimals").setText("2")
    press(dialog, "Keep")
    order = named(lookout.panel_shown, QComboBox, "Order")
    order.setCurrentIndex(order.findText("by group"))
    order.activated.emit(order.currentIndex())
    assert lookout.lookout.picture.rows[:2] == ("drying", "TE-204")
    row = lookout.bench.job.watch.row(lookout.bench.job.tagged("TE-204").id)
    assert (row.low, row.high, row.decimals) == (20.0, 120.0, 2)
    strips(lookout).grab()


def test_two_sensors_are_compared_and_no_longer(lookout):
    choose(lookout, "AT-208 · AT-209", "Compare no longer")
    assert lookout.bench.job.watch.pairs == ()
    choose(lookout, "AT-208", "Compare with another sensor …")
    dialog = dialog_of(lookout)
    line(dialog, "Allowed").setText("0.2")
    sensors = named(dialog, QListWidget, "Sensors")
    ticked = [sensors.item(n).text()[:6] for n in range(sensors.count()) if sensors.item(n).checkState().value]
    assert ticked == ["AT-208", "AT-209"]
    sensors.item(0).setCheckState(Qt.CheckState.Checked)
    press(dialog, "Keep")
    assert "do not measure the same" in complaint(dialog)
    sensors.item(0).setCheckState(Qt.CheckState.Unchecked)
    press(dialog, "Keep")
    assert lookout.bench.job.watch.pairs[0].allowed == 0.2
    assert "AT-208 · AT-209" in lookout.lookout.picture.rows


def test_a_value_is_made_of_channels_and_says_at_once_what_it_comes_to(lookout):
    press(lookout.panel_shown, "Make a value …")
    dialog = dialog_of(lookout)
    says = named(dialog, QLabel, "Comes to")
    line(dialog, "Formula").setText("PT-201 + FT-210")
    assert "cannot be added" in says.text()
    line(dialog, "Formula").setText("AT-209 - AT-208")
    assert "state a unit" in says.text()
    line(dialog, "Unit").setText("% O2")
    assert says.text().startswith("0 % O2")
    line(dialog, "Tag").setText("PT-201")
    press(dialog, "Keep")
    assert "PT-201 is used 2 times" in complaint(dialog)
    line(dialog, "Tag").setText("AX-1")
    line(dialog, "High alarm").setText("0.5")
    press(dialog, "Keep")
    assert "AX-1" in lookout.lookout.picture.rows
    choose(lookout, "AX-1", "Change what it is made of …")
    again = dialog_of(lookout)
    assert line(again, "Formula").text() == "AT-209 - AT-208"
    assert line(again, "High alarm").text() == "0.5"
    again.reject()
    choose(lookout, "AX-1", "Take it away")
    assert "AX-1" not in lookout.lookout.picture.rows


def test_a_combined_value_says_what_happens_when_one_dies(lookout):
    press(lookout.panel_shown, "Make a value …")
    dialog = dialog_of(lookout)
    kind = named(dialog, QComboBox, "Kind")
    kind.setCurrentIndex(kind.findData("combined"))
    says = named(dialog, QLabel, "Comes to")
    assert "Tick the sensors" in says.text()
    sensors = named(dialog, QListWidget, "Sensors")
    for n in range(sensors.count()):
        if sensors.item(n).text()[:6] in ("AT-208", "AT-209"):
            sensors.item(n).setCheckState(Qt.CheckState.Checked)
    assert "When one dies: the mean of those left stands in for it." in says.text()
    rule = named(dialog, QComboBox, "Take")
    rule.setCurrentIndex(rule.findData("one chosen"))
    assert named(dialog, QComboBox, "Chosen").isVisible()
    rule.setCurrentIndex(rule.findData("lower"))
    press(dialog, "Keep")
    assert lookout.bench.job.watch.values[-1].rule == "lower"
    kind_total = lookout.bench.job.watch.values[-1]
    assert kind_total.unit == "% O2"


def test_at_a_glance_pinned_rows_stand_alone_and_are_held_still(lookout, qtbot):
    lookout.show_side("glance")
    assert lookout.panels.isHidden()
    glance = lookout.lookout.glance
    assert glance.rows[:2] == ("PT-201", "PT-202")
    assert len(glance.rows) == 12
    glance.grab()
    lookout.show_side("lookout")
    choose(lookout, "TE-204", "Pin to the top")
    choose(lookout, "AY-214", "Pin to the top")
    lookout.show_side("glance")
    assert glance.rows == ("TE-204", "AY-214")
    tiles = QScrollArea.widget(glance)
    qtbot.keyClick(tiles, Qt.Key.Key_Space)
    glance.grab()
    qtbot.keyClick(tiles, Qt.Key.Key_Space)
    assert tiles.accessibleDescription() == "TE-204 not live, AY-214 not live"
    lookout.leave_side()
    assert not lookout.panels.isHidden()


def test_an_empty_job_says_what_to_do_and_offers_no_dead_button(opened, tmp_path):
    window = opened(None)
    window.show_side("lookout")
    assert "has no source yet: add one at Sources (F4)" in words(window.panel_shown)
    assert "Connect" not in words(window.panel_shown).split("\n")
    strips(window).grab()
    window.show_side("chart")
    assert "Open a log, or add a source (F4)." in words(window.panel_shown)


def test_the_rows_are_walked_by_keys(lookout, qtbot):
    made = strips(lookout)
    made.setFocus()
    qtbot.keyClick(made, Qt.Key.Key_Down)
    qtbot.keyClick(made, Qt.Key.Key_Down)
    assert made.accessibleDescription().startswith("TT-203")
    qtbot.keyClick(made, Qt.Key.Key_Left)
    qtbot.keyClick(made, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    made.grab()
    qtbot.keyClick(made, Qt.Key.Key_Return)
    assert lookout.bench.channel.tag == "TT-203"
    assert "Lookout" not in words(lookout.panel_shown)
