"""The real window: what a person does, and what then stands on the screen and on disk."""

import re
import sys
from itertools import pairwise

import pytest
from acting import (
    at_step,
    button,
    candidates,
    card,
    complaint,
    do,
    entries,
    field_named,
    go,
    look_at,
    menu_button,
    named,
    pick,
    said,
    texts,
    type_into,
    words,
)
from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QLabel, QWidget

from able_yardstick.app.frame.leave_out import LeaveOutDialog
from able_yardstick.core.document.channel import ContinuousChannel
from able_yardstick.core.job.channels import remove_channel
from able_yardstick.core.state.progress import STEP_NAMES
from able_yardstick.files.jobfile import read_job


def test_two_columns_pasted_into_a_new_channel_lead_to_numbers_and_a_passed_proof(window, qtbot, press_take):
    window.channels.add("continuous")
    rows = "\n".join(f"{0.5 + n * 0.8:.2f}\t{n * 50 + (-1) ** n * 0.2:.1f}" for n in range(6))
    QGuiApplication.clipboard().setText("signal (V)\tpressure (kPa)\n" + rows)
    press_take()
    window.paste()
    assert window.bench.step == "gather"
    window.bench.go("fit")
    fit = at_step(window, "fit")
    type_into(qtbot, field_named(fit, "Fixed error ±").entries[0], "1")
    qtbot.mouseClick(fit.use, Qt.MouseButton.LeftButton)
    window.bench.go("pack")
    qtbot.mouseClick(at_step(window, "pack").keep, Qt.MouseButton.LeftButton)
    at_step(window, "pack").copy_cells()
    assert QGuiApplication.clipboard().text().startswith("slope\t62.")
    window.bench.go("prove")
    form = at_step(window, "prove").form
    for reference, shown in ((25, 25.3), (125, 125.2), (225, 224.6)):
        form.reference.setText(str(reference))
        form.shown.setText(str(shown))
        qtbot.mouseClick(form.button, Qt.MouseButton.LeftButton)
    assert "Pass: 3 of 3 checks within." in texts(at_step(window, "prove"))
    on_disk = read_job(window.bench.path)
    assert on_disk == window.bench.job
    assert len([reading for reading in on_disk.readings if reading.channel == window.bench.channel.id]) == 9


def test_a_value_typed_into_any_scale_moves_all_others(window, qtbot):
    go(window, "PT-202", "describe")
    rule = window.centre.rule
    type_into(qtbot, rule.readout("output"), "12 mA")
    assert rule.readout("pin").text() == "2.999"
    assert rule.readout("counts").text() == "2\u2009456"
    type_into(qtbot, rule.readout("quantity"), "-0,5 mbar")
    assert rule.readout("quantity").text() == "−50.00"
    assert window.sight.pin == pytest.approx(2.338, abs=0.002)


def test_a_curved_channel_is_read_both_ways(window, qtbot):
    go(window, "AT-208", "describe")
    rule = window.centre.rule
    type_into(qtbot, rule.readout("quantity"), "13")
    pin = window.sight.pin
    type_into(qtbot, rule.readout("pin"), f"{pin:.9f}")
    assert rule.readout("quantity").text() == "13.000"


def test_an_entry_out_of_range_says_why_nothing_follows_and_moves_nothing(window, qtbot):
    go(window, "PT-201", "describe")
    rule = window.centre.rule
    before = window.sight.pin
    type_into(qtbot, rule.readout("quantity"), "320")
    complaint = named(window.centre, QLabel, "Why nothing follows")
    assert complaint.isVisible()
    assert complaint.text().startswith("320.00 kPa would need 5.629 V, but the pin takes 0.000 to 5.000 V.")
    assert (window.sight.pin, rule.readout("quantity").text()) == (before, "320")
    qtbot.keyClick(rule.readout("quantity"), Qt.Key.Key_Escape)
    assert not complaint.isVisible()
    type_into(qtbot, rule.readout("pin"), "x")
    assert complaint.text().startswith("Expected a number, with or without its unit, found “x”.")


