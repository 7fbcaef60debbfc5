"""A channel's trim: worked out from its checks, kept with a reason, and what a look at the terminal tells."""

from datetime import UTC, datetime

import numpy as np
import pytest

from able_yardstick.core.job.entries import capture
from able_yardstick.core.prove.checks import as_found, checks_of, proof_of
from able_yardstick.core.prove.trimming import (
    checks_in_force,
    compared_at_terminal,
    spec_with,
    trim_advice,
    trim_of,
    wiring_limit,
)
from able_yardstick.core.results.basis import stale_pack
from able_yardstick.core.results.choices import keep_trim
from able_yardstick.core.words.acceptance import DecisionRule
from able_yardstick.core.words.errors import BadTable, NotApplicable

WHEN = datetime(2026, 11, 20, tzinfo=UTC)


def trimmed_job(job, tag, reason="screen and gas disagree"):
    channel = job.tagged(tag)
    trim = trim_of(job, channel)
    return keep_trim(job, channel.id, trim.packed.form, reason, WHEN), trim


def test_a_kept_trim_leaves_the_earlier_numbers_and_their_checks_as_found(demo_job):
    job, trim = trimmed_job(demo_job, "AT-209")
    channel = job.tagged("AT-209")
    packs = job.journal.of(channel.id).packs
    assert [pack.reason for pack in packs] == ["", "screen and gas disagree"]
    assert packs[-1].form.signals == trim.packed.form.signals
    assert packs[-1].form.values == trim.packed.form.values
    assert stale_pack(job, channel) == ()
    assert all(check.stale for check in checks_of(job, channel))
    found = as_found(job, channel)
    assert [check.error for check in found.checks] == pytest.approx([0.34, 0.52, 0.74], abs=0.011)
    assert not found.passed


def test_as_left_the_checks_are_within_what_the_trim_predicted(demo_job):
    """The plant still has its offset; the trimmed numbers read it: under the guarded rule they pass."""
    job, trim = trimmed_job(demo_job, "AT-209")
    channel = job.tagged("AT-209").with_(decision=DecisionRule(kind="guarded"))
    record = job.pack_of(channel.id)
    rows = [check.row.reading for check in checks_of(demo_job, demo_job.tagged("AT-209"))]
    shown = record.form.shown(
        channel.path.converter.count_of(np.array([row.raw.mean for row in rows])), channel.path.converter
    )
    again = [
        row.with_(id=f"left-{n}", shown=round(float(value), 2), basis=record.revision)
        for n, (row, value) in enumerate(zip(rows, shown, strict=True))
    ]
    proof = proof_of(capture(job, again), channel)
    assert proof.passed
    assert [check.error for check in proof.checks] == pytest.approx(trim.left, abs=0.02)


def test_a_trim_without_a_reason_is_refused_and_nothing_is_kept(demo_job):
    with pytest.raises(BadTable, match="kept with its reason"):
        trimmed_job(demo_job, "AT-209", reason="  ")


def test_beyond_what_the_wiring_explains_it_points_at_the_return_lead(demo_job):
    channel = demo_job.tagged("AT-209")
    trim = trim_of(demo_job, channel)
    assert wiring_limit(channel).signal == pytest.approx(0.02)
    assert "look at the return lead" in " ".join(trim_advice(trim, 3, wiring_limit(channel), "V"))
    small = demo_job.tagged("AT-208")
    assert "return lead" not in " ".join(trim_advice(trim_of(demo_job, small), 4, wiring_limit(small), "V"))


def test_the_meter_at_the_terminal_tells_wiring_from_sensor(demo_job):
    """8.52 shown at 8.0 % O2: the sensor gives 2.608 V, the input takes it for about 2.73."""
    channel = demo_job.tagged("AT-209")
    check = checks_in_force(demo_job, channel)[1]
    assert "agrees with the sensor" in compared_at_terminal(demo_job, channel, check, 2.61)
    assert "agrees with the input" in compared_at_terminal(demo_job, channel, check, 2.73)
    assert "agrees with neither" in compared_at_terminal(demo_job, channel, check, 1.0)


def test_numbers_of_other_forms_are_given_or_refused(demo_job):
    for tag in ("PT-201", "PT-202"):
        channel = demo_job.tagged(tag)
        record = demo_job.pack_of(channel.id)
        if record is not None:
            spec = spec_with(record.form, record.spec)
            assert dict(spec.given) == {name: getattr(record.form, name) for name, _ in spec.given}
    poly = demo_job.tagged("PT-201").pack_spec.in_form("poly")
    from able_yardstick.core.pack.inputs import pack_inputs
    from able_yardstick.core.pack.packed import packed

    form = packed(pack_inputs(demo_job, demo_job.tagged("PT-201"), poly)).form
    with pytest.raises(NotApplicable, match="takes no numbers of its own"):
        spec_with(form, poly)
