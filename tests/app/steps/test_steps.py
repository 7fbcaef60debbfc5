"""The panels: every setting reaches the job, and every refusal stands in place."""

import pytest
from acting import (
    at_step,
    button,
    candidate,
    card,
    choose,
    complaint,
    enter,
    entries,
    field_named,
    go,
    menu_button,
    named,
    pick,
    press,
    press_step,
    said,
    texts,
    words,
)
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QContextMenuEvent, QGuiApplication, QWheelEvent
from PySide6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit

from able_yardstick.app.panel.ask_dialog import AskDialog
from able_yardstick.app.panel.import_dialog import RAW, REFERENCE, SHOWN, ImportDialog
from able_yardstick.core.document.channel import ConstantChannel, ContinuousChannel, TwoStateChannel
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.forms.straight import EndValues, RawPair, SlopeOffset
from able_yardstick.core.forms.table import Knots
from able_yardstick.core.sensor.transducer import OUTPUT_UNITS
from able_yardstick.core.stages import Divider
from able_yardstick.core.units.quantity import QUANTITIES

# -- Describe -------------------------------------------------------------------------------------------------------


def test_every_quantity_and_output_can_be_chosen_one_after_the_other(window):
    window.channels.add("continuous")
    part = at_step(window, "describe").part(ContinuousChannel)
    for quantity in QUANTITIES:
        pick(part.quantity, quantity)
        assert (window.bench.continuous.transducer.quantity, part.quantity.error) == (quantity, "")
    for output in OUTPUT_UNITS:
        pick(part.output, output)
        channel = window.bench.continuous
        assert (channel.transducer.output, channel.path.source) == (output, OUTPUT_UNITS[output])
        assert window.centre.rule.readout("pin").isVisible()


def test_a_described_channel_follows_what_is_typed(window, qtbot):
    window.channels.add("continuous")
    part = at_step(window, "describe").part(ContinuousChannel)
    enter(qtbot, part.sheet_unit, "bar(g)")
    enter(qtbot, part.range, "0", "16")
    pick(part.output, "current loop")
    pick(part.rating, "two points")
    window.bench.go("wire")
    enter(qtbot, at_step(window, "wire").block(0).form.fields["resistance_ohm"], "200")
    window.bench.go("describe")
    enter(qtbot, part.second, "20", "16")
    enter(qtbot, part.constant, "0,05")
    enter(qtbot, part.of_span, "0,5")
    channel = window.bench.continuous
    assert (channel.unit, channel.range) == ("bar(g)", (0.0, 16.0))
    assert float(nominal_curve(channel).value(0.8)) == pytest.approx(0.0, abs=1e-9)
    assert float(nominal_curve(channel).value(4.0)) == pytest.approx(16.0)
    assert float(channel.tolerance.at(3.0, 16.0)) == pytest.approx(0.05 + 0.08)
    assert part.line.text() == "bar(g) = 1 × mA − 4"
    assert "Allowed: ±0.13 bar(g) over the whole range." in part.tolerance_words.text()


def test_a_rating_changes_its_form_without_changing_its_line(window):
    part = go(window, "IT-207", "describe").part(ContinuousChannel)
    before = nominal_curve(window.bench.continuous)
    for kind in ("slope and offset", "two points", "table"):
        pick(part.rating, kind)
        assert float(nominal_curve(window.bench.continuous).value(3.1)) == pytest.approx(float(before.value(3.1)))
    pick(part.rating, "unrated")
    assert nominal_curve(window.bench.continuous) is None
    pick(part.source, "similar part")
    assert window.bench.continuous.transducer.source == "similar part"


