"""The register's panel: the unit's drift and next visit, search, what is due, and what rests on an instrument."""

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QLineEdit, QListWidget, QListWidgetItem, QPushButton

from ...core.drift.interval import METHODS, Advice, advised, interval_before, later
from ...core.drift.leaving import leaving
from ...core.drift.words import drift_lines, leaving_words, rate_words, seen_words
from ...core.job.people import person_of
from ...core.state.progress import Level
from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import counted, parse_number
from ..frame.theme import Theme
from ..frame.workbench import Workbench, now
from ..panel.fields import ChoiceField, Complaint, TextField, heading, label
from ..panel.lead_box import Act, Headline
from ..panel.section import Section
from ..panel.step_panel import StepPanel
from .keys_box import KeysBox
from .library_box import LibraryBox
from .resting_box import RestingBox

if TYPE_CHECKING:
    from .shop import Shop, UnitSeen

_SHOWN = 12
_LIST_HEIGHT, _ROW_HEIGHT = 132, 17


class RegisterPanel(StepPanel):
    """What stands of the unit looked at, and the ways to others."""

    title = "Register"

    def __init__(self, bench: Workbench, theme: Theme, shop: "Shop") -> None:
        super().__init__(bench, theme)
        self._shop = shop
        self._method, self._reason, self._in_use = "control chart", "", True
        self.complaint = Complaint()
        self.drift = label("", "", 12)
        self.method = ChoiceField("Interval by", [(name, one.title) for name, one in METHODS.items()], self._put_method)
        self.why = label("", "muted", 12)
        self.months = TextField("or months", self._put_months, suffix="months", optional=True)
        self.reason = TextField("because", self._put_reason, hint="why other than advised", optional=True)
        self.in_use = ChoiceField("In use", (("yes", "yes"), ("no", "no, it lies in the store")), self._put_in_use)
        self.search = QLineEdit()
        self.search.setPlaceholderText("tag, serial, place, person, day, pass or fail")
        self.search.setAccessibleName("Find in the register")
        self.search.textChanged.connect(lambda _text: self._show_found())
        self.found = QListWidget()
        self.found.setAccessibleName("Records found")
        self.found.setFixedHeight(_LIST_HEIGHT)
        self.found.itemActivated.connect(self._look_at)
        self.found.itemClicked.connect(self._look_at)
        self.due_part = Section(bench, "register/due", "What is due", opened=True)
        self.due_list = QListWidget()
        self.due_list.setAccessibleName("What is due")
        self.due_list.itemActivated.connect(self._look_at)
        self.due_list.itemClicked.connect(self._look_at)
        self.save_due = QPushButton("Save the list …")
        self.save_due.clicked.connect(self.ask_due_file)
        self.due_part.add(self.due_list, self.save_due)
        self.resting_part = Section(bench, "register/resting", "An instrument was found wrong")
        self.resting = RestingBox(shop)
        self.resting_part.add(self.resting)
        self.library_part = Section(bench, "register/library", "The shop's library")
        self.library = LibraryBox(shop)
        self.library_part.add(self.library)
        self.keys_part = Section(bench, "register/keys", "Whose keys are trusted")
        self.keys = KeysBox(shop)
        self.keys_part.add(self.keys)
        self.place_part = Section(bench, "register/place", "Where the register is")
        self.place = TextField("URL", self._put_url, hint="a file beside the job", optional=True)
        self.place_words = label("", "muted", 12)
        self.place_part.add(self.place, self.place_words)
        for widget in (
            self.complaint, self.drift, self.method, self.why, self.months, self.reason,
            self.in_use, heading("Find: as found → as left"),
            self.search, self.found, self.due_part, self.resting_part, self.library_part, self.keys_part,
            self.place_part,
        ):  # fmt: skip
            self.body.addWidget(widget)
        self.body.addStretch(1)
        shop.changed.connect(self.show_now)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._shop.look("" if self._shop.unit is None else self._shop.unit.key)

    # -- the next visit ---------------------------------------------------------------------------------------------

    def _put_method(self, name: str) -> None:
        self._method = name
        self.show_now()

    def _put_months(self, _text: str) -> None:
        self.show_now()

    def _put_in_use(self, value: str) -> None:
        self._in_use = value == "yes"

    def _put_reason(self, text: str) -> None:
        self._reason = text
        self.show_now()

    @property
    def _own_months(self) -> int:
        """Other months than advised; 0 where none were typed. Raises: BadTable."""
        text = self.months.entries[0].text().strip()
        months = parse_number(text) if text else 0
        if months < 0 or months != int(months) or months > 1200:
            raise BadTable(f"Expected whole months, found {text}.")
        return int(months)

    def plan(self) -> None:
        """Keep when the unit is due."""
        from ...files.register.dues import put_due
        from ...files.register.visits import planned

        unit = self._shop.unit
        if unit is None or not unit.visits:
            return
        try:
            made = planned(unit.visits, self._method, self._own_months, self._reason)
            day = later(unit.visits[-1].day, made.months)
            with self._shop.register() as register:
                put_due(
                    register, unit.key, day, made.months, made.rule, made.why, person_of(self.bench.job, "technician")
                )
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self._shop.say(f"{unit.tag} is due on {day}: every {made.months} months by {made.rule}.", False)
        self._shop.look(unit.key)

    # -- others -----------------------------------------------------------------------------------------------------

    def _look_at(self, item: QListWidgetItem) -> None:
        self._shop.look(str(item.data(0x0100)))

    def _put_url(self, url: str) -> None:
        self._shop.change_url(url.strip())

    def ask_due_file(self) -> None:
        """Ask where the due list goes: a table or a calendar, by its ending."""
        kinds = "Calendars (*.ics);;Tables (*.csv)"
        name, chosen = QFileDialog.getSaveFileName(self, "Due list", "due.ics", kinds)
        if name:
            self.save_dues(name if "." in name else name + (".csv" if "csv" in chosen else ".ics"))

    def save_dues(self, name: str) -> None:
        """Save the due list to a file."""
        from pathlib import Path

        from ...files.output import put_text
        from ...files.register.dues import dues_calendar, dues_csv

        try:
            units = self._shop.due()
            made = dues_csv(units, now().date()) if name.endswith(".csv") else dues_calendar(units, now())
            put_text(Path(name), made)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self._shop.say(f"{counted(len(units), 'unit')} in {name}.", False)

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the unit looked at and the lists, as they now are."""
        unit = self._shop.unit
        has_visits = unit is not None and bool(unit.visits)
        for widget in (self.drift, self.method, self.why, self.months, self.reason, self.in_use):
            widget.setVisible(has_visits)
        if unit is not None and has_visits:
            self.drift.setText("\n".join(drift_lines(unit.visits)[1:3]) if unit.trend else "")
            self.drift.setVisible(unit.trend is not None)
            self.method.setVisible(unit.visits[-1].has_errors)
            self.method.show_value(self._method)
            advice = advised(unit.visits, interval_before(unit.visits))[self._method]
            source = METHODS[self._method].source
            told = f"{advice.months} months: {advice.why} ({source})." if isinstance(advice, Advice) else advice
            self.why.setText(told)
        self.place.show_values(self._shop.settings.register_url)
        self.place_words.setText(self._shop.refusal or f"Now: {self._shop.url}")
        self._show_found()
        self._show_due()

    def _show_found(self) -> None:
        self.found.clear()
        try:
            rows = self._shop.find(self.search.text())[:_SHOWN]
            unsigned = self._shop.find_unsigned(self.search.text())[: _SHOWN - len(rows)]
        except YardstickError as error:
            self.found.addItem(str(error))
            return
        for row in rows:
            found, left = (one.replace("not known", "?") for one in (row.found, row.left))
            words = f"{row.signed.date()}  {row.tag}  {row.serial or '–'}  {found} → {left}"
            self._add(self.found, words, row.unit)
        for one in unsigned:
            self._add(self.found, f"no record  {one.tag}  {one.serial or '–'}  {one.name}", one.unit)
        if not rows and not unsigned:
            self.found.addItem("Nothing is found." if self.search.text() else "The register is empty.")

    def _show_due(self) -> None:
        self.due_list.clear()
        try:
            units, on = self._shop.due(), now().date()
        except YardstickError as error:
            self.due_list.addItem(str(error))
            return
        for one in units:
            self._add(self.due_list, f"{one.due}  {one.tag}  {one.serial or '–'}  {one.state(on)}", one.unit)
        if not units:
            self.due_list.addItem("No unit has a day on which it is due.")
        late = sum(one.due < on for one in units)
        self.due_list.setFixedHeight(min(_ROW_HEIGHT * max(self.due_list.count(), 1) + 10, _LIST_HEIGHT))
        self.due_part.show_summary(f"{late} overdue of {len(units)}" if units else "")
        self.save_due.setEnabled(bool(units))

    @staticmethod
    def _add(rows: QListWidget, words: str, key: str) -> None:
        item = QListWidgetItem(words)
        item.setData(0x0100, key)
        rows.addItem(item)

    def lead(self) -> Headline | None:
        unit = self._shop.unit
        if self._shop.busy:
            return Headline("open", self._shop.busy, "What is known already can be found below.")
        if unit is None or not unit.visits:
            says = self._shop.refusal or "No record of this unit is in the register."
            acts = () if self.bench.continuous is None else (self.onward("sign"),)
            return Headline("fault" if self._shop.refusal else "open", says, "Or find another unit below.", acts)
        return self._lead_of(unit)

    def _lead_of(self, unit: "UnitSeen") -> Headline:
        acts = (self._plan_act(unit),)
        due = f"Due on {unit.due.due}. " if unit.due is not None else "No next visit is planned. "
        last = unit.visits[-1]
        if not last.has_errors:
            return Headline(self._level_of_contact(unit), due + seen_words(last), "", acts)
        if unit.trend is None:
            visits = counted(len(unit.visits), "visit")
            return Headline("open", f"{unit.tag}: {visits} in the register.", "The next one shows its drift.", acts)
        return Headline(self._level(unit), due + rate_words(unit.trend), leaving_words(unit.trend), acts)

    @staticmethod
    def _level_of_contact(unit: "UnitSeen") -> Level:
        """A fault where it is overdue, or was seen not to work."""
        late = unit.due is not None and unit.due.due < now().date()
        outcomes: dict[str, Level] = {"pass": "ok", "fail": "fault"}
        return "fault" if late else outcomes.get(unit.visits[-1].outcome, "open")

    @staticmethod
    def _level(unit: "UnitSeen") -> Level:
        """A fault where it is overdue, to look at where its band has left what is allowed by now."""
        today = now().date()
        if unit.due is not None and unit.due.due < today:
            return "fault"
        try:
            gone = None if unit.trend is None else leaving(unit.trend).may
        except YardstickError:
            gone = None
        return "look" if gone is not None and gone < today else "ok"

    def _plan_act(self, unit: "UnitSeen") -> Act:
        """Plan the next visit as it is advised or typed; where no method advises, a person says after how long."""
        from ...files.register.visits import planned

        try:
            made = planned(unit.visits, self._method, self._own_months, self._reason)
        except YardstickError:
            if self.months.entries[0].text().strip():
                return Act("Plan the next visit", self.plan)  # which says what is missing
            return self.goes_to("Say after how many months", self.months.entries[0])
        return Act(f"Plan the visit: {later(unit.visits[-1].day, made.months)}", self.plan)
