"""The plan of a proof run: where its stops lie, which are taken, and what it would miss before any is."""

import pytest

from able_yardstick.core.document.stop_plan import Stop
from able_yardstick.core.job.job import Job
from able_yardstick.core.prove.checks import missed_of
from able_yardstick.core.prove.run_plan import gathered_stops, missed_by_plan, proof_stops, run_progress
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())


def test_stops_are_both_ends_and_between_the_gathered_ones_up_and_down():
    """PT-201 was gathered at 0, 50 … 250 kPa."""
    gas = JOB.continuous("pt-201")
    assert gathered_stops(JOB, gas) == pytest.approx([0, 50, 100, 150, 200, 250], abs=0.2)
    stops = proof_stops(JOB, gas)
    up = [stop.value for stop in stops if stop.direction == "up"]
    assert up == pytest.approx([0, 25, 75, 125, 175, 225, 250], abs=0.2)
    assert [stop.value for stop in stops if stop.direction == "down"] == up[-2::-1]


def test_without_readings_they_are_spread_and_many_are_thinned():
    assert [stop.value for stop in proof_stops(JOB, JOB.continuous("tt-203"))][:5] == [0, 300, 600, 900, 1200]


def test_checks_taken_are_ticked_off_by_place_and_way():
    gas = JOB.continuous("pt-201")
    progress = run_progress(JOB, gas)
    assert [value for value, done in zip((s.value for s in progress.stops), progress.taken, strict=True) if done] == (
        pytest.approx([25, 75, 125, 175, 225], abs=0.2)
    )
    assert progress.stop == Stop(0.0, "up")
    assert progress.is_begun


def test_the_whole_plan_misses_less_than_the_five_checks_did():
    gas = JOB.continuous("pt-201")
    planned = {one.shape: one.largest for one in missed_by_plan(JOB, gas)}
    taken = {one.shape: one.largest for one in missed_of(JOB, gas)}
    assert planned["outside the checks"] < taken["outside the checks"]
    assert planned["hysteresis"] < taken["hysteresis"]
    assert missed_by_plan(JOB, JOB.continuous("tt-203")) == ()