def test_the_converter_is_described(window, qtbot):
    panel = go(window, "IT-207", "wire")
    fields = panel.converter.form.fields
    panel.converter.title.setChecked(True)
    enter(qtbot, fields["input_ohm"], "")
    enter(qtbot, fields["bits"], "16", "4095")
    assert window.bench.continuous.path.converter.full_count == 65535
    enter(qtbot, fields["bits"], "16", "32000")
    assert window.bench.continuous.path.converter.full_count == 32000
    enter(qtbot, fields["bits"], "8", "32000")
    assert window.bench.continuous.path.converter.full_count == 255
    enter(qtbot, fields["low"], "0", "10")
    pick(fields["top"], "one above")
    assert window.bench.continuous.path.converter.per_count == 10 / 256
    enter(qtbot, fields["low"], "10", "0")
    assert fields["low"].error == "the converter's span must run upwards: found 10 to 0 V. Swap the two"
    panel.add_stage(Divider)
    enter(qtbot, panel.block(0).form.fields["top_ohm"], "10000", "")
    assert "Something is needed here" in panel.block(0).form.fields["top_ohm"].error
    enter(qtbot, panel.block(0).form.fields["top_ohm"], "10000", "30000")
    assert float(window.bench.continuous.path.pin(4.0)) == pytest.approx(3.0)


def test_escape_drops_what_was_typed(window, qtbot):
    part = go(window, "IT-207", "describe").part(ContinuousChannel)
    enter(qtbot, part.constant, "x")
    assert part.constant.error == "Expected a number, found “x”."
    qtbot.keyClick(part.constant.entries[0], Qt.Key.Key_Escape)
    assert (part.constant.error, part.constant.entries[0].text()) == ("", "0")
    enter(qtbot, part.constant, " ")
    assert "Something is needed here" in part.constant.error


def test_what_was_typed_half_way_stays_with_its_channel(window, qtbot):
    part = go(window, "AT-208", "describe").part(ContinuousChannel)
    enter(qtbot, part.constant, "x")
    go(window, "AT-209", "describe")
    assert (part.constant.error, part.constant.entries[0].text()) == ("", "0.15")
    panel = go(window, "AT-208", "gather")
    panel.form.reference.setText("5")
    panel.form.add()
    assert complaint(panel)
    go(window, "AT-209", "gather")
    assert (panel.form.reference.text(), complaint(panel)) == ("", "")


def test_a_contact_and_a_constant_are_described(window, qtbot):
    part = go(window, "PS-211", "describe").part(TwoStateChannel)
    enter(qtbot, part.threshold, "9")
    assert "must lie between the two levels" in part.threshold.error
    enter(qtbot, part.threshold, "2")
    enter(qtbot, part.levels, "0.2", "24.8")
    enter(qtbot, part.dead_band, "1")
    enter(qtbot, part.meanings, "on", "off")
    contact = window.bench.channel
    assert (contact.threshold, contact.open_level, contact.dead_band, contact.open_means) == (2, 24.8, 1, "off")
    assert "on  |  off" in texts(window.centre)
    part = go(window, "WQ-212", "describe").part(ConstantChannel)
    enter(qtbot, part.value, "1,25")
    enter(qtbot, part.decimals, "2")
    enter(qtbot, part.unit, "Wh")
    enter(qtbot, part.derivation, "counted")
    assert "1.25 Wh" in texts(window.centre)
    assert not window.centre.rule.isVisible()


def test_readings_keep_an_edit_from_making_them_meaningless(window):
    part = go(window, "PT-201", "describe").part(ContinuousChannel)
    pick(part.quantity, "temperature")
    assert "PT-201 has readings that this would make meaningless" in part.quantity.error
    assert window.bench.continuous.transducer.quantity == part.quantity.box.currentData() == "gauge pressure"


# -- Gather ---------------------------------------------------------------------------------------------------------


def dialog_for(window, text, roles=(REFERENCE, RAW, SHOWN)):
    dialog = ImportDialog(text, "the clipboard", window.bench.continuous, roles, window.theme, window)
    dialog.show()
    return dialog


def test_columns_and_units_are_guessed_from_headings_and_can_be_picked(window):
    go(window, "PT-202", "gather")
    dialog = dialog_for(window, "loop (mA);shown;gauge (mbar)\n4,1;-148;-1,5\n20;x;1,5\n12;0,5;0\n")
    assert [(row.line, row.reference, row.raw, row.shown) for row in dialog.taken()] == [
        (2, -1.5, 4.1, -148.0),
        (4, 0.0, 12.0, 0.5),
    ]
    assert (dialog.unit, dialog.shown_unit, dialog.node.unit, dialog.node.node) == ("mbar", "Pa", "mA", "output")
    assert "1 row is left out:\nline 3, column 2" in words(dialog)
    box = named(dialog, QComboBox, "Shown by the controller")
    choose(box, -1)
    assert button(dialog, "Take 3 readings").isEnabled()
    choose(box, 0)
    assert "Two roles have the same column. Pick another for one of them." in texts(dialog)
    assert not button(dialog, "Take").isEnabled()


