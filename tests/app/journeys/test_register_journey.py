"""A unit over its visits: drift, the next visit planned, found again, and what rests on an instrument found wrong."""

import csv
from datetime import UTC, datetime

import numpy as np
import pytest
from acting import complaint, enter, field_named, go, named, pick, press, said, unfold, words
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QMenu

from able_yardstick.app.register import panel as register_panel
from able_yardstick.app.register.library_dialog import LibraryDialog
from able_yardstick.app.register.picture import HistoryPicture
from able_yardstick.app.steps.sign import panel as sign_panel


@pytest.fixture(autouse=True)
def keys(tmp_path, monkeypatch):
    """Keys of this test's own, and a day on which it happens."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    for module in (sign_panel, register_panel):
        monkeypatch.setattr(module, "now", lambda: datetime(2026, 11, 29, 12, tzinfo=UTC))


def rows(box):
    return [box.item(n).text() for n in range(box.count())]


def signed_window(window, qtbot):
    panel = go(window, "PT-201", "sign")
    enter(qtbot, field_named(panel, "Technician"), "Ada Tester")
    enter(qtbot, field_named(panel, "Accepted"), "a diaphragm shows no hysteresis")
    press(panel, "Sign as Ada Tester")
    assert complaint(panel) == ""


def test_drift_shows_over_the_visits_and_the_next_one_is_planned(window, qtbot, tmp_path):
    signed_window(window, qtbot)
    window.show_side("register")
    shop, panel = window.shop, window.panel_shown
    assert [visit.day.year for visit in shop.unit.visits] == [2024, 2025, 2025, shop.unit.visits[-1].day.year]
    assert "No next visit is planned. At 225 kPa it drifts +1.1" in words(panel)
    assert "A steady drift explains the 12 differences" in words(panel)
    pick(field_named(panel, "Interval by"), "staircase")
    assert "9 months: found 130 %" in words(panel)
    # another interval needs a reason
    enter(qtbot, field_named(panel, "or months"), "7")
    press(panel, "Plan the next visit")
    assert "needs a reason" in complaint(panel)
    enter(qtbot, field_named(panel, "because"), "the kiln stops then")
    press(panel, next(text for text in words(panel).split("\n") if text.startswith("Plan the visit: ")))
    assert "every 7 months by a person" in said(window)
    assert "Due on" in words(panel)
    assert rows(named(panel, QListWidget, "What is due"))[0].endswith("PT-201  K2-001  later")
    panel.save_dues(str(tmp_path / "due.ics"))
    assert "SUMMARY:Calibrate PT-201" in (tmp_path / "due.ics").read_text()
    # the picture draws another stop when it is pressed
    picture = window.findChild(HistoryPicture)
    picture.grab()
    place, value = picture.drawing.stops[1]
    qtbot.mouseClick(picture.drawing, Qt.MouseButton.LeftButton,
                     pos=place.center().toPoint())  # fmt: skip
    assert shop.stop_drawn == value
    # a change of theme leaves what is looked at in sight
    window.turn_theme()
    assert window.panel_shown is panel


def test_records_are_found_as_one_types_and_a_unit_without_any_says_so(window, qtbot):
    signed_window(window, qtbot)
    window.show_side("register")
    panel = window.panel_shown
    found = named(panel, QListWidget, "Records found")
    panel.search.setText("ada")
    assert [row[-13:] for row in rows(found)] == ["  fail → pass"]
    panel.search.setText("dryer")
    assert rows(found) == [
        "no record  TE-204  K2-004  Dryer air", "no record  TY-213  K2-013  Arch temperature, to the dryer",
    ]  # fmt: skip
    panel.search.setText("nobody")
    assert rows(found) == ["Nothing is found."]
    panel.search.setText("2024-05")
    window.bench.select(window.bench.job.tagged("TE-204").id)
    assert "No record of this unit is in the register." in words(panel)
    found.itemClicked.emit(found.item(0))
    assert window.shop.unit.tag == "PT-201"
    window.bench.select("at-208")
    press(panel, "Go on to Sign")
    assert window.panel_shown.title == "Sign it"


def test_what_rests_on_an_instrument_that_was_found_wrong(window, qtbot, tmp_path):
    signed_window(window, qtbot)
    window.show_side("register")
    panel = window.panel_shown
    unfold(panel)
    box = panel.resting
    assert "4 records rest on it. Give its new certificate" in words(box)
    box.certificate.text.setPlainText("0\t0\n300\t-1.35")
    press(box, "Take these rows")
    assert "now fail" in words(box)
    assert any(row.startswith("now fails: PT-201") for row in rows(box.list))
    enter(qtbot, field_named(box, "Signed since"), "2026-01-01")
    assert box.list.count() == 1
    enter(qtbot, field_named(box, "Signed since"), "last year")
    assert "Expected a day such as" in field_named(box, "Signed since").error
    box.save_list(tmp_path / "list.csv")
    (row,) = list(csv.DictReader((tmp_path / "list.csv").read_text().splitlines()))
    worst = box.rows[0].worst
    old = np.interp(worst.value, (0, 100, 200, 300), (0, -0.02, -0.03, 0.01))  # what its certificate of then says
    assert worst.after - worst.before == pytest.approx(1.35 * worst.value / 300 + old)
    assert (row["tag"], row["certificate"]) == ("PT-201", "C-114")


def test_what_is_not_signed_yet_rests_on_it_too_and_is_one_press_away(window, qtbot):
    window.bench.select("at-208")
    window.show_side("register")
    unfold(window.panel_shown)
    box = window.panel_shown.resting
    pick(box.instrument, "2204-12")
    assert "3 records and 1 channel of this job not signed so rest on it" in words(box)
    at = next(n for n, row in enumerate(rows(box.list)) if "not signed" in row)
    box.list.itemClicked.emit(box.list.item(at))
    assert window.bench.channel.tag == "PT-201"


def test_a_register_that_does_not_answer_keeps_nobody_from_signing(window, qtbot):
    window.settings.register_url = "postgresql://bench@127.0.0.1:9/shop"
    signed_window(window, qtbot)
    assert "The register does not answer: it is handed in when it does." in said(window)
    window.show_side("register")
    panel = window.panel_shown
    assert "cannot be opened" in words(panel)
    unfold(panel)
    enter(qtbot, field_named(panel, "URL"), "")
    assert len(window.shop.unit.visits) == 4


def test_a_transducer_is_kept_for_the_shop_and_started_from_with_one_press(window, monkeypatch):
    window.bench.select("pt-201")

    def fill(dialog):
        dialog.source.clear()
        dialog.try_to_take()
        assert dialog.complaint.text()  # it wants a source
        dialog.source.setText("sheet 4")
        dialog.vouched.setText("Ada")
        dialog.try_to_take()

    monkeypatch.setattr(LibraryDialog, "exec", fill)
    do_action(window, "Keep the transducer in the shop's library …")
    assert "is in the shop's library" in said(window)
    menu = next(one for one in window.findChildren(QMenu) if one.title() == "Add one of the shop's library")
    menu.aboutToShow.emit()
    menu.actions()[0].trigger()
    made = window.bench.continuous
    assert made.tag == "PT-1"
    assert made.transducer.source == "similar part"
    assert made.transducer.rating == window.bench.job.continuous("pt-201").transducer.rating


def test_whose_keys_are_trusted_is_a_list_that_every_bench_shares(window, qtbot):
    window.show_side("register")
    panel = window.panel_shown
    unfold(panel)
    box = panel.keys
    assert "Your own key: " in words(box)
    own = words(box).split("Your own key: ")[1].split("\n")[0]
    press(box, "Trust this key")
    assert "Say whose key it is" in complaint(box)
    enter(qtbot, field_named(box, "Name"), "Ada Tester")
    enter(qtbot, field_named(box, "Public key"), "short")
    press(box, "Trust this key")
    assert "Expected a public key" in complaint(box)
    enter(qtbot, field_named(box, "Public key"), own)
    press(box, "Trust this key")
    assert rows(box.list) == [f"Ada Tester, technician: {own[:12]}…"]
    press(box, "Trust the chosen one no longer")
    assert "Choose a key" in complaint(box)
    box.list.setCurrentRow(0)
    press(box, "Trust the chosen one no longer")
    assert "No key is trusted yet" in rows(box.list)[0]


def test_what_the_shop_keeps_is_taken_out_and_put_back(window):
    from able_yardstick.core.describe.shop_entry import entry_of
    from able_yardstick.files.register.library import kept, put_entry

    window.show_side("register")
    panel = window.panel_shown
    unfold(panel)
    box = panel.library
    assert "Nothing is kept yet" in words(box)
    with window.shop.register() as register:
        put_entry(register, entry_of(window.bench.job.continuous("pt-201"), "Gas, 250 kPa", "sheet 4", "Ada"))
    box.refresh()
    assert rows(box.list) == ["Gas, 250 kPa (transducer)"]
    box.list.setCurrentRow(0)
    assert "From sheet 4; vouched for by Ada." in words(box)
    press(box, "Take the chosen one out")
    with window.shop.register() as register:
        assert kept(register) == []
    press(box, "Put “Gas, 250 kPa” back")
    assert rows(box.list) == ["Gas, 250 kPa (transducer)"]


def test_a_controller_is_kept_for_the_shop_and_offered_at_wire(window):
    button = go(window, "PT-201", "wire").controllers
    button.choices.aboutToShow.emit()
    keep = next(one for one in button.choices.actions() if one.text().startswith("Keep Kiln controller"))
    keep.trigger()
    assert "Kiln controller is in the shop's library." in said(window)
    button.choices.aboutToShow.emit()
    texts = [one.text() for one in button.choices.actions()]
    assert "Kiln controller: from the shop's library" in texts
    assert not any(text.startswith("Keep Kiln controller") for text in texts)


def do_action(window, text):
    next(action for action in window.actions_list if action.text() == text).trigger()


def test_many_records_are_handed_in_beside_the_window_once_and_told(window, qtbot, monkeypatch):
    """With little patience: the panel says how far it is, and shows the unit once all are in."""
    from able_yardstick.app.frame import beside
    from able_yardstick.files.records.signing import records_folder
    from able_yardstick.files.register import handing, take

    monkeypatch.setattr(beside, "PATIENCE_S", 0.0)
    monkeypatch.setattr(handing, "TOLD_EACH", 1)
    read = []
    known = take.is_known
    monkeypatch.setattr(take, "is_known", lambda path, of: read.append(path.name) or known(path, of))
    (records_folder(window.bench.path).parent / "Other records").mkdir()
    (window.bench.path.parent / "Other records" / "x.record.json").write_text("{}")
    busy = []
    window.shop.changed.connect(lambda: busy.append(window.shop.busy))
    window.show_side("register")
    qtbot.waitUntil(lambda: window.shop.unit is not None, timeout=10_000)
    assert len(window.shop.unit.visits) == 3
    assert "Records beside the job are handed in: 2 of 4." in busy
    assert window.shop.busy == ""
    assert "x.record.json was not taken" in said(window)
    assert len(read) == 4
    window.shop.look()
    assert len(read) == 4  # nothing is read again
