"""The live bench in the window, against the rig's real protocols: Sources, Wake, Gather, fast capture, references."""

import json
import os
import signal
import subprocess
import sys
import time

import pytest
from acting import (
    button,
    card,
    choose,
    complaint,
    enter,
    field_named,
    go,
    pick,
    press,
    side,
    source_card,
    texts,
    unfold,
    words,
)
from PySide6.QtCore import Qt

from able_yardstick.app.sources.editor import SourceEditor
from able_yardstick.app.steps.describe.panel import DescribePanel
from able_yardstick.app.steps.wake.burst_dialog import BurstDialog
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.alarms.rehearsal import rehearsal_of
from able_yardstick.core.document.alarm import Alarm
from able_yardstick.core.document.sources import Feed, ManualSource, ScpiSource
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.instruments import change_source, change_sources
from able_yardstick.files.jobfile import read_job
from rigging import Knobs, places_of, start_rig, stop_rig


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7", "--fault", "AT-209=chassis-ground", "--fault", "FT-210=missing-pull-up")
    yield places_of(told)
    stop_rig(process)


@pytest.fixture
def knobs(rig):
    return Knobs(rig.knobs)


@pytest.fixture
def live(window, rig, qtbot):
    """The window, in front, connected to the rig."""
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    window.live.connect_all()
    window.rig.places = rig
    qtbot.waitUntil(
        lambda: all(link.status.standing == "answering" for link in window.live.hub.links), timeout=10_000
    )  # fmt: skip
    return window


def press_key(window, keys):
    """The window's command of a key; that the key itself arrives is tested in a real window."""
    next(action for action in window.actions_list if action.shortcut().toString() == keys).trigger()


def steady(session, qtbot):
    """Wait until a reading may be taken."""
    qtbot.waitUntil(lambda: session.watched is not None and session.watched.is_steady, timeout=20_000)


def looked(window, qtbot, tag, state):
    """Wake of a channel, in a state, looked at."""
    panel = go(window, tag, "wake")
    qtbot.waitUntil(lambda: (found := panel.session.figures()) is not None and found.seconds > 4, timeout=12_000)
    pick(panel.state, state)
    press_key(window, "F8")
    assert panel.session.verdict is not None
    return panel


# -- sources --------------------------------------------------------------------------------------------------------


def test_opening_a_job_connects_to_nothing(window):
    assert not window.live.is_on
    assert button(window, "Bench").text() == "Bench: not connected"


def test_the_sources_say_how_they_answer(live, qtbot):
    live.show_side("sources")
    panel = side(live, "sources")
    card = source_card(panel, "Kiln controller")
    qtbot.waitUntil(lambda: "answers: device 1, 32 values in 4 requests" in card.words.text(), timeout=10_000)
    assert panel.connect_button.text() == "Disconnect"
    qtbot.waitUntil(lambda: button(live, "Bench").text() == "Bench: 3 of 3 sources answer", timeout=10_000)
    qtbot.mouseClick(panel.connect_button, Qt.MouseButton.LeftButton)
    assert card.words.text() == "not connected"
    live.show_side("sources")
    assert isinstance(live.panel_shown, DescribePanel)


def test_a_source_is_switched_off_by_its_tick_and_removed(live, qtbot):
    live.show_side("sources")
    panel = side(live, "sources")
    source_card(panel, "Bench meter").on.click()
    assert not next(one for one in live.bench.job.sources if one.id == "meter").enabled
    assert live.live.hub.link("meter") is None
    press(source_card(panel, "Bench meter"), "✕")
    assert source_card(panel, "Bench meter") is None
    live.bench.undo()
    assert source_card(panel, "Bench meter") is not None


def test_the_settings_of_every_source_come_back_as_they_were(window):
    for source in window.bench.job.sources:
        editor = SourceEditor(source, window.bench.job, window)
        assert editor.made() == source
        editor.deleteLater()


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda editor: editor.entries["port"].setText("many"), "Expected a number"),
        (lambda editor: editor.entries["port"].setText("80.5"), "Expected a whole number for the port"),
        (lambda editor: editor.entries["port"].setText("99999"), "less than or equal to 65535"),
        (
            lambda editor: editor.feeds.table.item(0, 2).setText("XX-9"),
            "Row 1, PT-201 reference: There is no channel XX-9",
        ),
        (lambda editor: editor.feeds.table.item(0, 1).setText("guess"), "Row 1, PT-201 reference: role"),
    ],
)
def test_settings_that_cannot_be_are_refused_in_place(window, change, words):
    source = next(one for one in window.bench.job.sources if one.id == "gauge")
    editor = SourceEditor(source, window.bench.job, window)
    change(editor)
    editor.accept()
    assert words in complaint(editor)
    assert editor.source == source
    editor.deleteLater()


