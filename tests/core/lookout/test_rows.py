"""The lookout's rows: their order, groups, pinned and hidden ones; edits of what is watched."""

import pytest

from able_yardstick.core.document.watched import FormulaValue, SensorPair, WatchedRow, WatchList
from able_yardstick.core.job.job import Job
from able_yardstick.core.job.watching import change_pair, change_row, change_value, change_watch, order_rows, unwatch
from able_yardstick.core.lookout.rows import hidden_rows, lookout_rows


@pytest.fixture
def plain(demo_job):
    return change_watch(demo_job, WatchList())


@pytest.fixture
def watched(plain):
    ids = {channel.tag: channel.id for channel in plain.channels}
    job = change_pair(plain, SensorPair(id="pair", channels=(ids["AT-208"], ids["AT-209"])))
    value = FormulaValue(id="air", tag="XX-1", formula="{" + ids["FT-210"] + "}", unit="m³/h")
    return change_value(job, value), ids


def words(job, **levels):
    return [row.words for row in lookout_rows(job, levels)]


def test_a_pair_stands_below_its_sensors_and_values_at_the_end(watched):
    job, _ids = watched
    found = words(job)
    assert found[found.index("AT-209") + 1] == "AT-208 · AT-209"
    assert found[-1] == "XX-1"


def test_rows_are_pinned_hidden_sorted_and_grouped(watched):
    job, ids = watched
    job = change_row(job, WatchedRow(id=ids["FT-210"], is_pinned=True, group="air"))
    job = change_row(job, WatchedRow(id=ids["PT-201"], is_hidden=True))
    assert words(job)[0] == "FT-210"
    assert "PT-201" not in words(job)
    assert [row.words for row in hidden_rows(job)] == ["PT-201"]
    by_tag = words(order_rows(job, "tag"))
    assert by_tag[1:] == sorted(by_tag[1:], key=str.casefold)
    worst = words(order_rows(job, "attention"), **{ids["TE-205"]: "fault", ids["WT-206"]: "look"})
    assert worst[:3] == ["FT-210", "TE-205", "WT-206"]
    grouped = change_row(job, WatchedRow(id=ids["TE-204"], group="drying"))
    found = words(order_rows(grouped, "group"))
    assert found[:3] == ["FT-210", "drying", "TE-204"]
    assert found[3] == "in no group"


def test_what_is_watched_is_kept_with_the_job_and_taken_away_again(watched, plain):
    job, _ids = watched
    kept = Job.model_validate_json(job.model_dump_json())
    assert kept.watch == job.watch
    left = unwatch(unwatch(kept, "pair"), "air")
    assert left.document == plain.document
    assert "watch" not in plain.document.model_dump(mode="json")
    with pytest.raises(ValueError, match="watched tag PT-201"):
        change_value(job, FormulaValue(id="other", tag="PT-201", formula="{x}"))
