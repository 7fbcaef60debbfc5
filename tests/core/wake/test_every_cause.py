"""One row a cause, one column a look or test: no cell is missing, and some of it tells every two causes apart."""

from itertools import combinations
from typing import get_args

import numpy as np
import pytest

from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.sample import Series
from able_yardstick.core.path.node import COUNTS
from able_yardstick.core.wake.case import Case
from able_yardstick.core.wake.causes import CAUSES, ROWS, causes_for
from able_yardstick.core.wake.evidence import TESTS, Evidence
from able_yardstick.core.wake.figures import Texture, figures_of
from able_yardstick.core.wake.inputs import look_inputs
from able_yardstick.core.wake.wiring import Wiring
from able_yardstick.demo import demo_text

# what a test can show, and what a person is told to expect of it
WORDS = {
    "nudge": {"moved", "moved the wrong way", "moved slowly", "did not move", "any"},
    "shown": {"agrees", "differs"},
    "meter": {"agrees", "differs", "dead", "negative", "high", "low", "between"},
    "supply": {"present", "absent"},
    "resistance": {"open", "short", "as usual"},
    "other state": {"as expected", "same", "offset", "factor", "any"},
    "faster sampling": {"mains", "no line"},
}


def case_of(channel, job):
    counts = channel.path.converter.full_count // 2 + np.arange(200) % 2
    series = Series.of(np.arange(200) / 100, counts.astype(float), COUNTS)
    return Case(look_inputs(job, channel), Evidence(figures_of(channel, series)))


JOB = Job.model_validate_json(demo_text())
WIRED = [channel for channel in JOB.channels if channel.has_pin]


class TestEveryCause:
    """Laws of the table; a cause that forgets something fails here."""

    @pytest.mark.parametrize("cause", CAUSES)
    def test_it_can_be_somewhere_and_has_a_texture(self, cause):
        row = ROWS[cause]
        assert set(row.wirings) <= set(get_args(Wiring))
        assert row.wirings
        assert set(row.textures) <= set(get_args(Texture))
        assert row.textures

    @pytest.mark.parametrize("cause", CAUSES)
    @pytest.mark.parametrize("test", TESTS)
    def test_it_foretells_every_test_in_a_word(self, cause, test):
        for channel in WIRED:
            if cause in causes_for(channel):
                assert ROWS[cause].cell(test, case_of(channel, JOB)).word in WORDS[test]

    @pytest.mark.parametrize("channel", WIRED, ids=lambda channel: channel.tag)
    def test_no_two_causes_of_a_channel_are_one(self, channel):
        case = case_of(channel, JOB)
        for one, two in combinations(causes_for(channel), 2):
            first, second = ROWS[one], ROWS[two]
            looks = first.textures != second.textures or first.level is not second.level
            words = [first.cell(test, case).word != second.cell(test, case).word for test in TESTS]
            assert looks or any(words), (one, two)


def test_the_rows_stand_in_the_order_of_likelihood():
    assert tuple(ROWS) == CAUSES


def test_every_texture_and_every_wiring_has_a_cause():
    assert {texture for row in ROWS.values() for texture in row.textures} == set(get_args(Texture)) - {"unseen"}
    assert {wiring for row in ROWS.values() for wiring in row.wirings} == set(get_args(Wiring))
