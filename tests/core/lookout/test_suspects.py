"""Which of two sensors is suspect, row by row, and how far apart a pair is at this moment."""

import numpy as np
import pytest

from able_yardstick.core.document.watched import CombinedValue, SensorPair
from able_yardstick.core.job.watching import change_value
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.lookout.apart import pair_now
from able_yardstick.core.lookout.suspects import Sensed, SuspectRow, suspect_of, suspicions
from able_yardstick.core.path.node import Met
from able_yardstick.core.words.errors import NoSuchThing, NotApplicable

TIMES = np.arange(0.0, 60.0, 0.1)
DRAW = np.random.default_rng(4)
WAVE = np.sin(TIMES / 5)


def course(values, noise=0.01):
    values = np.broadcast_to(np.asarray(values, dtype=float), TIMES.shape)
    return Series.of(TIMES, values + DRAW.normal(0, noise, len(TIMES)), Met("pin", "% O2"))


@pytest.fixture
def sensors(demo_job):
    return demo_job.tagged("AT-208"), demo_job.tagged("AT-209")


def against(rows):
    return {row.evidence: row.against for row in rows}


def test_what_is_not_proven_or_grew_noisy_is_suspect(demo_job, sensors):
    louder = course(6.0, np.where(TIMES > 40, 0.06, 0.02))
    rows = suspicions(demo_job, Sensed(sensors[0], course(6.0, 0.02)), Sensed(sensors[1], louder))
    assert rows[0] == SuspectRow("proof", "proven, 4 checks", "failed, 0 of 3", "AT-209")
    found = against(rows)
    assert found["noise against its own past"] == found["noise against the other"] == "AT-209"
    assert suspect_of(rows) == "AT-209"
    even = (SuspectRow("a", "", "", "A"), SuspectRow("b", "", "", "B"))
    assert suspect_of(even) == suspect_of(()) == ""


def test_one_that_does_not_move_with_the_plant_is_suspect(demo_job, sensors):
    thirds = {"FT-210": course(300 + 50 * WAVE, 1.0), "TE-204": course(80.0, 0.1)}
    rows = suspicions(demo_job, Sensed(sensors[0], course(6 - WAVE)), Sensed(sensors[1], course(6.0)), thirds)
    assert against(rows)["moves with FT-210"] == "AT-209"
    both = suspicions(demo_job, Sensed(sensors[0], course(6 - WAVE)), Sensed(sensors[1], course(6 - WAVE)), thirds)
    assert against(both)["moves with FT-210"] == ""
    still = suspicions(demo_job, Sensed(sensors[0], course(6.0)), Sensed(sensors[1], course(6.0)), thirds)
    assert not any(row.evidence.startswith("moves") for row in still)


def test_one_that_is_off_its_reference_is_suspect(demo_job, sensors):
    first, second = (Sensed(one, course(6.0), course(at)) for one, at in zip(sensors, (6.01, 6.4), strict=True))
    assert against(suspicions(demo_job, first, second))["its reference"] == "AT-209"
    alone = suspicions(demo_job, first, second._replace(reference=None))
    assert against(alone)["its reference"] == ""


def test_a_pair_is_apart_beyond_what_is_allowed_and_says_who_is_trusted(demo_job, sensors):
    ids = tuple(one.id for one in sensors)
    courses = {ids[0]: course(6.2), ids[1]: course(6.5)}
    stated = pair_now(demo_job, SensorPair(id="p", channels=ids, allowed=0.15), courses)
    assert stated.difference == pytest.approx(0.3, abs=0.01)
    standing = stated.standing(demo_job)
    assert standing.kind == "apart"
    assert "AT-209 reads 0.3 % O2 more than AT-208, 0.15 allowed (as stated)." in standing.says
    assert "AT-208 is trusted: proof" in standing.says
    roomy = pair_now(demo_job, SensorPair(id="p", channels=ids, allowed=1.0), courses)
    assert roomy.standing(demo_job).kind == "value"
    unstated = pair_now(demo_job, SensorPair(id="p", channels=ids), courses)
    assert unstated.allowed_by == "from the U of both"
    with pytest.raises(NotApplicable, match="AT-209 gives no value now"):
        pair_now(demo_job, SensorPair(id="p", channels=ids), {ids[0]: course(6.2)})


def test_a_pair_needs_two():
    with pytest.raises(ValueError, match="the same stands there twice"):
        SensorPair(id="p", channels=("a", "a"))


def test_a_value_made_of_channels_is_compared_like_a_sensor(demo_job, sensors):
    ids = tuple(one.id for one in sensors)
    value = CombinedValue(id="both", tag="AX-1", unit="% O2", channels=ids)
    job = change_value(demo_job, value)
    courses = {ids[0]: course(6.2), "both": course(6.35)}
    pair = SensorPair(id="p", channels=(ids[0], "both"))
    found = pair_now(job, pair, courses, made={"both": 0.05})
    assert found.difference == pytest.approx(0.15, abs=0.01)
    assert found.allowed > 0.05
    assert "AX-1 reads" in found.standing(job).says
    assert against(found.evidence)["proof"] == ""
    with pytest.raises(NoSuchThing, match="not here any more"):
        pair_now(demo_job, pair, courses)
