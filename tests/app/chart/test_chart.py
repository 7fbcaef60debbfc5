"""The chart by hand: a log opened, read at cursors, moved, crossed, saved, replayed, reckoned anew, compared."""

import csv

import pytest
from acting import complaint, enter, field_named, named, pick, press, said, unfold, words
from openpyxl import load_workbook
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QComboBox, QListWidget, QTableWidget

from able_yardstick.app.chart.foreign_dialog import ForeignDialog
from able_yardstick.app.chart.picture import ChartDrawing
from able_yardstick.app.chart.readings_dialog import LogReadingsDialog
from able_yardstick.app.panel.figures import FigureTable
from logged import LENGTH_S, kiln_log


@pytest.fixture
def log_path(tmp_path, demo_job):
    return kiln_log(tmp_path / "ten minutes.yardlog", demo_job)


@pytest.fixture
def charted(window, log_path, qtbot):
    """The window on its chart, with a log open and all parts of the panel unfolded."""
    window.take_file(log_path)
    unfold(window.panel_shown)
    window.panel_shown.show_now()
    return window


def drawing(window):
    return window.findChild(ChartDrawing)


def test_a_log_opens_whole_and_says_what_it_is(charted):
    panel = charted.panel_shown
    assert "ten minutes.yardlog" in words(panel)
    assert "10 min 0 s of 10 min 0 s are seen." in words(panel)
    drawing(charted).grab()
    listed = named(panel, QListWidget, "Courses")
    ticked = [listed.item(n).text() for n in range(listed.count()) if listed.item(n).checkState().value]
    assert ticked == ["PT-201, kPa", "AT-208, % O2"]
    assert "PT-201" in panel.findChild(QListWidget).item(0).text()


