"""Every panel begins with what stands now and the next thing to do; parts fold and remember."""

import pytest
from acting import at_step, button, enter, field_named, go, pick, press, words
from PySide6.QtGui import QGuiApplication

from able_yardstick.app.frame.settings import Settings
from able_yardstick.app.panel.section import Section
from able_yardstick.core.state.progress import STEP_NAMES, steps_of


def test_every_step_of_every_channel_begins_with_a_sentence(window):
    for channel in window.bench.job.channels:
        window.bench.select(channel.id)
        for name in STEP_NAMES:
            if name in steps_of(channel):
                window.bench.go(name)
                window.bench.search.wait()
                box = window.panel_shown.lead_box
                assert box.isVisible()
                assert box.says.text().endswith((".", "?", "…")), (channel.tag, name, box.says.text())
                assert box.level in ("ok", "look", "fault", "open")


@pytest.mark.parametrize(
    ("tag", "step", "level", "says", "next_words"),
    [
        ("PT-201", "fit", "ok", "Least-squares line is in use.", "Go on to Pack"),
        ("PT-201", "prove", "ok", "Pass: 5 of 5 checks within.", "Type a check"),
        ("PT-202", "wire", "fault", "2 faults in the wiring.", "Show what is wrong"),
        ("PT-202", "fit", "look", "Least-squares line: out of date.", "Use this curve"),
        ("IT-207", "describe", "look", "0 to 50 A gives 0 to 5 V at the pin.", "Say where from"),
        ("IT-207", "gather", "open", "No readings yet.", "Paste cells"),
        ("IT-207", "prove", "open", "Nothing to prove yet.", "Go to Pack"),
        ("AT-209", "prove", "fault", "Fail: 0 of 3 checks within.", "Set it right at Wire"),
        ("PS-211", "describe", "ok", "Gas present at 3.564, gas low at 0 V.", "Go on to Wire"),
        ("WQ-212", "describe", "ok", "The register gets 2\u2009384\u2009222, 0x0024615E.", "Copy the words"),
    ],
)
def test_what_stands_is_said_with_its_state_and_what_is_next(window, tag, step, level, says, next_words):
    box = go(window, tag, step).lead_box
    assert (box.level, box.says.text()) == (level, says)
    assert button(box, next_words).isEnabled()


def test_the_next_button_leads_from_step_to_step(window):
    go(window, "PT-201", "describe")
    press(window.panel_shown.lead_box, "Go on to Wire")
    assert window.bench.step == "wire"
    go(window, "IT-207", "prove")
    press(window.panel_shown.lead_box, "Go to Pack")
    assert window.bench.step == "pack"


def test_a_missing_tolerance_is_asked_for_where_it_is_typed(window, qtbot):
    window.channels.add("continuous")
    panel = at_step(window, "describe")
    pick(field_named(panel, "Given by"), "two points")
    assert panel.lead_box.says.text() == "What error is allowed?"
    press(panel.lead_box, "State it")
    field = field_named(panel, "Fixed ±")
    assert field.entries[0].hasFocus()
    enter(qtbot, field, "1.5")
    assert panel.lead_box.level in ("look", "open", "ok")


def test_folded_parts_say_what_is_inside_and_are_remembered(window, settings):
    panel = go(window, "PT-201", "describe")
    parts = {part.head.accessibleName(): part for part in panel.findChildren(Section)}
    assert parts["Error allowed"].summary == "±1 kPa"
    assert parts["Limits"].summary == "survives 400 kPa, ±0.5 % of span"
    assert not parts["Limits"].is_open
    parts["Limits"].head.click()
    parts["Curve"].head.click()
    assert "Supply" in words(panel)
    settings.sync()
    again = Settings().folds
    assert (again["describe/limits"], again["describe/curve"]) == (True, False)


def test_the_registers_words_are_copied_and_drawn(window):
    from able_yardstick.app.frame.register_picture import RegisterPicture

    panel = go(window, "WQ-212", "describe")
    press(panel.lead_box, "Copy the words")
    assert QGuiApplication.clipboard().text() == "0x0024\n0x615E"
    rows = window.centre.findChild(RegisterPicture).rows
    assert [(row.title, row.number) for row in rows] == [("Word 1", 0x24), ("Word 2", 0x615E), ("filter code", 0x243)]
    assert (list(rows[2].lit), rows[2].agrees) == ([8, 9], True)


