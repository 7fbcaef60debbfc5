"""The Wire step in the real window: parts, checks, breaks, terminals, the budget, lists; and Describe's many ways."""

import pytest
from acting import at_step, enter, entries, field_named, found_by, go, pick, words
from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QGuiApplication, QHelpEvent
from PySide6.QtWidgets import QApplication, QFileDialog

from able_yardstick.app.steps.wire.lane import lane_rows
from able_yardstick.core.describe.catalogue import ENTRIES
from able_yardstick.core.document.channel import ConstantChannel, ContinuousChannel, TwoStateChannel
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.sensor.rating import RATING_KINDS
from able_yardstick.core.stages import STAGE_KINDS, Clamp, ColdJunction, Divider, Filter, Shunt
from able_yardstick.core.wire.breaks import breaks_of
from able_yardstick.core.wire.edits import place_for, unland
from able_yardstick.core.wire.landing import landed


def field(panel, at, name):
    return panel.block(at).form.fields[name]


def select_terminal(panel, title):
    table = panel.terminals
    row = next(row for row in range(table.rowCount()) if table.item(row, 0).text() == title)
    table.selectRow(row)


# -- the path -------------------------------------------------------------------------------------------------------


def test_a_part_is_opened_changed_moved_and_removed(window, qtbot):
    panel = go(window, "PT-202", "wire")
    block = panel.block(0)
    qtbot.mouseClick(block.title, Qt.MouseButton.LeftButton)
    assert block.form.isVisible()
    enter(qtbot, field(panel, 0, "resistance_ohm"), "205")
    assert window.bench.continuous.path.stages[0].resistance_ohm == 205
    assert "No headroom" not in " ".join(panel.checks.texts)
    panel.add_stage(Clamp)
    panel.add_stage(Filter)
    assert [stage.kind for stage in window.bench.continuous.path.stages] == ["shunt", "clamp", "filter"]
    assert "fault" not in panel.checked.summary
    panel.block(2).moved.emit(-1)
    assert [stage.kind for stage in window.bench.continuous.path.stages] == ["shunt", "filter", "clamp"]
    panel.block(1).removed.emit()
    assert [stage.kind for stage in window.bench.continuous.path.stages] == ["shunt", "clamp"]
    panel.block(1).moved.emit(-1)
    assert "takes voltage, but current arrives there" in panel.complaint.text()


def test_only_parts_whose_signal_arrives_are_offered_and_each_can_be_added(window):
    panel = go(window, "TT-203", "wire")
    offered = [text.split("   ")[0] for text in entries(panel.add_menu)]
    assert "Cold junction" in offered
    assert "Shunt" not in offered
    for kind in STAGE_KINDS:
        if place_for(window.bench.continuous.path, kind) is not None:
            panel.add_stage(kind)
            assert panel.complaint.text() == ""
    assert {Divider, Filter, ColdJunction} <= {type(stage) for stage in window.bench.continuous.path.stages}


def test_every_part_can_be_set_by_its_fields(window, qtbot):
    panel = go(window, "WT-206", "wire")
    enter(qtbot, field(panel, 0, "measured_v"), "9.98")
    enter(qtbot, field(panel, 1, "resistor"), "100 + 10")
    assert window.bench.continuous.path.stages[1].volts_per_volt == pytest.approx(1 + 50_000 / 110)
    enter(qtbot, field(panel, 1, "resistor"), "100 +")
    assert "Expected a resistance such as 4k7" in field(panel, 1, "resistor").error
    panel = go(window, "TE-204", "wire")
    pick(field(panel, 0, "wires"), "2")
    assert window.bench.continuous.path.stages[0].wires == 2
    assert any("too much" in text for text in panel.checks.texts)
    panel = go(window, "TT-203", "wire")
    panel.block(0).title.setChecked(True)
    field(panel, 0, "compensated").box.click()
    assert not window.bench.continuous.path.stages[0].compensated
    panel = go(window, "PS-211", "wire")
    enter(qtbot, field(panel, 0, "top_ohm"), "1000", "1000000")
    assert "at the pin" in field(panel, 0, "top_ohm").error or window.bench.channel.path.stages[0].top_ohm == 1000


def test_a_reference_measured_off_nominal_is_seen_in_counts(window, qtbot):
    panel = go(window, "IT-207", "wire")
    enter(qtbot, panel.converter.form.fields["reference_measured_v"], "5.1")
    assert float(window.bench.continuous.path.converter.inverse(4095)) == pytest.approx(5.1)
    assert any("+2.00 % off nominal" in text for text in panel.checks.texts)
    assert window.sight.axis == pytest.approx((0.0, 5.1))


