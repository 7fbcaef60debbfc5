"""Edits of the path and of what rates a transducer, in any order: the channel stays one that can be reckoned."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from able_yardstick.core.describe.edits import with_output, with_quantity, with_rating
from able_yardstick.core.document.nominal import nominal_curve
from able_yardstick.core.job.channels import add_channel, change_channel, new_continuous
from able_yardstick.core.job.job import Job
from able_yardstick.core.job.nodes import nodes_of, values_at
from able_yardstick.core.sensor.rating import RATING_KINDS
from able_yardstick.core.sensor.transducer import OUTPUT_UNITS
from able_yardstick.core.stages import STAGE_KINDS, Amplifier, Divider, Excitation, Leads, PullUp, Shunt
from able_yardstick.core.state.scales import axis_of, scales_of
from able_yardstick.core.units.quantity import QUANTITIES
from able_yardstick.core.wire.checks import findings_of
from able_yardstick.core.wire.edits import land, place_for, solved_stage, with_stage, without_stage
from able_yardstick.core.words.errors import NotApplicable, YardstickError
from able_yardstick.files.controllers import shipped

RATINGS = [str(kind.model_fields["kind"].default) for kind in RATING_KINDS]
STEPS = st.one_of(
    st.tuples(st.just("rating"), st.sampled_from(RATINGS)),
    st.tuples(st.just("output"), st.sampled_from(list(OUTPUT_UNITS))),
    st.tuples(st.just("quantity"), st.sampled_from(QUANTITIES)),
    st.tuples(st.just("add"), st.sampled_from(STAGE_KINDS)),
    st.tuples(st.just("remove"), st.integers(0, 4)),
    st.tuples(st.just("land"), st.integers(0, 30)),
)


def taken(job, step):
    """The job after one step of a person; what is refused leaves it as it was."""
    what, which = step
    channel = job.channel("c")
    try:
        if what == "land":
            inputs = [(one.id, terminal.id) for one in job.controllers for terminal in one.terminals]
            return land(job, "c", *inputs[which % len(inputs)])
        if what == "rating":
            changed = with_rating(channel, which)
        elif what == "output":
            changed = with_output(channel, which)
        elif what == "quantity":
            changed = with_quantity(channel, which)
        elif what == "add":
            changed = channel.with_(path=channel.path.with_(**with_stage(channel.path, which)))
        else:
            stages = channel.path.stages
            if not stages:
                return job
            fields = without_stage(channel.path, which % len(stages))
            changed = channel.with_(path=channel.path.with_(**fields))
        return change_channel(job, changed)
    except YardstickError:
        return job


@settings(max_examples=60, deadline=None)
@given(st.lists(STEPS, max_size=8))
def test_after_any_edits_a_channel_can_be_read_checked_and_drawn(steps):
    job = add_channel(Job.new("j", controllers=shipped()), new_continuous("c", "d", "T"))
    for step in steps:
        job = taken(job, step)
    channel = job.continuous("c")
    low, high = axis_of(channel)
    curve = nominal_curve(channel)
    for pin in np.linspace(low, high, 7):
        values = values_at(job, channel, float(pin))
        assert {"pin"} <= set(values) <= {node.key for node in nodes_of(job, channel)} | {"counts"}
        if curve is not None:
            assert np.isfinite(float(curve.value(float(pin))))
    assert [scale.key for scale in scales_of(job, channel)]
    assert all(finding.says for finding in findings_of(job, channel))


def path_of(kind):
    return with_rating(new_continuous("c", "d", "T"), kind).path


@pytest.mark.parametrize(
    ("path", "kind", "at"),
    [
        ("sensitivity", Divider, 2), ("sensitivity", Amplifier, None), ("thermistor", Leads, 0),
        ("platinum", PullUp, 1),
        ("two points", Shunt, None), ("two points", Excitation, None), ("two points", Divider, 0),
    ],
)  # fmt: skip
def test_a_part_goes_where_its_signal_arrives_and_nowhere_else(path, kind, at):
    assert place_for(path_of(path), kind) == at
    if at is None:
        with pytest.raises(NotApplicable, match="never arrives on this path"):
            with_stage(path_of(path), kind)


def test_the_converter_follows_what_arrives_at_the_pin():
    path = path_of("platinum")
    assert path.converter.unit == "Ω"
    pulled = path.with_(**with_stage(path, PullUp))
    assert (pulled.converter.unit, pulled.converter.high) == ("V", 5.0)
    back = pulled.with_(**without_stage(pulled, 1))
    assert (back.converter.unit, back.stages) == ("Ω", path.stages)


@pytest.mark.parametrize("kind", ["platinum", "thermocouple", "zirconia", "turns"])
def test_another_quantity_drops_a_rating_that_is_about_the_first(kind):
    channel = with_rating(new_continuous("c", "d", "T"), kind)
    changed = with_quantity(channel, "gauge pressure")
    assert changed.transducer.rating.kind == "unrated"
    assert changed.transducer.unit == "kPa"


def test_a_part_that_has_nothing_to_solve_says_so():
    path = path_of("sensitivity")
    with pytest.raises(NotApplicable, match="excitation has nothing to solve"):
        solved_stage(path, 0, 5.0, "E24", float("inf"))
    with pytest.raises(NotApplicable, match="found E7"):
        solved_stage(path, 0, 5.0, "E7", float("inf"))
