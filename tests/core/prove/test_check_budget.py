"""The uncertainty of a check, row by row, by hand; and the rule of a channel applied to its checks."""

from datetime import timedelta

import numpy as np
import pytest

from able_yardstick.core.document.display import Display
from able_yardstick.core.gather.steady import rate_of
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.instruments import change_reference
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.path.node import Met
from able_yardstick.core.prove.check_budget import check_rows, doubt_of, strong_enough
from able_yardstick.core.prove.checks import as_found, checks_of, missed_of, proof_of
from able_yardstick.core.words.acceptance import DecisionRule
from able_yardstick.core.words.tolerance import Tolerance


def test_the_rows_are_reference_and_last_digits(demo_job):
    channel = demo_job.tagged("PT-201")
    check = checks_of(demo_job, channel)[0]
    rows = {row.name: row.standard for row in check_rows(demo_job, channel, check.row)}
    assert rows["reference, certificate"] == pytest.approx(0.05)  # RP-12: U 0.1 kPa, k = 2
    assert rows["reference, display"] == pytest.approx(0.005 / np.sqrt(3))
    assert rows["display, last digit"] == pytest.approx(0.005 / np.sqrt(3))
    doubt = doubt_of(demo_job, channel, check.row)
    assert doubt.standard == pytest.approx(np.sqrt(sum(value**2 for value in rows.values())))
    assert doubt.expanded == pytest.approx(1.96 * doubt.standard, rel=0.03)


def test_without_a_stated_reference_nothing_is_known(demo_job):
    channel = demo_job.tagged("PT-201")
    job = demo_job.edited(references=())
    assert all(doubt_of(job, channel, check.row) is None for check in checks_of(job, channel))
    assert all(check.conformance is None for check in proof_of(job, channel).checks)
    assert missed_of(job, channel) == ()


def test_a_displays_last_digit_is_that_of_the_whole_run(demo_job):
    """10.00 is written down as 10: its neighbours say that the display has two decimals."""
    channel = demo_job.tagged("AT-208")
    whole = next(check for check in checks_of(demo_job, channel) if check.shown == 10.0)
    rows = {row.name: row.standard for row in check_rows(demo_job, channel, whole.row)}
    assert rows["display, last digit"] == pytest.approx(0.005 / np.sqrt(3))


def test_another_devices_display_states_its_digit_and_its_delay(demo_job):
    """A gauge in psi with a last digit of 0.5 that lags by 2 s, while the reference rose by 0.3 kPa a second."""
    gauge = Display(name="gauge", unit="psi", step=0.5, delay_s=2.0)
    channel = demo_job.tagged("PT-201").with_(display=gauge)
    check = checks_of(demo_job, channel)[0]
    told = {"shown_unit": "psi", "shown_by": "gauge", "reference_rate": 0.3}
    row = check.row._replace(reading=check.row.reading.with_(**told))
    rows = {row.name: row.standard for row in check_rows(demo_job, channel, row)}
    assert rows["display, last digit"] == pytest.approx(0.25 * 6.894757 / np.sqrt(3), rel=1e-6)
    assert rows["delay of the display"] == pytest.approx(0.6 / np.sqrt(3))
    still = check.row._replace(reading=check.row.reading.with_(**{**told, "reference_rate": 0.0}))
    assert "delay of the display" not in {row.name for row in check_rows(demo_job, channel, still)}
    own = check.row._replace(reading=check.row.reading.with_(reference_rate=0.3))  # not read off the gauge
    assert "delay of the display" not in {row.name for row in check_rows(demo_job, channel, own)}


