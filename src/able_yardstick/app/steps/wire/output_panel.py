"""Wire for an output: the terminal that gives its signal, the driver behind it, and what the checks say."""

from typing import Any

from ....core.document.output import OutputChannel
from ....core.outputs.findings import output_findings
from ....core.outputs.landing import OutputOffer, land_output, output_landed, output_offers, unland_output
from ....core.words.numerals import counted
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, Complaint, label
from ...panel.lead_box import Act, Headline
from ...panel.record_form import FieldRow, RecordForm
from ...panel.section import Section
from ...panel.step_panel import StepPanel
from .controllers_button import ControllersButton
from .lead import counted_findings
from .parts import CheckList

_DRIVER_ROWS = (
    FieldRow("Gives", ("low", "high"), "{unit}", between="to"),
    FieldRow("by counts", ("zero_count", "full_count"), kind="whole", between="to"),
    FieldRow("May be off by", ("within_percent",), "% of span"),
    FieldRow("Load at most", ("most_load_ohm",), "Ω", optional=True, only_if=lambda driver: driver.unit == "mA"),
    FieldRow("Load at least", ("least_load_ohm",), "Ω", optional=True, only_if=lambda driver: driver.unit == "V"),
)
_LOAD_ROWS = (FieldRow("Hangs on it", ("load_ohm",), "Ω", optional=True, hint="load and leads"),)


class OutputWirePanel(StepPanel):
    """The panel of the Wire step for an output."""

    title = "Wire the output"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self._offers: list[OutputOffer] = []
        self.checked = Section(bench, "wire/checks", "What the checks say", opened=True)
        self.checks = CheckList(theme)
        self.checked.add(self.checks)
        self.place = Section(bench, "wire/terminal", "Terminal", opened=True)
        self.landed_words = label("", "muted", 12)
        self.terminal = ChoiceField("Terminal", [], self._put_terminal)
        self.controllers = ControllersButton(bench)
        self.complaint = Complaint()
        self.controllers.refused.connect(self.complaint.setText)
        self.load = RecordForm(_LOAD_ROWS, lambda changes: self._put("load", **changes))
        self.place.add(self.landed_words, self.terminal, self.load, self.controllers, self.complaint)
        self.part = Section(bench, "wire/driver", "Driver behind it", opened=True)
        self.driver = RecordForm(_DRIVER_ROWS, self._put_driver)
        self.part.add(self.driver)
        for section in (self.checked, self.place, self.part):
            self.body.addWidget(section)
        self.body.addStretch(1)

    def _put(self, what: str, **fields: Any) -> None:
        channel = self.output
        self.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def _put_driver(self, changes: dict[str, Any]) -> None:
        driver = self.output.driver
        if "full_count" in changes and changes["full_count"] != driver.full_count and driver.most_count is not None:
            changes["most_count"] = max(driver.most_count, changes["full_count"])
        self._put("driver", driver=driver.with_(**changes))

    def _put_terminal(self, key: str) -> None:
        channel = self.output
        if not key:
            self.bench.edit(f"{channel.tag} off", lambda job: unland_output(job, channel))
            return
        offer = self._offers[int(key)]
        self.bench.edit(f"{channel.tag} on {offer.terminal.title}", lambda job: land_output(job, channel, offer))

    def forget(self) -> None:
        """Drop what was typed and not taken."""
        super().forget()
        self.complaint.setText("")

    # -- showing ----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the output looked at, as it now is."""
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            return
        findings = output_findings(self.bench.job, channel)
        self.checked.show_summary(counted_findings(findings))
        self.checks.show_findings(findings, self.theme)
        self._show_terminals(channel)
        driver = channel.driver
        self.driver.show_record(driver, unit=driver.unit)
        self.load.show_record(channel)
        self.part.show_summary(f"{driver.low:g} to {driver.high:g} {driver.unit}, {driver.zero_count} to "
                               f"{driver.full_count}")  # fmt: skip

    def _show_terminals(self, channel: OutputChannel) -> None:
        job, place = self.bench.job, output_landed(self.bench.job, channel)
        self._offers = output_offers(job, channel)
        several = len({offer.controller.id for offer in self._offers}) > 1
        choices = [("", "on no terminal")]
        shown = ""
        for at, offer in enumerate(self._offers):
            whose = f" of {offer.controller.name}" if several else ""
            why = f", {offer.why_not}" if offer.why_not else ""
            choices.append((str(at), f"{offer.terminal.title}{whose}: {offer.kind.name}{why}"))
            if place is not None and (offer.terminal, offer.kind) == (place.terminal, place.kind):
                shown = str(at)
        self.terminal.offer(choices)
        self.terminal.show_value(shown)
        self.terminal.setVisible(bool(self._offers))
        if place is not None:
            words = f"{place.terminal.full_title} of {place.controller.name}, set to {place.kind.name}."
        elif self._offers:
            words = "Choose the terminal that gives the signal: it brings its driver."
        elif job.controllers:
            words = "No controller of the job has an output described: add one, or say it in its table of terminals."
        else:
            words = "Add the controller first."
        self.landed_words.setText(words)
        self.place.show_summary("not landed yet" if place is None else place.terminal.full_title)

    def lead(self) -> Headline | None:
        """What the checks say, and what is to be done about it."""
        channel = self.bench.channel
        if not isinstance(channel, OutputChannel):
            return None
        findings = output_findings(self.bench.job, channel)
        by_level = {level: [one.text for one in findings if one.level == level] for level in ("fault", "look")}
        place = output_landed(self.bench.job, channel)
        show, on = self.goes_to("Show them", self.checks), self.onward("prove")
        for level, noun in (("fault", "fault"), ("look", "thing")):
            texts = by_level[level]
            if level == "look" and place is None:
                act = self.goes_to("Choose a terminal", self.terminal.box)
                if not self._offers:
                    act = Act("Add the controller", self.controllers.showMenu)
                return Headline("open", "It is on no terminal yet.", "The sums are those of its own driver.", (act, on))
            if texts:
                more = f" And {len(texts) - 1} more below." if len(texts) > 1 else ""
                says = f"{counted(len(texts), noun)}{'' if level == 'fault' else ' to look at'}."
                return Headline("fault" if level == "fault" else "look", says, f"{texts[0]}{more}", (show, on))
        assert place is not None  # else it was said above
        return Headline("ok", f"On {place.terminal.title}: every check passed.", "", (on,))
