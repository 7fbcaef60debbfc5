"""Whatever a person does, in whatever order: what is on disk is what is shown, and no reading is ever lost."""

import tempfile
from datetime import UTC, datetime
from pathlib import Path

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from able_yardstick.app.frame.workbench import Change, Workbench, new_id
from able_yardstick.core.describe.edits import with_working_unit
from able_yardstick.core.job.channels import (
    change_channel,
    duplicate_channel,
    free_tag,
    move_channel,
    new_constant,
    new_continuous,
    new_two_state,
    remove_channel,
    rename,
)
from able_yardstick.core.job.entries import exclude as exclude_edit
from able_yardstick.core.journal.reading import Raw, Reading
from able_yardstick.core.results.choices import keep_packing, use_curve
from able_yardstick.core.state.progress import STEP_NAMES, state_of
from able_yardstick.core.words.errors import BadJob, YardstickError
from able_yardstick.files.jobfile import read_job

NOON = datetime(2026, 11, 16, 12, 0, tzinfo=UTC)


class AnyPerson(RuleBasedStateMachine):
    """Random edits, captures, undos and looks; a model keeps the ids that were captured."""

    def __init__(self):
        super().__init__()
        self.folder = tempfile.TemporaryDirectory()
        self.bench = Workbench()
        self.bench.create(Path(self.folder.name) / "j.yardstick.json", "J")
        self.captured = []
        self.edits_made = 0

    def teardown(self):
        self.bench.close()
        self.folder.cleanup()

    def some(self, number):
        channels = self.bench.job.channels
        return channels[number % len(channels)] if channels else None

    @rule(kind=st.sampled_from(["continuous", "two-state", "constant"]))
    def add(self, kind):
        make = {
            "continuous": new_continuous,
            "two-state": new_two_state,
            "constant": new_constant,
        }[kind]
        self.bench.add_channel("add", make(new_id(), new_id(), free_tag(self.bench.job, "T")))

    @rule(number=st.integers(0, 9), places=st.integers(-3, 3))
    def move(self, number, places):
        if channel := self.some(number):
            self.bench.try_edit("move", lambda job: move_channel(job, channel.id, places))

    @rule(number=st.integers(0, 9))
    def remove_or_copy(self, number):
        if channel := self.some(number):
            if number % 3 == 0:
                self.bench.try_edit("remove", lambda job: remove_channel(job, channel.id))
            else:
                self.bench.try_edit("copy", lambda job: duplicate_channel(job, channel.id, new_id(), new_id()))

    @rule(number=st.integers(0, 9), count=st.integers(1, 4), seed=st.integers(0, 50))
    def capture(self, number, count, seed):
        channel = self.some(number)
        if channel is None or channel.kind != "continuous":
            return
        readings = [
            Reading(
                id=new_id(), channel=channel.id, captured=NOON, reference=20.0 * n + seed, reference_unit="kPa",
                raw=Raw(mean=1.0 * n + seed / 20),
            )
            for n in range(count)
        ]  # fmt: skip
        self.bench.capture(readings)
        self.captured += [reading.id for reading in readings]

    @rule(number=st.integers(0, 60))
    def exclude(self, number):
        if self.captured:
            one = self.captured[number % len(self.captured)]
            self.bench.try_edit("exclude", lambda job: exclude_edit(job, [one], "odd", NOON))

    @rule(number=st.integers(0, 9), model=st.sampled_from(["line", "poly2", "table", "two-point"]))
    def use_and_keep(self, number, model):
        if channel := self.some(number):
            self.bench.try_edit("curve", lambda job: use_curve(job, channel.id, model, NOON))
            self.bench.try_edit("pack", lambda job: keep_packing(job, channel.id, NOON))

    @rule(number=st.integers(0, 9), unit=st.sampled_from(["psi", "bar", "kPa", "°C"]))
    def work_in(self, number, unit):
        channel = self.some(number)
        if channel is not None and channel.kind == "continuous":
            self.bench.try_edit(
                "unit", lambda job: change_channel(job, with_working_unit(job.continuous(channel.id), unit))
            )

    @rule()
    def undo(self):
        self.bench.undo()

    @rule()
    def redo(self):
        self.bench.redo()

    @rule(number=st.integers(0, 9), step=st.sampled_from(STEP_NAMES))
    def look(self, number, step):
        if channel := self.some(number):
            self.bench.select(channel.id)
            self.bench.go(step)

    @invariant()
    def the_disk_holds_what_is_shown(self):
        assert read_job(self.bench.path) == self.bench.job

    @invariant()
    def no_reading_is_lost_or_doubled(self):
        assert [reading.id for reading in self.bench.job.readings] == self.captured

    @invariant()
    def some_channel_is_looked_at_while_there_is_one(self):
        assert (self.bench.channel is not None) == bool(self.bench.job.channels)
        channel = self.bench.channel
        wired = channel is not None and channel.has_pin
        assert self.bench.continuous is not None or self.bench.step in (
            ("describe", "wire", "wake") if wired else ("describe",)
        )

    @invariant()
    def every_channel_says_how_it_stands(self):
        for channel in self.bench.job.channels:
            assert state_of(self.bench.progress(channel)).says