def test_a_source_is_tested_before_it_is_kept(live, qtbot):
    source = next(one for one in live.bench.job.sources if one.id == "gauge")
    editor = SourceEditor(source, live.bench.job, live)
    editor.show()
    editor.test()
    qtbot.waitUntil(lambda: "It answers: Rig,Reference bench,RB-01,1.0." in texts(editor))
    editor.entries["port"].setText("1")
    editor.test()
    qtbot.waitUntil(lambda: "Nothing answers at 127.0.0.1:1" in complaint(editor))
    editor.reject()
    editor.deleteLater()


def test_a_number_is_added_to_a_source(window):
    source = ManualSource(id="m", name="By eye")
    editor = SourceEditor(source, window.bench.job, window)
    editor.show()
    press(editor, "Add a number")
    for column, text in enumerate(("gauge", "reference", "PT-201", "kPa", "RP-12")):
        editor.feeds.table.item(0, column).setText(text)
    feed = editor.made().feeds[0]
    assert (feed.name, feed.role, feed.channel, feed.unit, feed.reference) == (
        "gauge", "reference", "pt-201", "kPa", "RP-12",
    )  # fmt: skip
    editor.deleteLater()


# -- wake -----------------------------------------------------------------------------------------------------------


def test_a_healthy_channel_is_looked_at_and_nudged(live, qtbot, knobs):
    panel = looked(live, qtbot, "IT-207", "fan at work")
    assert panel.lead_box.says.text().startswith("Undecided: healthy, or ")
    assert panel.lead_box.level == "look"
    assert "Next: Nudge the sensor" in panel.lead_box.more.text()
    qtbot.mouseClick(panel.nudge, Qt.MouseButton.LeftButton)
    assert "Disturb the sensor now" in panel.nudge_words.text()
    knobs.turn(do="move", tag="IT-207", value=26)
    qtbot.waitUntil(lambda: panel.session.evidence.nudge is not None, timeout=8000)
    knobs.turn(do="move", tag="IT-207", value=20)
    assert panel.session.evidence.nudge.outcome == "moved"
    assert panel.lead_box.says.text().startswith("Healthy")
    wake = next(step for step in live.bench.progress(live.bench.channel) if step.step == "wake")
    assert wake.state == "proven"
    changed = live.bench.continuous.with_(
        transducer=live.bench.continuous.transducer.with_(
            range_high=60.0, rating=live.bench.continuous.transducer.rating
        )
    )
    live.bench.edit("another range", lambda job: change_channel(job, changed))
    wake = next(step for step in live.bench.progress(live.bench.channel) if step.step == "wake")
    assert (wake.state, wake.says) == ("stale", "the description changed")


def test_the_faulty_channels_are_found_and_their_causes_named(live, qtbot, knobs):
    panel = looked(live, qtbot, "FT-210", "fan at work")
    assert "missing pull-up" in panel.session.verdict.names
    for point, test in (("signal", "meter"), ("leads", "resistance")):
        knobs.turn(do="probe", tag="FT-210", point=point)
        time.sleep(0.6)
        press(panel.metered[test], "Take")
    assert panel.lead_box.says.text() == "Missing pull-up."
    assert "across the leads" in panel.lead_box.more.text()
    assert next(step.state for step in live.bench.progress(live.bench.channel) if step.step == "wake") == "failed"
    panel = looked(live, qtbot, "AT-209", "span gas of 8.4 %")
    assert "chassis-ground offset" in panel.session.verdict.names
    knobs.turn(do="probe", tag="AT-209", point="signal")
    time.sleep(0.6)
    press(panel.metered["meter"], "Take")
    assert panel.lead_box.says.text() == "Chassis-ground offset."
    assert "A second place tells" in panel.meter_words.text()
    knobs.turn(do="probe", tag="AT-209", point="nowhere")


