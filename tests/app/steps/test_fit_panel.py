"""Fit as a person uses it: every curve with its worth, U with its budget, and the settings that change them."""

import pytest
from acting import candidate, candidates, enter, field_named, go, look_at, pick, texts, words
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from able_yardstick.app.frame.workbench import now
from able_yardstick.core.document.channel import ContinuousChannel
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.fit.budget import fit_budget, reach_of
from able_yardstick.core.fit.inputs import fit_inputs
from able_yardstick.core.fit.on_offer import candidates_of
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.pack.packed import packed_now
from able_yardstick.core.results.choices import use_curve
from able_yardstick.core.sensor.rating import TwoPoints
from able_yardstick.core.words.numerals import parse_number


def rows_of(figures):
    """Cells of a table of figures, by the first of each row."""
    return figures.plain.replace("\u2009", "").split("\n")


def worst_error(panel):
    """The figure that the panel begins with."""
    return panel.lead_box.says.text()


def test_all_curves_are_offered_on_request_and_the_recommended_one_is_marked(window):
    panel = go(window, "AT-208", "fit")
    assert "Third order" in [row.button.text() for row in candidates(panel)]  # recommended, so it is seen
    assert "recommended" in words(candidate(panel, "poly3"))
    assert "Recommended: third order, the simplest whose largest error 0.0185" in panel.lead_box.more.text()
    panel.more.click()
    assert [row.model for row in candidates(panel)] == [
        "nominal", "two-point", "terminal", "through-zero", "line", "poly2", "poly3", "poly4", "poly5", "table", "pchip"
    ]  # fmt: skip
    look_at(panel, "poly3")
    assert "x³" in words(panel)


def test_u_is_shown_with_every_row_it_is_made_of(window):
    panel = go(window, "PT-201", "fit")
    look_at(panel, "line")
    job, channel = window.bench.job, window.bench.continuous
    line = next(row.fitted for row in candidates_of(job, channel) if row.model == "line")
    budget = fit_budget(fit_inputs(job, channel), line, reach_of(job, channel, "line").inside)
    rows = panel.budget.plain
    for row in budget.rows:
        assert row.name in rows
    assert "±0.1 kPa, normal, ÷ 2" in rows
    assert "rectangular, ÷ √3, × 62.42" in rows
    assert f"{budget.interval.expanded:.3f}" in panel.uncertainty.summary
    assert panel.expanded.text().startswith("U = ±0.188 kPa")
    assert "There U grows: ±0.27 at" in words(panel)


def test_linearity_is_shown_in_units_and_percent_and_says_what_is_missing(window):
    panel = go(window, "PT-202", "fit")
    words = rows_of(panel.linearity)
    assert "independent" in words
    assert "% of span" in words
    assert panel.linearity_says.text().startswith("no whole cycle up and down")
    assert "hysteresis: largest difference" in panel.linearity.toolTip()


def test_coefficients_open_with_all_digits_and_their_covariance(window):
    panel = go(window, "PT-201", "fit")
    look_at(panel, "line")
    assert not panel.coefficients.isVisible()
    panel.coefficients_button.click()
    lines = panel.coefficients.toPlainText().splitlines()
    assert lines[0].startswith("x^0")
    assert lines[2] == "covariance"
    line = next(row.fitted for row in candidates_of(window.bench.job, window.bench.continuous) if row.model == "line")
    cells = [[parse_number(cell) for cell in row.split()] for row in lines[3:]]
    assert cells[1][1] == pytest.approx(line.standard_errors[1] ** 2, rel=1e-3)
    assert cells[0][1] == cells[1][0]