# -- what is drawn --------------------------------------------------------------------------------------------------


def test_the_drawing_reads_every_node_at_the_hairline_and_at_both_ends(window):
    go(window, "WT-206", "wire")
    drawing = window.centre.wire_card.drawing
    window.sight.set_pin(4.8205)
    titles = [node.title for node in drawing.content.nodes]
    assert titles == ["as described", "output", "after excitation", "at the pin", "converter"]
    assert drawing.content.at(4.8205) == ("1\u2009000.00", "1.0000", "10.0000", "4.8205", "31\u2009591")
    assert [title for title, _ in drawing.content.rows] == ["Low end", "High end"]
    assert "96% of the converter's span" in drawing.content.used
    assert drawing.content.terminal == "X7:1 · J5-1 · WI 1 · 30041"


def test_faults_stand_at_the_node_where_they_happen_and_say_why(window, qtbot):
    go(window, "PT-202", "wire")
    drawing = window.centre.wire_card.drawing
    worst = {node.key: node.worst for node in drawing.content.nodes}
    assert worst["pin"] == "fault"
    assert worst["output"] == ""
    tip = next(node.tip for node in drawing.content.nodes if node.key == "pin")
    assert "Shunt open: 24 V on a pin that survives 6 V." in tip
    assert window.grab().width() > 0


def test_breaks_that_read_alike_share_a_row_and_say_so(window, qtbot):
    go(window, "PT-202", "wire")
    lane = window.centre.break_lane
    names = [row.names for row in lane.rows]
    assert ("lead open", "supply lost", "leads swapped", "shunt shorted") in names
    assert ("leads shorted",) in names
    assert "The signal alone cannot tell these apart." in lane.rows[0].tip
    place = QPoint(20, 27)
    QApplication.sendEvent(lane, QHelpEvent(QEvent.Type.ToolTip, place, lane.mapToGlobal(place)))
    assert lane.height() < 200


def test_lanes_of_every_channel_of_the_demo_are_painted_in_both_themes(window):
    for theme in ("day", "night"):
        window.set_theme(theme)
        for channel in window.bench.job.channels:
            if channel.has_pin:
                window.bench.select(channel.id)
                window.bench.go("wire")
                QApplication.processEvents()
                assert window.centre.wire_card.drawing.content is not None
    channel = window.bench.job.tagged("PT-202")
    assert len(lane_rows(breaks_of(window.bench.job, channel))) == 5


def test_a_range_that_its_thermocouple_cannot_tell_is_refused_in_place(window, qtbot):
    part = go(window, "TT-203", "describe").part(ContinuousChannel)
    enter(qtbot, part.range, "0", "9000")
    assert "what type K can tell: −270 to 1372 °C" in part.range.error
    assert window.bench.continuous.transducer.range_high == 1200


def test_the_budget_follows_the_hairline(window, qtbot):
    panel = go(window, "PT-202", "wire")
    window.sight.set_pin(3.0)
    qtbot.waitUntil(lambda: "at 0.05" in panel.budget.plain, timeout=2000)
    window.sight.set_pin(1.8)
    qtbot.waitUntil(lambda: "at −90" in panel.budget.plain or "−89" in panel.budget.plain, timeout=2000)
    assert "Expanded, 95 %, along the range: ±" in panel.budget_words.text()
    assert "transducer's accuracy" in panel.budget.plain
    assert "±0.75 Pa, rectangular, ÷ √3" in panel.budget.plain


# -- terminals and leads --------------------------------------------------------------------------------------------


def test_a_channel_is_landed_moved_and_taken_off(window, qtbot):
    panel = go(window, "TE-204", "wire")
    select_terminal(panel, "X5:3")
    assert panel.land_button.text() == "Land it on X5:3"
    qtbot.mouseClick(panel.land_button, Qt.MouseButton.LeftButton)
    assert landed(window.bench.job, window.bench.channel).terminal.id == "X5:3"
    assert "RT 2" in panel.landed_words.text()
    assert [panel.terminals.item(row, 0).text() for row in range(panel.terminals.rowCount())] == ["X5:1", "X5:3"]
    qtbot.mouseClick(panel.off_button, Qt.MouseButton.LeftButton)
    assert window.bench.channel.landing is None
    assert not panel.back.isVisible()


