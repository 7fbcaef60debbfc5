"""An output in the window: described, landed, written by two, checked by hand and by the rig's meter."""

import pytest
from acting import (
    at_step,
    button,
    complaint,
    enter,
    field_named,
    go,
    pick,
    press,
    said,
    type_into,
    words,
)
from PySide6.QtWidgets import QCheckBox

from able_yardstick.app.centre.output_card import OutputCard
from able_yardstick.bench.rig.layout import with_places
from able_yardstick.core.document.output import OutputChannel
from able_yardstick.core.job.instruments import change_sources
from able_yardstick.core.outputs.proving import output_checks, output_proof
from rigging import Knobs, places_of, start_rig, stop_rig


@pytest.fixture
def empty(opened, tmp_path, monkeypatch):
    """A window on an empty job."""
    monkeypatch.setattr("platformdirs.user_documents_path", lambda: tmp_path / "documents")
    monkeypatch.setattr("platformdirs.user_data_path", lambda _name: tmp_path / "data")
    return opened(None)


def output(window):
    channel = window.bench.channel
    assert isinstance(channel, OutputChannel)
    return channel


def shown(window):
    return " | ".join(window.findChild(OutputCard).texts)


def test_an_output_from_an_empty_job_to_a_proof_by_hand(empty, qtbot):
    """Describe it, land it, enter the counts at the controller, type what the meter reads."""
    window = empty
    press(window.centre, "Output")
    panel = window.panel_shown
    enter(qtbot, field_named(panel, "Tag"), "VY-1")
    enter(qtbot, field_named(panel, "Gives"), "Damper")
    enter(qtbot, field_named(panel, "Allowed ±"), "0.5", "0")
    assert "0 % is 4 mA, count 819; 100 % is 20 mA, count 4095." in words(panel)
    panel = at_step(window, "wire")
    assert "Add the controller first." in words(panel)
    panel.controllers.choices.aboutToShow.emit()
    next(one for one in panel.controllers.choices.actions() if one.text().startswith("Kiln controller")).trigger()
    pick(field_named(panel, "Terminal"), "0")
    assert output(window).landing.terminal == "X8:1"
    assert output(window).driver.full_count == 4000
    panel = at_step(window, "prove")
    for wanted, signal in ((0, 4.012), (25, 8.01), (50, 12.004), (75, 16.0), (100, 19.99)):
        assert panel.wanted.text() == str(wanted)  # the next one is offered
        type_into(qtbot, panel.measured, str(signal))
    assert complaint(panel) == ""
    assert "Pass: 5 of 5 checks within." in words(panel)
    assert "19.990" in shown(window)
    assert "−0.06" in shown(window)


def test_what_cannot_be_is_refused_in_place_and_stays_typed(window, qtbot):
    panel = go(window, "TY-213", "prove")
    type_into(qtbot, panel.measured, "3 V")
    assert "no unit of current" in complaint(panel)
    assert panel.measured.text() == "3 V"
    panel.measured.setText("12")
    panel.wanted.setText("1300")
    press(panel, "Add check")
    assert "beyond the range of TY-213" in complaint(panel)


def test_two_that_write_it_are_named_and_put_in_order(window, qtbot):
    panel = go(window, "TY-213", "describe")
    part = panel.part(OutputChannel)
    for source, when, value in (("te-205", "high", "1200"), ("ps-211", "open", "0")):
        pick(part.source, source)
        pick(part.when, when)
        part.value.setText(value)
        press(part, "Add")
    assert "Two can write it at one moment." in words(panel)
    assert "it is written 1200 °C and 0 °C" in part.clash.text()
    part.first.box.click()
    assert not part.clash.isVisible()
    assert output(window).first_holds
    qtbot.wait(50)
    press(part, "↑")
    assert output(window).conditions[0].channel == "ps-211"
    part.value.setText("")
    press(part, "Add")
    assert "Type the value" in complaint(part)


def test_a_dead_input_is_chosen_for_and_said(window, qtbot):
    panel = go(window, "TY-213", "describe")
    pick(field_named(panel, "Input dead"), "")
    assert "Nobody chose what it does when TT-203 is dead." in words(panel)
    pick(field_named(panel, "Input dead"), "held")
    enter(qtbot, field_named(panel, "held at"), "600")
    card = window.findChild(OutputCard)
    assert "TT-203, lead open: a fault, so it goes to a stated value: 600 °C, 12 mA" in card.dead.text()


def test_its_scales_are_read_at_one_hairline(window, qtbot):
    go(window, "TY-213", "describe")
    type_into(qtbot, window.centre.rule.readout("quantity"), "600")
    assert window.centre.rule.readout("pin").text() == "12.000"
    assert window.centre.rule.readout("counts").text() == "2\u2009400"
    type_into(qtbot, window.centre.rule.readout("counts"), "800")
    assert window.centre.rule.readout("quantity").text() == "0.0"


def test_a_check_is_left_out_with_its_reason(window, qtbot):
    panel = go(window, "TY-213", "prove")
    type_into(qtbot, panel.measured, "4.5")
    assert "Fail: 0 of 1 checks within." in words(panel)
    reading = output_checks(window.bench.job, output(window))[0].row.reading.id
    enter(qtbot, panel.checks.reason, "a lead came off")
    assert "Choose above which check" in panel.checks.reason.error
    pick(panel.checks.left_out, reading)
    enter(qtbot, panel.checks.reason, "a lead came off ")
    assert output_checks(window.bench.job, output(window)) == []
    assert window.bench.job.amended("ty-213", "prove")[0].excluded == "a lead came off"


@pytest.fixture(scope="module")
def rig():
    process, told = start_rig("--seed", "7")
    yield places_of(told)
    stop_rig(process)


def test_counts_are_sent_and_the_meter_reads_them_back(window, rig, qtbot):
    """The whole plan by Send and F8, then the zero and full count that its checks speak for, and the plan again."""
    Knobs(rig.knobs).turn(do="probe", tag="TY-213", point="signal")
    window.bench.edit("the rig", lambda job: change_sources(job, with_places(job, rig)))
    window.live.connect_all()
    panel = go(window, "TY-213", "prove")
    qtbot.waitUntil(lambda: "Live:" in panel.meter_words.text(), timeout=10_000)
    assert not button(panel, "Send it").isEnabled()  # what hangs on it may move: that is asked first
    panel.findChild(QCheckBox).click()
    panel.take_key("take")
    assert "was it sent" in complaint(panel) or "Not steady" in complaint(panel)
    _run(qtbot, window, panel)
    before = output_proof(window.bench.job, output(window)).largest
    press(panel, "Take ")
    assert output_proof(window.bench.job, output(window)) is None
    assert "As found: 5 of 5 within" in words(panel)
    _run(qtbot, window, panel)
    after = output_proof(window.bench.job, output(window))
    assert after.passed
    assert after.largest.share < before.share


def _run(qtbot, window, panel):
    """Send every value of the plan and take what the meter reads."""
    for done in range(5):
        press(panel, "Send it")
        qtbot.waitUntil(lambda: "is written to TY-213" in said(window))

        def take(done=done):
            panel.take_key("take")
            taken = [one for one in output_checks(window.bench.job, output(window)) if not one.stale]
            assert len(taken) == done + 1

        qtbot.waitUntil(take, timeout=45_000)
    assert words(panel)