def test_weights_a_robust_fit_and_a_formula_are_settings_of_the_channel(window, qtbot):
    panel = go(window, "PT-201", "fit")
    panel.more.click()
    look_at(panel, "line")
    assert "Each reading is weighed by its own uncertainty." in texts(panel)
    pick(panel.settings.fields["weigh"], "all the same")
    assert not [text for text in texts(panel) if "weighed by its own" in text or "robust fit" in text]
    panel.settings.fields["robust"].box.click()
    assert "The robust fit distrusts no reading." in texts(panel)
    panel.settings.fields["robust"].box.click()
    assert not [text for text in texts(panel) if "weighed by its own" in text or "robust fit" in text]
    enter(qtbot, panel.settings.fields["formula"], "p*(x - q")
    assert "bracket" in panel.settings.fields["formula"].error or ")" in panel.settings.fields["formula"].error
    enter(qtbot, panel.settings.fields["formula"], "p*(x - q)")
    assert window.bench.continuous.fit_settings.start == (("p", 1.0), ("q", 1.0))
    starts = field_named(panel, "Starts")
    assert starts.entries[0].text() == "p=1, q=1"
    enter(qtbot, starts, "p=60, q")
    assert starts.error.startswith("Expected starts such as")
    enter(qtbot, starts, "p=60, q=0.4")
    look_at(panel, "formula")
    assert "p = 62.4" in words(panel)
    panel.use.click()
    assert window.bench.job.fit_of("pt-201").fitted.spec.model == "formula"
    assert window.bench.job.fit_of("pt-201").expanded == pytest.approx(0.188, abs=0.002)


def test_a_robust_fit_names_the_reading_it_distrusts_and_keeps_it(window):
    from able_yardstick.core.job.entries import correct

    job = window.bench.job
    odd = job.amended("pt-201", "gather")[7].reading
    window.bench.edit("spoil", lambda job: correct(job, odd.id, odd.captured, reference=odd.reference + 3.0))
    panel = go(window, "PT-201", "fit")
    panel.more.click()
    look_at(panel, "line")
    panel.settings.fields["robust"].box.click()
    assert "distrusts row 8 (" in words(panel)
    line = next(row for row in candidates_of(window.bench.job, window.bench.continuous) if row.model == "line")
    assert len(line.fitted.signals) == 36


def test_a_thermistors_coefficients_are_offered_beside_the_curves(window):
    from able_yardstick.core.job.entries import capture
    from able_yardstick.core.journal.reading import Raw, Reading
    from able_yardstick.core.standards import thermistors

    bearing = window.bench.job.continuous("te-205")
    at = window.bench.job.readings[0].captured
    law = thermistors.SteinhartHart(1.13e-3, 2.34e-4, 8.7e-8)
    readings = []
    for n, warmth in enumerate((0.0, 20.0, 40.0, 60.0, 80.0)):
        pin = float(bearing.path.pin(thermistors.resistance_ohm(law, warmth), bearing.around))
        readings.append(
            Reading(id=f"t{n}", channel="te-205", captured=at, reference=warmth, reference_unit="°C", raw=Raw(mean=pin))
        )
    window.bench.edit("readings", lambda job: capture(job, readings))
    panel = go(window, "TE-205", "fit")
    panel.more.click()
    look_at(panel, "steinhart-hart")
    assert any(text.startswith("1/T = a + b ln R + c (ln R)³, T in K\na = 0.00113") for text in texts(panel))
    panel.use.click()
    assert window.bench.job.fit_of("te-205").assumed == "no stop was repeated"
    assert panel.standing.text().startswith("Linearity is assumed: no stop was repeated.")
    go(window, "TE-205", "pack")
    assert packed_now(window.bench.job, window.bench.continuous).cost.in_reach is not None


def test_measured_pairs_give_the_reference_beside_its_nominal(window, qtbot):
    panel = go(window, "PT-202", "wire")
    panel.pairs.button.click()
    pick(panel.pairs.what, "reference")
    panel.pairs.text.setPlainText("1.002 822\n2.510 2058\n4.003")
    assert "line 3" in panel.pairs.complaint.text()
    assert not panel.pairs.use.isEnabled()
    panel.pairs.text.setPlainText("1.002 822\n2.510 2058\n4.003 3283")
    assert panel.pairs.words.text().startswith("Measured 4.993375 ± 0.00048 V, nominal 5 V: −0.133 %")
    qtbot.mouseClick(panel.pairs.use, Qt.MouseButton.LeftButton)
    assert window.bench.continuous.path.converter.reference_measured_v == pytest.approx(4.993375, abs=1e-6)
    go(window, "PS-211", "wire")
    assert panel.pairs.text.toPlainText() == ""
    assert panel.pairs.what.box.itemText(0).startswith("factor of")


