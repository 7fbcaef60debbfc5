"""Every field of a whole job is changed in turn: whatever comes out otherwise by it must be stale."""

from datetime import UTC, datetime

import numpy as np
import pytest

from able_yardstick.core.describe.edits import with_quantity, with_rated_pair
from able_yardstick.core.document.reference import Reference
from able_yardstick.core.fit.inputs import inputs_in_unit
from able_yardstick.core.fit.on_offer import candidate_of
from able_yardstick.core.forms.spec import PackSpec
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.entries import capture
from able_yardstick.core.job.instruments import change_reference
from able_yardstick.core.job.job import Job
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.pack.inputs import pack_inputs
from able_yardstick.core.pack.packed import packed
from able_yardstick.core.results.basis import stale_fit, stale_pack
from able_yardstick.core.results.choices import keep_packing, use_curve
from able_yardstick.core.units.conditions import Conditions
from able_yardstick.core.words.errors import YardstickError
from able_yardstick.core.words.tolerance import Tolerance

NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)
ENDS_V = np.array([1.0, 4.0])
NAMES = ("id", "channel", "device", "tag", "name", "note", "reading", "kind", "made", "captured")


def a_reading(channel, n, value, volts, unit):
    return Reading(
        id=f"{channel}-{n}", channel=channel, captured=NOON, reference=value, reference_unit=unit, reference_id="g",
        reference_spread=0.02, reference_count=20, raw=Raw(mean=volts, node="pin", unit="V", spread=0.001, count=50),
    )  # fmt: skip


@pytest.fixture(scope="module")
def job():
    """A gauge channel read in absolute pressure and two oxygen channels that share a table, all fitted and packed."""
    found = change_reference(Job(id="j"), Reference(id="g", name="Gauge", expanded_uncertainty=0.1, resolution=0.01))
    gauge = with_rated_pair(new_continuous("p", "d1", "P")).with_(tolerance=Tolerance(constant=1.0))
    gauge = gauge.with_(conditions=Conditions(barometer_kpa=101.325))
    gauge = gauge.with_(pack_spec=PackSpec(form="knots", knots=3, value_step=0.1, signal_step=0.01))
    found = add_channel(found, gauge)
    for n, tag in enumerate(("a", "b")):
        probe = with_quantity(new_continuous(tag, f"d{n + 2}", tag.upper()), "oxygen").with_(unit="% O2")
        part = probe.transducer.with_(range_low=0.0, range_high=21.0)
        found = add_channel(found, with_rated_pair(probe.with_(transducer=part)))
    for n, volts in enumerate((0.5, 2.0, 3.5, 4.5)):
        value = 101.325 + 20 * volts + 0.05 * (-1) ** n
        readings = [a_reading("p", n, value, volts, "kPa(a)")]
        readings += [a_reading(tag, n, 1 + 0.08 * volts + 0.01 * volts**2, volts, "lambda") for tag in "ab"]
        found = capture(found, readings)
    spec = PackSpec(form="knots", knots=4, value_step=0.01, signal_step=0.01, shared_with=("b",))
    found = change_channel(found, found.continuous("a").with_(pack_spec=spec))
    for channel, model in (("p", "line"), ("b", "poly2"), ("a", "poly2")):
        found = use_curve(found, channel, model, NOON)
    return keep_packing(keep_packing(found, "p", NOON), "a", NOON)


def leaves(value, path=()):
    """Every plain value of a document with where it stands."""
    if isinstance(value, dict):
        for key, inner in value.items():
            if key not in NAMES:
                yield from leaves(inner, (*path, key))
    elif isinstance(value, list):
        for n, inner in enumerate(value):
            yield from leaves(inner, (*path, n))
    else:
        yield path, value


OTHERS = {str: ("psi", "AFR", "wet"), type(None): (0.5,)}


def others(value):
    """Other values that might stand in a value's place."""
    if isinstance(value, bool):
        return (not value,)
    if isinstance(value, int):
        return (value + 1,)
    if isinstance(value, float):
        return (value * 1.07 + 0.01,)
    return OTHERS[type(value)]


