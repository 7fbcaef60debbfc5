"""Wire: the parts between transducer and converter, what the checks say of them, and the terminal they land on."""

from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout

from ....core.describe.derivation import derivation, top_sentence
from ....core.document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ....core.document.controller import CHASSIS, Landing
from ....core.document.nominal import nominal_curve
from ....core.path.signal_path import Path as SignalPath
from ....core.stages import STAGE_KINDS, Divider, Shunt, Stage
from ....core.units.electrical import KIND_NAMES
from ....core.wire.checks import findings_of
from ....core.wire.edits import land as land_edit
from ....core.wire.edits import (
    place_for,
    solved_stage,
    unland,
    with_stage,
    with_stage_changed,
    without_stage,
)
from ....core.wire.error_budget import Budget, at_ends_and_middle, budget_at
from ....core.wire.landing import landed, offers
from ....core.words.errors import NotApplicable, YardstickError
from ....core.words.numerals import parse_number, significant
from ...centre.sight import Sight
from ...frame.theme import Theme
from ...frame.widgets import discard
from ...frame.workbench import Workbench
from ...panel.bar_table import Bar, BarTable, origin_words
from ...panel.fields import ChoiceField, Complaint, TextField, label
from ...panel.lead_box import Act, Headline
from ...panel.record_form import FieldRow, RecordForm, plain
from ...panel.section import Section
from ...panel.step_panel import StepPanel
from .controllers_button import ControllersButton
from .lead import counted_findings, lead_of_wiring, leads_summary, way_of
from .pairs_box import PairsBox
from .parts import CheckList, Fold, StageBlock, TerminalTable
from .stage_rows import CONVERTER_ROWS, STAGE_ROWS
from .unmarked_box import UnmarkedBox

_LANDING_ROWS = (
    FieldRow("Cable", ("length_m", "lead_ohm"), "m, Ω", between=","),
    FieldRow("Shield", ("shield",), kind="text", optional=True, hint="not said"),
    FieldRow("the controller has this input enabled", ("enabled",), kind="tick"),
)
_BUDGET_WAIT_MS = 40
# parts that can be solved backwards: the row's title, what is typed, its unit
_SOLVED: dict[type, tuple[str, str, str]] = {
    Divider: ("Solve for", "top voltage", "V"),
    Shunt: ("Solve for", "headroom", "%"),
}