def test_a_unit_that_cannot_be_is_refused_before_anything_is_taken(window):
    go(window, "PT-202", "gather")
    dialog = dialog_for(window, "ref (°C)\tV\n1\t2\n")
    assert "cannot be turned into Pa" in words(dialog)
    assert not button(dialog, "Take").isEnabled()


def test_the_decimal_mark_can_be_set_by_hand(window):
    go(window, "PT-202", "gather")
    dialog = dialog_for(window, "1,250\t2\n2,500\t3\n")
    assert dialog.taken()[0].reference == 1.25
    marks = named(dialog, QComboBox, "Decimal mark")
    choose(marks, ".")
    assert dialog.taken()[0].reference == 1250


def test_a_file_is_taken_and_each_reading_knows_its_line(window, tmp_path, monkeypatch, press_take):
    path = tmp_path / "bench.csv"
    path.write_text("ref (A),U (V)\n10,1\n20,2\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_args: (str(path), ""))
    panel = go(window, "IT-207", "gather")
    press_take()
    panel.from_file()
    readings = [row.reading for row in window.bench.job.amended("it-207", "gather")]
    assert [reading.source for reading in readings] == ["bench.csv, line 2", "bench.csv, line 3"]
    panel.take_file(tmp_path / "none.csv")
    assert "cannot be read" in complaint(panel)


def test_an_empty_clipboard_is_said_in_place(window):
    QGuiApplication.clipboard().setText(" ")
    panel = go(window, "IT-207", "gather")
    panel.paste()
    assert complaint(panel).startswith("The clipboard holds no text.")


def test_a_reading_without_its_raw_signal_is_refused_and_what_was_typed_stays(window, qtbot):
    panel = go(window, "IT-207", "gather")
    panel.form.reference.setText("10")
    qtbot.keyClick(panel.form.reference, Qt.Key.Key_Return)
    assert "needs the raw signal" in complaint(panel)
    assert panel.form.reference.text() == "10"
    pick(panel.form.node, "pin mV")
    panel.form.raw.setText("1010")
    qtbot.keyClick(panel.form.raw, Qt.Key.Key_Return)
    assert panel.model.data(panel.model.index(0, 2)) == "1.0100"
    assert panel.form.reference.text() == ""


def test_directions_are_turned_and_raw_figures_corrected_where_they_were_read(window):
    panel = go(window, "PT-202", "gather")
    panel.table.selectRow(0)
    press(panel, "↑↓")
    assert window.bench.job.amended("pt-202", "gather")[0].reading.direction == "down"
    assert panel.model.setData(panel.model.index(0, 2), "1.25")
    assert window.bench.job.amended("pt-202", "gather")[0].reading.raw.mean == pytest.approx(5.00125)
    assert not panel.model.setData(panel.model.index(0, 1), "abc")
    assert complaint(panel) == "Expected a number, found “abc”."
    assert "corrected" in panel.model.data(panel.model.index(0, 1), Qt.ItemDataRole.ToolTipRole)


# -- Fit, Pack, Prove -----------------------------------------------------------------------------------------------


def test_the_two_points_and_the_zero_are_chosen_by_the_person(window, qtbot):
    panel = go(window, "WT-206", "fit")
    panel.look_at("two-point")
    rows = window.bench.job.amended("wt-206", "gather")
    pick(field_named(panel, "First point"), rows[1].reading.id)
    pick(field_named(panel, "Second point"), rows[3].reading.id)
    press(panel, "Use this curve")
    fitted = window.bench.job.fit_of("wt-206").fitted
    assert float(fitted.curve.value(rows[1].reading.raw.mean)) == pytest.approx(400)
    assert float(fitted.curve.value(rows[3].reading.raw.mean)) == pytest.approx(1200)
    panel.look_at("through-zero")
    enter(qtbot, field_named(panel, "Zero at"), "0.01", "0")
    press(panel, "Use this curve")
    assert float(window.bench.job.fit_of("wt-206").fitted.curve.value(0.01)) == pytest.approx(0, abs=1e-9)


def test_a_candidate_that_cannot_be_is_listed_with_its_reason(window, qtbot):
    panel = go(window, "IT-207", "gather")
    for reference, raw in ((0, 0.0), (20, 2.0), (10, 3.0), (40, 4.0)):
        panel.form.reference.setText(str(reference))
        panel.form.raw.setText(str(raw))
        qtbot.mouseClick(panel.form.button, Qt.MouseButton.LeftButton)
    fit = go(window, "IT-207", "fit")
    row = candidate(fit, "table")
    assert not row.button.isEnabled()
    assert "The table turns at a signal of 2" in words(row)
    assert "Within the error allowed" in fit.lead_box.more.text() or "No curve stays within" in fit.lead_box.more.text()


FORMS = {"slope": SlopeOffset, "ends": EndValues, "span": RawPair, "knots": Knots}


def test_every_form_is_packed_kept_and_shown_on_the_rule(window, qtbot):
    panel = go(window, "AT-208", "pack")
    for name, kind in FORMS.items():
        pick(field_named(panel, "Numeric form"), name)
        qtbot.mouseClick(panel.keep, Qt.MouseButton.LeftButton)
        if name != "knots":  # a straight line through a bent curve is kept only when it is asked for twice
            assert panel.keep.text() == "Keep all the same"
            assert "allowed for everything together" in words(panel)
            qtbot.mouseClick(panel.keep, Qt.MouseButton.LeftButton)
        record = window.bench.job.pack_of("at-208")
        assert isinstance(record.form, kind)
        count = len(record.form.cells("V", "% O2").rows)
        assert [panel.numbers.cell(row, 1) is not None for row in (count - 1, count)] == [True, False]
        assert panel.keep.text() == "Kept for the controller"
        assert window.centre.rule.readout("shown").isVisible()


def test_settings_of_a_packing_reach_the_numbers(window, qtbot):
    panel = go(window, "PT-201", "pack")
    enter(qtbot, field_named(panel, "Decimals"), "1")
    assert panel.numbers.item(0, 1).text() == "62.4"
    pick(field_named(panel, "Numeric form"), "ends")
    panel.more.click()
    enter(qtbot, field_named(panel, "Signal ends"), "0.5", "4.5")
    enter(qtbot, field_named(panel, "Value step"), "0.5")
    assert [panel.numbers.item(row, 1).text() for row in (0, 1)] == ["0.0", "249.5"]
    press(panel, "Held at")
    assert window.bench.continuous.pack_spec.clamp
    assert "The controller has other numbers" in words(panel)
    pick(field_named(panel, "Numeric form"), "knots")
    enter(qtbot, field_named(panel, "How many"), "1")
    assert "knots" in field_named(panel, "How many").error
    enter(qtbot, field_named(panel, "How many"), "9")
    enter(qtbot, field_named(panel, "Steps"), "0.5", "0.5")
    assert panel.numbers.cell(8, 0).text() == "4.5"
    assert panel.numbers.cell(9, 0) is None
    enter(qtbot, field_named(panel, "Steps"), "2", "0.5")
    assert "two knots fall on one signal" in complaint(panel)
    assert not panel.keep.isEnabled()


def test_a_packing_that_is_out_of_date_says_so(window):
    panel = go(window, "PT-202", "pack")
    assert "out of date: its curve is out of date" in words(panel)
    assert "Choose the curve anew at Fit first" in words(panel)
    assert not panel.keep.isEnabled()
    go(window, "PT-202", "fit").use.click()
    panel = go(window, "PT-202", "pack")
    assert "another curve is in use. Keep these instead." in panel.lead_box.more.text()
    panel.keep.click()
    assert panel.lead_box.level == "ok"
    assert panel.lead_box.more.text().startswith("Kept ")


def test_checks_need_a_packing_first(window, qtbot):
    panel = go(window, "IT-207", "prove")
    panel.form.reference.setText("10")
    panel.form.shown.setText("10.1")
    qtbot.mouseClick(panel.form.button, Qt.MouseButton.LeftButton)
    assert complaint(panel).startswith("Keep a packing first")
    go(window, "IT-207", "pack").keep.click()
    panel = go(window, "IT-207", "prove")
    qtbot.mouseClick(panel.form.button, Qt.MouseButton.LeftButton)
    assert "Pass: 1 of 1 checks within." in texts(panel)
    assert "It proves no slope" in words(panel)


def test_a_shift_that_checks_share_is_stated_with_its_spread(window):
    panel = go(window, "AT-208", "prove")
    assert "Pass: 4 of 4 checks within." in texts(panel)
    assert any(text.startswith("Common shift of the errors: +0.015 % O2") for text in texts(panel))


def test_the_mistake_behind_the_errors_leads_to_where_it_is_set_right(window):
    panel = go(window, "AT-209", "prove")
    assert "Fail: 0 of 3 checks within." in texts(panel)
    assert any(text.startswith("Ground offset: 12") for text in texts(panel))
    assert [bar.name for bar in panel.mistake.bars] == ["ground offset", "only offset", "only offset and gain"]
    panel.mistake_go.click()
    assert window.bench.step == "wire"
    panel = go(window, "AT-208", "prove")
    assert not panel.mistake_part.isVisible()


# -- the frame ------------------------------------------------------------------------------------------------------


def test_cards_and_steps_are_walked_with_the_arrow_keys(window, qtbot):
    window.bench.select("pt-201")
    qtbot.keyClick(card(window, "PT-201"), Qt.Key.Key_Down)
    assert window.bench.channel.tag == "PT-202"
    qtbot.mouseClick(card(window, "TT-203"), Qt.MouseButton.LeftButton)
    assert window.bench.channel.tag == "TT-203"
    qtbot.keyClick(window.ruler, Qt.Key.Key_Right)
    assert window.bench.step == "wire"
    press_step(qtbot, window, "pack")
    assert window.bench.step == "pack"
    window.bench.select("wq-212")
    assert window.bench.step == "describe"
    press_step(qtbot, window, "pack")
    assert window.bench.step == "describe"


def test_a_card_has_its_menu(window, qtbot):
    seen = card(window, "PT-202")
    event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, QPoint(5, 5), seen.mapToGlobal(QPoint(5, 5)))
    QApplication.sendEvent(seen, event)
    menu = QApplication.activePopupWidget()
    assert menu.actions()[0].text() == "Duplicate the channel"
    assert window.bench.channel.tag == "PT-202"
    menu.close()