def test_a_second_state_stands_beside_the_first(live, qtbot, knobs):
    panel = looked(live, qtbot, "PS-211", "gas present")
    assert panel.lead_box.says.text().startswith(("Healthy", "Undecided: healthy"))
    knobs.turn(do="move", tag="PS-211", value=1)
    qtbot.wait(6500)
    pick(panel.state, "gas low")

    def looked_again():
        """A look over a gap of a busy link is refused: a person presses again."""
        qtbot.mouseClick(panel.look_button, Qt.MouseButton.LeftButton)
        return panel.session.evidence.other is not None

    qtbot.waitUntil(looked_again, timeout=10_000)
    assert panel.session.verdict.names == ("healthy",)
    knobs.turn(do="move", tag="PS-211", value=0)


def test_a_state_is_named_by_the_person_and_a_value_without_a_signal_is_refused(window, qtbot):
    panel = go(window, "WT-206", "wake")
    pick(panel.state, "another")
    panel.state_name.setText("two pallets")
    panel.state_value.setText("many")
    press(panel, "Add it")
    assert "Expected a number" in complaint(panel)
    panel.state_value.setText("1200")
    panel.state_within.setText("5")
    press(panel, "Add it")
    assert window.bench.continuous.plant_states[-1].name == "two pallets"
    assert "expect" in panel.expected.text()


def test_without_a_link_wake_says_what_to_do(window):
    panel = go(window, "PT-201", "wake")
    assert "Not connected" in panel.lead_box.more.text()
    assert "type what a display or a meter reads" in panel.lead_box.more.text()
    with pytest.raises(Exception, match="Look at the signal at rest first"):
        panel.session.measured(meter_v=2.0)


def test_a_meter_that_is_typed_must_be_a_number_or_open(live, qtbot):
    panel = looked(live, qtbot, "PT-202", "fan at half speed")
    enter(qtbot, panel.metered["meter"], "much")
    assert "Expected a number" in panel.metered["meter"].error
    enter(qtbot, panel.metered["resistance"], "open")
    assert panel.session.evidence.leads_ohm == float("inf")


def test_the_live_signal_rides_on_the_rule_and_turns_stale(live, qtbot, knobs):
    go(live, "PT-201", "wake")
    qtbot.waitUntil(lambda: live.centre.hairline.live_pin is not None, timeout=5000)
    qtbot.waitUntil(lambda: card(live, "PT-201").words[:2] in ("99", "10"), timeout=3000)  # what it reads now
    assert live.centre.hairline.live_pin == pytest.approx(2.1, abs=0.3)
    live.turn_pin_to_live()
    qtbot.waitUntil(lambda: abs(live.sight.pin - live.centre.hairline.live_pin) < 0.01, timeout=3000)
    live.turn_pin_to_live()
    knobs.turn(do="silence", seconds=2.5)
    qtbot.waitUntil(lambda: live.centre.hairline.is_live_stale, timeout=5000)
    live.centre.live_view.draw()
    assert "stale: nothing came for" in words(live.centre.live_view.signal)
    qtbot.waitUntil(lambda: not live.centre.hairline.is_live_stale, timeout=12_000)


# -- gather ---------------------------------------------------------------------------------------------------------


def test_stops_are_gone_to_and_taken_by_one_key(live, qtbot):
    panel = go(live, "IT-207", "gather")
    enter(qtbot, panel.live.plan, "10, 30")
    assert live.bench.continuous.stop_plan.typed == (10, 30)
    session = panel.session
    for value in (10, 30):
        assert session.stop.value == value
        qtbot.mouseClick(panel.live.set_it, Qt.MouseButton.LeftButton)
        qtbot.waitUntil(
            lambda: session.watched is not None and session.watched.is_steady and session.is_there
            and session.waited_s > 2.5, timeout=20_000,
        )  # fmt: skip
        press_key(live, "F8")
    assert session.stop is None
    rows = [row.reading for row in live.bench.job.amended("it-207", "gather")]
    assert [row.reference for row in rows] == pytest.approx([10, 30], abs=0.3)
    assert [row.direction for row in rows] == ["up", "up"]
    assert [row.set_value for row in rows] == [10, 30]
    assert [row.reference_id for row in rows] == ["RI-09", "RI-09"]
    assert all(row.raw.count > 100 for row in rows)
    assert [row.shown for row in rows] == pytest.approx([10, 30], abs=0.6)
    assert read_job(live.bench.path).readings[-1].id == rows[-1].id
    press_key(live, "Shift+F8")
    assert live.bench.job.amended("it-207", "gather")[-1].excluded == "repeated"
    assert session.at == 1
    press_key(live, "F7")
    assert session.at == 0
    press_key(live, "F9")
    assert session.at == 1


