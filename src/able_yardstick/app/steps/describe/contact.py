"""The fields of a contact: its two levels, the threshold between them, what they mean."""

from ....core.document.channel import AnyChannel, TwoStateChannel
from ....core.stages import PulsePullUp
from ....core.words.numerals import parse_number
from ...panel.fields import TextField
from ...panel.lead_box import Headline
from ...panel.record_form import FieldRow, RecordForm, TickField, plain
from .lead import lead_of_contact
from .part_fields import Fields

_PULL_UP = (
    FieldRow("Pulled up by", ("resistance_ohm",), "Ω"),
    FieldRow("to", ("supply_v",), "V"),
    FieldRow("closed it is at", ("low_v",), "V"),
)


class ContactFields(Fields):
    """A two-state channel."""

    shows = TwoStateChannel
    noun = "Contact"

    def build(self) -> None:
        self.levels = TextField("Closed, open", self._put_levels, parts=2, between="and")
        self.threshold = TextField("Threshold", lambda text: self.put("threshold", threshold=parse_number(text)))
        self.dead_band = TextField("Dead band", lambda text: self.put("dead band", dead_band=parse_number(text)))
        self.meanings = TextField("They mean", self._put_meanings, parts=2, between="and")
        self.dry = TickField("it is dry: it gives no voltage of its own", self._put_dry)
        self.pulled = TickField("it is pulled up", self._put_pulled)
        self.pull_up = RecordForm(_PULL_UP, self._put_pull_up)
        self.add_to_top(self.levels, self.threshold, self.dead_band, self.meanings)
        self.add_to_top(self.dry, self.pulled, self.pull_up)

    def lead(self, channel: AnyChannel) -> Headline:
        """Where its state changes, and on to the wiring."""
        assert isinstance(channel, TwoStateChannel)
        return lead_of_contact(channel)._replace(acts=(self.panel.onward("wire"),))

    def _put_levels(self, closed: str, opened: str) -> None:
        self.put("levels", closed_level=parse_number(closed), open_level=parse_number(opened))

    def _put_meanings(self, closed: str, opened: str) -> None:
        self.put("meanings", closed_means=closed.strip(), open_means=opened.strip())

    def _put_dry(self, dry: bool) -> None:
        self.put("dry contact", needs_pull_up=dry)

    def _put_pulled(self, pulled: bool) -> None:
        self.put("pull-up", pull_up=PulsePullUp() if pulled else None)

    def _put_pull_up(self, changes: dict[str, object]) -> None:
        channel = self.panel.bench.channel
        if isinstance(channel, TwoStateChannel) and channel.pull_up is not None:
            self.put("pull-up", pull_up=channel.pull_up.with_(**changes))

    def show_channel(self, channel: AnyChannel) -> None:
        assert isinstance(channel, TwoStateChannel)
        self.levels.show_values(plain(channel.closed_level), plain(channel.open_level), suffix=channel.path.source)
        self.threshold.show_values(plain(channel.threshold), suffix=f"{channel.signal_unit} at the pin")
        self.dead_band.show_values(plain(channel.dead_band), suffix=channel.signal_unit)
        self.meanings.show_values(channel.closed_means, channel.open_means)
        self.dry.show_value(channel.needs_pull_up)
        self.pulled.show_value(channel.pull_up is not None)
        self.pull_up.setVisible(channel.pull_up is not None)
        if channel.pull_up is not None:
            self.pull_up.show_record(channel.pull_up)