def test_the_hairline_is_dragged_and_stepped(window, qtbot):
    go(window, "PT-201", "describe")
    rule = window.centre.rule
    from able_yardstick.app.centre.rule.layout import ends_of

    x = round(float(ends_of(rule, window.sight).x(1.0)))
    qtbot.mousePress(rule, Qt.MouseButton.LeftButton, pos=QPoint(x, 20))
    assert window.sight.pin == pytest.approx(1.0, abs=0.01)
    before = window.sight.pin
    qtbot.keyClick(rule, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert window.sight.pin == pytest.approx(before + 5 / 4095)
    qtbot.keyClick(rule, Qt.Key.Key_End)
    assert window.sight.pin == 5.0


@pytest.mark.parametrize("width", [1024, 1280, 1911])
def test_the_plots_stand_under_the_rule_to_the_pixel(window, qtbot, width):
    from able_yardstick.app.centre.rule.layout import ends_of

    window.resize(width, 800)
    go(window, "PT-201", "fit")
    qtbot.wait(20)
    centre = window.centre
    for zoom in (1.0, 0.3):
        window.sight.zoom(zoom)
        qtbot.wait(20)
        for signal in (window.sight.view[0] * 0.3 + window.sight.view[1] * 0.7, window.sight.pin):
            rule_x = centre.rule.mapTo(centre, QPoint(0, 0)).x() + float(ends_of(centre.rule, window.sight).x(signal))
            for plot in (centre.curve_plot, centre.error_plot):
                plot_x = plot.mapTo(centre, QPoint(0, 0)).x() + plot.pixel_of(signal, 0.0).x()
                assert plot_x == pytest.approx(rule_x, abs=0.51)
            line_x = centre.hairline.x() + centre.hairline.line_x
        assert line_x == pytest.approx(rule_x, abs=0.01)


def test_undo_takes_back_edits_and_leaves_what_was_captured(window, qtbot, answer_soon):
    panel = go(window, "IT-207", "describe")
    type_into(qtbot, field_named(panel, "Measures").entries[0], "Fan")
    gather = go(window, "IT-207", "gather")
    gather.form.reference.setText("10")
    gather.form.raw.setText("1,02")
    qtbot.mouseClick(gather.form.button, Qt.MouseButton.LeftButton)
    answer_soon(LeaveOutDialog, lambda asked: qtbot.mouseClick(asked.undo, Qt.MouseButton.LeftButton))
    window.bench.undo()
    channel = window.bench.channel
    assert channel.name == "Draught fan motor"
    assert [row.excluded for row in window.bench.job.amended(channel.id, "gather")] == [""]
    assert read_job(window.bench.path) == window.bench.job
    window.bench.redo()
    assert window.bench.channel.name == "Fan"
    assert next(one for one in window.actions_list if one.text() == "Undo").isEnabled()


def test_undo_after_a_reading_offers_to_leave_it_out_with_a_reason(window, qtbot, answer_soon):
    gather = go(window, "IT-207", "gather")
    gather.form.reference.setText("10")
    gather.form.raw.setText("1,02")
    qtbot.mouseClick(gather.form.button, Qt.MouseButton.LeftButton)
    before = window.bench.job.document

    def answer(asked):
        assert not asked.leave.isEnabled(), "a reason is wanted first"
        qtbot.keyClicks(asked.reason, "wrong stop")
        qtbot.mouseClick(asked.leave, Qt.MouseButton.LeftButton)

    answer_soon(LeaveOutDialog, answer)
    window.bench.undo()
    rows = window.bench.job.amended(window.bench.channel.id, "gather")
    assert [row.excluded for row in rows] == ["wrong stop"]
    assert window.bench.job.document == before
    window.bench.undo()  # of leaving it out
    rows = window.bench.job.amended(window.bench.channel.id, "gather")
    assert [row.excluded for row in rows] == [""]


def test_a_channel_with_readings_is_set_aside_once_agreed_and_found_again(window, qtbot, monkeypatch):
    go(window, "PT-201", "describe")
    monkeypatch.setattr(window.channels, "agreed", lambda question: "history" not in question)
    window.channels.remove()
    assert window.bench.channel.tag == "PT-201"
    monkeypatch.setattr(window.channels, "agreed", lambda _question: True)
    window.channels.remove()
    assert "PT-201" not in [channel.tag for channel in window.bench.job.channels]
    do(qtbot, window, "Bring back PT-201")
    assert window.bench.channel.tag == "PT-201"
    assert len(window.bench.job.amended("pt-201", "gather")) > 10


def test_an_empty_job_names_what_is_set_aside_and_the_menu_brings_it_back(window):
    for channel in window.bench.job.channels:
        window.bench.try_edit("removed", lambda job, at=channel.id: remove_channel(job, at))
    assert not window.bench.job.channels
    assert "PT-201" in words(window.centre)
    aside = entries(menu_button(window, "Add a channel"))["Bring back a channel set aside"].menu()
    next(action for text, action in entries(aside).items() if text.startswith("PT-201")).trigger()
    assert [channel.tag for channel in window.bench.job.channels] == ["PT-201"]
    assert window.bench.channel.tag == "PT-201"


def test_a_wrong_field_says_so_in_place_and_changes_nothing(window, qtbot):
    panel = go(window, "PT-201", "describe")
    part = panel.part(ContinuousChannel)
    before = window.bench.job
    type_into(qtbot, part.unit.entries[0], "inch")
    assert part.unit.error.startswith("“inch” does not measure gauge pressure")
    type_into(qtbot, part.range.entries[0], "300")
    assert "the range must run upwards: found 300 to 250 kPa" in part.range.error
    assert part.range.entries[0].text() == "300"
    assert window.bench.job == before
    type_into(qtbot, part.range.entries[1], "400")
    assert part.range.error == ""
    assert window.bench.continuous.transducer.range_high == 400


def test_the_effect_of_the_convention_for_the_top_is_said_in_words(window):
    panel = go(window, "PT-201", "wire")
    panel.converter.title.setChecked(True)
    panel.refresh()
    assert panel.top_words.text() == (
        "Count 4095 stands for 5 V; the other way 4.99878 V: a difference of 0.076 kPa at the top, 0.031 % of span."
    )


def test_a_table_is_pasted_as_a_description(window, qtbot):
    panel = go(window, "IT-207", "describe")
    table = panel.part(ContinuousChannel).table
    pick(field_named(panel, "Given by"), "table")
    table.text.setPlainText("V\tA\n0\t0\n2,5\t20\n5\tx\n")
    qtbot.mouseClick(table.take, Qt.MouseButton.LeftButton)
    assert table.error == "line 4, column 2: Expected a number, found “x”. Correct it, or remove the line."
    table.text.setPlainText("V\tA\n0\t0\n2,5\t20\n5\t50\n")
    table.text.document().setModified(True)
    qtbot.mouseClick(table.take, Qt.MouseButton.LeftButton)
    assert window.bench.continuous.transducer.rating.values == (0, 20, 50)


def test_readings_are_corrected_excluded_with_a_reason_and_taken_back(window, qtbot):
    panel = go(window, "WT-206", "gather")
    model = panel.model
    assert model.setData(model.index(1, 1), "401")
    assert window.bench.job.amended("wt-206", "gather")[1].reading.reference == 401
    panel.table.selectRow(2)
    panel.exclude()
    assert complaint(panel).startswith("An excluded reading needs a reason")
    panel.table.selectRow(2)
    panel.reason.setText("car was moving")
    panel.exclude()
    assert window.bench.job.amended("wt-206", "gather")[2].excluded == "car was moving"
    panel.table.clearSelection()
    panel.table.selectRow(2)
    assert button(panel, "Take back in").isEnabled()
    panel.exclude()
    assert window.bench.job.amended("wt-206", "gather")[2].is_used


def test_a_heading_sorts_the_readings(window):
    panel = go(window, "WT-206", "gather")
    panel.table.sortByColumn(1, Qt.SortOrder.DescendingOrder)
    proxy = panel.table.model()
    first = [proxy.index(row, 1).data() for row in range(6)]
    assert first == ["2\u2009000"] * 6


def test_candidates_are_listed_with_their_worth_and_one_is_chosen(window, qtbot):
    panel = go(window, "WT-206", "fit")
    assert [row.button.text() for row in candidates(panel)] == [
        "As described", "Two-point line", "Line through a zero", "Least-squares line", "Second order", "Lookup table"
    ]  # fmt: skip
    look_at(panel, "poly2")
    assert window.bench.candidate == "poly2"
    qtbot.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.bench.job.fit_of("wt-206").fitted.spec.model == "poly2"
    assert panel.use.text() == "This curve is in use"


def test_numbers_are_saved_in_the_format_of_the_name(window, tmp_path):
    panel = go(window, "AT-208", "pack")
    for ending in ("csv", "json", "txt"):
        panel.save_to(tmp_path / f"numbers.{ending}")
    lines = (tmp_path / "numbers.csv").read_text().splitlines()
    assert (lines[0], len(lines)) == ('"signal, V","value, % O2"', 13)
    assert "Worst packing error" in (tmp_path / "numbers.txt").read_text()
    panel.save_to(tmp_path / "numbers.doc")
    assert complaint(panel).startswith("Expected a name ending in .csv, .xlsx, .json, .txt")


def test_channels_are_added_copied_moved_and_removed(window):
    tags = lambda: [channel.tag for channel in window.bench.job.channels]  # noqa: E731
    go(window, "PT-201", "describe")
    window.channels.duplicate()
    assert (tags()[:2], window.bench.channel.tag) == (["PT-201", "PT-201-copy"], "PT-201-copy")
    window.channels.move(-1)
    assert tags()[:2] == ["PT-201-copy", "PT-201"]
    window.channels.remove()
    assert "PT-201-copy" not in tags()
    window.bench.undo()
    assert "PT-201-copy" in tags()
    for kind in ("two-state", "constant"):
        window.channels.add(kind)
        assert window.bench.step == "describe"
    assert tags()[-2:] == ["SWITCH-1", "CONST-1"]


def test_every_command_is_found_with_its_shortcut_and_done(window, qtbot):
    field = window.find_field
    field.setText("night")
    assert field.list.topLevelItemCount() == 1
    assert [field.list.topLevelItem(0).text(column) for column in (0, 1)] == ["Day or night", "Ctrl+T"]
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.theme.name == "night"
    field.setText("AT-209")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.bench.channel.tag == "AT-209"
    field.setText("zzz")
    assert field.list.topLevelItem(0).text(0) == "Nothing of that name"


def test_everything_a_person_can_press_or_fill_in_has_a_name(window):
    from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QComboBox, QLineEdit

    for step in STEP_NAMES:
        go(window, "PT-202", step)
        for kind in (QLineEdit, QComboBox, QAbstractItemView, QAbstractButton):
            for widget in window.findChildren(kind):
                if widget.isVisible() and not isinstance(widget.parent(), (QComboBox, QAbstractItemView, QLineEdit)):
                    name = widget.accessibleName() or getattr(widget, "text", lambda: "")()
                    assert name or widget.toolTip(), (step, widget)


def test_layout_theme_and_last_job_are_remembered(qtbot, settings, demo_file):
    from able_yardstick.app.main import open_window

    first = open_window(demo_file, settings)
    qtbot.addWidget(first)
    first.show()
    first.set_theme("night")
    first.close()
    second = open_window(None, settings)
    qtbot.addWidget(second)
    second.show()
    assert second.bench.path == demo_file
    assert second.theme.name == "night"
    second.close()
    second.set_theme("day")


def test_a_damaged_job_is_refused_in_the_window_and_the_present_one_stays(window, tmp_path):
    bad = tmp_path / "bad.yardstick.json"
    bad.write_text("{")
    before = window.bench.job
    window.jobs.open_job(bad)
    assert "is damaged" in said(window)
    assert window.bench.job == before


def test_save_as_goes_on_under_the_new_name(window, tmp_path):
    old = window.bench.path
    window.jobs.save_as(tmp_path / "copy.yardstick.json")
    assert window.bench.try_edit("title", lambda job: job.with_(title="Copy", revision=job.revision + 1))
    assert read_job(tmp_path / "copy.yardstick.json").title == "Copy"
    assert read_job(old).title == "Quillstone Tileworks, Kiln 2"


class Windows(QObject):
    """Notes every widget that is shown as a window of its own."""

    def __init__(self, main):
        super().__init__()
        self.main, self.seen = main, []

    def eventFilter(self, watched, event):
        if event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
            self.seen += [] if watched is self.main else [type(watched).__name__]
        return False


def test_no_part_of_a_panel_is_ever_seen_as_a_window_of_its_own(qtbot, qapp, settings, demo_file):
    from able_yardstick.app.main import open_window

    window = open_window(demo_file, settings)
    qtbot.addWidget(window)
    others = Windows(window)
    qapp.installEventFilter(others)
    window.show()
    window.build_all()
    for tag in ("TE-204", "PS-211", "WQ-212"):
        window.bench.select(window.bench.job.tagged(tag).id)
        for step in STEP_NAMES:
            window.bench.go(step)
            qapp.processEvents()
    qapp.removeEventFilter(others)
    assert others.seen == []


def test_no_reference_to_none_is_lost_by_painting(window):
    widget = window.centre.rule
    before = sys.getrefcount(None)
    for _ in range(300):
        widget.update()
    assert abs(sys.getrefcount(None) - before) < 100


def test_labels_of_a_scale_never_touch_at_any_width(window):
    from PySide6.QtGui import QFontMetricsF

    from able_yardstick.app.centre.rule.graduations import Ends, graduate
    from able_yardstick.app.frame.theme import font
    from able_yardstick.core.state.scales import scales_of

    width_of = QFontMetricsF(font(12)).horizontalAdvance
    job = window.bench.job
    for tag in ("PT-201", "PT-202", "AT-208", "FT-210", "WT-206"):
        for scale in scales_of(job, job.continuous(job.tagged(tag).id)):
            for width in (180, 333, 600, 1500, 3600):
                low, high = scale.usable
                marks = [m for m in graduate(scale, Ends(low, high, 0, width), width_of).major if m.text]
                assert len(marks) >= 2
                edges = [(m.x - width_of(m.text) / 2, m.x + width_of(m.text) / 2) for m in marks]
                assert all(a[1] < b[0] for a, b in pairwise(edges))


def test_text_stands_out_from_its_ground_in_both_themes():
    from able_yardstick.app.frame.theme import THEMES

    def luminance(color):
        parts = [int(color[n : n + 2], 16) / 255 for n in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    for theme in THEMES.values():
        for ground in (theme.paper, theme.desk, theme.gutter, theme.accent_fill):
            for ink in (theme.ink, theme.muted, theme.teal, theme.blue, theme.red, theme.green):
                bright, dark = sorted((luminance(ground), luminance(ink)), reverse=True)
                assert (bright + 0.05) / (dark + 0.05) >= 4.5, (theme.name, ground, ink)


def test_a_card_shows_the_last_reading_with_its_age(window):
    assert re.fullmatch(r"225\.0 kPa (\d+ (d|h|min)|now)", card(window, "PT-201").words)
    assert card(window, "TT-203").words == "no reading"