def test_both_probes_on_one_manifold_are_taken_together(live, qtbot):
    panel = go(live, "AT-208", "gather")
    qtbot.waitUntil(lambda: panel.session.watched is not None and panel.session.watched.is_steady, timeout=15_000)
    assert panel.live.with_mates.text() == "Take AT-209 with it: the same stimulus"
    panel.live.with_mates.click()
    before = len(live.bench.job.readings)
    panel.session.take()
    assert [one.channel for one in live.bench.job.readings[before:]] == ["at-208", "at-209"]


def test_a_stop_that_would_harm_is_refused_before_it_is_gone_to(live, qtbot):
    panel = go(live, "PT-201", "gather")
    enter(qtbot, panel.live.plan, "100, 420")
    panel.session.next()
    assert "420 kPa is beyond what the transducer survives, 400 kPa" in panel.live.warning.text()
    assert not panel.live.take.isEnabled()
    panel.session.set_stop()
    assert "it is not set" in panel.live.complaint.text()


def test_the_zero_is_taken_with_the_load_off(live, qtbot, knobs):
    knobs.turn(do="move", tag="WT-206", value=0)
    panel = go(live, "WT-206", "gather")
    qtbot.wait(1500)
    steady(panel.session, qtbot)
    panel.session.take_zero()
    row = live.bench.job.amended("wt-206", "gather")[-1].reading
    assert (row.reference, row.source, row.reference_id) == (0.0, "load off, averaged", None)
    knobs.turn(do="move", tag="WT-206", value=800)


def test_a_reference_that_speaks_no_protocol_is_typed(live, qtbot):
    panel = go(live, "PT-202", "gather")
    steady(panel.session, qtbot)
    enter(qtbot, panel.live.typed, "-30.4")
    panel.session.take()
    assert live.bench.job.amended("pt-202", "gather")[-1].reading.reference == -30.4


def test_a_source_that_dies_in_the_window_spoils_only_that_window(live, qtbot, knobs):
    panel = go(live, "PT-201", "gather")
    steady(panel.session, qtbot)
    before = len(live.bench.job.readings)
    knobs.turn(do="silence", seconds=1.5)
    qtbot.waitUntil(lambda: panel.session.raw.is_stale, timeout=3000)
    panel.session.take()
    assert len(live.bench.job.readings) == before
    assert "gives nothing now" in panel.live.complaint.text()
    qtbot.waitUntil(lambda: not panel.session.raw.is_stale, timeout=12_000)
    panel.session.take()
    assert "within the window" in panel.live.complaint.text()
    qtbot.waitUntil(lambda: panel.session.watched.is_steady, timeout=12_000)
    panel.session.take()
    assert len(live.bench.job.readings) == before + 1


def test_plans_that_make_no_sense_are_refused(live, qtbot):
    panel = go(live, "PT-201", "gather")
    enter(qtbot, panel.live.plan, "2.5")
    assert "how many stops, or the stops themselves" in panel.live.plan.error
    enter(qtbot, panel.live.cycles, "0")
    assert panel.live.cycles.error


KILLED = """
import sys, time
from pathlib import Path
from able_yardstick.app.main import application, open_window
from able_yardstick.app.frame.settings import Settings
from PySide6.QtCore import QSettings
QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, sys.argv[2])
app = application()
window = open_window(Path(sys.argv[1]), Settings())
window.show(); window.build_rest(); window.live.connect_all()
window.bench.select("it-207"); window.bench.go("gather")
session = window.panel_shown.session
session.taken.connect(lambda reading: print(reading.id, flush=True))
while True:
    app.processEvents(); time.sleep(0.01)
    if session.watched is not None and session.watched.is_steady:
        session.take()
"""


def test_what_was_shown_as_captured_outlives_a_kill(demo_file, rig, tmp_path):
    job = json.loads(demo_file.read_text("utf-8"))
    turned = with_places(read_job(demo_file), rig)
    job["document"]["sources"] = [source.model_dump(mode="json") for source in turned]
    demo_file.write_text(json.dumps(job), encoding="utf-8")
    process = subprocess.Popen(
        [sys.executable, "-c", KILLED, str(demo_file), str(tmp_path / "s")], stdout=subprocess.PIPE, text=True,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )  # fmt: skip
    shown = [process.stdout.readline().strip() for _ in range(3)]
    process.send_signal(signal.SIGKILL)
    shown += process.communicate(timeout=10)[0].split()
    kept = {reading.id for reading in read_job(demo_file).readings}
    assert len(shown) >= 3
    assert set(shown) <= kept