def test_a_reference_may_have_drifted_since_it_was_calibrated(demo_job):
    """0.2 kPa a year at most, calibrated 200 days before the check: a limit either way."""
    channel = demo_job.tagged("PT-201")
    check = checks_of(demo_job, channel)[0]
    then = check.row.reading.captured.date() - timedelta(days=200)
    gauge = next(one for one in demo_job.references if one.id == "RP-12")
    job = change_reference(demo_job, gauge.with_(calibrated=then, drift_per_year=0.2))
    rows = {row.name: row.standard for row in check_rows(job, channel, check.row)}
    assert rows["reference, drift since"] == pytest.approx(0.2 * 200 / 365.25 / np.sqrt(3))
    by_hand = np.sqrt(0.05**2 + (0.005**2 + (0.2 * 200 / 365.25) ** 2) / 3)
    assert job.references[0].standard_on(check.row.reading.captured.date()) == pytest.approx(by_hand)
    undated = change_reference(demo_job, gauge.with_(drift_per_year=0.2))
    assert "reference, drift since" not in {row.name for row in check_rows(undated, channel, check.row)}


def test_what_a_live_reading_kept_of_its_reference_is_told_row_by_row_while_it_is_still_so(demo_job):
    channel = demo_job.tagged("PT-201")
    check = checks_of(demo_job, channel)[0]
    gauge = next(one for one in demo_job.references if one.id == "RP-12")
    kept = gauge.standard_on(check.row.reading.captured.date())
    live = check.row._replace(reading=check.row.reading.with_(reference_standard=kept))
    assert "reference, certificate" in {row.name for row in check_rows(demo_job, channel, live)}
    other = check.row._replace(reading=check.row.reading.with_(reference_standard=2 * kept))
    rows = {row.name: row.standard for row in check_rows(demo_job, channel, other)}
    assert rows["reference, as stated"] == pytest.approx(2 * kept)


def test_a_reference_that_moves_is_told_by_its_fitted_line():
    times = np.linspace(0, 2, 41)
    noise = np.random.default_rng(3).normal(0, 0.002, 41)
    moving = Series.of(times, 100 + 0.3 * times + noise, Met("pin", "kPa"))
    assert rate_of(moving) == pytest.approx(0.3, abs=0.003)
    assert rate_of(moving.since(1.95)) is None


def test_the_channels_rule_judges_its_checks(demo_job):
    channel = demo_job.tagged("AT-209")
    simple = proof_of(demo_job, channel)
    assert [check.outcome for check in simple.checks] == ["fail", "fail", "fail"]
    close = channel.with_(tolerance=Tolerance(constant=0.52))
    outcomes = [check.outcome for check in proof_of(change_channel(demo_job, close), close).checks]
    assert outcomes == ["pass", "pass-in-doubt", "fail"]
    guarded = channel.with_(decision=DecisionRule(kind="guarded"))
    proof = proof_of(change_channel(demo_job, guarded), guarded)
    assert [check.passed for check in proof.checks] == [False, False, False]
    assert proof.rule.kind == "guarded"


def test_what_the_demos_checks_would_miss_is_near_their_tolerance_inside_and_more_outside(demo_job):
    found = {one.shape: one for one in missed_of(demo_job, demo_job.tagged("PT-201"))}
    assert 0.9 < found["zero shift"].largest < 1.1
    assert found["outside the checks"].largest > 2
    assert found["hysteresis"].largest < float("inf")  # checks are taken going up: half of it is seen


def test_references_strong_enough_measure_it_reach_there_and_are_three_times_better(demo_job):
    channel = demo_job.tagged("PT-201")
    names = [one.name for one in strong_enough(demo_job, channel, 200.0, 1.0)]
    assert [one.id for one in demo_job.references if one.name in names] == ["RP-12"]
    assert strong_enough(demo_job, channel, 200.0, 0.3) == ()  # U 0.1 kPa and its display: above a third of 0.3
    assert strong_enough(demo_job, channel, 1e6, 1.0) == ()


def test_what_was_found_is_judged_by_the_same_rule(demo_job):
    channel = demo_job.tagged("PT-201").with_(decision=DecisionRule(kind="guarded"))
    found = as_found(change_channel(demo_job, channel), channel)
    assert found.rule.kind == "guarded"
    assert all(check.doubt is not None for check in found.checks)
