"""Mistakes made on the rig, with noise and tolerances: they are named, and sound channels are left in peace."""

import pytest

from able_yardstick.bench.rig.mistaken.page import mistakes_page
from able_yardstick.bench.rig.mistaken.runs import mistake_table, runs_of_mistake
from able_yardstick.bench.rig.mistaken.scenes import SCENES
from able_yardstick.core.job.job import Job
from able_yardstick.core.prove.mistakes import MISTAKES
from able_yardstick.demo import demo_text

JOB = Job.model_validate_json(demo_text())
SEED = 400
NOT_MADE = {"top count", "another fuel"}  # nothing of the demo can show them


def test_every_mistake_is_made_somewhere():
    assert set(SCENES) == {one.name for one in MISTAKES} - NOT_MADE


@pytest.mark.parametrize("mistake", SCENES)
def test_a_mistake_is_named_and_alone_where_it_can_be_told_apart(mistake):
    runs = runs_of_mistake(JOB, mistake, 4, SEED)
    assert len(runs) == 4
    assert sum(mistake in run.names for run in runs) >= 3
    assert all(run.names == (mistake,) for run in runs if run.can_tell)


def test_sound_channels_name_nothing_and_the_page_says_so():
    row = mistake_table(JOB, 10, SEED, ["healthy"])[0]
    assert (row.runs, row.in_set) == (10, 10)
    assert "| healthy | 10 | 10 |" in mistakes_page([row], SEED)
