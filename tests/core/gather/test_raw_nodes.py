"""Where raw values are read, and which of them cannot be."""

import pytest

from able_yardstick.core.gather.raw_nodes import node_choices
from able_yardstick.core.words.errors import OutOfRange


def test_counts_that_the_converter_cannot_make_are_refused(demo_job):
    counts = next(one for one in node_choices(demo_job.tagged("PT-201")) if one.node == "counts")
    assert counts.possible(counts.typed("4095")).mean == 4095
    assert counts.possible(counts.typed("4090; 4094")).mean == 4092
    for text in ("4100", "-1", "4090; 4120"):
        with pytest.raises(OutOfRange, match=r"the converter ends at 4095\. Check what was read"):
            counts.possible(counts.typed(text))
    assert counts.typed("50000").mean == 50000  # at Wake it is evidence


def test_other_nodes_take_what_was_read(demo_job):
    volts = next(one for one in node_choices(demo_job.tagged("PT-201")) if one.unit == "V")
    assert volts.typed("5.2").mean == 5.2