def test_the_axis_is_looked_at_more_closely_about_the_hairline(window, qtbot):
    window.bench.select("pt-201")
    whole = window.sight.view
    window.sight.set_pin(1.0)
    for widget in (window.centre.rule, window.centre.curve_plot):
        at = widget.rect().center()
        wheel = QWheelEvent(
            at.toPointF(), widget.mapToGlobal(at).toPointF(), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.ControlModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        before = window.sight.view
        QApplication.sendEvent(widget, wheel)
        after = window.sight.view
        assert after[1] - after[0] == pytest.approx(0.8 * (before[1] - before[0]))
        assert after[0] <= 1.0 <= after[1]
    window.sight.set_pin(4.9)
    assert window.sight.view[1] >= 4.9
    window.sight.show_all()
    assert window.sight.view == pytest.approx(whole)


def test_a_press_in_a_plot_moves_the_hairline_there(window, qtbot):
    window.bench.select("pt-201")
    plot = window.centre.error_plot
    spot = plot.pixel_of(3.5, 0.0).toPoint()
    qtbot.mousePress(plot, Qt.MouseButton.LeftButton, pos=spot)
    assert window.sight.pin == pytest.approx(3.5, abs=0.01)


def test_jobs_are_made_opened_and_renamed_from_the_menu(window, tmp_path, monkeypatch, answer_soon):
    demo = window.bench.path
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args: (str(tmp_path / "Visit"), ""))
    window.bench.said.emit("PT-201 was packed.", False)
    window.jobs.ask_new_job()
    assert "PT-201 was packed." not in texts(window)
    assert (window.bench.job.title, window.bench.job.channels) == ("Visit", ())
    assert "Start with what you have in hand" in texts(window.centre)
    assert not window.panels.isVisible()

    def retitle(dialog):
        title = dialog.focusWidget()  # it is typed in at once
        assert title is dialog.findChild(QLineEdit)
        title.nextInFocusChain().setFocus()
        assert dialog.focusWidget() is dialog.keep
        title.setText(" ")
        dialog.try_to_take()
        assert "needs a title" in dialog.complaint.text()
        title.setText("Second visit")
        dialog.try_to_take()

    answer_soon(AskDialog, retitle)
    window.jobs.ask_rename()
    assert "Second visit  ▾" in texts(window)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_args: (str(demo), ""))
    window.jobs.ask_open()
    assert window.bench.path == demo
    assert any("Visit.yardstick.json" in text for text in entries(menu_button(window, window.bench.job.title)))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args: (str(tmp_path / "Copy"), ""))
    window.jobs.ask_save_as()
    assert window.bench.path.name == "Copy.yardstick.json"


