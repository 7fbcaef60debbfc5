"""Before and after: the list of precautions, and who uses a channel's numbers."""

import pytest

from able_yardstick.core.document.alarm import Alarm
from able_yardstick.core.document.display import Display
from able_yardstick.core.document.output import OutputCondition
from able_yardstick.core.job.channels import change_channel
from able_yardstick.core.job.job import Job
from able_yardstick.core.job.precautions import (
    drop_precaution,
    not_taken,
    precautions_of,
    put_precaution,
    to_restore,
)
from able_yardstick.core.results.usage import usage_of
from able_yardstick.core.words.errors import BadTable


def test_what_was_taken_must_be_put_back_before_it_is_dropped(demo_job):
    assert not_taken(demo_job) == ("Control loop in manual", "Trip bypassed", "People told")
    job = put_precaution(demo_job, "Trip bypassed", "taken")
    assert to_restore(job) == ("Trip bypassed",)
    with pytest.raises(BadTable, match="taken and not put back"):
        drop_precaution(job, "Trip bypassed")
    job = put_precaution(job, "Trip bypassed", "restored")
    assert to_restore(job) == ()
    job = put_precaution(drop_precaution(job, "Trip bypassed"), "Flame guard looked at", "open")
    assert [one.name for one in precautions_of(job)] == [
        "Control loop in manual", "People told", "Flame guard looked at",
    ]  # fmt: skip
    assert Job.model_validate_json(job.model_dump_json()) == job
    with pytest.raises(BadTable, match="found 0"):
        put_precaution(job, "  ", "open")


def test_users_are_told_with_whether_they_still_have_other_numbers(demo_job):
    gas = demo_job.continuous("pt-201")
    rows = {one.name: one for one in usage_of(demo_job, gas)}
    assert rows["Low alarm"].says.startswith("trips by these numbers")
    assert any("X4:2" in name for name in rows)
    loose = gas.with_(landing=None, alarms=(Alarm(kind="high", limit=200.0),), controller_range=(0.0, 200.0))
    rows = {one.name: one for one in usage_of(change_channel(demo_job, loose), loose)}
    assert rows["No input"].is_behind
    assert rows["Range in the controller"].is_behind
    shared = demo_job.continuous("at-208")
    sharing = shared.with_(pack_spec=shared.pack_spec.with_(shared_with=("at-209",)))
    row = next(one for one in usage_of(change_channel(demo_job, sharing), sharing) if one.name == "AT-209")
    packs = {demo_job.pack_of(name).revision for name in ("at-208", "at-209")}
    assert row.is_behind == (len(packs) > 1)
    other = demo_job.continuous("pt-201")
    mixed = shared.with_(pack_spec=shared.pack_spec.with_(shared_with=(other.id,)))
    row = next(one for one in usage_of(change_channel(demo_job, mixed), mixed) if one.name == "PT-201")
    assert (row.says, row.is_behind) == ("shares the table, and has other numbers", True)


@pytest.mark.parametrize(
    ("changes", "says", "behind"),
    [
        ({}, "gives it from 0 to 1200 °C", False),
        ({"value_high": 600.0}, "gives it from 0 to 600 °C, which is not all of the range", True),
        ({"unit": "°F", "value_low": 32.0, "value_high": 2192.0}, "gives it from 32 to 2192 °F", False),
        ({"unit": "kPa"}, "follows it, but gives kPa", True),
        (
            {"follows": "", "conditions": (OutputCondition(channel="tt-203", when="high", value=1200.0),)},
            "is written by the high alarm", False,
        ),
    ],
)  # fmt: skip
def test_an_output_that_a_channel_writes_is_among_its_users(demo_job, changes, says, behind):
    job = change_channel(demo_job, demo_job.tagged("TY-213").with_(**changes))
    user = next(one for one in usage_of(job, job.continuous("tt-203")) if one.name == "TY-213")
    assert (user.says, user.is_behind) == (says, behind)


def test_a_display_shows_it_and_an_input_without_numbers_is_told(demo_job):
    gas = demo_job.tagged("PT-201").with_(display=Display(name="dash", unit="psi"))
    rows = {one.name: one for one in usage_of(change_channel(demo_job, gas), gas)}
    assert rows["dash"].says == "shows it in psi"
    rows = {one.name: one for one in usage_of(demo_job, demo_job.continuous("te-204"))}
    assert (rows["Input"].says, rows["Input"].is_behind) == ("is configured, but no numbers are kept for it", True)
