"""Gather: readings by hand, by paste or from a file; corrected, excluded and sorted in one table."""

from typing import TYPE_CHECKING, get_args

from ....core.document.channel import ContinuousChannel
from ....core.fit.inputs import repeats_of
from ....core.gather.advice import conflicts_of, next_stop
from ....core.gather.gathering import off_plan, referenced
from ....core.gather.guard import refusals
from ....core.gather.points import points_of
from ....core.journal.reading import Reading, Stimulated
from ....core.words.errors import NotApplicable
from ....core.words.numerals import counted, fixed, significant
from ...frame.theme import Theme, font
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, heading, label
from ...panel.readings_panel import ReadingsPanel, Seen
from ...panel.readings_table import DIRECTIONS
from ...panel.record_form import plain
from ...panel.step_panel import PanelKey

_MOST_CONFLICTS = 6

STIMULATED = [(one, one) for one in get_args(Stimulated)]

if TYPE_CHECKING:
    from .session import GatherSession


class GatherPanel(ReadingsPanel):
    """Readings a curve is fitted to."""

    title = "Gather readings"
    purpose = "gather"

    def __init__(self, bench: Workbench, theme: Theme, session: "GatherSession") -> None:
        from .live import LiveGathering

        super().__init__(bench, theme)
        self.session = session
        self._harmful: float | None = None
        self.live = LiveGathering(bench, session)
        self.stimulated = ChoiceField("Stimulated", STIMULATED, self._put_stimulated)
        self.instrument = ChoiceField("Typed values of", (), self._put_instrument)
        self.instrument.setToolTip("The reference instrument that typed values are read from (Shift+F4 describes them)")
        self._by_hand = heading("By hand")
        for at, widget in enumerate((self.live, self.stimulated, self.instrument, self._by_hand), 2):
            self.body.insertWidget(at, widget)
        session.live.connected.connect(lambda _on: self.show_now() if self.isVisible() else None)

    def _put_stimulated(self, text: str) -> None:
        self.session.stimulated = next(one for one in get_args(Stimulated) if one == text)

    def _put_instrument(self, key: str) -> None:
        chosen = next((one for one in self.bench.job.references if one.id == key), None)
        if chosen is not None and chosen.unit:  # refused if it measures something else
            stands_for = self.channel.in_unit(chosen.stands_for or 0.0, chosen.unit)[0]
            if chosen.stands_for is not None:
                self.form.reference.setText(plain(stands_for))
        self.session.instrument_id = key

    def _reading(self, seen: Seen, units: tuple[str, str], source: str) -> Reading:
        """With the instrument chosen for typed values, its corrections and uncertainty, and what was stimulated."""
        made = super()._reading(seen, units, source)
        said = referenced(
            self.channel, seen.reference, units[0], self.session.typed_instrument, made.captured.date()
        )  # fmt: skip
        return made.with_(**said.fields, stimulated=self.session.stimulated, orientation=self.session.orientation)

    def take_one(self, seen: Seen) -> None:
        """Capture one reading, at the stop gone to if it was taken there. Raises: what would harm, said once."""
        self._refuse_harm(seen.reference)
        session, channel, stop = self.session, self.channel, self.session.stop
        reading = self._reading(seen, (channel.unit, channel.unit), "typed")
        there = stop is not None and session.is_at_stop(channel, reading)
        if stop is not None and there:
            way = stop.direction if seen.direction == "not stated" else seen.direction
            reading = reading.with_(direction=way, set_value=stop.value)
        self.bench.capture([reading])
        if stop is not None and there:
            session.next()
        elif stop is not None:
            self.bench.said.emit(off_plan(channel, reading, stop, session.at), False)

    def _refuse_harm(self, value: float) -> None:
        """What would harm is taken down only as what happened already: when it is entered a second time."""
        harm = [one.says for one in refusals(self.channel, value, None) if one.is_harm]
        if harm and self._harmful != value:
            self._harmful = value
            raise NotApplicable(
                f"{harm[0]}. If it happened already, press “{self.add_words}” once more to take it down."
            )
        self._harmful = None

    def take_key(self, key: PanelKey) -> bool:
        """What the keys of the bench do here; without a live source a reading is taken as it is typed."""
        session = self.session
        acts = {"previous": session.previous, "next": session.next, "take": self.form.add}
        if session.live.is_on:
            acts |= {"take": session.take, "repeat": session.repeat}
        if key in acts:
            acts[key]()
        return key in acts

    def build_above_table(self) -> None:
        self._advice = label("", "muted", 12)
        self._conflicts = label("", "error", 12)
        self._covered = label("", "muted", 12)
        self._covered.setFont(font(12))
        for words in (self._covered, self._advice, self._conflicts):
            self.body.addWidget(words)
        self.body.addWidget(heading("Readings"))

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.continuous
        if channel is None:
            return
        self.show_table(channel)
        self.live.refresh()
        self.form.direction.offer([("not stated", "as the plan goes"), *DIRECTIONS[1:]])
        self._by_hand.setVisible(self.session.raw is not None)
        self.stimulated.show_value(self.session.stimulated)
        instruments = [(one.id, one.name) for one in self.bench.job.references]
        self.instrument.offer([("", "no instrument named"), *instruments])
        self.instrument.show_value(self.session.instrument_id)
        rows = self.bench.job.amended(channel.id, "gather")
        self.intro.setText(
            "Paste two columns from a spreadsheet, or type what the reference and the sensor said together."
            if not rows
            else "Each row is kept as it was read. Correct a figure in place; leave one out with a reason."
        )
        self._covered.setText(covered_sentence(self.bench, channel) if rows else "")
        self._covered.setVisible(bool(rows))
        self._show_advice(channel)

    def _show_advice(self, channel: ContinuousChannel) -> None:
        """Where the next reading helps most, and which readings contradict each other."""
        where, conflicts = next_stop(self.bench.job, channel), conflicts_of(self.bench.job, channel)
        words = (
            f"Helps most (ring on the Rule): {significant(where.value, 4)} {channel.unit}. {where.says}"
            if where
            else ""
        )
        self._advice.setText(words)
        self._advice.setVisible(bool(words))
        listed = [f"• {one.says}." for one in conflicts[:_MOST_CONFLICTS]]
        if len(conflicts) > _MOST_CONFLICTS:
            listed.append(f"• and {len(conflicts) - _MOST_CONFLICTS} more.")
        self._conflicts.setText("\n".join(["Readings that contradict each other:", *listed]) if conflicts else "")
        self._conflicts.setVisible(bool(conflicts))


def covered_sentence(bench: Workbench, channel: ContinuousChannel) -> str:
    """How many readings there are, at how many stops, and over which part of the range."""
    points = points_of(bench.job, channel)
    excluded = len(bench.job.amended(channel.id, "gather")) - len(points.rows)
    out = f", {excluded} excluded" if excluded else ""
    if not len(points.rows):
        return f"No readings in use{out}."
    low, high = float(points.reference.min()), float(points.reference.max())
    stops = len(set(repeats_of(channel, points).tolist()))
    share = (high - low) / channel.span
    where = f"{fixed(low, 2)} to {fixed(high, 2)} {channel.unit}"
    words = f"{counted(len(points.rows), 'reading')} at {counted(stops, 'stop')}, {where}{out}."
    return words + ("" if share >= 0.8 else f" They cover only {share:.0%} of the range: go further out.")
