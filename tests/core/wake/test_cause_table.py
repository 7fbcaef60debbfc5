"""Every cause held against everything seen: what is left is what the verdict leaves, whatever the evidence."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from able_yardstick.core.journal.reading import Raw
from able_yardstick.core.wake.cause_table import cause_table, untried
from able_yardstick.core.wake.causes import causes_for
from able_yardstick.core.wake.evidence import Evidence
from able_yardstick.core.wake.figures import figures_by_hand
from able_yardstick.core.wake.inputs import look_inputs
from able_yardstick.core.wake.verdict import diagnose


def table_of(job, channel, counts, **more):
    raw = Raw(mean=float(counts), node="counts", unit="counts", count=1)
    evidence = Evidence(figures_by_hand(channel, raw), **more)
    inputs = look_inputs(job, channel)
    verdict = diagnose(inputs, evidence)
    return cause_table(inputs, evidence, verdict), verdict


@pytest.fixture(scope="module")
def whole():
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    return Job.model_validate_json(demo_text())


@given(
    tag=st.sampled_from(["PT-201", "PT-202", "TE-205", "WT-206", "FT-210", "PS-211"]), share=st.floats(0, 1),
    meter=st.none() | st.floats(0, 6), supply=st.none() | st.sampled_from([0.0, 5.0, 12.0, 24.0]),
    ohms=st.none() | st.sampled_from([0.5, 350.0, float("inf")]),
)  # fmt: skip
def test_what_is_left_is_what_the_verdict_leaves(whole, tag, share, meter, supply, ohms):
    channel = whole.tagged(tag)
    counts = round(share * channel.path.converter.full_count)
    table, verdict = table_of(whole, channel, counts, meter_v=meter, supply_v=supply, leads_ohm=ohms)
    assert {line.cause for line in table.lines} == set(causes_for(channel))
    assert [line.cause for line in table.lines if line.is_left] == [
        cause for cause in (line.cause for line in table.lines) if cause in verdict.names
    ]
    assert table.left == len(verdict.names)
    for line in table.lines:
        assert len(line.cells) == len(table.columns)
        if line.is_left:
            assert False not in line.cells
        elif verdict.next_test is not None:  # nothing was dropped as a coincidence
            assert False in line.cells
        assert bool(line.foretold) == (verdict.next_test is not None)
    assert [line.is_left for line in table.lines] == sorted((line.is_left for line in table.lines), reverse=True)


def test_a_dead_pin_is_held_against_each_cause(whole):
    table, _verdict = table_of(whole, whole.tagged("FT-210"), 0, meter_v=0.0)
    cells = {line.cause: dict(zip(table.columns, line.cells, strict=True)) for line in table.lines}
    assert table.columns == ("level", "meter")
    assert cells["missing pull-up"] == {"level": True, "meter": True}
    assert cells["open lead"]["meter"] is False  # the pull-up would hold the pin up


def test_before_anything_was_looked_at_nothing_speaks_for_or_against(whole):
    table = untried(whole.tagged("PT-201"))
    assert table.left == len(causes_for(whole.tagged("PT-201")))
    assert not np.any([cell is not None for line in table.lines for cell in line.cells])