def test_a_controller_is_described_in_the_program(window, qtbot, tmp_path, monkeypatch):
    from able_yardstick.app.steps.wire.controller_editor import ControllerEditor
    from able_yardstick.core.document.controller import Controller

    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    editor = ControllerEditor(Controller(id="", name=""), window)
    qtbot.addWidget(editor)
    editor.show()
    editor.accept()
    assert "needs a name" in words(editor)
    editor.entries["name"].setText("Yard controller")
    rows = ("Terminal\tTakes\tBits\tReturn", "1\t0 to 5 V\t16\t2", "2\t\t\t", "3\t0 to 9 bar\t12\t2")
    QGuiApplication.clipboard().setText("\n".join(rows))
    editor.paste()
    editor.accept()
    assert "Row 3: “0 to 9 bar”: bar is no signal" in words(editor)
    editor.table.item(2, 5).setText("4 to 20 mA, 250 Ω")
    editor.table.item(1, 4).setText("return")
    press(editor, "OK, and keep it for other jobs")
    assert editor.kept_for_others
    made = editor.controller
    assert (made.id, [one.id for one in made.terminals]) == ("yard-controller", ["1", "2", "3"])
    assert made.terminals[0].kinds[0].converter.full_count == 65535
    from able_yardstick.files.controllers import keep_controller, own, read_controller

    path = keep_controller(made)
    assert read_controller(path) == made
    assert own() == (made,)
    again = ControllerEditor(made, window)
    qtbot.addWidget(again)
    assert again.made() == made


def test_a_right_click_copies_the_picture_the_values_and_the_points(window, tmp_path):
    from acting import entries

    go(window, "PT-201", "fit")
    menu = window.centre.view_menu()
    offered = entries(menu)
    assert list(offered)[:2] == ["Copy as a picture", "Save as a picture …"]
    offered["Copy as a picture"].trigger()
    assert not QGuiApplication.clipboard().image().isNull()
    offered["Copy the values at the hairline"].trigger()
    rows = [line.split("\t") for line in QGuiApplication.clipboard().text().splitlines()]
    assert rows[0][0] == "Pressure"
    assert [row[2] for row in rows] == ["kPa", "V", "counts", "kPa"]
    offered["Copy the points of the errors"].trigger()
    assert len(QGuiApplication.clipboard().text().splitlines()) == 37
    window.sight.zoom(0.5)
    assert entries(window.centre.view_menu())["Show the whole scale"].isEnabled()

    from able_yardstick.app.frame.picture_menu import save_picture

    said = []
    save_picture(window.centre, tmp_path / "seen", lambda text, bad: said.append((text, bad)))
    assert (tmp_path / "seen.png").exists()
    save_picture(window.centre, tmp_path / "no" / "seen.png", lambda text, bad: said.append((text, bad)))
    assert [bad for _text, bad in said] == [False, True]


def test_nature_fills_in_the_reference_by_one_press(window):
    from acting import entries

    panel = go(window, "TE-204", "gather")
    words_of_ice = next(text for text in entries(panel.natural) if text.startswith("Melting ice"))
    entries(panel.natural)[words_of_ice].trigger()
    assert panel.form.reference.text() == "0"
    panel.form.raw.setText("100.01")
    panel.form.add()
    reading = window.bench.job.amended("te-204", "gather")[-1].reading
    one = next(row for row in window.bench.job.references if row.id == reading.reference_id)
    assert one.name == words_of_ice
    assert reading.reference_standard > 0
    entries(panel.natural)[words_of_ice].trigger()
    assert sum(row.name == words_of_ice for row in window.bench.job.references) == 1


def test_what_is_on_its_plate_is_noted(window, qtbot):
    panel = go(window, "PT-201", "describe")
    enter(qtbot, field_named(panel, "Serial"), "K2-777")
    device = next(one for one in window.bench.job.devices if one.id == "device-pt-201")
    assert device.serial == "K2-777"
    assert "serial K2-777" in panel.unit.summary


def test_checks_without_an_error_allowed_lead_to_the_field_for_it(window, qtbot):
    panel = go(window, "AT-209", "prove")
    enter(qtbot, field_named(panel, "Fixed error ±"), "0")
    assert "No tolerance is stated" in panel.lead_box.says.text()
    press(panel.lead_box, "State the error allowed")
    qtbot.waitUntil(field_named(panel, "Fixed error ±").entries[0].hasFocus)
