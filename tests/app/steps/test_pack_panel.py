"""Pack: the forms that controllers really take, numbers that somebody else made, and what is not given out."""

import pytest
from acting import enter, field_named, go, pick, press, words
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication

from able_yardstick.core.job.channels import change_channel


def cells(panel):
    table = panel.numbers
    return [[table.item(row, n).text() for n in range(table.columnCount())] for row in range(table.rowCount())]


def described(window):
    """Pack of PT-202 as it is described, without the curve that was fitted."""
    fits = tuple(one for one in window.bench.job.document.fits if one.channel != "pt-202")
    window.bench.edit("fits", lambda job: job.edited(fits=fits))
    return go(window, "PT-202", "pack")


def test_a_loop_takes_its_values_at_4_and_20_ma(window):
    """PT-202: 4 to 20 mA over 250 ohm, -150 to 150 Pa, described so."""
    panel = described(window)
    pick(field_named(panel, "Numeric form"), "ends")
    pick(field_named(panel, "Ends given"), "output")
    assert cells(panel) == [["4", "\u2212150"], ["20", "150"]]
    assert panel.numbers.horizontalHeaderItem(0).text() == "signal, mA"


def test_integers_with_a_decimal_point_come_from_the_same_ends(window, qtbot):
    panel = described(window)
    pick(field_named(panel, "Numeric form"), "integers")
    pick(field_named(panel, "Ends given"), "output")
    enter(qtbot, field_named(panel, "Implied decimals"), "1")
    assert [row[:2] for row in cells(panel)] == [["4", "\u22121\u2009500"], ["20", "1\u2009500"]]
    assert "12.5 is 125 to the controller." in words(panel)
    assert "The last digit is 0.1 Pa: coming to it costs up to 0.05." in words(panel)
    assert "One more, with a range of \u221215\u2009000 to 15\u2009000, costs 0.005." in words(panel)


def test_numbers_from_a_note_are_typed_and_measured(window, qtbot):
    panel = go(window, "PT-201", "pack")
    panel.bench.edit("no digits", lambda job: change_channel(job, spec_of(job, decimals=None)))
    press(panel, "I have these numbers from elsewhere")
    enter(qtbot, field_named(panel, "Slope"), "60")
    enter(qtbot, field_named(panel, "Offset"), "-30")
    assert cells(panel)[0][1] == "60"
    assert "Numbers from elsewhere, measured against the least squares curve." in panel.lead_box.more.text()
    assert "allowed for everything together" in words(panel)
    press(panel, "Keep for the controller")
    press(panel, "Keep all the same")
    record = window.bench.job.pack_of("pt-201")
    assert (record.form.slope, record.form.offset) == (60.0, -30.0)
    assert dict(record.spec.given) == {"slope": 60.0, "offset": -30.0}
    pick(field_named(panel, "Numeric form"), "ends")
    assert window.bench.continuous.pack_spec.given == ()


def test_the_decimal_point_of_given_integers_stays_where_it_is(window):
    panel = described(window)
    pick(field_named(panel, "Numeric form"), "integers")
    press(panel, "I have these numbers from elsewhere")
    spec = window.bench.continuous.pack_spec
    assert spec.implied_decimals is not None
    assert [name for name, _ in spec.given] == ["integer_low", "integer_high"]


def spec_of(job, **fields):
    channel = job.continuous("pt-201")
    return channel.with_(pack_spec=channel.pack_spec.with_(**fields))


def test_a_table_that_is_already_in_the_controller_is_pasted(window):
    panel = go(window, "AT-208", "pack")
    pick(field_named(panel, "Knots"), "own")
    panel.own_table.text.setPlainText("0\t0\n2.5\t8\n5\t21")
    press(panel, "Take these rows")
    assert window.bench.continuous.pack_spec.own_knots == ((0.0, 0.0), (2.5, 8.0), (5.0, 21.0))
    assert len(cells(panel)) == 3


def test_numbers_of_a_curve_that_is_out_of_date_are_not_given_out(window):
    panel = go(window, "PT-202", "pack")
    QGuiApplication.clipboard().setText("before")
    assert not panel.copy.isEnabled()
    assert not panel.save.isEnabled()
    assert panel.copy.toolTip() == "The curve is out of date: the readings changed. Choose it anew at Fit first."


@pytest.mark.parametrize("range_high", [250.0, 350.0])
def test_a_calibration_that_stops_short_of_the_range_is_said_before_it_is_kept(window, range_high):
    channel = window.bench.job.continuous("pt-201")
    wider = channel.with_(transducer=channel.transducer.with_(range_high=range_high))
    window.bench.edit("range", lambda job: change_channel(job, wider))
    panel = go(window, "PT-201", "pack")
    said = "the range goes from 0 to 350: what is shown beyond rests on nothing that was seen" in words(panel)
    assert said == (range_high == 350.0)


@pytest.mark.parametrize(
    ("typed", "kind"),
    [("value at 4 mA", "ends"), ("decimal point display", "integers"), ("rows", "knots"), ("norm", "normal")],
)
def test_a_form_is_found_by_what_its_owners_call_it(window, qtbot, typed, kind):
    window.bench.select("pt-201")
    window.find_field.setFocus()
    qtbot.keyClicks(window.find_field, typed)
    qtbot.keyClick(window.find_field, Qt.Key.Key_Return)
    assert window.bench.continuous.pack_spec.form == kind
    assert window.bench.step == "pack"