def test_a_taken_terminal_is_refused_saying_who_holds_it(window):
    panel = go(window, "PT-202", "wire")
    select_terminal(panel, "X4:2")
    panel.land()
    assert "held by PT-201" in panel.complaint.text()
    assert landed(window.bench.job, window.bench.channel).terminal.id == "X4:3"


def test_dividers_and_shunts_are_solved_backwards_in_place(window, qtbot):
    panel = go(window, "PS-211", "wire")
    panel.block(0).title.setChecked(True)
    enter(qtbot, panel.block(0).solver, "40", "E96")
    divider = window.bench.channel.path.stages[0]
    seen = float(window.bench.channel.path.pin(40.0))
    assert 4.9 < seen <= 5.0
    assert (divider.top_ohm, divider.bottom_ohm) != (68_000, 12_000)
    panel = go(window, "PT-202", "wire")
    panel.block(0).title.setChecked(True)
    enter(qtbot, panel.block(0).solver, "20", "")
    assert window.bench.channel.path.stages[0].resistance_ohm == 200
    enter(qtbot, panel.block(0).solver, "20", "E7")
    assert "found E7" in panel.block(0).solver.error


def test_the_sums_can_be_read_step_by_step(window):
    panel = go(window, "WT-206", "wire")
    panel.sums.button.click()
    assert "1. kg = 1000 × mV/V + 0" in panel.sums.text.text()
    assert "gain = 1 + 50 kΩ / 103.94 Ω = 482.0" in panel.sums.text.text()


def test_return_supply_cable_and_colours_are_kept(window, qtbot):
    panel = go(window, "IT-207", "wire")
    enter(qtbot, field_named(panel, "Colour of signal"), "green")
    assert window.bench.channel.landing.leads[1].colour == "green"
    pick(panel.back, "chassis")
    assert window.bench.channel.landing.leads[2].terminal == "chassis"
    assert any("chassis instead of signal ground: up to 50 mV" in text for text in panel.checks.texts)
    assert window.centre.wire_card.drawing.content.back_is_wrong
    pick(panel.supply, "X4:10")
    enter(qtbot, panel.landing_form.fields["length_m"], "25", "1,9")
    assert (window.bench.channel.landing.length_m, window.bench.channel.landing.lead_ohm) == (25, 1.9)


def test_a_controller_is_added_from_those_that_ship_and_from_a_file(window, tmp_path, monkeypatch):
    panel = go(window, "IT-207", "wire")
    names = [text.split(":")[0] for text in entries(panel.controllers.choices)]
    assert names[:5] == ["Bench logger", "Kiln controller", "Small card", "From a file …", "Describe one …"]
    assert names[5:] == ["Change Kiln controller …", "Keep Kiln controller in the shop's library"]
    panel.controllers.choices.actions()[0].trigger()
    assert len(window.bench.job.controllers) == 2
    wrong = tmp_path / "wrong.json"
    wrong.write_text("{}", encoding="utf-8")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(wrong), ""))
    panel.controllers.ask()
    assert "expected a controller's description" in panel.complaint.text()


def test_sums_and_lists_go_to_the_clipboard_and_to_files(window, tmp_path, monkeypatch):
    panel = go(window, "PT-202", "wire")
    panel.copy_sums()
    assert "V = mA × 0.249938" in QGuiApplication.clipboard().text()
    panel.copy_list()
    assert "loop −" in QGuiApplication.clipboard().text()
    for kind in ("csv", "pdf"):
        path = tmp_path / f"list.{kind}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, path=path: (str(path), ""))
        panel.ask_list(kind)
        assert path.stat().st_size > 500
    assert panel.list_menu().actions()[0].text() == "Copy as text"


# -- describing -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", [str(one.model_fields["kind"].default) for one in RATING_KINDS])
def test_every_way_of_rating_has_its_fields_and_its_sentence(window, kind):
    window.channels.add("continuous")
    part = at_step(window, "describe").part(ContinuousChannel)
    pick(part.rating, kind)
    assert part.rating.error == ""
    assert window.bench.continuous.transducer.rating.kind == kind
    assert part.line.text()
    form = part.form(kind)
    if form is not None:
        assert form.isVisible()
        shown = [one for one in form.fields.values() if one.isVisible()]
        assert shown