def test_cursors_are_set_by_a_press_and_moved_by_keys(charted, qtbot):
    chart = drawing(charted)
    place = QPoint(chart.width() // 3, chart.height() // 2)
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, pos=place)
    later = QPoint(2 * chart.width() // 3, chart.height() // 2)
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, later)
    before = charted.chart.state.sight
    assert before.b_s - before.a_s == pytest.approx(LENGTH_S / 3, rel=0.2)
    qtbot.keyClick(chart, Qt.Key.Key_Right)
    qtbot.keyClick(chart, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    after = charted.chart.state.sight
    assert after.a_s > before.a_s
    assert after.b_s < before.b_s
    table = named(charted.panel_shown, FigureTable, "At the cursors")
    qtbot.waitUntil(lambda: "B − A" in table.plain)
    assert "a minute" in table.plain
    qtbot.keyClick(chart, Qt.Key.Key_Delete)
    assert charted.chart.state.sight.a_s is None


def test_the_stretch_is_zoomed_and_moved_and_seen_whole_again(charted, qtbot):
    chart = drawing(charted)
    whole = charted.chart.state.sight
    qtbot.keyClick(chart, Qt.Key.Key_Up)
    qtbot.keyClick(chart, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    near = charted.chart.state.sight
    assert near.length_s < whole.length_s
    assert near.start_s > whole.start_s
    start = QPoint(300, 200)
    QTest.mousePress(chart, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(chart, QPoint(400, 200))
    QTest.mouseRelease(chart, Qt.MouseButton.LeftButton, pos=QPoint(400, 200))
    assert charted.chart.state.sight.start_s < near.start_s
    chart.grab()
    qtbot.keyClick(chart, Qt.Key.Key_Home)
    assert charted.chart.state.sight[:2] == whole[:2]


def test_courses_are_chosen_and_drawn_against_each_other(charted):
    panel = charted.panel_shown
    listed = named(panel, QListWidget, "Courses")
    for n in range(listed.count()):
        wanted = listed.item(n).text().startswith(("AT-208,", "AT-209,"))
        listed.item(n).setCheckState(Qt.CheckState.Checked if wanted else Qt.CheckState.Unchecked)
    assert [one.words for one in charted.chart.state.shown] == ["AT-208", "AT-209"]
    panel.findChild(QCheckBox).click()
    drawing(charted).grab()
    assert charted.chart.state.is_crossed
    panel.findChild(QCheckBox).click()


def test_a_stretch_is_saved_as_a_table(charted, tmp_path):
    state = charted.chart.state
    state.see(state.sight.with_cursor("A", 5100.0).with_cursor("B", 5110.0))
    stretch = charted.panel_shown.parts["stretch"]
    stretch.save(tmp_path / "stretch.xlsx")
    assert "100 rows are in" in said(charted)
    sheet = load_workbook(tmp_path / "stretch.xlsx").active
    assert [cell.value for cell in sheet[1]][2:] == [
        "PT-201 raw", "PT-201 shown", "PT-201 reference", "AT-208 raw", "PT-201 reckoned", "AT-208 reckoned",
    ]  # fmt: skip
    stretch.save(tmp_path / "stretch.csv")
    with (tmp_path / "stretch.csv").open() as lines:
        assert len(list(csv.reader(lines))) == 103
    stretch.save(tmp_path / "stretch.csv")
    assert complaint(stretch) == "" or "there already" in complaint(stretch)


def test_a_log_is_replayed_into_the_whole_program_held_and_stepped(charted, qtbot):
    panel = charted.panel_shown
    pick(field_named(panel, "Speed"), "50")
    press(panel, "Replay it")
    qtbot.waitUntil(lambda: charted.live.replayed is not None and charted.live.replayed.at_s > 5)
    press(panel, "Hold")
    qtbot.waitUntil(lambda: charted.live.replayed.is_held)
    at = charted.live.replayed.at_s
    assert "replays ten minutes.yardlog, held" in charted.live.words()
    press(panel, "One step")
    qtbot.waitUntil(lambda: charted.live.replayed.at_s > at)
    assert charted.live.replayed.at_s - at < 0.2
    charted.leave_side()
    assert charted.live.pin(charted.bench.channel) is not None
    charted.show_side("lookout")
    qtbot.waitUntil(lambda: charted.lookout.picture.words_of("PT-201").endswith("kPa"))
    charted.show_side("chart")
    press(panel, "End it")
    assert not charted.live.is_on


def test_the_same_log_with_other_numbers(charted, qtbot):
    panel = charted.panel_shown
    pick(field_named(panel, "Numbers"), "formula")
    enter(qtbot, field_named(panel, "Formula"), "nothing(x)")
    press(panel, "Reckon it anew")
    assert "There is no function" in complaint(panel)
    enter(qtbot, field_named(panel, "Formula"), "2*(62.4236*x - 31.4094)")
    press(panel, "Reckon it anew")
    assert complaint(panel) == ""
    assert "new − old" in named(panel, FigureTable, "Old against new").plain
    assert "low alarm comes not" in named(panel, FigureTable, "Alarms gained and lost").plain
    drawing(charted).grab()
    press(panel, "Take off what is laid over it")
    assert charted.chart.state.laid == ()


def test_two_sensors_are_compared_over_the_stretch(charted):
    panel = charted.panel_shown
    press(panel, "Compare them")
    shown = words(panel)
    assert "AT-209 reads 0.15 % O2 more than AT-208 on the mean" in shown
    assert "They began to part at" in shown
    assert "by a step of +0.3 % O2" in shown
    assert "AT-209 is suspect." in shown


def test_steady_moments_are_taken_as_readings(charted, answer_soon):
    before = len(charted.bench.job.readings)

    def take(dialog):
        assert "8 stops" not in words(dialog)
        table = named(dialog, QTableWidget, "Readings found")
        assert table.rowCount() >= 8
        press(dialog, f"Take {table.rowCount()} readings")

    answer_soon(LogReadingsDialog, take)
    press(charted.panel_shown, "Readings from it …")
    added = charted.bench.job.readings[before:]
    assert {one.channel for one in added} == {"pt-201"}
    assert all(one.source == "from the log ten minutes.yardlog" for one in added)
    assert "marked as from the log" in said(charted)


def test_a_log_of_another_program_is_taken_in_by_preview(charted, tmp_path, answer_soon):
    path = tmp_path / "other.csv"
    rows = "\n".join(f"{n},{100 + n / 10},{2000 + n},x" for n in range(100))
    path.write_text(f"seconds,PT-201 (kPa),AT-208 raw,remark\n{rows}\n")

    def take(dialog):
        assert named(dialog, QComboBox, "Channel of AT-208 raw").currentText() == "AT-208"
        assert named(dialog, QComboBox, "What AT-208 raw is").currentText() == "raw, in counts"
        assert named(dialog, QComboBox, "Channel of remark").currentText() == "left out"
        press(dialog, "Take it in")

    answer_soon(ForeignDialog, take)
    charted.open_log(path)
    assert charted.chart.state.log.path == tmp_path / "other.yardlog"
    assert [one.words for one in charted.chart.state.traces] == [
        "AT-208", "AY-214", "PT-201 as shown", "AT-208 raw",
    ]  # fmt: skip


def test_what_is_no_log_is_refused_in_words(charted, tmp_path):
    (tmp_path / "bad.yardlog").write_text("no log")
    charted.open_log(tmp_path / "bad.yardlog")
    assert "is no log that can be read" in said(charted)
    assert charted.chart.state.log.path.name == "ten minutes.yardlog"
    charted.open_log(tmp_path / "gone.yardlog")
    assert "is not there" in said(charted)