# -- fast capture, references ---------------------------------------------------------------------------------------


def test_a_burst_waits_for_its_level_and_is_saved(live, qtbot, knobs, tmp_path):
    logger = next(one for one in live.bench.job.sources if one.id == "logger")
    live.bench.edit("logger", lambda job: change_source(job, logger.with_(enabled=True)))
    go(live, "PT-201", "wake")
    knobs.turn(do="move", tag="PT-201", value=100)
    qtbot.waitUntil(lambda: live.live.hub.link("logger").status.total > 2000, timeout=10_000)
    dialog = BurstDialog(live.wake_session, live.theme, live)
    dialog.level.setText("high")
    pick_edge = dialog.edge.findData("rising")
    dialog.edge.setCurrentIndex(pick_edge)
    dialog.arm()
    assert "Expected a number" in dialog.complaint.text()
    dialog.level.setText("2.6")
    dialog.count.setText("1000")
    dialog.arm()
    assert dialog.words.text() == "Armed: waits for the trigger."
    knobs.turn(do="move", tag="PT-201", value=180)
    qtbot.waitUntil(lambda: dialog.burst is not None, timeout=12_000)
    burst = dialog.burst
    assert "1000 samples" in dialog.words.text()
    assert dialog.feed.currentText().startswith("Small logger")
    assert len(burst.values) == 1000
    assert burst.at == 200
    assert burst.values[burst.at] >= 2.6 > burst.values[burst.at - 1]
    dialog.save_as(tmp_path / "burst.csv")
    lines = (tmp_path / "burst.csv").read_text("utf-8").splitlines()
    assert lines[0] == "time (s),PT-201 (V)"
    assert len(lines) == 1001
    dialog.use_it()
    assert "Look at the signal at rest first" in dialog.complaint.text()
    dialog.deleteLater()
    knobs.turn(do="move", tag="PT-201", value=100)


def test_a_reference_instrument_is_described_and_its_nonsense_refused(window, qtbot):
    window.show_side("references")
    panel = side(window, "references")
    pick(panel.list, "RM-04")
    assert "was due 2026-09-30" in panel.overdue.text()
    enter(qtbot, panel.due, "tomorrow")
    assert "Expected a date as year-month-day" in panel.due.error
    enter(qtbot, panel.due, "2027-09-30")
    assert panel.reference.due.year == 2027
    enter(qtbot, panel.head, "0.5", "998")
    assert panel.reference.head_correction == pytest.approx(-4887, abs=10)
    enter(qtbot, panel.form.fields["expanded_uncertainty"], "0.25")
    assert panel.reference.expanded_uncertainty == 0.25
    panel.corrections.setPlainText("0, 0\n100; -0.2\nnonsense")
    press(panel, "Take these corrections")
    assert "Line 3: expected a reading and its correction" in complaint(panel)
    panel.corrections.setPlainText("0, 0\n100; -0.2")
    press(panel, "Take these corrections")
    assert panel.reference.correction_at(50) == pytest.approx(-0.1)
    press(panel, "Add an instrument")
    assert panel.reference.name == "Instrument 1"


def test_nature_is_worked_out_as_it_is_typed(window):
    window.show_side("references")
    box = side(window, "references").nature
    choose(box.kind, "steam")
    assert "99.97" in box.result.text()
    box.entries[0].setText("nothing")
    assert "Expected a number" in box.result.text()


def test_the_rig_is_started_and_stopped_from_the_sources(window, qtbot):
    window.show_side("sources")
    panel = side(window, "sources")
    qtbot.mouseClick(panel.rig_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: window.live.is_on, timeout=20_000)
    ports = {one.port for one in window.bench.job.sources if isinstance(one, ScpiSource)}
    assert window.rig.places.gauge in ports
    panel.show_knobs()
    qtbot.waitUntil(lambda: "AT-209" in words(panel.rig_panel), timeout=8000)
    assert panel.rig_panel.knobs("AT-209").fault.currentText() == "chassis-ground offset"
    knobs = panel.rig_panel.knobs("AT-209")
    knobs.fault.setCurrentText("none")
    knobs.fault.activated.emit(0)
    qtbot.waitUntil(lambda: panel.rig_panel.knobs("AT-209").row.fault == "healthy", timeout=5000)
    knobs.value.setText("nonsense")
    panel.rig_panel.type_value(knobs)
    assert "Expected a number" in complaint(panel.rig_panel)
    qtbot.mouseClick(panel.rig_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not window.rig.is_on, timeout=8000)
    assert not window.live.is_on