def test_figures_of_a_rating_reach_the_curve_and_refusals_stand_in_place(window, qtbot):
    window.channels.add("continuous")
    part = at_step(window, "describe").part(ContinuousChannel)
    pick(part.rating, "thermistor")
    fields = part.form("thermistor").fields
    enter(qtbot, fields["beta_k"], "3435")
    assert window.bench.continuous.transducer.rating.beta_k == 3435
    pick(fields["given_by"], "three pairs")
    enter(qtbot, part.pairs[2], "36030", "50")
    assert "No thermistor whose resistance falls" in part.pairs[2].error
    pick(part.rating, "formula")
    text = part.form("formula").fields["text"]
    enter(qtbot, text, "20 * (x + ")
    assert "found the end" in text.error
    assert "▲" in text.error
    enter(qtbot, text, "20 * x + 0.1 * x^2")
    assert float(window.bench.continuous.transducer.rated().value(1000.0)) == pytest.approx(120_000)


def test_a_measured_zero_offers_both_lines_with_the_difference_at_the_top(window, qtbot):
    part = go(window, "PT-201", "describe").part(ContinuousChannel)
    enter(qtbot, part.zero, "0.54")
    assert "the top reads −2.5 kPa off" in part.zero_words.text()
    assert float(nominal_curve(window.bench.continuous).value(4.5)) == pytest.approx(247.5)
    pick(part.zero_keep, "top")
    assert float(nominal_curve(window.bench.continuous).value(4.5)) == pytest.approx(250.0)
    enter(qtbot, part.zero, "")
    assert window.bench.continuous.transducer.measured_zero is None


def test_limits_accuracy_and_the_controllers_range_are_described(window, qtbot):
    part = go(window, "IT-207", "describe").part(ContinuousChannel)
    enter(qtbot, part.limits.fields["overload"], "20")
    assert "must not lie inside the range" in part.limits.fields["overload"].error
    enter(qtbot, part.limits.fields["overload"], "75")
    enter(qtbot, part.accuracy.fields["of_span"], "1,5")
    assert window.bench.continuous.transducer.accuracy.of_span == pytest.approx(0.015)
    enter(qtbot, part.controller, "0", "60")
    assert window.bench.continuous.controller_range == (0, 60)
    window.bench.go("wire")
    assert any("at 25 A it would show 30 A" in text for text in at_step(window, "wire").checks.texts)


def test_the_fuel_of_the_oxygen_views_is_stated_and_editable(window, qtbot):
    part = go(window, "AT-208", "describe").part(ContinuousChannel)
    assert "17.24 kg of air" in part.fuel_words.text()
    enter(qtbot, part.fuel, "propane")
    enter(qtbot, part.hydrogen, "2,667")
    assert "15.6" in part.fuel_words.text()
    enter(qtbot, part.afr, "15.7")
    assert window.bench.continuous.fuel.stoichiometric_afr == 15.7
    pick(part.basis, "wet")
    assert window.bench.continuous.fuel.basis == "wet"


def test_a_table_of_several_units_lets_the_column_be_chosen(window, qtbot):
    part = go(window, "IT-207", "describe").part(ContinuousChannel)
    pick(part.rating, "table")
    part.table.text.setPlainText("Output (mV)\tCurrent (A)\tCurrent (mA)\n0\t0\t0\n2500\t20\t20000\n5000\t50\t50000\n")
    assert part.table.value.isVisible()
    assert [part.table.value.itemText(n) for n in range(3)] == ["Output mV", "Current A", "Current mA"]
    part.table.value.setCurrentIndex(2)
    qtbot.mouseClick(part.table.take, Qt.MouseButton.LeftButton)
    assert part.table.error == ""
    rating, unit = window.bench.continuous.transducer.rating, window.bench.continuous.transducer.unit
    assert (rating.signals, rating.values, unit) == ((0, 2.5, 5), (0, 20000, 50000), "mA")


def test_every_entry_of_the_catalogue_starts_a_channel_in_the_window(window):
    for entry in ENTRIES:
        window.channels.add_from(entry)
        assert window.bench.continuous.transducer == entry.transducer
        window.bench.go("wire")
        assert window.centre.wire_card.drawing.content is not None
    assert found_by(window, "type N") == ["Add temperature: Thermocouple, type N"]


def test_a_contact_has_its_rule_and_its_pull_up(window, qtbot):
    part = go(window, "PS-211", "describe").part(TwoStateChannel)
    assert window.centre.rule.readout("state").isReadOnly()
    window.sight.set_pin(3.0)
    assert window.centre.rule.readout("state").text() == "gas present"
    window.sight.set_pin(1.8)
    assert window.centre.rule.readout("state").text() == "as it was"
    part.dry.box.click()
    window.bench.go("wire")
    assert any("A dry contact gives no voltage of its own" in text for text in at_step(window, "wire").checks.texts)


