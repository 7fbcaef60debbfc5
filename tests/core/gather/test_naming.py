"""An instrument named afterwards gives readings what they would have had from the start."""

from datetime import UTC, datetime

import pytest

from able_yardstick.core.document.reference import Reference
from able_yardstick.core.gather.gathering import referenced
from able_yardstick.core.gather.naming import name_reference, nameless
from able_yardstick.core.gather.reading_doubts import reference_standard
from able_yardstick.core.results.basis import stale_fit
from able_yardstick.core.words.errors import NotApplicable, UnitMismatch

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)
GAUGE = Reference(
    id="own", name="Own gauge", unit="psi", expanded_uncertainty=0.02,
    corrections=({"reading": 0.0, "correction": 0.1}, {"reading": 40.0, "correction": 0.1}),
)  # fmt: skip


@pytest.fixture
def bare(demo_job):
    """The demo with checks of PT-201 that name no instrument."""
    stripped = [
        one.with_(reference_id=None, reference_standard=None, reference_read=None)
        if (one.channel, one.purpose) == ("pt-201", "prove")
        else one
        for one in demo_job.readings
    ]
    return demo_job.with_(journal=demo_job.journal.with_(readings=tuple(stripped)))


def test_it_is_as_if_it_had_been_named_from_the_start(bare):
    channel = bare.continuous("pt-201")
    assert nameless(bare, "pt-201", "gather") == []
    before = nameless(bare, "pt-201", "prove")
    assert len(before) == 5
    assert reference_standard(bare, channel, before[0]) is None
    named = name_reference(bare.edited(references=(*bare.references, GAUGE)), channel, "prove", GAUGE, NOON)
    assert nameless(named, "pt-201", "prove") == []
    for was, row in zip(before, named.amended("pt-201", "prove"), strict=True):
        reading = row.reading
        said = referenced(channel, was.reading.reference, "kPa", GAUGE, was.reading.captured.date())
        assert (reading.reference, reading.reference_unit, reading.reference_read) == (said.value, "psi", said.read)
        assert reading.reference == pytest.approx(was.reading.reference / 6.894757 + 0.1, abs=1e-5)
        assert reference_standard(named, channel, row) == pytest.approx(0.01 * 6.894757, rel=1e-6)
        assert row.corrected
    assert named.readings == bare.readings  # what was first taken stays
    assert not stale_fit(named, channel)


def test_it_is_refused_where_nothing_is_nameless_or_the_instrument_measures_something_else(bare, demo_job):
    channel = bare.continuous("pt-201")
    with pytest.raises(NotApplicable, match="names its reference"):
        name_reference(demo_job, channel, "gather", GAUGE, NOON)
    with pytest.raises(UnitMismatch):
        name_reference(bare, channel, "prove", Reference(id="t", name="Thermometer", unit="degC"), NOON)