def test_channels_that_share_a_table_are_named_by_their_tags(window, qtbot):
    panel = go(window, "AT-208", "pack")
    panel.more.click()
    shared = field_named(panel, "Shared with")
    enter(qtbot, shared, "TE-205")
    assert "one table cannot give both" in shared.error
    enter(qtbot, shared, "at-209")
    assert window.bench.continuous.pack_spec.shared_with == ("at-209",)
    assert shared.entries[0].text().upper() == "AT-209"


def test_the_truth_between_a_sheets_rows_is_chosen_and_said(window):
    fields = go(window, "AT-209", "describe").part(ContinuousChannel)
    straight = nominal_curve(window.bench.continuous)
    assert fields.line.text() == "23 rows, from 0 to 5 V, joined by straight lines."
    pick(fields.form("table").fields["between"], "a monotone cubic")
    assert fields.line.text() == "23 rows, from 0 to 5 V, joined by a monotone cubic."
    bent = nominal_curve(window.bench.continuous)
    assert abs(float(bent.value(0.1)) - float(straight.value(0.1))) > 0.001
    look_at(go(window, "AT-209", "fit"), "nominal")
    go(window, "AT-209", "fit").use.click()
    assert (
        "Between its 23 rows a monotone cubic is taken for true." in go(window, "AT-209", "pack").lead_box.more.text()
    )


