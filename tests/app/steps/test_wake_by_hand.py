"""Wake without a link: a count on a display, a meter at the terminal, two states, what cannot be told without more."""

import pytest
from acting import enter, go, named, pick, press, words
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from able_yardstick.core.document.channel import PlantState
from able_yardstick.core.job.channels import change_channel


@pytest.fixture
def panel(window):
    """Wake of IT-207, 0 to 50 A as 0 to 5 V on 12 bits, with two states of its motor."""
    channel = window.bench.job.continuous("it-207")
    states = (PlantState(name="stopped", value=0.0, within=0.5), PlantState(name="at work", value=30.0, within=3.0))
    window.bench.edit("states", lambda job: change_channel(job, channel.with_(plant_states=states)))
    return go(window, "IT-207", "wake")


def look(panel, text, where="counts counts"):
    pick(panel.by_hand.node, where)
    panel.by_hand.at_rest.setText(text)
    press(panel, "Look")


def nudged(panel, text):
    panel.by_hand.after.setText(text)
    named(panel, QPushButton, "Take what it read after the nudge").click()


def test_a_count_on_a_display_is_held_against_the_state(panel):
    pick(panel.state, "at work")
    look(panel, "2457; 2459; 2458")  # 3.001 V is 30.0 A
    assert panel.pin.value.text() == "3.0012"
    assert panel.session.verdict.first == "healthy"
    assert not panel.session.verdict.is_alone
    assert "Undecided: healthy" in words(panel)
    assert {"hum", "intermittent", "drifting"} <= set(panel.session.verdict.names)  # which no single value rules out
    assert panel.bench.job.wake_of("it-207").level == pytest.approx(2458 * 5 / 4095)


def test_a_nudge_is_the_difference_of_what_was_typed(panel):
    pick(panel.state, "at work")
    look(panel, "2458")
    nudged(panel, "2457")
    assert panel.session.evidence.nudge.outcome == "did not move"
    assert "healthy" not in panel.session.verdict.names
    nudged(panel, "2600")
    assert panel.session.evidence.nudge.outcome == "moved"
    assert "stuck" not in panel.session.verdict.names
    pick_way(panel, False)
    nudged(panel, "2600")
    assert panel.session.evidence.nudge.outcome == "moved the wrong way"


def test_a_meter_in_millivolts_and_a_second_state_find_an_offset(panel, qtbot):
    """0.2 V too much in both states: at rest 0.2 V where 0 is expected, at work 3.2 V where 3.0 is."""
    pick(panel.state, "stopped")
    look(panel, "200 mV", "pin V")
    assert "open lead" not in panel.session.verdict.names
    pick(panel.state, "at work")
    look(panel, "3.2", "pin V")
    assert panel.session.evidence.other[1].level == pytest.approx(3.2)
    enter(qtbot, panel.metered["meter"], "3.0")
    assert "chassis-ground offset" in panel.session.verdict.names
    assert "healthy" not in panel.session.verdict.names


def test_what_is_no_number_or_of_another_kind_is_refused_in_place(panel, qtbot):
    look(panel, "soon")
    assert "Expected a number" in words(panel.by_hand)
    look(panel, "4.5 psi", "pin V")
    assert "“psi” was typed where V is expected" in words(panel.by_hand)
    nudged(panel, "2600")
    assert "Look at the signal at rest first" in words(panel.by_hand)
    panel.by_hand.at_rest.setText("2458")
    qtbot.keyClick(panel.window(), Qt.Key.Key_F8)
    assert panel.session.evidence is not None


def test_what_was_typed_of_one_channel_is_not_left_for_the_next(panel, window):
    panel.by_hand.at_rest.setText("2458")
    assert go(window, "PT-201", "wake").by_hand.at_rest.text() == ""


def pick_way(panel, rises):
    panel.way.setCurrentIndex(panel.way.findData(rises))
