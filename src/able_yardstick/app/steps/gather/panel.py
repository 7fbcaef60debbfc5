"""Gather: readings by hand, by paste or from a file; corrected, excluded and sorted in one table."""

from functools import partial
from typing import TYPE_CHECKING, get_args

from PySide6.QtWidgets import QMenu, QToolButton

from ....core.document.channel import ContinuousChannel
from ....core.document.reference import Reference
from ....core.gather.advice import conflicts_of
from ....core.gather.gathering import off_plan
from ....core.gather.guard import refusals
from ....core.gather.natural_stops import NaturalStop, natural_stops
from ....core.job.instruments import change_reference
from ....core.journal.reading import Reading, Stimulated
from ....core.state.progress import Level
from ....core.words.errors import NotApplicable
from ...frame.theme import Theme
from ...frame.workbench import Workbench, new_id
from ...panel.fields import ChoiceField, heading, label
from ...panel.instrument_row import InstrumentRow
from ...panel.lead_box import Act, Headline
from ...panel.readings_panel import ReadingsPanel, Seen
from ...panel.readings_table import DIRECTIONS
from ...panel.record_form import plain
from ...panel.section import Section
from ...panel.step_panel import PanelKey
from .lead import covered_sentence, lead_of_readings

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
        self.lead_box.adopt(self.live.take)
        self.stimulated = ChoiceField("Stimulated", STIMULATED, self._put_stimulated)
        self._by_hand = heading("By hand")
        self.planned = Section(bench, "gather/plan", "Plan")
        self.planned.add(*self.live.settings, self.stimulated)
        for at, widget in enumerate((self.live, self.planned, self._by_hand)):
            self.body.insertWidget(at, widget)
        self._build_natural()
        session.live.connected.connect(lambda _on: self.show_now() if self.isVisible() else None)

    def _build_natural(self) -> None:
        """A button beside those that paste: what nature gives, with its uncertainty, by one press."""
        self.natural = QToolButton()
        self.natural.setText("By nature  ▾")
        self.natural.setToolTip("A reference that needs no instrument: melting ice, open to the air, nothing on it")
        self.natural.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.natural)
        menu.aboutToShow.connect(lambda: self._fill_natural(menu))
        self.natural.setMenu(menu)
        self._source_row.addWidget(self.natural)

    def _fill_natural(self, menu: QMenu) -> None:
        menu.clear()
        for stop in natural_stops(self.channel):
            menu.addAction(stop.words, partial(self.take_natural, stop))

    def take_natural(self, stop: NaturalStop) -> None:
        """Put a natural value into the form, with its uncertainty: only what the sensor says is still to be typed."""
        known = next((one for one in self.bench.job.references if one.name == stop.words), None)
        if known is None:
            known = stop.reference(new_id())
            made = known
            if not self.bench.try_edit(f"reference {made.name}", lambda job: change_reference(job, made)):
                return
        self.session.instrument_id = known.id
        self.refresh()
        self.form.reference.setText(plain(self.channel.in_unit(stop.value.value, stop.value.unit)[0]))
        self.form.raw.setFocus()

    def _put_stimulated(self, text: str) -> None:
        self.session.stimulated = next(one for one in get_args(Stimulated) if one == text)

    def _put_instrument(self, key: str) -> None:
        chosen = next((one for one in self.bench.job.references if one.id == key), None)
        if chosen is not None and chosen.unit and chosen.stands_for is not None:
            self.form.reference.setText(plain(self.channel.in_unit(chosen.stands_for, chosen.unit)[0]))
        self.session.instrument_id = key

    def _reading(self, seen: Seen, units: tuple[str, str], source: str) -> Reading:
        """With what was stimulated."""
        made = super()._reading(seen, units, source)
        return made.with_(stimulated=self.session.stimulated, orientation=self.session.orientation)

    @property
    def typed_instrument(self) -> Reference | None:
        """The instrument that typed values are read off."""
        return self.session.typed_instrument

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
        self.instrument = InstrumentRow(self.bench, "gather", lambda: self.session.instrument_id, self._put_instrument)
        self.body.addWidget(self.instrument)
        self._conflicts = label("", "error", 12)
        self._rows_title = heading("Readings")
        self._rows_title.setWordWrap(True)
        self.body.addWidget(self._conflicts)
        self.body.addWidget(self._rows_title)

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
        self.instrument.refresh()
        self.natural.setVisible(bool(natural_stops(channel)))
        self.planned.show_summary(self._plan_words(channel))
        rows = self.bench.job.amended(channel.id, "gather")
        self._rows_title.setText(covered_sentence(self.bench.job, channel) if rows else "Readings")
        self._show_conflicts(channel)

    def _plan_words(self, channel: ContinuousChannel) -> str:
        """The plan in a few words, for as long as it is folded."""
        plan = channel.stop_plan
        stops = f"{len(plan.typed)} stops" if plan.typed else f"{plan.spread} stops, {plan.cycles} up and down"
        return f"{stops}; {self.session.stimulated}"

    def lead(self) -> Headline | None:
        """How far the readings reach, and where the next one helps most."""
        channel = self.bench.continuous
        if channel is None:
            return None
        lead = lead_of_readings(self.bench.job, channel)
        paste, typed = Act("Paste cells", self.paste), self.goes_to("Type one", self.form.reference)
        acts: dict[Level, tuple[Act, ...]] = {"ok": (self.onward("fit"), typed), "open": (paste, typed)}
        if self.live.take.isVisibleTo(self):
            acts = {"ok": (self.onward("fit"),), "open": ()}
        conflict = (self.goes_to("Show which", self._conflicts),)
        return lead._replace(acts=acts.get(lead.level, conflict))

    def _show_conflicts(self, channel: ContinuousChannel) -> None:
        """Which readings contradict each other."""
        conflicts = conflicts_of(self.bench.job, channel)
        listed = [f"• {one.says}." for one in conflicts[:_MOST_CONFLICTS]]
        if len(conflicts) > _MOST_CONFLICTS:
            listed.append(f"• and {len(conflicts) - _MOST_CONFLICTS} more.")
        self._conflicts.setText("\n".join(["Readings that contradict each other:", *listed]) if conflicts else "")
        self._conflicts.setVisible(bool(conflicts))
