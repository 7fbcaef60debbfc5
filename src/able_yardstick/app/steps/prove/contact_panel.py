"""Prove for a contact: its two states are rehearsed, there and back, and each break."""

from ....core.alarms.rehearsal import RehearsalStep, rehearsal_of, rehearse
from ....core.document.channel import TwoStateChannel
from ....core.words.errors import NotApplicable
from ...frame.live import LiveBench
from ...frame.theme import Theme
from ...frame.workbench import Workbench, now
from ...panel.lead_box import Headline
from ...panel.step_panel import StepPanel
from .rehearsal_box import KnobsPort, RehearsalBox


class ContactProvePanel(StepPanel):
    """The panel of the Prove step for a contact."""

    title = "Prove the contact"

    def __init__(self, bench: Workbench, theme: Theme, live: LiveBench, knobs_port: KnobsPort) -> None:
        super().__init__(bench, theme)
        self.rehearsal = RehearsalBox(self._rehearsed)
        self.rehearsal.follow(live, knobs_port)
        self.body.addWidget(self.rehearsal)
        self.body.addStretch(1)

    @property
    def contact(self) -> TwoStateChannel:
        """The contact looked at. Raises: NotApplicable with another channel."""
        channel = self.bench.channel
        if not isinstance(channel, TwoStateChannel):
            raise NotApplicable("This panel needs a contact.")
        return channel

    def _rehearsed(self, step: RehearsalStep, as_expected: bool, delay_s: float | None) -> None:
        channel = self.contact
        self.bench.record(lambda job: rehearse(job, channel.id, step, as_expected, delay_s, now()))

    def refresh(self) -> None:
        """Show the contact looked at, as it now is."""
        channel = self.bench.channel
        if isinstance(channel, TwoStateChannel):
            self.rehearsal.show_rows(rehearsal_of(self.bench.job, channel), channel)

    def lead(self) -> Headline | None:
        """How much of it was seen to work."""
        channel = self.bench.channel
        if not isinstance(channel, TwoStateChannel):
            return None
        rows = rehearsal_of(self.bench.job, channel)
        failed = [row.step.name for row in rows if row.record is not None and not row.record.as_expected]
        tried = sum(row.record is not None for row in rows)
        act = self.goes_to("Answer the next one", self.rehearsal.came)
        more = "A contact is proven by seeing both of its states, and what each break reads like, at the controller."
        if failed:
            return Headline("fault", f"Not as expected: {', '.join(failed)}.", more, (act,))
        if tried < len(rows):
            return Headline("open", f"{tried} of {len(rows)} rehearsed.", more, (act,))
        return Headline("ok", f"Proven: all {len(rows)} were as expected.", more)
