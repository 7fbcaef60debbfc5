"""The demo job: the script makes what ships, and every channel stands where it is meant to."""

import json

import pytest

from able_yardstick.core.fit.on_offer import candidates_of
from able_yardstick.core.prove.checks import as_found, proof_of
from able_yardstick.core.regression.choice import choose
from able_yardstick.core.state.progress import progress_of, state_of
from able_yardstick.demo import demo_text, fresh_copy
from able_yardstick.demo.kiln import build_job


def plain(job):
    """A job without the names of contents, which hang on the last bits of a fit."""
    tree = json.loads(job.model_dump_json())
    for record in [*tree["document"]["fits"], *tree["journal"]["packs"]]:
        record["basis"] = sorted(record["basis"])
    for reading in tree["journal"]["readings"]:
        reading["basis"] = bool(reading["basis"])
    return tree


def same(first, second):
    """Equal, numbers to nine digits."""
    if isinstance(first, dict):
        return first.keys() == second.keys() and all(same(first[key], second[key]) for key in first)
    if isinstance(first, list):
        return len(first) == len(second) and all(map(same, first, second))
    if isinstance(first, float):
        return second == pytest.approx(first, rel=1e-9, abs=1e-9)
    return first == second


def test_the_script_makes_the_job_that_ships(demo_job):
    assert same(plain(build_job()), plain(demo_job))
    assert [reading.reference for reading in build_job().readings] == [r.reference for r in demo_job.readings]


def test_every_channel_stands_where_it_is_meant_to(demo_job):
    levels = {channel.tag: state_of(progress_of(demo_job, channel)) for channel in demo_job.channels}
    assert {tag: state.level for tag, state in levels.items()} == {
        "PT-201": "ok", "PT-202": "fault", "TT-203": "open", "TE-204": "open", "TE-205": "open", "WT-206": "open",
        "IT-207": "open", "AT-208": "ok", "AT-209": "fault", "FT-210": "open", "PS-211": "ok", "WQ-212": "ok",
        "TY-213": "open",
    }  # fmt: skip
    assert levels["PT-202"].says == "Wire: 2 faults in the wiring"
    draft = {step.step: step.says for step in progress_of(demo_job, demo_job.tagged("PT-202"))}
    assert draft["fit"] == "the readings changed"
    assert levels["AT-209"].says == "Prove: 0 of 3 checks pass"


def test_the_readings_are_plausible(demo_job):
    gas, car = demo_job.continuous("pt-201"), demo_job.continuous("wt-206")
    assert not as_found(demo_job, gas).passed
    assert proof_of(demo_job, gas).passed
    rows = demo_job.amended("wt-206", "gather")
    assert len(rows) == 36
    assert {row.reading.direction for row in rows} == {"up", "down"}
    line = next(row for row in candidates_of(demo_job, car) if row.model == "line").fitted
    down = [e for e, row in zip(line.errors, rows, strict=True) if row.reading.direction == "down"]
    up = [e for e, row in zip(line.errors, rows, strict=True) if row.reading.direction == "up"]
    assert sum(down) / len(down) > sum(up) / len(up), "hysteresis: coming down reads higher"


def test_the_oxygen_table_is_bent_beyond_a_line(demo_job):
    import numpy as np

    rating = demo_job.continuous("at-208").transducer.rating
    assert len(rating.signals) == 23
    assert choose(np.array(rating.signals), np.array(rating.values), 0.05).candidate.model != "line"


def test_each_copy_is_a_fresh_one(tmp_path):
    first, second = fresh_copy(tmp_path), fresh_copy(tmp_path)
    assert first != second
    assert first.read_text("utf-8") == second.read_text("utf-8") == demo_text()


def test_the_earlier_visits_that_ship_are_those_of_their_script_and_verify_in_a_chain():
    from able_yardstick.demo.visits import FOLDER, earlier_records
    from able_yardstick.files.records.signed import read_record, verified

    made = dict(earlier_records())
    assert sorted(path.name for path in FOLDER.glob("*.json")) == sorted(made)
    before = ""
    for name, record in made.items():
        found = verified(read_record(FOLDER / name))
        assert found.is_whole
        assert (found.record, found.record["previous"]) == (record["record"], before)
        before = found.sha256