def test_a_natural_reference_is_kept_chosen_and_recorded_with_its_uncertainty(window, qtbot):
    window.show_side("references")
    panel = side(window, "references")
    choose(panel.nature.kind, "steam")
    qtbot.mouseClick(panel.nature.keep, Qt.MouseButton.LeftButton)
    kept = window.bench.job.references[-1]
    assert kept.name.startswith("Steam point")
    gather = go(window, "TE-204", "gather")
    pick(gather.instrument.choice, kept.id)
    assert gather.form.reference.text().startswith("99.97")
    gather.form.raw.setText("138.5")
    pick(gather.stimulated, "transducer alone")
    gather.form.add()
    row = window.bench.job.amended("te-204", "gather")[-1].reading
    assert (row.reference_id, row.stimulated) == (kept.id, "transducer alone")
    assert row.reference_standard == pytest.approx(kept.expanded_uncertainty / 2)
    go(window, "PT-201", "gather")
    pick(gather.instrument.choice, kept.id)
    assert gather.instrument.choice.error
    assert gather.session.instrument_id == ""


def test_values_typed_into_a_source_are_taken_at_the_stop_they_belong_to(live, qtbot):
    gauge = next(one for one in live.bench.job.sources if one.id == "gauge")
    by_eye = ManualSource(
        id="eye", name="By eye",
        feeds=(Feed(name="dial", role="reference", channel="pt-202", unit="Pa", reference="RM-04"),),
    )  # fmt: skip
    live.bench.edit("by eye", lambda job: change_source(
        change_source(job, gauge.with_(enabled=False)), by_eye
    ))  # fmt: skip
    panel = go(live, "PT-202", "gather")
    steady(panel.session, qtbot)
    panel.session.take()
    assert "Type what the reference reads at this stop into By eye" in panel.live.complaint.text()
    live.show_side("sources")
    card = source_card(side(live, "sources"), "By eye")
    qtbot.waitUntil(lambda: live.live.hub.link("eye").status.standing == "answering", timeout=5000)
    card.typed["dial"].setText("high")
    card.typed["dial"].returnPressed.emit()
    assert "Expected a number" in card.error.text()
    card.typed["dial"].setText("-31.5")
    card.typed["dial"].returnPressed.emit()
    qtbot.waitUntil(lambda: live.live.hub.link("eye").status.total == 1, timeout=5000)
    panel.session.take()
    row = live.bench.job.amended("pt-202", "gather")[-1].reading
    assert (row.reference, row.reference_id) == (-31.5, "RM-04")
    assert "was due 2026-09-30" in row.reference_note


def test_tare_holds_the_line_through_a_zero_to_what_hangs_there(live, qtbot, knobs):
    knobs.turn(do="move", tag="WT-206", value=120)
    panel = go(live, "WT-206", "gather")
    qtbot.wait(1500)
    steady(panel.session, qtbot)
    panel.session.tare()
    assert panel.live.complaint.text() == ""
    pin, value = live.bench.continuous.zero
    assert value == 0
    assert pin == pytest.approx(120 * 9.65 / 2000, abs=0.1)
    assert live.bench.undo_text == "WT-206: tare"
    knobs.turn(do="move", tag="WT-206", value=800)


def test_a_set_point_that_the_reference_refuses_is_said_where_it_was_asked_for(live, qtbot):
    panel = go(live, "PT-201", "gather")
    enter(qtbot, panel.live.plan, "10, 290")
    panel.session.next()
    panel.session.by_itself = True
    panel.session.set_stop()
    qtbot.waitUntil(lambda: "Reference bench refused SOUR:LEV 290" in panel.live.complaint.text(), timeout=6000)
    assert not panel.session.by_itself


# -- prove ----------------------------------------------------------------------------------------------------------


def _steady(qtbot, panel):
    qtbot.waitUntil(lambda: panel.run.watched is not None and panel.run.watched.is_steady, timeout=20_000)


