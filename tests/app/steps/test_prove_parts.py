"""Prove's parts in the real window: the trim with its reason, alarms and what breaks do to them."""

from acting import complaint, enter, field_named, go, pick, press, said, texts, unfold

from able_yardstick.app.frame.workbench import now
from able_yardstick.app.steps.prove.alarm_box import AlarmBox
from able_yardstick.core.job.entries import exclude


def test_a_trim_is_worked_out_compared_and_kept_with_its_reason(window, qtbot):
    panel = go(window, "AT-209", "prove")
    panel.trim_part.head.click()
    box = panel.trim
    assert not box.keep.isVisible()
    press(box, "Work out a trim")
    assert "The checks share 0.533 % O2" in box.says.text()
    assert [bar.note for bar in box.left.bars] == ["it was 0.34", "it was 0.52", "it was 0.74"]
    assert "look at the return lead" in box.advice.text()
    enter(qtbot, box.meter, "4.06")
    assert "The meter agrees with the sensor" in box.compared.text()
    press(box, "Keep these numbers")
    assert "kept with its reason" in complaint(box)
    assert len(window.bench.job.journal.of("at-209").packs) == 1
    enter(qtbot, box.reason, "stack probe reads high against the span gases")
    press(box, "Keep these numbers")
    kept = window.bench.job.journal.of("at-209").packs[-1]
    assert kept.reason == "stack probe reads high against the span gases"
    assert "prove again" in said(window)
    assert "As found: 0 of 3 within the error allowed." in panel.lead_box.more.text()
    assert not panel.trim_part.isVisible()  # nothing is proven of the new numbers yet


def test_an_alarm_that_cannot_come_is_seen_and_set_right(window, qtbot):
    panel = go(window, "TE-205", "prove")
    assert "none comes by: lead open" in panel.alarm_part.summary
    panel.alarm_part.head.click()
    box = panel.alarms
    assert "Trips at count 400" in box.found.text()
    assert "Lead open: −60 °C is seen, though it is a fault: no alarm comes" in box.silent.text()
    pick(box.on_fault, "reads high")
    assert window.bench.continuous.fault_rule.on_fault == "reads high"
    assert "the high and the high high alarm comes" in box.breaks.text()
    assert "none comes by" not in panel.alarm_part.summary


def test_an_alarm_is_set_refused_and_taken_away_in_place(window, qtbot):
    panel = go(window, "AT-208", "prove")
    panel.alarm_part.head.click()
    box: AlarmBox = panel.alarms
    assert panel.alarm_part.summary == "none"
    enter(qtbot, box.limit, "12.5")
    assert [alarm.kind for alarm in window.bench.continuous.alarms] == ["high"]
    enter(qtbot, box.dead_band, "0.5")
    assert "Clears at count" in box.found.text()
    pick(box.kind, "low")
    enter(qtbot, box.limit, "13")
    assert "must lie below the high one" in box.limit.error
    enter(qtbot, box.limit, "2")
    assert len(window.bench.continuous.alarms) == 2
    enter(qtbot, box.limit, "")
    assert [alarm.kind for alarm in window.bench.continuous.alarms] == ["high"]
    enter(qtbot, field_named(panel, "Fault beyond"), "0.2", "4.8")
    assert window.bench.continuous.fault_rule.stated
    assert "the controller's own limits" in box.source.text()


def test_flags_stand_on_the_controllers_scale(window):
    from able_yardstick.app.centre.flags import alarm_flags

    bench = window.bench
    low, high = alarm_flags(bench.job, bench.job.continuous("pt-201"))
    assert (low.is_upwards, high.is_upwards) == (False, True)
    warm, hot = alarm_flags(bench.job, bench.job.continuous("te-205"))
    assert (warm.is_upwards, hot.is_second) == (False, True)  # its signal falls as it warms


def test_the_run_says_where_to_go_next_and_a_typed_check_ticks_it_off(window, qtbot):
    panel = go(window, "PT-201", "prove")
    assert panel.run_box.where.text() == "Proof run: 5 of 13 stops taken"
    assert panel.run_box.go_to.text() == "Go to 0 kPa going up ↑"
    assert not panel.run_box.take.isVisible()  # nothing is live
    panel.form.reference.setText("0")
    panel.form.shown.setText("0.1")
    panel.take_key("take")
    assert panel.run_box.go_to.text() == "Go to 250 kPa going up ↑"


