"""The error budget: by hand where that is easy, by drawn values everywhere."""

import numpy as np
import pytest

from able_yardstick.core.describe.edits import with_rated_pair
from able_yardstick.core.job.channels import new_continuous
from able_yardstick.core.stages import Leads
from able_yardstick.core.wire.error_budget import (
    along_range,
    budget_at,
    follows_reference,
    monte_carlo,
)
from able_yardstick.core.words.errors import NotApplicable
from able_yardstick.core.words.tolerance import Tolerance

TAGS = ["PT-201", "PT-202", "TT-203", "TE-204", "TE-205", "WT-206", "IT-207", "AT-208", "FT-210"]
DRAWS = 20_000


def test_a_loop_over_a_shunt_is_added_up_by_hand(demo_job):
    channel = demo_job.tagged("PT-202")
    budget = budget_at(channel, 0.0)
    rows = {row.name: row for row in budget.rows}
    slope = 300 / 16 / 0.249937515  # Pa per volt of pin: 300 Pa over 16 mA, with the input beside the shunt
    pin = 12 * 0.249937515
    assert rows["transducer's accuracy"].standard == pytest.approx(0.0025 * 300 / np.sqrt(3))
    assert rows["shunt"].standard == pytest.approx(0.001 * pin * slope / np.sqrt(3), rel=1e-3)
    assert rows["converter's reference"].standard == pytest.approx(0.002 * pin * slope / np.sqrt(3), rel=1e-3)
    assert rows["one step of the converter"].standard == pytest.approx(5 / 4095 / 2 * slope / np.sqrt(3), rel=1e-6)
    total = np.sqrt(sum(row.standard**2 for row in budget.rows))
    assert budget.combined == pytest.approx(total)
    assert budget.worst == pytest.approx(np.sqrt(3) * sum(row.standard for row in budget.rows))


def test_rows_come_greatest_first_and_carry_their_sensitivity(demo_job):
    rows = budget_at(demo_job.tagged("TT-203"), 900.0).rows
    assert [row.standard for row in rows] == sorted((row.standard for row in rows), reverse=True)
    for row in rows:
        assert row.sensitivity * row.size == pytest.approx(row.half_width)


@pytest.mark.parametrize("tag", TAGS)
@pytest.mark.parametrize("share", [0.1, 0.5, 0.9])
def test_drawn_values_agree_within_their_own_resolution(demo_job, tag, share):
    channel = demo_job.tagged(tag)
    low, high = channel.range
    value = low + share * (high - low)
    budget = budget_at(channel, value)
    drawn = monte_carlo(channel, value, seed=7, draws=DRAWS)
    resolution = 4 * budget.combined / np.sqrt(2 * DRAWS)  # four standard errors of a standard deviation
    assert float(drawn.std(ddof=1)) == pytest.approx(budget.combined, abs=resolution + 2e-3 * budget.combined)
    assert float(drawn.mean()) == pytest.approx(
        value, abs=5 * budget.combined / np.sqrt(DRAWS) + 0.02 * budget.combined
    )
    held = float(np.mean(np.abs(drawn - drawn.mean()) <= budget.expanded))
    assert held == pytest.approx(0.95, abs=0.012)


def test_one_limit_that_rules_is_not_doubled(demo_job):
    """95 % of what lies within one limit is 0.95 of it: an interval never goes beyond the worst case."""
    channel = demo_job.tagged("TE-204")
    for budget in along_range(channel)[::2]:
        assert budget.expanded <= budget.worst * 1.0001


def test_a_shared_reference_falls_out(demo_job):
    shared = demo_job.tagged("TE-205")
    assert follows_reference(shared)
    assert "converter's reference" not in {row.name for row in budget_at(shared, 50.0).rows}
    apart = shared.with_(path=shared.path.with_(converter=shared.path.converter.with_(shares_supply=False)))
    assert "converter's reference" in {row.name for row in budget_at(apart, 50.0).rows}


def test_a_class_that_does_not_hold_is_left_out_and_said(demo_job):
    channel = demo_job.tagged("TE-204")
    wide = channel.with_(transducer=channel.transducer.with_(range_high=600.0))
    assert "check its class" in budget_at(wide, 550.0).remark
    assert budget_at(wide, 200.0).remark == ""


def test_accuracy_of_reading_grows_along_the_range():
    channel = with_rated_pair(new_continuous("c", "d", "T"))
    channel = channel.with_(transducer=channel.transducer.with_(accuracy=Tolerance(of_reading=0.02)))
    halves = [budget.rows[0].size for budget in along_range(channel)[::2]]
    assert halves[1:] == pytest.approx([0.5, 1.0, 1.5, 2.0])


def test_two_leads_count_and_four_do_not(demo_job):
    channel = demo_job.tagged("TE-204")

    def with_leads(wires):
        leads = Leads(wires=wires, wire_ohm=2.0)
        return channel.with_(path=channel.path.with_(stages=(leads,)))

    names = {wires: {row.name for row in budget_at(with_leads(wires), 100.0).rows} for wires in (2, 3, 4)}
    assert "leads, both" in names[2]
    assert "leads' mismatch" in names[3]
    assert not any("leads" in name for name in names[4])


def test_without_a_described_curve_there_is_no_budget():
    with pytest.raises(NotApplicable, match="has no described curve"):
        budget_at(new_continuous("c", "d", "T"), 1.0)