def test_a_register_constant_is_typed_reckoned_and_its_faults_are_seen(window, qtbot):
    part = go(window, "WQ-212", "describe").part(ConstantChannel)
    assert "0x0024615E" in words(window.centre)
    part.inputs.text.setPlainText(part.inputs.text.toPlainText().replace("averages = 16", "averages = 4"))
    qtbot.mouseClick(part.inputs.take, Qt.MouseButton.LeftButton)
    assert "make them the same" in words(window.centre)
    state = window.bench.progress(window.bench.channel)[0]
    assert (state.state, "filter code" in state.says) == ("failed", True)
    part.inputs.text.setPlainText("gain 8")
    qtbot.mouseClick(part.inputs.take, Qt.MouseButton.LeftButton)
    assert part.inputs.error == "Line 1: expected “name = value unit”, found “gain 8”."
    enter(qtbot, part.register.fields["formula"], "gain * (")
    assert "found the end" in part.register.fields["formula"].error
    part.has_register.box.click()
    assert window.bench.channel.register_constant is None


def test_from_an_empty_job_with_a_data_sheet_to_a_landed_channel_without_faults(window, qtbot, tmp_path):
    window.bench.create(tmp_path / "empty.yardstick.json", "Empty")
    window.channels.add_from(next(entry for entry in ENTRIES if entry.title == "Differential, 4 to 20 mA"))
    part = at_step(window, "describe").part(ContinuousChannel)
    enter(qtbot, part.range, "-150", "150")
    enter(qtbot, part.first, "4", "-150")
    enter(qtbot, part.second, "20", "150")
    pick(part.source, "data sheet of this unit")
    enter(qtbot, part.accuracy.fields["of_span"], "0.25")
    enter(qtbot, part.constant, "3")
    window.bench.go("wire")
    panel = at_step(window, "wire")
    entries(panel.controllers.choices)
    panel.controllers.choices.actions()[1].trigger()
    select_terminal(panel, "X4:3")
    panel.land()
    assert [type(stage) for stage in window.bench.continuous.path.stages] == [Shunt]
    enter(qtbot, field(panel, 0, "resistance_ohm"), "205")
    panel.add_stage(Clamp)
    assert "fault" not in panel.checked.summary
    assert window.bench.progress(window.bench.channel)[1].state == "proven"


def test_landing_and_describing_are_undone_and_redone(window):
    panel = go(window, "TE-204", "wire")
    select_terminal(panel, "X5:3")
    panel.land()
    window.bench.undo()
    assert landed(window.bench.job, window.bench.channel).terminal.id == "X5:1"
    window.bench.redo()
    assert landed(window.bench.job, window.bench.channel).terminal.id == "X5:3"


def test_checks_in_order_are_folded_away_until_asked_for(window):
    panel = go(window, "PT-202", "wire")
    folded = list(panel.checks.texts)
    assert all("pass" not in text for text in folded)
    panel.checks.more.click()
    assert len(panel.checks.texts) > len(folded)
    assert any("18.7 V left for the transmitter" in text for text in panel.checks.texts)
    panel.checks.more.click()
    assert panel.checks.texts == folded


def test_a_channel_without_a_fitting_terminal_says_so(window):
    window.channels.add_from(next(entry for entry in ENTRIES if entry.title == "Duty cycle, 10 to 90 %"))
    window.bench.go("wire")
    panel = at_step(window, "wire")
    assert panel.landed_words.text() == "No terminal takes duty cycle: add another controller."
    assert panel.terminals.rowCount() == 0


def test_the_page_of_the_wiring_list_wants_something_wired(window, tmp_path):
    from able_yardstick.app.steps.wire.page import save_wiring_pdf
    from able_yardstick.core.words.errors import BadTable

    job = window.bench.job
    bare = unland(job, "pt-201")
    for channel in bare.channels:
        if channel.has_pin and channel.landing is not None:
            bare = unland(bare, channel.id)
    with pytest.raises(BadTable, match="there is no wiring to list"):
        save_wiring_pdf(tmp_path / "w.pdf", bare)
    with pytest.raises(BadTable, match="cannot be written"):
        save_wiring_pdf(tmp_path / "nowhere" / "w.pdf", job)