AnyPerson.TestCase.settings = settings(max_examples=12, stateful_step_count=18, deadline=None)
TestAnyPerson = AnyPerson.TestCase


@pytest.fixture
def bench(demo_file):
    made = Workbench()
    made.open(demo_file)
    yield made
    made.close()


def test_one_signal_tells_what_changed(bench):
    seen = []
    bench.changed.connect(seen.append)
    bench.select("wt-206")
    bench.go("fit")
    bench.look_at_candidate("poly2")
    bench.look_at_candidate("poly2")
    bench.edit("title", lambda job: rename(job, "Other"))
    assert seen == [Change(channel=True), Change(step=True), Change(candidate=True), Change(job=True)]


def test_an_edit_that_changes_nothing_is_none(bench):
    before = bench.job.revision
    bench.edit("same", lambda job: rename(job, job.title))
    assert (bench.undo_text, bench.job.revision) == ("", before)


def test_a_refused_edit_leaves_everything_as_it_was(bench):
    before = bench.job
    with pytest.raises(YardstickError):
        bench.edit("bad", lambda job: use_curve(job, "it-207", "line", NOON))
    assert bench.job is before
    said = []
    bench.said.connect(lambda *words: said.append(words))
    assert not bench.try_edit("bad", lambda job: use_curve(job, "it-207", "line", NOON))
    assert said == [("That curve is not on offer: there is nothing to fit it to.", True)]


def test_a_new_edit_forgets_what_was_undone(bench):
    bench.edit("one", lambda job: rename(job, "One"))
    bench.undo()
    assert bench.redo_text == "one"
    bench.edit("two", lambda job: rename(job, "Two"))
    assert (bench.redo_text, bench.undo_text) == ("", "two")


def test_a_step_without_meaning_for_the_channel_is_not_gone_to(bench):
    bench.select("wq-212")
    bench.go("pack")
    assert bench.step == "describe"
    bench.select_next(-50)
    assert bench.channel.tag == "PT-201"
    bench.go_next(4)
    assert bench.step == "fit"
    bench.select("ps-211")
    assert bench.step == "describe"
    bench.go("wire")
    assert bench.step == "wire"
    bench.go("fit")
    assert bench.step == "wire"
    bench.select("pt-201")
    bench.go_next(99)
    assert bench.step == "sign"


def test_opening_another_job_lets_the_first_one_go(bench, tmp_path):
    first = bench.path
    bench.create(tmp_path / "new.yardstick.json", "New")
    other = Workbench()
    other.open(first)
    with pytest.raises(BadJob, match="open in another window"):
        bench.open(first)
    assert bench.job.title == "New"
    other.close()
    bench.open(first)
    assert bench.undo_text == ""