def test_a_knot_is_dragged_its_cost_seen_live_and_the_best_put_back(window, qtbot):
    panel = go(window, "AT-208", "pack")
    plot = window.centre.curve_plot
    best = packed_now(window.bench.job, window.bench.continuous)
    revision = window.bench.job.revision
    knot = 5
    start = plot.pixel_of(best.form.signals[knot], best.form.values[knot])
    end = start + QPointF(0, -25)
    before = worst_error(panel)
    QTest.mousePress(plot, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mouseMove(plot, ((start + end) / 2).toPoint())
    QTest.mouseMove(plot, end.toPoint())
    assert worst_error(panel) != before
    assert window.bench.job.revision == revision  # not an edit yet
    QTest.mouseRelease(plot, Qt.MouseButton.LeftButton, pos=end.toPoint())
    assert window.bench.job.revision == revision + 1
    spec = window.bench.continuous.pack_spec
    assert (spec.spacing, len(spec.own_knots)) == ("own", 12)
    assert spec.own_knots[knot][1] > best.form.values[knot] + 0.3
    assert packed_now(window.bench.job, window.bench.continuous).cost.in_reach.error != best.cost.in_reach.error
    pick(field_named(panel, "Knots"), "best")
    assert packed_now(window.bench.job, window.bench.continuous).form == best.form


def test_long_tables_stand_in_two_halves_with_the_knots_beside_the_hairline_tinted(window):
    panel = go(window, "AT-208", "pack")
    table, form = panel.numbers, packed_now(window.bench.job, window.bench.continuous).form
    assert (table.rowCount(), table.columnCount()) == (6, 6)
    texts = [[table.cell(row, column).text() for column in (0, 1)] for row in range(12)]
    assert [[float(cell.replace("−", "-")) for cell in row] for row in texts] == [
        list(pair) for pair in zip(form.signals, form.values, strict=True)
    ]
    assert {len(cell.partition(".")[2]) for row in texts for cell in row} == {2}  # decimals of the step, all alike
    window.sight.set_pin((form.signals[7] + form.signals[8]) / 2)
    none = table.cell(0, 0).background()
    assert [row for row in range(12) if table.cell(row, 0).background() != none] == [7, 8]
    pick(field_named(panel, "Numeric form"), "ends")
    assert (table.rowCount(), table.columnCount()) == (2, 2)


def test_all_forms_stand_side_by_side_with_what_they_differ_by(window):
    panel = go(window, "AT-208", "pack")
    assert not panel.others.table.isVisible()
    panel.others.compare.click()
    table = panel.others.table
    rows = {table.item(n, 0).text(): [table.item(n, c).text() for c in (1, 2)] for n in range(table.rowCount())}
    assert rows["Breakpoint table"][1] == "0.0000"
    assert rows["C99 function"] == rows["Breakpoint table"]
    assert float(rows["Slope and offset"][1]) > 1
    assert "5 of 16 forms agree with them" in panel.others.equal.text()
    assert "they do not follow the bend" in panel.others.equal.text()
    go(window, "PT-201", "pack")
    assert "16 of 16 forms agree" in panel.others.equal.text()


def test_fixed_signals_that_leave_out_part_of_the_reach_say_for_what_the_bound_holds(window, qtbot):
    panel = go(window, "AT-208", "pack")
    pick(field_named(panel, "Knots"), "fixed")
    enter(qtbot, field_named(panel, "Signals"), "1; 2; 3; 4")
    assert worst_error(panel) == "Worst error 6.4 % O2, ±0.15 allowed."
    assert "none can do better than 0.074" in texts(panel)
    assert "Between its ends, for which the bound is proven, the table keeps within 0.074 % O2" in words(panel)
    enter(qtbot, field_named(panel, "Signals"), "0; 1; 2; 3; 4; 5")
    assert "Between its ends" not in words(panel)


def test_numbers_that_show_the_calibration_itself_are_called_exact(window):
    rated = TwoPoints(signals=(0.0, 5.0), values=(0, 250))
    channel = window.bench.job.continuous("pt-201")
    described = channel.with_(transducer=channel.transducer.with_(rating=rated))
    window.bench.edit("exact", lambda job: change_channel(job, described))
    window.bench.edit("as described", lambda job: use_curve(job, channel.id, "nominal", now()))
    panel = go(window, "PT-201", "pack")
    assert worst_error(panel) == "Packing costs nothing: exact."
    assert "shows the calibration itself" in words(panel)
    assert "of span" not in words(panel)


def test_an_assumed_reading_is_named_with_what_it_costs_and_its_origin_can_be_set_right(window, qtbot):
    panel = go(window, "IT-207", "gather")
    for n, (reference, raw) in enumerate(((0, "0.00"), (20, "2.00"), (40, "4.00"))):
        pick_in(panel.form.origin.box, "assumed" if n == 0 else "measured")
        panel.form.reference.setText(str(reference))
        panel.form.raw.setText(raw)
        qtbot.mouseClick(panel.form.button, Qt.MouseButton.LeftButton)
    fit = go(window, "IT-207", "fit")
    assert "Linearity is assumed: one reading is itself assumed." in fit.standing.text()
    assert "Were the one at 0 A off by 1 % of span, the curve would be off by 0.83 % at" in fit.standing.text()
    panel = go(window, "IT-207", "gather")
    panel.table.select_readings({window.bench.job.amended("it-207", "gather")[0].reading.id})
    menu = panel.table.menu()
    assert [one.text() for one in menu.actions() if one.isChecked()] == ["↑ going up", "assumed"]
    next(one for one in menu.actions() if one.text() == "measured").trigger()
    assert window.bench.job.amended("it-207", "gather")[0].reading.origin == "measured"


def test_what_was_said_of_one_channels_reading_is_not_said_of_the_next_ones(window):
    panel = go(window, "IT-207", "gather")
    pick_in(panel.form.origin.box, "assumed")
    panel = go(window, "PT-201", "gather")
    assert panel.form.origin.box.currentData() == "measured"


def pick_in(box, value):
    box.setCurrentIndex(box.findData(value))