def test_an_edit_that_cannot_be_saved_is_not_made(window):
    window.bench.path.write_text("{}")
    before = window.bench.job
    assert not window.bench.try_edit("title", lambda job: job.with_(title="x", revision=job.revision + 1))
    assert "was changed by another program" in said(window)
    assert window.bench.job is before


def test_undo_with_nothing_left_says_what_undo_is_for(window):
    window.bench.undo()
    assert "Captured readings are never undone" in said(window)


def test_the_tagboard_is_hidden_and_says_how_it_comes_back(window):
    window.turn_tagboard()
    assert not window.tagboard.isVisible()
    assert "Ctrl+B" in said(window)
    window.turn_tagboard()
    assert window.tagboard.isVisible()


def test_the_theme_reaches_every_part(window, qtbot):
    for name in ("night", "day"):
        window.set_theme(name)
        for step in ("describe", "gather", "fit", "pack", "prove"):
            go(window, "PT-201", step)
            qtbot.wait(20)
            image = window.grab().toImage()
            foot = window.panels.mapTo(window, QPoint(8, window.panels.height() - 4))
            assert image.pixelColor(foot).name() == window.theme.paper.lower()
            plot = window.centre.curve_plot
            corner = plot.mapTo(window, QPoint(plot.width() - 6, 4))
            assert image.pixelColor(corner).name() == window.theme.paper.lower()


