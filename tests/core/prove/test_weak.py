"""What speaks against the checks of a proof, in words."""

import pytest

from able_yardstick.core.prove.checks import weaknesses_of
from able_yardstick.core.prove.weak import weaknesses


@pytest.mark.parametrize(
    ("values", "ways", "gathered", "said"),
    [
        ([], [], [], []),
        ([1.0, 3.0], ["up", "down"], [], ["near zero prove no span"]),
        ([0.0], ["not stated"], [], ["near zero prove no span"]),
        ([60.0, 60.5], ["up", "down"], [], ["one point prove no slope"]),
        ([30.0, 60.0], ["up", "down"], [], ["cover 30 % of the range only"]),
        ([0.0, 50.0, 100.0], ["up", "up", "up"], [], ["going up: a hysteresis"]),
        ([0.0, 50.0, 100.0], ["up", "up", "not stated"], [], []),
        ([0.0, 50.0, 100.0], ["up", "down", "up"], [0.0, 50.0, 99.0], ["where readings were gathered"]),
        ([0.0, 45.0, 100.0], ["up", "down", "up"], [0.0, 50.0, 99.0], []),
    ],
)
def test_what_checks_cannot_show_is_said(values, ways, gathered, said):
    found = weaknesses(values, ways, gathered, 0.0, 100.0)
    assert len(found) == len(said)
    assert all(part in words for part, words in zip(said, found, strict=True))


def test_the_demos_checks_stand_between_the_stops_but_go_one_way(demo_job):
    assert len(weaknesses_of(demo_job, demo_job.tagged("PT-201"))) == 1
    assert "going up" in weaknesses_of(demo_job, demo_job.tagged("PT-201"))[0]
    assert weaknesses_of(demo_job, demo_job.tagged("TT-203")) == ()