def test_what_the_plan_would_miss_is_told_before_any_check(window):
    panel = go(window, "WT-206", "prove")
    window.bench.go("pack")
    window.panel_shown.keep.click()
    panel = go(window, "WT-206", "prove")
    assert panel.missed_part.head.accessibleName() == "What the planned checks would miss"
    assert [bar.name for bar in panel.missed.bars][:2] == ["zero shift", "gain"]


def test_alarms_are_rehearsed_step_by_step(window, qtbot):
    panel = go(window, "TE-205", "prove")
    panel.alarm_part.head.click()
    box = panel.alarms.rehearsal
    assert box.step.text() == "Put 0.4884 V on the input (high comes): high comes after 5 s."
    box.delay.setText("5,2")
    press(box, "Seen so")
    assert "1 of 8 rehearsed." in box.summary.text()
    assert window.bench.job.journal.of("te-205").rehearsals[-1].delay_s == 5.2
    press(box, "Not so")
    assert "Not as expected: high goes." in box.summary.text()
    box.delay.setText("soon")
    press(box, "Seen so")
    assert complaint(box)
    assert "2 of 8 rehearsed." in box.summary.text()


def test_another_rule_keeps_the_judgement_before(window):
    panel = go(window, "PT-201", "prove")
    pick(panel.rule, "guarded")
    assert window.bench.continuous.decision.kind == "guarded"
    rule = next(words for words in texts(panel) if words.startswith("Rule:"))
    assert "Judged before, pass when the error is within the tolerance; no guard band: pass, 5 of 5." in rule
    assert panel.split.text().startswith("−0.140 kPa at 174.98: the numbers")


def test_a_check_that_is_left_out_is_told_with_the_verdict(window):
    panel = go(window, "PT-201", "prove")
    reading = window.bench.job.amended("pt-201", "prove")[0].reading.id
    window.bench.edit("out", lambda job: exclude(job, [reading], "the hose leaked", now()))
    assert "1 check left out: the hose leaked." in panel.lead_box.more.text()


def test_a_limit_of_ones_own_decides_when_a_trim_points_at_the_wiring(window, qtbot):
    panel = go(window, "AT-209", "prove")
    unfold(panel)
    panel.trim.work_out.click()
    assert "look at the return lead" in panel.trim.advice.text()
    enter(qtbot, panel.trim.limit, "0.5")
    assert window.bench.continuous.trim_limit == 0.5
    panel.trim.work_out.click()
    assert "look at the return lead" not in panel.trim.advice.text()
    enter(qtbot, panel.trim.limit, "")
    assert window.bench.continuous.trim_limit is None


def test_typed_checks_are_read_off_an_instrument_that_can_be_named_afterwards_too(window, qtbot):
    panel = go(window, "PT-201", "prove")
    assert panel.typed_instrument.name == "Pressure reference RP-12"  # as the last check was
    pick(panel.instrument.choice, "")
    type_check(qtbot, panel, "175", "175.4")
    assert window.bench.job.amended("pt-201", "prove")[-1].reading.reference_id is None
    pick(panel.instrument.choice, "RT-07")  # a thermometer
    assert panel.instrument.choice.error
    pick(panel.instrument.choice, "RP-12")
    press(panel, "1 check before: off Pressure reference RP-12 too")
    reading = window.bench.job.amended("pt-201", "prove")[-1].reading
    known = next(one for one in window.bench.job.references if one.id == reading.reference_id)
    assert (reading.reference_read, reading.reference) == (175.0, known.corrected(175.0))
    type_check(qtbot, panel, "125", "125.1")
    latest = window.bench.job.amended("pt-201", "prove")[-1].reading
    assert (latest.reference_id, latest.reference) == (known.id, known.corrected(125.0))


def type_check(qtbot, panel, reference, shown):
    panel.form.reference.setText(reference)
    panel.form.shown.setText(shown)
    panel.form.add()
