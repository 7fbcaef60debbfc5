"""What every step keeps to, whatever it is about."""

from typing import get_args

import pytest
from acting import words

from able_yardstick.app.steps.all_steps import STEPS
from able_yardstick.app.steps.describe.panel import DescribePanel
from able_yardstick.app.steps.fit.panel import FitPanel
from able_yardstick.app.steps.gather.panel import GatherPanel
from able_yardstick.app.steps.pack.panel import PackPanel
from able_yardstick.app.steps.prove.contact_panel import ContactProvePanel
from able_yardstick.app.steps.prove.output_panel import OutputProvePanel
from able_yardstick.app.steps.prove.panel import ProvePanel
from able_yardstick.app.steps.sign.panel import SignPanel
from able_yardstick.app.steps.wake.panel import WakePanel
from able_yardstick.app.steps.wire.card import WireCard
from able_yardstick.app.steps.wire.output_panel import OutputWirePanel
from able_yardstick.app.steps.wire.panel import WirePanel
from able_yardstick.core.state.progress import STEP_NAMES, StepName, progress_of, steps_of


def test_each_name_has_its_step_in_their_order():
    assert tuple(STEPS) == STEP_NAMES == get_args(StepName)


PANELS = {
    "describe": DescribePanel, "wire": WirePanel, "wake": WakePanel, "gather": GatherPanel, "fit": FitPanel,
    "pack": PackPanel, "prove": ProvePanel, "sign": SignPanel,
}  # fmt: skip
OTHERS = {
    ("wire", "output"): OutputWirePanel, ("prove", "output"): OutputProvePanel,
    ("prove", "two-state"): ContactProvePanel,
}  # fmt: skip


def test_the_panels_of_other_kinds_are_these():
    assert {(name, kind) for name, step in STEPS.items() for kind in step.other_panels} == set(OTHERS)


@pytest.mark.parametrize("name", STEP_NAMES)
class TestEveryStep:
    """For a curved channel and, where they have the step, for a contact and a constant."""

    def test_its_panel_shows_every_channel_that_has_it(self, window, name):
        for channel in window.bench.job.channels:
            window.bench.select(channel.id)
            window.bench.go(name)
            assert (window.bench.step == name) == (name in steps_of(channel))
            step = window.bench.step
            assert isinstance(window.panel_shown, OTHERS.get((step, channel.kind), PANELS[step]))

    def test_the_centre_shows_its_legend_and_its_room_only(self, window, name):
        window.bench.select("at-208")
        window.bench.go(name)
        centre, step = window.centre, STEPS[name]
        assert step.legend in words(centre)
        assert centre.splitter.isVisible() == (step.room == "plots")
        assert any(one.isVisible() for one in centre.findChildren(WireCard)) == (step.room == "path")
        assert (centre.cause_card is not None and centre.cause_card.isVisible()) == (step.room == "live")
        assert centre.live_view is None or not centre.live_view.isVisible()  # nothing is connected

    def test_a_key_it_does_not_know_does_nothing(self, window, name):
        window.bench.select("at-208")
        window.bench.go(name)
        before = window.bench.job
        assert not window.panel_shown.take_key("repeat")
        assert window.bench.job is before

    def test_its_progress_says_what_stands(self, demo_job, name):
        for channel in demo_job.channels:
            step = progress_of(demo_job, channel)[STEP_NAMES.index(name)]
            assert step.step == name
            assert (step.state == "none") == (name not in steps_of(channel))
            assert step.says