def test_a_unit_that_could_mean_something_else_says_what_it_is_taken_for(window, qtbot):
    panel = go(window, "WT-206", "describe")
    part = panel.part(ContinuousChannel)
    assert part.sheet_unit.note == ""
    enter(qtbot, part.sheet_unit, "ton")
    assert "taken as the short ton, 907.185 kg" in part.sheet_unit.note
    enter(qtbot, part.sheet_unit, "t")
    assert part.sheet_unit.note == ""


def test_a_unit_of_an_instrument_says_what_it_is_taken_for(window, qtbot):
    window.show_side("references")
    unit = window.panel_shown.form.fields["unit"]
    enter(qtbot, unit, "gal")
    assert "taken as" in unit.note
    enter(qtbot, unit, "kPa")
    assert unit.note == ""


@pytest.mark.parametrize(
    "text",
    [
        "V\tPa\n1\t-150\n3\t0\n5\t150\n",
        "Pa\tV\n-150\t1\n0\t3\n150\t5\n",
        "1\t-150\n3\t0\n5\t150\n",
        "-150\t1\n0\t3\n150\t5\n",
    ],
)
def test_columns_are_told_by_their_units_and_by_what_the_pin_can_take(window, text):
    go(window, "PT-202", "gather")
    dialog = dialog_for(window, text)
    assert [(row.reference, row.raw) for row in dialog.taken()] == [(-150, 1), (0, 3), (150, 5)]
    assert dialog.unit == "Pa"