def put(tree, path, value):
    """A copy of a tree with one value changed."""
    if not path:
        return value
    copy = dict(tree) if isinstance(tree, dict) else list(tree)
    copy[path[0]] = put(copy[path[0]], path[1:], value)
    return copy


def changed_jobs(job):
    """The job with each field of its document changed, and of its readings, where it is a job still."""
    plain = job.model_dump(mode="json")
    for path, value in leaves({"document": plain["document"], "journal": {"readings": plain["journal"]["readings"]}}):
        if "fits" in path:
            continue
        for other in others(value):
            try:
                yield path, Job.model_validate(put(plain, path, other))
            except ValueError:
                continue


def made_again(job, channel_id):
    """What the makers give now: the curve in the unit it was chosen in, and the numbers; None where they refuse."""
    channel, record = job.continuous(channel_id), job.fit_of(channel_id)
    model = record.fitted.spec.model
    try:
        fitted = candidate_of(inputs_in_unit(job, channel, record.unit).of_model(model), model).fitted
    except YardstickError:
        fitted = None
    pack = job.pack_of(channel_id)
    form = None
    if pack is not None:
        try:
            form = packed(pack_inputs(job, channel, pack.spec)).form
        except YardstickError:
            form = None
    return fitted, form


def test_whatever_comes_out_otherwise_is_stale(job):
    assert [stale_fit(job, one) for one in job.channels] == [()] * 3
    assert [stale_pack(job, one) for one in job.channels] == [()] * 3
    seen, told = 0, set()
    for path, other in changed_jobs(job):
        for channel_id in ("p", "a", "b"):
            try:
                channel = other.continuous(channel_id)
            except YardstickError:
                continue
            fitted, form = made_again(other, channel_id)
            record, pack = other.fit_of(channel_id), other.pack_of(channel_id)
            before = record.fitted.curve.value(ENDS_V)
            if fitted is None or not np.allclose(fitted.curve.value(ENDS_V), before, rtol=1e-12):
                assert stale_fit(other, channel), (path, "fit", channel_id)
                told.add("fit")
            if pack is not None and form != pack.form:
                assert stale_pack(other, channel), (path, "pack", channel_id)
                told.add("pack")
        seen += 1
    assert seen > 300
    assert told == {"fit", "pack"}


WAYS = {
    "the barometer under a gauge channel read in absolute pressure": (
        "p", lambda one: one.with_(conditions=one.conditions.with_(barometer_kpa=98.0)), ("the conditions changed",)
    ),
    "the range under a table": (
        "p", lambda one: one.with_(transducer=one.transducer.with_(range_high=90.0)), ("the range changed",)
    ),
    "the fuel under lambda": ("a", lambda one: one.with_(fuel=one.fuel.with_(hydrogen_per_carbon=2.0)), ("the fuel",)),
    "the choice of a robust fit": (
        "a", lambda one: one.with_(fit_settings=one.fit_settings.with_(robust=True)), ("the settings of the fit",)
    ),
}  # fmt: skip


@pytest.mark.parametrize("way", WAYS)
def test_what_counted_as_proven_is_told_in_words(job, way):
    channel_id, change, words = WAYS[way]
    other = change_channel(job, change(job.continuous(channel_id)))
    channel = other.continuous(channel_id)
    said = " ".join((*stale_fit(other, channel), *stale_pack(other, channel)))
    assert all(word in said for word in words), said


def test_the_other_channel_of_a_shared_table_counts(job):
    mate = job.continuous("b")
    other = use_curve(job, "b", "line", NOON)
    assert stale_pack(other, other.continuous("a")) == ("a channel that shares the table changed",)
    assert stale_fit(other, other.continuous("a")) == ()
    assert mate is other.continuous("b")


def test_a_change_that_changes_nothing_makes_nothing_stale(job):
    channel = job.continuous("p")
    other = change_channel(job, channel.with_(name="Burner", note="x", tag="P-2"))
    assert stale_fit(other, other.continuous("p")) == ()
    assert stale_pack(other, other.continuous("p")) == ()