class WirePanel(StepPanel):
    """The panel of the Wire step."""

    title = "Wire the signal path"

    def __init__(self, bench: Workbench, theme: Theme, sight: Sight) -> None:
        super().__init__(bench, theme)
        self._sight = sight
        self._blocks: list[StageBlock] = []
        self._kinds: list[type] = []
        self._build_checks()
        self._build_path()
        self._build_terminals()
        self._build_budget()
        self.body.addStretch(1)
        self.action("Copy the sums", self.copy_sums)
        self._list_button = self.action("Wiring list …", self.open_list_menu)
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.timeout.connect(self._show_budget)
        sight.moved.connect(self._soon)

    # -- building ---------------------------------------------------------------------------------------------------

    def _build_path(self) -> None:
        self.path = Section(self.bench, "wire/path", "Path to the converter", opened=True)
        self.body.addWidget(self.path)
        self._path_room = QVBoxLayout()
        self._path_room.setSpacing(3)
        self.path.column.addLayout(self._path_room)
        self.converter = StageBlock(CONVERTER_ROWS, self._put_converter, fixed=True)
        self.converter.title.toggled.connect(lambda: self.refresh())
        self.top_words = label("", "muted", 12)
        self.path.add(self.converter, self.top_words)
        self.sums = Fold("The sums, step by step")
        self.sums.opened.connect(lambda: self.refresh())
        self.add_button = QToolButton()
        self.add_button.setText("Add a part  ▾")
        self.add_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.add_menu = QMenu(self.add_button)
        self.add_menu.aboutToShow.connect(self._fill_add_menu)
        self.add_button.setMenu(self.add_menu)
        self.pairs = PairsBox(self._put_measured)
        self.complaint = Complaint()
        self.path.add(self.add_button, self.pairs, self.sums, self.complaint)

    def _build_checks(self) -> None:
        self.checked = Section(self.bench, "wire/checks", "What the checks say", opened=True)
        self.body.addWidget(self.checked)
        self.checks = CheckList(self.theme)
        self.checked.add(self.checks)

    def _build_terminals(self) -> None:
        self.landing = Section(self.bench, "wire/terminal", "Terminal", opened=True)
        self.body.addWidget(self.landing)
        self.landed_words = label("", "muted", 12)
        self.landing.add(self.landed_words)
        self.terminals = TerminalTable()
        self.terminals.itemSelectionChanged.connect(self._show_land_button)
        self.terminals.cellDoubleClicked.connect(lambda *_: self.land())
        self.landing.add(self.terminals)
        row = QHBoxLayout()
        self.land_button, self.off_button = QPushButton("Land it here"), QPushButton("Take it off")
        self.land_button.clicked.connect(lambda: self.land())
        self.off_button.clicked.connect(lambda: self.take_off())
        row.addWidget(self.land_button, 2)
        row.addWidget(self.off_button, 1)
        self.landing.column.addLayout(row)
        self.controllers = ControllersButton(self.bench)
        self.controllers.refused.connect(lambda words: self.complaint.setText(words))
        self.landing.add(self.controllers)
        self._build_leads()

    def _build_leads(self) -> None:
        self.leads = Section(self.bench, "wire/leads", "Leads and cable")
        self.body.addWidget(self.leads)
        self.back = ChoiceField("Return to", [], self._put_back)
        self.supply = ChoiceField("Supply from", [], lambda text: self._put_landing("supply", supply=text))
        self.landing_form = RecordForm(_LANDING_ROWS, lambda changes: self._put_landing("cable", **changes))
        self._leads_title = label("Leads by colour", "muted", 12)
        self._leads_room = QVBoxLayout()
        self._leads_room.setSpacing(5)
        self._leads: list[TextField] = []
        self.unmarked = UnmarkedBox()
        self.unmarked_part = Section(self.bench, "wire/unmarked", "Leads without marks")
        self.unmarked_part.add(self.unmarked)
        self.unmarked_part.show_summary("told apart by a meter")
        self.body.addWidget(self.unmarked_part)
        self.leads.add(self.back, self.supply, self.landing_form, self._leads_title)
        self.leads.column.addLayout(self._leads_room)

    def _build_budget(self) -> None:
        self.uncalibrated = Section(self.bench, "wire/budget", "Error before any calibration", opened=True)
        self.body.addWidget(self.uncalibrated)
        self.budget = BarTable("Error budget at the hairline")
        self.budget_words = label("", "muted", 12)
        self.uncalibrated.add(self.budget_words, self.budget)

    # -- sending back -----------------------------------------------------------------------------------------------

    @property
    def wired(self) -> WiredChannel:
        """The channel looked at. Raises: NotApplicable if it has no pin."""
        channel = self.bench.channel
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            raise NotApplicable("This step needs a channel with a pin.")
        return channel

    def _put_path(self, what: str, **fields: Any) -> None:
        channel = self.wired
        self.change(f"{channel.tag}: {what}", channel.with_(path=channel.path.with_(**fields)))

    def _put_stage(self, at: int, changes: dict[str, Any]) -> None:
        channel = self.wired
        title = channel.path.stages[at].title.lower()
        self.change(f"{channel.tag}: {title}", with_stage_changed(channel, at, changes))

    def _put_measured(self, path: SignalPath, what: str) -> None:
        channel = self.wired
        self.change(f"{channel.tag}: {what}", channel.with_(path=path))

    def _put_converter(self, changes: dict[str, Any]) -> None:
        before = self.wired.path.converter
        bits = changes.get("bits", before.bits)
        if bits != before.bits and changes.get("full_count") == before.full_count and 1 <= bits <= 32:
            changes["full_count"] = 2**bits - 1
        self._put_path("converter", converter=before.with_(**changes))

    def _try(self, act: Any) -> None:
        try:
            act()
            self.complaint.setText("")
        except YardstickError as error:
            self.complaint.setText(str(error))

    def add_stage(self, kind: type[Stage]) -> None:
        """Put a part where its kind of signal arrives, as late as it can be."""
        self._try(lambda: self._put_path(f"{kind.title.lower()} added", **with_stage(self.wired.path, kind)))

    def _move_stage(self, at: int, places: int) -> None:
        stages = list(self.wired.path.stages)
        to = min(max(at + places, 0), len(stages) - 1)
        stages.insert(to, stages.pop(at))
        self._try(lambda: self._put_path("order of the path", stages=tuple(stages)))

    def _remove_stage(self, at: int) -> None:
        stages = self.wired.path.stages
        self._try(lambda: self._put_path(f"{stages[at].title.lower()} removed", **without_stage(self.wired.path, at)))

    def _put_landing(self, what: str, **fields: Any) -> None:
        channel = self.wired
        if channel.landing is not None:
            self.change(f"{channel.tag}: {what}", channel.with_(landing=channel.landing.with_(**fields)))

    def _put_back(self, text: str) -> None:
        landing = self.wired.landing
        if landing is not None:
            leads = tuple(
                lead.with_(terminal=text) if lead.terminal == landing.return_to else lead for lead in landing.leads
            )
            self._put_landing("return", return_to=text, leads=leads)

    def _put_colour(self, at: int, colour: str) -> None:
        landing = self.wired.landing
        if landing is not None:
            leads = list(landing.leads)
            leads[at] = leads[at].with_(colour=colour.strip())
            self._put_landing("colour of a lead", leads=tuple(leads))

    def land(self) -> None:
        """Land the channel on the terminal picked."""
        offer = self.terminals.picked()
        if offer is None:
            return
        channel = self.wired
        self._try(
            lambda: self.bench.edit(
                f"{channel.tag} on {offer.terminal.title}",
                lambda job: land_edit(job, channel.id, offer.controller.id, offer.terminal.id),
            )
        )

    def take_off(self) -> None:
        """Take the channel off its terminal."""
        channel = self.wired
        self._try(lambda: self.bench.edit(f"{channel.tag} off", lambda job: unland(job, channel.id)))

    # -- menus and lists --------------------------------------------------------------------------------------------

    def _fill_add_menu(self) -> None:
        self.add_menu.clear()
        for kind in STAGE_KINDS:
            if place_for(self.wired.path, kind) is not None:
                self.add_menu.addAction(_menu_words(kind), partial(self.add_stage, kind))

    def copy_sums(self) -> None:
        """Put the whole derivation on the clipboard."""
        from PySide6.QtGui import QGuiApplication

        channel = self.bench.continuous
        if channel is None:
            return
        lines = derivation(self.bench.job, channel)
        QGuiApplication.clipboard().setText("\n".join(lines))
        self.bench.said.emit(f"{len(lines)} lines copied: the sums of {channel.tag}, step by step.", False)

    def list_menu(self) -> QMenu:
        """What can be done with the wiring list."""
        menu = QMenu(self)
        menu.addAction("Copy as text", self.copy_list)
        menu.addAction("Save as CSV …", lambda: self.ask_list("csv"))
        menu.addAction("Save as PDF, with the drawing …", lambda: self.ask_list("pdf"))
        return menu

    def open_list_menu(self) -> None:
        """Offer what can be done with the wiring list."""
        menu = self.list_menu()
        menu.popup(self._list_button.mapToGlobal(self._list_button.rect().bottomLeft()))

    def copy_list(self) -> None:
        """Put the wiring list of the job on the clipboard as text."""
        from PySide6.QtGui import QGuiApplication

        from ....files.wiring import wiring_text

        QGuiApplication.clipboard().setText(wiring_text(self.bench.job))
        self.bench.said.emit("The wiring list of the whole job is copied.", False)

    def ask_list(self, kind: str) -> None:
        """Ask where the wiring list goes and write it."""
        name, _ = QFileDialog.getSaveFileName(self, "Wiring list", f"wiring.{kind}", f"{kind.upper()} (*.{kind})")
        if name:
            self._try(lambda: self.save_list(Path(name), kind))

    def save_list(self, path: Path, kind: str) -> None:
        """Write the wiring list of the whole job. Raises: BadTable if it cannot be written."""
        if kind == "csv":
            from ....files.wiring import save_wiring_csv

            save_wiring_csv(path, self.bench.job)
        else:
            from ....files.output import refuse_over
            from .page import save_wiring_pdf

            refuse_over(path)
            save_wiring_pdf(path, self.bench.job)
        self.bench.said.emit(f"The wiring list is in {path}.", False)

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.channel
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return
        self._show_path(channel)
        findings = findings_of(self.bench.job, channel)
        self.checked.show_summary(counted_findings(findings))
        self.checks.show_findings(findings, self.theme)
        self._show_terminals(channel)
        self.unmarked.show_channel(channel)
        self._show_budget()

    def lead(self) -> Headline | None:
        """What the checks say, and what is to be done about it."""
        channel = self.bench.channel
        if not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return None
        lead = lead_of_wiring(self.bench.job, channel)
        acts = {
            "fault": (self.goes_to("Show what is wrong", self.checks),),
            "open": (self.goes_to("Choose a terminal", self.terminals),),
        }
        if lead.level == "open" and not self.bench.job.controllers:
            acts["open"] = (Act("Add the controller", self.controllers.showMenu),)
        return lead._replace(acts=acts.get(lead.level, (self.onward("wake"),)))

    def forget(self) -> None:
        """Drop what was typed and not taken."""
        super().forget()
        self.pairs.drop()
        self.unmarked.drop()
        self.complaint.setText("")

    def _show_path(self, channel: WiredChannel) -> None:
        stages = channel.path.stages
        kinds = [type(stage) for stage in stages]
        if kinds != self._kinds:
            self._rebuild(kinds)
        for block, stage in zip(self._blocks, stages, strict=True):
            block.show_stage(stage.title, stage.caption, stage)
        converter = channel.path.converter
        caption = f"{plain(converter.low)} to {plain(converter.high)} {converter.unit}, {converter.bits} bit"
        self.converter.show_stage("Converter", caption, converter, pin=converter.unit)
        if isinstance(channel, ContinuousChannel) and self.converter.title.isChecked():
            self.top_words.setText(top_sentence(channel))
        self.top_words.setVisible(isinstance(channel, ContinuousChannel) and self.converter.title.isChecked())
        self.path.show_summary(way_of(channel))
        self.pairs.show_path(channel.path)
        self.pairs.setVisible(channel.path.pin_unit == "V")
        self.sums.setVisible(isinstance(channel, ContinuousChannel))
        if isinstance(channel, ContinuousChannel) and self.sums.is_open:
            self.sums.show_text("\n".join(derivation(self.bench.job, channel)[1:]))

    def _rebuild(self, kinds: list[type]) -> None:
        for block in self._blocks:
            discard(block)
        self._kinds, self._blocks = kinds, []
        for at, kind in enumerate(kinds):
            block = StageBlock(STAGE_ROWS[kind], partial(self._put_stage, at))
            if kind in _SOLVED:
                title, hint, suffix = _SOLVED[kind]
                block.add_solver(title, hint, suffix, partial(self._solve, at))
            block.moved.connect(partial(self._move_stage, at))
            block.removed.connect(partial(self._remove_stage, at))
            self._path_room.addWidget(block)
            self._blocks.append(block)

    def _solve(self, at: int, wanted: str, series: str) -> None:
        """Choose the preferred parts for what is wanted of a divider or a shunt. Raises: what cannot be solved."""
        path = self.wired.path
        load = path.loads[at]
        changes = solved_stage(path, at, parse_number(wanted), series.strip().upper() or "E24", load)
        self._put_stage(at, changes)

    def block(self, at: int) -> StageBlock:
        """The block of the n-th stage."""
        return self._blocks[at]

    def _show_terminals(self, channel: WiredChannel) -> None:
        job = self.bench.job
        place = landed(job, channel)
        has_controllers = bool(job.controllers)
        self.terminals.setVisible(has_controllers)
        self.land_button.setVisible(has_controllers)
        self.off_button.setVisible(channel.landing is not None)
        if place is not None:
            words = f"Lands on {place.terminal.full_title} of {place.controller.name}, set to {place.kind.name}."
            if place.terminal.use == "watched only":
                words += " It may be watched, not used for control."
        else:
            words = "Choose a terminal that takes the signal." if has_controllers else "Add the controller first."
        self.landed_words.setText(words)
        self.landing.show_summary("not landed yet" if place is None else place.terminal.full_title)
        if has_controllers:
            fitting = [offer for offer in offers(job, channel) if offer.kind is not None]
            self.terminals.show_offers(fitting, self.theme)
            if not fitting:
                self.landed_words.setText(
                    f"No terminal takes {KIND_NAMES[channel.path.pin_unit]}: add another controller."
                )
        self._show_land_button()
        self._show_leads(channel)

    def _show_land_button(self) -> None:
        offer = self.terminals.picked()
        self.land_button.setEnabled(offer is not None and offer.standing != "yours")
        self.land_button.setText(f"Land it on {offer.terminal.title}" if offer else "Land it on …")

    def _show_leads(self, channel: WiredChannel) -> None:
        landing, place = channel.landing, landed(self.bench.job, channel)
        shown = landing is not None and place is not None
        self.leads.setVisible(shown)
        leads = landing.leads if shown and landing else ()
        while len(self._leads) > len(leads):
            discard(self._leads.pop())
        while len(self._leads) < len(leads):
            at = len(self._leads)
            field = TextField("", partial(self._put_colour, at), hint="colour not noted", optional=True)
            self._leads_room.addWidget(field)
            self._leads.append(field)
        if landing is None or place is None:
            return
        self.leads.show_summary(leads_summary(landing))
        returns = [(one.id, one.title) for one in place.controller.terminals if one.role == "return"]
        self.back.offer([("", "not landed"), *returns, (CHASSIS, "chassis")])
        self.back.show_value(landing.return_to)
        supplies = [
            (one.id, f"{one.title}, {one.supply_v:g} V")
            for one in place.controller.terminals
            if one.supply_v is not None
        ]
        self.supply.offer([("", "none of the controller's"), *supplies])
        self.supply.show_value(landing.supply)
        self.landing_form.show_record(landing)
        self._show_colours(landing)

    def _show_colours(self, landing: Landing) -> None:
        for field, lead in zip(self._leads, landing.leads, strict=True):
            where = "chassis" if lead.terminal == CHASSIS else lead.terminal or "?"
            field.show_title(lead.function)
            field.entries[0].setAccessibleName(f"Colour of {lead.function}")
            field.show_values(lead.colour, suffix=f"→ {where}")

    # -- the budget -------------------------------------------------------------------------------------------------

    def _soon(self) -> None:
        if self.isVisible() and not self._wait.isActive():
            self._wait.start(_BUDGET_WAIT_MS)

    def _show_budget(self) -> None:
        channel = self.bench.continuous
        rated = channel is not None and channel.transducer.rating.kind != "unrated"
        self.uncalibrated.setVisible(rated)
        if channel is None or not rated:
            return
        unit = channel.unit
        try:
            curve = nominal_curve(channel)
            assert curve is not None
            low, high = channel.range
            value = float(np.clip(float(curve.value(self._sight.pin)), low, high))
            budget = budget_at(channel, value)
            along = " · ".join(
                f"±{significant(one.expanded, 3)} at {significant(one.value, 4)}" for one in at_ends_and_middle(channel)
            )
        except YardstickError as error:
            self.budget.show_bars("", (), self.theme)
            self.budget_words.setText(str(error))
            return
        self.uncalibrated.show_summary(f"{along} {unit}")
        self.budget_words.setText(f"Expanded, 95 %, along the range: {along} {unit}. {budget.remark}".strip())
        self.budget.show_bars(f"at {significant(value, 4)} {unit}: u, {unit}", budget_bars(budget), self.theme)


def _menu_words(kind: type[Stage]) -> str:
    return f"{kind.title}   ({kind.takes} → {kind.gives})"


def budget_bars(budget: Budget) -> list[Bar]:
    """Every row of a budget, and what they come to."""
    most = max((row.standard for row in budget.rows), default=1.0) or 1.0
    rows = [Bar(row.name, significant(row.standard, 2), row.standard / most, origin_words(row)) for row in budget.rows]
    factor = significant(budget.interval.factor, 3)
    rows.append(Bar("combined, root of squares", significant(budget.combined, 3), heavy=True))
    rows.append(Bar(f"expanded, 95 % (k = {factor})", f"±{significant(budget.expanded, 3)}", heavy=True))
    return rows