def test_a_check_is_taken_from_both_sides_by_one_key(live, qtbot):
    panel = go(live, "PT-201", "prove")
    before = len(live.bench.job.amended("pt-201", "prove"))
    _steady(qtbot, panel)
    press_key(live, "F8")
    rows = [row.reading for row in live.bench.job.amended("pt-201", "prove")]
    assert len(rows) == before + 1
    assert rows[-1].shown == pytest.approx(rows[-1].reference, abs=1.5)
    assert rows[-1].reference_rate == pytest.approx(0.0, abs=0.1)
    assert rows[-1].raw.count > 100


def test_a_display_without_a_link_is_typed_after_the_key_that_froze_the_reference(live, qtbot):
    panel = go(live, "PT-201", "prove")
    enter(qtbot, field_named(panel, "Read off"), "dash")
    enter(qtbot, field_named(panel, "in"), "psi")
    enter(qtbot, field_named(panel, "Last digit"), "0.1")
    enter(qtbot, field_named(panel, "in"), "furlong")
    assert "furlong" in field_named(panel, "in").error
    enter(qtbot, field_named(panel, "in"), "psi")
    before = len(live.bench.job.amended("pt-201", "prove"))
    _steady(qtbot, panel)
    assert "dash: type it after the key" in panel.run_box.seen.text()
    press_key(live, "F8")
    assert "Frozen: reference" in panel.run_box.seen.text()
    assert len(live.bench.job.amended("pt-201", "prove")) == before
    enter(qtbot, panel.run_box.showed, "14.5")
    reading = live.bench.job.amended("pt-201", "prove")[-1].reading
    assert (reading.shown, reading.shown_unit, reading.shown_by) == (14.5, "psi", "dash")
    assert not panel.run_box.showed.isVisible()
    press_key(live, "F8")
    go(live, "AT-208", "prove")
    assert panel.run.frozen is None  # what was frozen of one channel is not taken for another's


def test_the_trims_comparison_takes_what_the_bench_meter_reads(live, knobs, qtbot):
    """The ground offset lies between terminal and input: the meter at the terminal agrees with the sensor."""
    panel = go(live, "AT-209", "prove")
    unfold(panel)
    press(panel, "Work out a trim")
    knobs.turn(do="probe", tag="AT-209", point="signal")
    rows = [row.reading for row in panel.bench.job.amended("at-209", "prove")]
    worst = max(rows, key=lambda reading: abs(reading.shown - reading.reference))
    knobs.turn(do="move", tag="AT-209", value=worst.reference)

    def agrees():
        press(panel.trim, "Take")
        assert "The meter agrees with the sensor" in panel.trim.compared.text()

    qtbot.waitUntil(agrees, timeout=15_000)


def test_alarms_are_rehearsed_by_the_injected_signal_with_their_delays(live, qtbot):
    """PT-201: each limit there and back, each break; what the rig's controller tells against what was expected."""
    channel = live.bench.job.continuous("pt-201")
    alarms = (Alarm(kind="low", limit=20.0, dead_band=2.0), Alarm(kind="high", limit=220.0, dead_band=5.0, delay_s=1.0))
    live.bench.edit("alarms", lambda job: change_channel(job, channel.with_(alarms=alarms)))
    panel = go(live, "PT-201", "prove")
    unfold(panel)
    box = panel.alarms.rehearsal
    assert box.by_itself.isVisible()
    press(box, "Run it by injection")
    qtbot.waitUntil(lambda: box.by_itself.text() == "Run it by injection", timeout=90_000)
    rows = rehearsal_of(live.bench.job, live.bench.continuous)
    seen = {row.step.name: row.record for row in rows if row.record is not None}
    assert [name for name, record in seen.items() if not record.as_expected] == []
    assert {"low comes", "low goes", "high comes", "high goes", "lead open"} <= set(seen)
    assert 1.0 <= seen["high comes"].delay_s < 3.0
    assert complaint(panel) == ""


def test_a_contact_is_rehearsed_by_the_injected_signal(live, qtbot):
    switch = live.bench.job.tagged("PS-211")
    live.bench.edit("threshold", lambda job: change_channel(job, switch.with_(dead_band=0.82)))  # so nothing was seen
    panel = go(live, "PS-211", "prove")
    assert "0 of 5 rehearsed." in words(panel)
    press(panel, "Run it by injection")
    qtbot.waitUntil(lambda: "Proven: all 5 were as expected." in words(panel), timeout=60_000)
    assert button(panel, "Run it by injection").isVisible()
